#include <QApplication>
#include <QVBoxLayout>

#include "run/code_bar.h"
#include "window/main_window.h"
#include "window/offer_bar.h"

// The window's frame with the panes of its first station; those of the others are made when one
// goes there, or when nothing else is to be done.
namespace ignavo::app {

void MainWindow::buildPanes() {
  auto* middle = new QWidget(this);
  auto* column = new QVBoxLayout(middle);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(0);
  bar_ = new TopBar(this);
  column->addWidget(bar_);
  notice_ = new QLabel(this);
  notice_->setObjectName(QStringLiteral("notice"));
  notice_->setWordWrap(true);
  notice_->setContentsMargins(20, 8, 20, 8);
  notice_->setTextInteractionFlags(Qt::TextSelectableByMouse);
  notice_->hide();
  column->addWidget(notice_);
  offer_ = new OfferBar(this);
  column->addWidget(offer_);
  codeBar_ = new CodeBar(chip_, run_, this);
  column->addWidget(codeBar_);
  upDown_ = new QSplitter(Qt::Vertical, this);
  sides_ = new QSplitter(Qt::Horizontal, upDown_);
  leftSide_ = new QStackedWidget(sides_);
  bench_ = new BenchView(doc_, run_, sides_);
  right_ = new QStackedWidget(sides_);
  below_ = new QStackedWidget(upDown_);
  for (QSplitter* s : {upDown_, sides_}) {
    s->setHandleWidth(2);
    s->setChildrenCollapsible(false);
  }
  for (QStackedWidget* stack :
       {right_, below_, leftSide_})  // only the page shown decides how small it may be
    stack->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Ignored);
  inspector_ = new Inspector(doc_);
  right_->addWidget(inspector_);
  explain(inspector_, tr("What is selected"),
          tr("Picture, legs, properties and predicted figures of the selected part or wire."));
  cabinet_ = new Cabinet;
  below_->addWidget(cabinet_);
  explain(cabinet_, tr("Cabinet"),
          tr("Parts, small circuits and breadboards. Return takes one to the bench."));
  checking_.madeBy([this] { return makeChecking(); });
  program_.madeBy([this] { return makeProgram(); });
  running_.madeBy([this] { return makeRunning(); });
  building_.madeBy([this] { return makeBuilding(); });
  cards_.madeBy([this] { return makeCards(); });
  column->addWidget(upDown_, 1);
  setCentralWidget(middle);
  hint_ = new QLabel(bench_);
  hint_->setObjectName(QStringLiteral("hint"));
  hint_->setAttribute(Qt::WA_TransparentForMouseEvents);
  bench_->installEventFilter(this);
  qApp->installEventFilter(this);  // for keys that a program listens to
  typeLine_ = new TypeLine(doc_, bench_);
  sideSizes_ = {{0, {0, 900, 380}},
                {1, {0, 800, 480}},
                {2, {0, 500, 780}},
                {3, {0, 736, 544}},
                {4, {330, 560, 390}}};
  belowSizes_ = {
      {0, {556, 192}}, {1, {556, 192}}, {2, {676, 72}}, {3, {556, 192}}, {4, {556, 192}}};
}

MainWindow::BuildPanes MainWindow::makeBuilding() {
  const BuildPanes panes{new StepsPane(doc_), new NeedsPane(doc_), new FirmwarePane(doc_)};
  leftSide_->addWidget(panes.steps);
  right_->addWidget(panes.needs);
  below_->addWidget(panes.firmware);
  explain(panes.steps, tr("Build steps"), tr("What to plug in where, in order, to be ticked."));
  explain(panes.needs, tr("What you need"),
          tr("Parts to have on the table and what a meter should read."));
  explain(panes.firmware, tr("Firmware"), tr("Makes the HEX file for the board’s chip."));
  connect(panes.steps, &StepsPane::focused, bench_, &BenchView::setBuildFocus);
  panes.firmware->askWhere = [this](const QString& suggested) {
    return dialogs_.saveFile(this, tr("Keep the HEX file"), suggested,
                             QStringLiteral("Intel HEX (*.hex)"));
  };
  return panes;
}

// What a pane is and does, for those who hear it.
void MainWindow::explain(QWidget* pane, const QString& name, const QString& what) {
  pane->setAccessibleName(name);
  pane->setAccessibleDescription(what);
}

void MainWindow::showEvent(QShowEvent* e) {
  QMainWindow::showEvent(e);
  placeHint();
  constexpr int afterFirstFrame = 150;
  theRest_.start(afterFirstFrame);
}

void MainWindow::makeTheRest() {
  constexpr int between = 30;  // so that what is done meanwhile is not kept waiting
  theRest_.setInterval(between);
  if (!program_.ifMade())
    (void)program_->pane;
  else if (!running_.ifMade())
    (void)running_->all;
  else if (!checking_.ifMade())
    (void)checking_->findings;
  else if (!building_.ifMade())
    (void)building_->steps;
  else if (!cards_.ifMade())
    (void)cards_->why;
  else
    theRest_.stop();
}

}  // namespace ignavo::app
