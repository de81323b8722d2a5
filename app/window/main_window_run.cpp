#include <QAction>
#include <QMenu>
#include <QVBoxLayout>

#include "format/input_language.h"
#include "project/edits.h"
#include "run/by_hand.h"
#include "run/said_view.h"
#include "theme/plain_words.h"
#include "theme/text.h"
#include "window/main_window.h"

// The Run station in its window: the trace with what stands over it, pins in the hand, an edit
// while time runs or stands, and what was done by hand once more.
namespace ignavo::app {

// The trace; below it what the boards say, where they say anything.
MainWindow::RunPanes MainWindow::makeRunning() {
  RunPanes panes{};
  panes.trace = new TraceView(doc_, run_);
  addRunKeys(panes.trace);
  // Over its head: nothing moves when it comes.
  panes.turn = new TurnBar(doc_, run_, panes.trace);
  panes.all = new QWidget;
  auto* column = new QVBoxLayout(panes.all);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(0);
  panes.find = new FindBar(doc_, run_, panes.all);
  column->addWidget(panes.find);
  panes.guess = new GuessBar(doc_, run_, panes.all);
  column->addWidget(panes.guess);
  column->addWidget(panes.trace, 1);
  auto* said = new SaidView(doc_, run_);
  column->addWidget(said);
  connect(said, &SaidView::keepWanted, this, [this, said] { keepLog(said->text()); });
  below_->addWidget(panes.all);
  explain(panes.trace, tr("Trace"), tr("What each pin did. Arrow keys go to the edges."));
  connectRunning(panes);
  return panes;
}

// Stops where it is, with single changes in sight.
void MainWindow::lookCloser(Nanoseconds changesEvery) {
  constexpr int changes = 14;
  run_.setPaused(true);
  if (!running_->trace->isVisible()) setStation(Station::run);
  const Nanoseconds wide = changes * changesEvery;
  if (run_.isLookingBack())
    running_->trace->showStretch(run_.shownAt() - wide / 2, wide);
  else
    running_->trace->showNewest(wide);
  say(tr("Paused. The . key makes one step; the wheel over the lines zooms."));
}

void MainWindow::connectRunning(const RunPanes& panes) {
  TraceView* trace = panes.trace;
  connect(panes.turn, &TurnBar::backWanted, this, &MainWindow::turnBack);
  connect(panes.turn, &TurnBar::differencesWanted, trace, &TraceView::showDifferences);
  connect(panes.turn, &TurnBar::branchWanted, this, [this] { run_.branch(whatRuns()); });
  connect(panes.turn, &TurnBar::cancelWanted, this, [this] {
    run_.cancelTurn();
    if (run_.isOn()) run_.adopt(whatRuns());  // from now on, then
  });
  connect(trace, &TraceView::findWanted, panes.find, &FindBar::open);
  connect(trace, &TraceView::exportWanted, this, &MainWindow::keepTrace);
  connect(trace, &TraceView::pinWanted, this, &MainWindow::holdPin);
  connect(trace, &TraceView::whyWanted, this,
          [this](const QString& board, const QString& pin, QRect global) {
            cards_->why->openPin(board.toStdString(), pin.toStdString(),
                                 {mapFromGlobal(global.topLeft()), global.size()});
          });
  connect(panes.find, &FindBar::closed, trace, qOverload<>(&QWidget::setFocus));
  connect(panes.find, &FindBar::found, this, &MainWindow::showMoment);
  connect(panes.guess, &GuessBar::momentWanted, this, &MainWindow::showMoment);
  connect(panes.guess, &GuessBar::powerWanted, this, &MainWindow::togglePower);
  connect(panes.guess, &GuessBar::wantedChanged, guessAction_, &QAction::setChecked);
}

void MainWindow::holdPin(const QString& board, const QString& pin, QPoint global) {
  cards_->hand->open(board.toStdString(), pin.toStdString(), mapFromGlobal(global));
}

// What runs follows the document. While time runs a change counts from now on; paused, or looking
// back, from power-on on: the past is made anew with it. What is turned by hand is done now.
void MainWindow::followEdit() {
  const auto present = run_.runs();
  if (!present) return;
  const auto next = whatRuns();
  // Saving, restyling and guessing change nothing that the simulator looks at.
  Project alike = *next;
  alike.guesses = present->guesses;
  if (*present == alike) return;
  const bool stands = run_.isPaused() || run_.isLookingBack();
  if (!stands || trial_ || differsByHandOnly(*present, *next)) return run_.adopt(next);
  run_.turn(next);
}

// The project as it was before the past was made anew.
void MainWindow::turnBack() {
  if (const auto before = run_.turnedFrom())
    doc_.edit(tr("back to what ran before"), Project(*before));
}

// The presses of this run once more, from power-on, as time goes.
void MainWindow::runAgain() {
  if (!run_.isOn())
    return bench_->say(tr("P switches the power on; what is pressed then can be done again."));
  if (trial_) endTrial();
  run_.again();
}

// ---- recordings

void MainWindow::keepPresses() {
  const auto record = run_.record();
  Recording kept;
  if (record)
    for (const Input& input : doneByHand(*record))
      if (const std::string what = inputText(input); !what.empty())
        kept.inputs.push_back({input.at, what});
  if (kept.inputs.empty())
    return bench_->say(tr("Nothing was pressed or turned in this run that could be kept."));
  int n = 1;
  while (doc_.project().recording("presses " + std::to_string(n))) ++n;
  kept.name = typedWords(dialogs_.name(this, tr("Keep these presses"), tr("presses %1").arg(n)));
  if (kept.name.empty()) return;
  const QString name = str(kept.name);
  if (doc_.edit(tr("keep “%1”").arg(name), edits::keepRecording(doc_.project(), std::move(kept))))
    say(tr("“%1” is kept in the project; the speed menu plays it again.").arg(name));
}

// Power-on, and what was recorded comes as it came.
void MainWindow::replay(const std::string& name) {
  const Recording* recording = doc_.project().recording(name);
  if (!recording) return;
  std::vector<Input> inputs;
  QStringList cannot;
  for (const RecordedInput& recorded : recording->inputs) {
    if (auto input = readInput(doc_.project(), recorded.what)) {
      input->at = recorded.at;
      inputs.push_back(std::move(*input));
    } else if (!cannot.contains(str(recorded.what))) {
      cannot << str(recorded.what);
    }
  }
  if (trial_) endTrial();
  run_.powerOff();
  run_.doNext(std::move(inputs));
  chip_.powerOn(doc_.shared());
  say(cannot.isEmpty() ? QString()
                       : tr("Of “%1” this cannot happen here any more: %2")
                             .arg(str(name), cannot.join(QStringLiteral(", "))),
      true);
}

// Made anew whenever the menu is opened.
void MainWindow::offerRecordings(QMenu* menu) {
  for (QAction* old : menu->findChildren<QAction*>(QStringLiteral("recording"))) delete old;
  const auto add = [&](const QString& words, const std::function<void()>& what) {
    auto* action = new QAction(words, menu);
    action->setObjectName(QStringLiteral("recording"));
    connect(action, &QAction::triggered, this, what);
    menu->addAction(action);
    return action;
  };
  add({}, [] {})->setSeparator(true);
  add(tr("Keep these presses…"), [this] { keepPresses(); })->setEnabled(run_.isOn());
  for (const auto& held : doc_.project().recordings)
    add(tr("Play “%1”").arg(literal(str(held->name))), [this, name = held->name] { replay(name); });
  for (const auto& held : doc_.project().recordings)
    add(tr("Forget “%1”").arg(literal(str(held->name))), [this, name = held->name] {
      doc_.edit(tr("forget “%1”").arg(str(name)), edits::forgetRecording(doc_.project(), name));
    });
}

}  // namespace ignavo::app
