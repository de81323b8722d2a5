#include "program/names_strip.h"
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
