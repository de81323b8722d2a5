#include "window/main_window.h"

#include <QApplication>
#include <QCloseEvent>
#include <QKeyEvent>
#include <algorithm>

#include "program/facts.h"
#include "run/code_bar.h"
#include "run/keep_bar.h"
#include "theme/plain_words.h"
#include "theme/text.h"
#include "theme/theme.h"
#include "window/offer_bar.h"

namespace ignavo::app {

MainWindow::MainWindow(Dialogs& dialogs, Clock& clock)
    : dialogs_(dialogs), clock_(clock), run_(clock), sound_(doc_, run_) {
  setObjectName(QStringLiteral("window"));
  setMinimumSize(960, 600);
  resize(1280, 800);
  buildPanes();
  buildMenu();
  buildShortcuts();
  connectPanes();
  buildSources();
  setStation(Station::wire);
  refreshBar();
  refreshStates();
  refreshTime();
}

MainWindow::~MainWindow() {
  run_.powerOff();
  if (keepBar_) keepBar_->cancel();  // the document waits for what is under way
  hide();  // what has the focus or is pointed at lets go while there is a document
}

void MainWindow::connectPanes() {
  connect(bar_->line, &StationLine::chosen, this, &MainWindow::setStation);
  connect(bar_->undo, &QToolButton::clicked, &doc_, &Document::undo);
  connect(bar_->redo, &QToolButton::clicked, &doc_, &Document::redo);
  connect(bar_->power, &PowerSwitch::toggled, this, &MainWindow::togglePower);
  connect(bar_->reset, &QToolButton::clicked, &run_, &RunControl::reset);
  connect(bar_->pause, &QToolButton::clicked, this, [this] { run_.setPaused(!run_.isPaused()); });
  connect(bar_->title, &QLineEdit::editingFinished, this, [this] {
    const std::string wanted = typedWords(bar_->title->text());
    if (wanted.empty() || wanted == doc_.project().title) return refreshBar();
    Project p = doc_.project();
    p.title = wanted;
    doc_.edit(tr("rename the project"), std::move(p));
    bench_->setFocus();
  });
  // The words under the stations follow once the edit has been drawn.
  auto* states = new QTimer(this);
  states->setSingleShot(true);
  states->setInterval(0);
  connect(states, &QTimer::timeout, this, &MainWindow::refreshStates);
  connect(&doc_, &Document::changed, states, qOverload<>(&QTimer::start));
  connect(&doc_, &Document::changed, this, [this] {
    refreshBar();
    if (trial_ && !doc_.project().step(trial_->step)) endTrial();
    followEdit();
  });
  connect(&doc_, &Document::refused, this,
          [this](const QString& why) { say(tr("Not done: %1").arg(why), true); });
  connect(offer_, &OfferBar::answered, this, &MainWindow::answerOffer);
  connect(&doc_, &Document::checked, this, &MainWindow::refreshStates);
  connect(&run_, &RunControl::updated, this, &MainWindow::refreshTime);
  connectDrags();
  connect(bench_, &BenchView::pinWanted, this, &MainWindow::holdPin);
  connect(bench_, &BenchView::whyWanted, this, &MainWindow::askWhy);
  connect(inspector_, &Inspector::whyAsked, this, [this] { askWhy(doc_.selection().value(0)); });
  connect(&theRest_, &QTimer::timeout, this, &MainWindow::makeTheRest);
  connect(&run_, &RunControl::stateChanged, this, [this] {
    if (!run_.isOn()) endTrial();
    bar_->power->setOn(run_.isOn());
    bar_->setPauseIcon(run_.isPaused());
    refreshTime();
    refreshStates();
  });
  connect(&run_, &RunControl::nothingDue, this, [this](double seconds) {
    bench_->say(seconds < 0 ? tr("Nothing is due: no step comes until something is pressed.")
                            : tr("No step is due within a second: the next one comes in %1 s.")
                                  .arg(seconds, 0, 'g', 3));
  });
  connect(cabinet_, &Cabinet::taken, this, [this](const std::string& type) {
    type.empty() ? bench_->takeWire() : bench_->take(type);
  });
  connect(cabinet_, &Cabinet::circuitWanted, this, &MainWindow::choosePin);
  connect(typeLine_, &TypeLine::previewWanted, bench_, &BenchView::preview);
  connect(typeLine_, &TypeLine::opened, this, &MainWindow::placeHint);
  connect(typeLine_, &TypeLine::closed, this, [this] {
    placeHint();
    bench_->setFocus();
  });
  connect(cabinet_, &Cabinet::dragged, bench_, &BenchView::dragMoved);
  connect(cabinet_, &Cabinet::dropped, bench_, &BenchView::dragReleased);
  connect(inspector_, &Inspector::asked, this, &MainWindow::startCard);
  connect(inspector_, &Inspector::flipAsked, bench_, &BenchView::flipSelected);
  connect(inspector_, &Inspector::turnAsked, bench_, &BenchView::turnSelected);
  connect(inspector_, &Inspector::duplicateAsked, bench_, &BenchView::duplicateSelected);
  connect(inspector_, &Inspector::removeAsked, bench_, &BenchView::removeSelected);
  connect(bench_, &BenchView::hintChanged, this, &MainWindow::placeHint);
  connect(bench_, &BenchView::findingClicked, this, [this](int index) {
    setStation(Station::check);
    checking_->findings->showFinding(index);
  });
}

void MainWindow::setStation(Station station) {
  letKeysGo();
  rememberSizes();
  station_ = station;
  bar_->line->setStation(station);
  const auto lay = [this](QWidget* left, QWidget* right, QWidget* below, BenchView::Style style) {
    leftSide_->setVisible(left != nullptr);
    if (left) leftSide_->setCurrentWidget(left);
    right_->setCurrentWidget(right);
    below_->setCurrentWidget(below);
    bench_->setStyle(style);
  };
  switch (station) {
    case Station::wire:
      lay(nullptr, inspector_, cabinet_, BenchView::Style::wiring);
      break;
    case Station::check:
      lay(nullptr, checking_->findings, checking_->scrolled, BenchView::Style::tinted);
      break;
    case Station::program:
    case Station::run:
      program_->pane->setRoomy(station == Station::program);
      lay(nullptr, program_->pane, running_->all, BenchView::Style::wiring);
      break;
    case Station::build:
      lay(building_->steps, building_->needs, building_->firmware, BenchView::Style::building);
      break;
  }
  sides_->setSizes(sideSizes_[static_cast<int>(station)]);
  // Cards of the cabinet are never cut off, whatever the window's height.
  below_->setMinimumHeight(station == Station::wire ? 196 : 72);
  upDown_->setSizes(belowSizes_[static_cast<int>(station)]);
  if (station == Station::program || station == Station::run)
    program_->pane->view()->setFocus();
  else
    bench_->setFocus();
  placeHint();
}

void MainWindow::rememberSizes() {
  if (!isVisible()) return;
  sideSizes_[static_cast<int>(station_)] = sides_->sizes();
  belowSizes_[static_cast<int>(station_)] = upDown_->sizes();
}

void MainWindow::togglePower() {
  if (run_.isOn())
    run_.powerOff();
  else if (chip_.isCompiling())
    chip_.cancel();
  else
    chip_.powerOn(doc_.shared());
}

void MainWindow::refreshBar() {
  const Project& p = doc_.project();
  if (bar_->title->text() != str(p.title)) {
    bar_->title->setText(str(p.title));
    bar_->title->setCursorPosition(0);
  }
  setWindowTitle(str(p.title) + (doc_.isSaved() ? QString() : QStringLiteral(" *")) +
                 QStringLiteral(" – Ignavo"));
  QStringList things;
  for (const BoardItem& b : p.boards)
    if (const BoardKind* k = catalogue().boardKind(b.type)) things << str(k->label);
  for (const BreadboardItem& b : p.breadboards)
    if (const BreadboardKind* k = breadboardKind(b.type)) things << str(k->name);
  QStringList words;  // "2 × Tern board"
  for (const QString& thing : things) {
    const auto count = things.count(thing);
    const QString told = count > 1 ? tr("%1 × %2").arg(count).arg(thing) : thing;
    if (!words.contains(told)) words << told;
  }
  words << (doc_.path().isEmpty() && doc_.isSaved() ? tr("new")
            : doc_.isSaved()                        ? tr("saved")
                                                    : tr("not saved"));
  bar_->subtitle->setText(bar_->subtitle->fontMetrics().elidedText(
      words.join(QStringLiteral(" · ")), Qt::ElideRight, 250));
  bar_->undo->setEnabled(doc_.history().canUndo());
  bar_->redo->setEnabled(doc_.history().canRedo());
  surviveAction_->setChecked(doc_.project().settings.partsSurvive);
  const QString undo = tr("Undo %1").arg(str(doc_.history().undoName())),
                redo = tr("Redo %1").arg(str(doc_.history().redoName()));
  bar_->undo->setToolTip(undo.trimmed() + tr(" (Ctrl+Z)"));
  bar_->redo->setToolTip(redo.trimmed() + tr(" (Ctrl+Shift+Z)"));
  undoAction_->setText(literal(undo.trimmed()));
  undoAction_->setEnabled(doc_.history().canUndo());
  redoAction_->setText(literal(redo.trimmed()));
  redoAction_->setEnabled(doc_.history().canRedo());
}

// What each station has to say of itself, in words.
void MainWindow::refreshStates() {
  const Project& p = doc_.project();
  const auto count = [](int n, const QString& one, const QString& many) {
    return n == 1 ? one : many.arg(n);
  };
  bar_->line->setState(Station::wire, p.parts->empty() ? tr("empty")
                                                       : count(static_cast<int>(p.parts->size()),
                                                               tr("1 part"), tr("%1 parts")));
  int findings = 0;
  bool danger = false;
  for (const Finding& f : doc_.check().findings)
    if (!f.meant) {
      ++findings;
      danger = danger || f.severity == Severity::danger;
    }
  const bool nothing = p.parts->empty() && p.wires->empty() && !doc_.hasSteps();
  bar_->line->setState(Station::check,
                       nothing         ? tr("nothing to check yet")
                       : findings == 0 ? tr("all clear")
                                       : count(findings, tr("1 finding"), tr("%1 findings")),
                       danger, nothing ? tr("nothing yet") : QString());
  int lanes = 0;
  for (const auto& program : p.programs)
    for (const auto& lane : program->lanes) lanes += doesSomething(*lane) ? 1 : 0;
  bar_->line->setState(Station::program,
                       lanes == 0 ? tr("no steps") : count(lanes, tr("1 lane"), tr("%1 lanes")));
  bar_->line->setState(Station::run,
                       !run_.isOn()           ? tr("off")
                       : run_.isLookingBack() ? tr("looking back")
                       : run_.isPaused()      ? tr("paused")
                                              : tr("on"),
                       false, run_.isLookingBack() ? tr("back") : QString());
  const auto [total, done] = sheetProgress(p);
  bar_->line->setState(Station::build, total == 0  ? tr("nothing yet")
                                       : done == 0 ? tr("sheet ready")
                                       : done == total
                                           ? tr("built")
                                           : tr("step %1 of %2").arg(done + 1).arg(total));
}

void MainWindow::refreshTime() {
  const double s = static_cast<double>(run_.shownAt()) * 1e-9;
  const int minutes = static_cast<int>(s / 60);
  bar_->time->setText(
      QStringLiteral("%1:%2")
          .arg(minutes, 2, 10, QLatin1Char('0'))
          .arg(std::floor((s - minutes * 60) * 10 + 1e-6) / 10, 4, 'f', 1, QLatin1Char('0')));
  const double speed = run_.speed(), reached = run_.reachedSpeed();
  QString text = speed >= 1 ? tr("Speed %1×").arg(speed) : tr("Speed 1/%1×").arg(qRound(1 / speed));
  if (run_.isOn() && !run_.isPaused() && reached < speed * 0.7)
    text = tr("%1× of %2×").arg(reached, 0, 'g', 2).arg(speed);
  bar_->speed->setText(text);
  bar_->timeNote->setText(run_.isLookingBack() ? tr("looking back") : tr("since power-on"));
  const auto shown = run_.shown();
  if (shown && shown->tripped)
    say(shown->reading.shorted ? tr("%1 and GND are joined: the supply switched itself off. Take "
                                    "the wire between them out; power then comes back by itself.")
                                     .arg(str(shown->reading.shortedSupply))
        : doc_.project().boards.size() > 1
            ? tr("More than 500 mA were drawn from %1: its supply switched itself off. Remove the "
                 "load; power then comes back by itself.")
                  .arg(str(shown->trippedBoards.front()))
            : tr("More than 500 mA were drawn: the supply switched itself off. Remove the load; "
                 "power then comes back by itself."),
        true);
  else if (notice_->property("tripped").toBool())
    say({});
  notice_->setProperty("tripped", shown && shown->tripped);
}

void MainWindow::say(const QString& text, bool bad) {
  if (notice_->text() == text && notice_->isVisible() != text.isEmpty()) return;
  notice_->setText(text);
  if (notice_->property("bad").toBool() != bad) {
    notice_->setProperty("bad", bad);
    notice_->style()->unpolish(notice_);  // so that its rule is looked up again
    notice_->style()->polish(notice_);
  }
  notice_->setVisible(!text.isEmpty());
}

void MainWindow::placeHint() {
  const int most = std::max(200, bench_->width() - (station_ == Station::check ? 280 : 28));
  hint_->setText(bench_->hint());
  hint_->setVisible(!bench_->hint().isEmpty() && !typeLine_->isVisible());
  if (!isVisible()) return;  // placed when it is seen
  hint_->setWordWrap(false);
  const bool wide = hint_->sizeHint().width() > most;  // then it goes on in a second line
  hint_->setWordWrap(wide);
  hint_->resize(wide ? QSize(most, hint_->heightForWidth(most)) : hint_->sizeHint());
  hint_->move(14, bench_->height() - hint_->height() - 9);
}

bool MainWindow::eventFilter(QObject* watched, QEvent* e) {
  const bool key = e->type() == QEvent::KeyPress || e->type() == QEvent::KeyRelease ||
                   e->type() == QEvent::ShortcutOverride;
  if (key && watched == focusWidget() && keyToProgram(*static_cast<QKeyEvent*>(e))) {
    e->accept();  // nor is it a shortcut
    return true;
  }
  if (watched == this && e->type() == QEvent::WindowDeactivate) letKeysGo();
  if (watched == bench_ && e->type() == QEvent::Resize) {
    placeHint();
    if (typeLine_->isVisible()) typeLine_->open(typeLine_->field()->text());
  }
  return QMainWindow::eventFilter(watched, e);
}

void MainWindow::setNight(bool night) {
  setTheme(night);
  applyTheme();
  nightAction_->setChecked(night);
  bar_->restyle();
  bar_->setPauseIcon(run_.isPaused());
  // Panes that set colours of their own are made anew from the document.
  Document* doc = &doc_;
  Q_EMIT doc->changed();
  Q_EMIT doc->selectionChanged();
  Q_EMIT doc->checked();
  placeHint();
  for (QWidget* w : findChildren<QWidget*>()) w->update();
}

void MainWindow::closeEvent(QCloseEvent* e) {
  if (!mayLeave()) return e->ignore();
  if (recovery_) recovery_->giveUp();
  keepSettings();
  chip_.leave();
  e->accept();
}

}  // namespace ignavo::app
