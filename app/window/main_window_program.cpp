#include <QAction>
#include <QMenu>

#include "format/input_language.h"
#include "program/names_strip.h"
#include "project/edits.h"
#include "run/by_hand.h"
#include "theme/plain_words.h"
#include "theme/text.h"
#include "window/main_window.h"

// The Program station in its window: a step that is tried alone, parts that are dragged from the
// bench onto a rail, and the panes in their order.
namespace ignavo::app {

void MainWindow::connectProgram() {
  connect(program_->view(), &ProgramView::tryWanted, this, &MainWindow::tryStep);
  connect(program_->view(), &ProgramView::hinted, this, [this](const QString& hint) {
    if (!hint.isEmpty()) bench_->say(hint);
  });
  connect(program_, &ProgramPane::wholeWanted, this, &MainWindow::runWhole);
  const auto overRails = [this](const QPoint& global) {
    return program_->isVisible() &&
           program_->rails()->rect().contains(program_->rails()->mapFromGlobal(global));
  };
  connect(bench_, &BenchView::partOutside, this, [this, overRails](const QString& id, QPoint at) {
    if (!overRails(at)) return program_->view()->leavePart();
    bench_->say(tr("Let go on a rail: it becomes the step that it suggests."));
    program_->view()->hoverPart(id.toStdString(), program_->view()->mapFromGlobal(at));
  });
  connect(bench_, &BenchView::partBack, this, [this] { program_->view()->leavePart(); });
  connect(bench_, &BenchView::partDropped, this, [this, overRails](const QString& id, QPoint at) {
    if (overRails(at))
      program_->view()->dropPart(id.toStdString(), program_->view()->mapFromGlobal(at));
    else
      program_->view()->leavePart();
  });
}

// The project, or of its program only what is tried.
std::shared_ptr<const Project> MainWindow::whatRuns() const {
  if (!trial_ || !doc_.project().step(trial_->step)) return doc_.shared();
  return std::make_shared<const Project>(onlyTrial(doc_.project(), *trial_));
}

void MainWindow::tryStep(const Trial& trial) {
  const Step* step = doc_.project().step(trial.step);
  if (!step) return;
  // A chip knows nothing of single steps.
  if (run_.runsCode()) run_.powerOff();
  trial_ = trial;
  // A lane of its own each time: it begins at once, and what earlier ones did stays.
  trial_->lane = "trial " + std::to_string(++trials_);
  const QString name = str(phraseOf(*step));
  program_->setTrial(trial.body.empty()
                         ? tr("Only “%1” is done; the rest waits.").arg(name)
                         : tr("Only a branch of “%1” is done; the rest waits.").arg(name));
  if (run_.isOn()) {
    run_.setPaused(false);
    run_.adopt(whatRuns());
  } else {
    run_.powerOn(whatRuns());
  }
}

void MainWindow::endTrial() {
  trial_.reset();
  program_->setTrial({});
}

// What runs follows the document. While time runs a change counts from now on; paused, or looking
// back, from power-on on: the past is made anew with it. What is turned by hand is done now.
void MainWindow::followEdit() {
  const auto present = run_.runs();
  if (!present) return;
  const auto next = whatRuns();
  // Saving and restyling change nothing that the simulator looks at.
  if (*present == *next) return;
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

// All of the program again, from its beginning.
void MainWindow::runWhole() {
  if (!trial_) return;
  endTrial();
  run_.adopt(doc_.shared());
  run_.reset();
}

void MainWindow::resetRun() {
  if (trial_) return runWhole();
  run_.reset();
}

void MainWindow::cyclePanes(int direction) {
  QList<QWidget*> panes{bar_->line, bench_};
  if (leftSide_->isVisible()) panes.insert(1, leftSide_->currentWidget());
  panes << (right_->currentWidget() == program_ ? static_cast<QWidget*>(program_->view())
                                                : right_->currentWidget());
  // What it remembers stands above its lanes.
  if (right_->currentWidget() == program_ && program_->names()->isVisible())
    panes.insert(panes.size() - 1, program_->names());
  panes << below_->currentWidget();
  int at = 0;
  for (int i = 0; i < panes.size(); ++i)
    if (panes[i] == focusWidget() || panes[i]->isAncestorOf(focusWidget())) at = i;
  for (int k = 1; k <= panes.size(); ++k) {
    QWidget* next = panes[(at + direction * k + 2 * static_cast<int>(panes.size())) %
                          static_cast<int>(panes.size())];
    if (next->focusPolicy() & Qt::TabFocus) return next->setFocus(Qt::TabFocusReason);
    for (QWidget* child : next->findChildren<QWidget*>())
      if ((child->focusPolicy() & Qt::TabFocus) && child->isVisible() && child->isEnabled())
        return child->setFocus(Qt::TabFocusReason);
  }
}

}  // namespace ignavo::app
