#include "program/names_strip.h"
#include "theme/text.h"
#include "window/main_window.h"

// The Program station in its window: a step that is tried alone, parts that are dragged from the
// bench onto a rail, and the panes in their order.
namespace ignavo::app {

MainWindow::ProgramPanes MainWindow::makeProgram() {
  auto* pane = new ProgramPane(doc_, run_);
  right_->addWidget(pane);
  explain(pane, tr("Program"), tr("The board’s steps. Type at the end of a rail to add one."));
  if (settings_) pane->setTextBeside(settings_->value(textBesideKey(), false).toBool());
  connectProgram(pane);
  return {pane};
}

void MainWindow::connectProgram(ProgramPane* program) {
  const ProgramView* view = program->view();
  connect(view, &ProgramView::tryWanted, this, &MainWindow::tryStep);
  connect(view, &ProgramView::hinted, this, [this](const QString& hint) {
    if (!hint.isEmpty()) bench_->say(hint);
  });
  connect(view, &ProgramView::pinWanted, this, &MainWindow::holdPin);
  connect(view, &ProgramView::whyWanted, this, &MainWindow::askWhyOfPin);
  connect(program, &ProgramPane::wholeWanted, this, &MainWindow::runWhole);
}

// Parts that are dragged off the bench, onto a rail.
void MainWindow::connectDrags() {
  // Its rails, where they are seen there.
  const auto railsAt = [this](const QPoint& global) -> ProgramView* {
    const ProgramPanes* made = program_.ifMade();
    if (!made || !made->pane->isVisible()) return nullptr;
    const QWidget* rails = made->pane->rails();
    return rails->rect().contains(rails->mapFromGlobal(global)) ? made->pane->view() : nullptr;
  };
  const auto leave = [this] {
    if (const ProgramPanes* made = program_.ifMade()) made->pane->view()->leavePart();
  };
  connect(bench_, &BenchView::partOutside, this,
          [this, railsAt, leave](const QString& id, QPoint at) {
            ProgramView* rails = railsAt(at);
            if (!rails) return leave();
            bench_->say(tr("Let go on a rail: it becomes the step that it suggests."));
            rails->hoverPart(id.toStdString(), rails->mapFromGlobal(at));
          });
  connect(bench_, &BenchView::partBack, this, leave);
  connect(bench_, &BenchView::partDropped, this, [railsAt, leave](const QString& id, QPoint at) {
    if (ProgramView* rails = railsAt(at))
      rails->dropPart(id.toStdString(), rails->mapFromGlobal(at));
    else
      leave();
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
  program_->pane->setTrial(trial.body.empty()
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
  if (const ProgramPanes* made = program_.ifMade()) made->pane->setTrial({});
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
  auto* program = qobject_cast<ProgramPane*>(right_->currentWidget());
  // What it remembers stands above its lanes.
  if (program && program->names()->isVisible()) panes << program->names();
  panes << (program ? static_cast<QWidget*>(program->view()) : right_->currentWidget());
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
