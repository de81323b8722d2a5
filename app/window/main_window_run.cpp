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
void MainWindow::buildRunning() {
  trace_ = new TraceView(doc_, run_);
  turnBar_ = new TurnBar(doc_, run_, trace_);  // over its head: nothing moves when it comes
  running_ = new QWidget;
  auto* column = new QVBoxLayout(running_);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(0);
  findBar_ = new FindBar(doc_, run_, running_);
  column->addWidget(findBar_);
  guessBar_ = new GuessBar(doc_, run_, running_);
  column->addWidget(guessBar_);
  column->addWidget(trace_, 1);
  auto* said = new SaidView(doc_, run_);
  column->addWidget(said);
  connect(said, &SaidView::keepWanted, this, [this, said] { keepLog(said->text()); });
}

void MainWindow::connectRunning() {
  connect(turnBar_, &TurnBar::backWanted, this, &MainWindow::turnBack);
  connect(turnBar_, &TurnBar::differencesWanted, trace_, &TraceView::showDifferences);
  connect(turnBar_, &TurnBar::branchWanted, this, [this] { run_.branch(whatRuns()); });
  connect(turnBar_, &TurnBar::cancelWanted, this, [this] {
    run_.cancelTurn();
    if (run_.isOn()) run_.adopt(whatRuns());  // from now on, then
  });
  connect(trace_, &TraceView::findWanted, findBar_, &FindBar::open);
  connect(trace_, &TraceView::exportWanted, this, &MainWindow::keepTrace);
  connect(findBar_, &FindBar::closed, trace_, qOverload<>(&QWidget::setFocus));
  connect(findBar_, &FindBar::found, this, [this](Nanoseconds at) {
    trace_->bringIntoSight(at);
    run_.lookAt(at);
  });
  hand_ = new HandCard(doc_, run_, this);  // last of all, over all panes
  const auto holdPin = [this](const QString& board, const QString& pin, QPoint global) {
    hand_->open(board.toStdString(), pin.toStdString(), mapFromGlobal(global));
  };
  connect(bench_, &BenchView::pinWanted, this, holdPin);
  connect(trace_, &TraceView::pinWanted, this, holdPin);
  connect(program_->view(), &ProgramView::pinWanted, this, holdPin);
  buildWhy();
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
