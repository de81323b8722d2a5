#include <QFile>
#include <QFileInfo>

#include "bench/wiring.h"
#include "demos.h"
#include "program/steps.h"
#include "project/edits.h"
#include "window/main_window.h"

// Which project the window shows: new, opened, begun with a card, saved, brought back.
namespace ignavo::app {

namespace {
const QString filter = QStringLiteral("Ignavo projects (*.ignavo)");
QString str(const std::string& s) { return QString::fromStdString(s); }
}  // namespace

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
  run_.powerOff();
  say({});
  doc_.reset(emptyProject(), {});
  setStation(Station::wire);
}

bool MainWindow::openPath(const QString& path) {
  ReadResult r = readProjectFile(path.toStdString());
  QStringList lines;
  for (const FileProblem& p : r.problems) {
    lines << str(sentence(p));
    if (lines.size() >= 6) break;
  }
  const int rest = static_cast<int>(r.problems.size()) - static_cast<int>(lines.size());
  if (rest > 0) lines << tr("and %1 more").arg(rest);
  if (!r.readable) {
    say(tr("%1 was not opened: %2")
            .arg(QFileInfo(path).fileName(), lines.join(QStringLiteral("; "))),
        true);
    return false;
  }
  run_.powerOff();
  // A file that was read only in part is not saved over without asking where.
  doc_.reset(std::move(r.project), r.problems.empty() ? path : QString());
  if (!lines.isEmpty())
    say(tr("Some of %1 could not be read and is left out:").arg(QFileInfo(path).fileName()) +
            QStringLiteral("\n· ") + lines.join(QStringLiteral("\n· ")),
        true);
  else
    say({});
  bench_->fit();
  return true;
}

bool MainWindow::openDemo(const QString& name) {
  const Demo* d = demo(name.toStdString());
  if (!d) return false;
  run_.powerOff();
  say({});
  doc_.reset(readProject(d->text).project, {});
  bench_->fit();
  return true;
}

bool MainWindow::save(bool as) {
  QString path = doc_.path();
  if (as || path.isEmpty()) {
    QString suggested =
        str(doc_.project().title).toLower().replace(QLatin1Char(' '), QLatin1Char('-'));
    suggested.remove(QLatin1Char('/'));
    path = dialogs_.saveFile(this, tr("Save the project"), suggested + QStringLiteral(".ignavo"),
                             filter);
    if (path.isEmpty()) return false;
    if (!path.endsWith(QStringLiteral(".ignavo"))) path += QStringLiteral(".ignavo");
  }
  const QString why = doc_.save(path);
  if (!why.isEmpty())
    say(tr("Not saved: %1").arg(why), true);
  else
    say({});
  return why.isEmpty();
}

void MainWindow::setRecoveryFile(const QString& path) {
  recoveryFile_ = path;
  if (path.isEmpty() || !QFile::exists(path)) return;
  // Work of a run that ended without saving: open it, and say so.
  ReadResult r = readProjectFile(path.toStdString());
  if (!r.sound()) return;
  const std::string title = r.project.title;
  doc_.edit(tr("bring back unsaved work"), std::move(r.project));
  bench_->fit();
  say(tr("“%1” was not saved when the program ended. Here it is again; undo gives the empty bench.")
          .arg(str(title)));
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
    p = edits::assignIds(edits::insertSteps(
        p, {lane, {}, {}, 0}, parseSteps("set D13 high\nwait 0.5\nset D13 low\nwait 0.5").steps));
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
