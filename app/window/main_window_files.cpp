#include <QApplication>
#include <QFileInfo>
#include <QSaveFile>
#include <QVBoxLayout>

#include "bench/wiring.h"
#include "demos.h"
#include "format/trace_text.h"
#include "program/steps.h"
#include "project/edits.h"
#include "run/code_bar.h"
#include "run/keep_bar.h"
#include "theme/text.h"
#include "window/main_window.h"
#include "window/offer_bar.h"

// Which project the window shows: new, opened, begun with a card, saved, brought back.
namespace ignavo::app {

bool MainWindow::mayLeave() {
  if (doc_.isSaved()) return true;
  switch (dialogs_.unsaved(this, str(doc_.project().title))) {
    case Dialogs::Answer::save:
      return save(false);
    case Dialogs::Answer::discard:
      return true;
    case Dialogs::Answer::cancel:
      return false;
  }
  return false;
}

void MainWindow::newProject() {
  chip_.leave();
  say({});
  doc_.reset(emptyProject(), {});
  setStation(Station::wire);
}

bool MainWindow::openPath(const QString& path) {
  const QString name = QFileInfo(path).fileName();
  // What is no file could keep the window waiting for ever.
  if (QFileInfo::exists(path) && !QFileInfo(path).isFile()) {
    say(tr("%1 was not opened: it is no file").arg(name), true);
    return false;
  }
  const TextFile file = readTextFile(path.toStdString(), limits::fileBytes);
  ReadResult r;
  if (file.problem)
    r.problems.push_back(*file.problem);
  else
    r = readProject(file.text);
  const QString problems = listed(r.problems);
  if (!r.readable) {
    say(tr("%1 was not opened: %2").arg(name, problems), true);
    return false;
  }
  chip_.leave();
  // A file that was read only in part is not saved over without asking where.
  if (r.problems.empty())
    doc_.reset(std::move(r.project), path, stampOf(file.text));
  else
    doc_.reset(std::move(r.project), QString());
  if (!problems.isEmpty())
    say(tr("Some of %1 could not be read and is left out:").arg(name) + problems, true);
  else
    say({});
  bench_->fit();
  return true;
}

// The first six, a line each; of one alone just what it says.
QString MainWindow::listed(const std::vector<FileProblem>& problems) {
  constexpr std::size_t most = 6;
  QStringList lines;
  for (const FileProblem& p : problems)
    if (lines.size() < static_cast<int>(most)) lines << str(sentence(p));
  if (problems.size() > most) lines << tr("and %1 more").arg(problems.size() - most);
  const QString bullet = QStringLiteral("\n· ");
  return lines.isEmpty() ? QString() : bullet + lines.join(bullet);
}

bool MainWindow::openDemo(const QString& name) {
  const Demo* d = demo(name.toStdString());
  if (!d) return false;
  chip_.leave();
  say({});
  doc_.reset(readProject(d->text).project, {});
  bench_->fit();
  return true;
}

bool MainWindow::save(bool as) {
  QString path = doc_.path();
  if (as || path.isEmpty()) {
    path = dialogs_.saveFile(this, tr("Save the project"),
                             nameForFile() + QStringLiteral(".ignavo"), fileFilter());
    if (path.isEmpty()) return false;
    // Of a name with our ending the dialog has asked already.
    if (!path.endsWith(QStringLiteral(".ignavo"))) {
      path += QStringLiteral(".ignavo");
      if (QFileInfo::exists(path) && !dialogs_.overwrite(this, path, false)) return false;
    }
  }
  std::optional<FileProblem> why = doc_.save(path);
  if (why && why->code == FileProblem::Code::changedBehind) {
    if (!dialogs_.overwrite(this, path, true)) {
      say(tr("Not saved: %1. “Save as…” keeps both.").arg(str(sentence(*why))), true);
      return false;
    }
    why = doc_.save(path, true);
  }
  say(why ? tr("Not saved: %1").arg(str(sentence(*why))) : QString(), true);
  return !why;
}

// What was recorded, as a file.
void MainWindow::keepTrace(TraceView::Export as) {
  using Export = TraceView::Export;
  const auto trace = run_.trace();
  if (!trace) return;
  // A picture is soon done; of what takes its time one comes after another.
  if (as != Export::png && keepBar_ && keepBar_->isKeeping())
    return say(tr("The trace is still being written to a file."), false);
  const QString ending = as == Export::vcd   ? QStringLiteral(".vcd")
                         : as == Export::csv ? QStringLiteral(".csv")
                                             : QStringLiteral(".png");
  const QString name = nameForFile() + QStringLiteral("-trace") + ending;
  const QString path =
      dialogs_.saveFile(this, tr("Keep the trace"), name, QStringLiteral("*") + ending);
  if (path.isEmpty()) return;
  if (as != Export::png) {
    keepBar()->keep(trace, as == Export::vcd ? writeVcd : writeCsv, path);
    return;
  }
  QSaveFile file(path);
  const bool ok = file.open(QIODevice::WriteOnly) && running_->trace->grab().save(&file, "PNG") &&
                  file.commit();
  sayKept(QFileInfo(path).fileName(), ok ? QString() : file.errorString());
}

KeepBar* MainWindow::keepBar() {
  if (keepBar_) return keepBar_;
  keepBar_ = new KeepBar(this);
  auto* column = qobject_cast<QVBoxLayout*>(centralWidget()->layout());
  column->insertWidget(column->indexOf(codeBar_) + 1, keepBar_);
  connect(keepBar_, &KeepBar::kept, this, &MainWindow::sayKept);
  connect(keepBar_, &KeepBar::givenUp, this,
          [this](const QString& file) { say(tr("Given up: %1 was not written.").arg(file)); });
  return keepBar_;
}

void MainWindow::sayKept(const QString& file, const QString& why) {
  why.isEmpty() ? say(tr("The trace is kept in %1.").arg(file))
                : say(tr("The trace is not kept in %1: %2").arg(file, why), true);
}

void MainWindow::keepLog(const QString& text) {
  const QString path =
      dialogs_.saveFile(this, tr("Keep the log"), nameForFile() + QStringLiteral("-log.txt"),
                        QStringLiteral("*.txt"));
  if (path.isEmpty()) return;
  const QString name = QFileInfo(path).fileName();
  QSaveFile file(path);
  const QByteArray bytes = text.toUtf8();
  if (file.open(QIODevice::WriteOnly) && file.write(bytes) == bytes.size() && file.commit())
    say(tr("The log is kept in %1.").arg(name));
  else
    say(tr("The log is not kept in %1: %2").arg(name, file.errorString()), true);
}

// Of the title, as a file may be called.
QString MainWindow::nameForFile() const {
  QString name = str(doc_.project().title).toLower().replace(QLatin1Char(' '), QLatin1Char('-'));
  name.remove(QLatin1Char('/'));
  return name;
}

void MainWindow::setRecoveryFolder(const QString& folder) {
  recovery_ = std::make_unique<Recovery>(doc_, folder, clock_);
  offerWork();
}

// Work of windows that ended without saving, one after another.
void MainWindow::offerWork() {
  left_ = recovery_ ? recovery_->next() : std::nullopt;
  if (!left_) return offer_->hide();
  const QString what =
      left_->title.isEmpty() ? tr("Work that was not saved") : tr("“%1”").arg(left_->title);
  if (!left_->project)
    offer_->ask(tr("Work that was not saved was found, but cannot be read: %1. It is kept as %2.")
                    .arg(left_->problem, left_->journal),
                {{QStringLiteral("offerLater"), tr("Go on")}});
  else
    offer_->ask((left_->problem.isEmpty()
                     ? tr("%1 was not saved when the program ended.").arg(what)
                     : tr("%1 was not saved when the program ended, and some of it cannot be "
                          "read: %2.")
                           .arg(what, left_->problem)),
                {{QStringLiteral("bringBack"), tr("Bring it back")},
                 {QStringLiteral("throwAway"), tr("Throw it away")},
                 {QStringLiteral("offerLater"), tr("Later")}});
}

void MainWindow::answerOffer(const QString& answer) {
  if (!left_) return;
  const Recovery::Left left = *left_;
  if (answer == QStringLiteral("bringBack")) {
    if (!mayLeave()) return;
    chip_.leave();
    // On top of what the file holds, so that undo leads back to it.
    if (left.origin.isEmpty() || !openPath(left.origin)) doc_.reset(emptyProject(), {});
    doc_.edit(tr("bring back unsaved work"), Project(*left.project));
    // What could be read only in part stays on the disk, too.
    left.problem.isEmpty() ? recovery_->taken() : recovery_->put();
    bench_->fit();
    say(tr("“%1” is as it was when the program ended; undo gives what was saved of it.")
            .arg(left.title));
  } else if (answer == QStringLiteral("throwAway")) {
    recovery_->thrownAway();
  } else {
    recovery_->put();
  }
  offerWork();
}

void MainWindow::startCard(const QString& what) {
  if (what == QStringLiteral("example")) {
    openDemo(QStringLiteral("landing-beacon"));
    bench_->setFocus();
    return;
  }
  Project p = doc_.project();
  if (what == QStringLiteral("blink")) {
    const std::string lane = p.programs.empty() || p.programs[0]->lanes.empty()
                                 ? std::string()
                                 : p.programs[0]->lanes[0]->id;
    p = edits::assignIds(
        edits::insertSteps(p, {lane, {}, {}, 0},
                           parseSteps("set D13 high\nwait 0.5\nset D13 low\nwait 0.5",
                                      wordsOf(p, p.programs[0]->board))
                               .steps));
    doc_.edit(tr("blink the board’s own lamp"), std::move(p));
    setStation(Station::program);
    return;
  }
  // A lamp that glows from 5 V with no program: rails, resistor, LED.
  const auto part = [&](const char* type, std::vector<const char*> holes) {
    Part x = newPart(p, *catalogue().partKind(type));
    for (std::size_t i = 0; i < holes.size(); ++i) x.legs[i].in = Socket{"bb", holes[i]};
    p = edits::addPart(std::move(p), std::move(x));
  };
  const auto wire = [&](const Socket& a, const Socket& b) {
    Wire w;
    w.id = freeId(p, "w");
    w.from = a;
    w.to = b;
    p = edits::addWire(std::move(p), std::move(w));
  };
  part("resistor", {"c9", "h9"});
  part("led", {"i9", "i11"});
  wire({"b1", "5V"}, {"bb", "a9"});
  wire({"b1", "GND"}, {"bb", "ln4"});
  wire({"bb", "ln23"}, {"bb", "rn23"});
  wire({"bb", "j11"}, {"bb", "rn10"});
  doc_.edit(tr("light an LED from 5 V"), std::move(p));
  bench_->setFocus();  // the card is gone, and the next thing is to switch it on
}

}  // namespace ignavo::app
