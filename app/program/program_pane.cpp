#include "program/program_pane.h"

#include <QApplication>
#include <QButtonGroup>
#include <QClipboard>
#include <QHBoxLayout>
#include <QScrollBar>

#include "document/board_chooser.h"
#include "program/compiled.h"
#include "program/names_strip.h"
#include "program/program_overview.h"
#include "theme/text.h"
#include "theme/theme.h"
#include "theme/wrapping.h"

namespace ignavo::app {

namespace {
constexpr int both = 2;  // of the tabs: steps, text, both
}

ProgramPane::ProgramPane(Document& document, RunControl& run, QWidget* parent)
    : QWidget(parent), doc_(document) {
  setObjectName(QStringLiteral("pane"));
  setAttribute(Qt::WA_StyledBackground);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 10, 0, 0);
  column->setSpacing(6);
  column->addLayout(makeHead());
  shelf_ = new Shelf(this);
  column->addWidget(shelf_);
  column->addWidget(makeStrip(run));
  column->addWidget(makeTrialBar());
  auto* split = new QSplitter(Qt::Horizontal, this);
  split->addWidget(makeRails(run));
  split->addWidget(makeText());
  split->setChildrenCollapsible(false);
  split->setSizes({520, 420});
  column->addWidget(split, 1);
  problem_ = new QLabel(this);
  problem_->setObjectName(QStringLiteral("programProblem"));
  problem_->setWordWrap(true);
  problem_->setContentsMargins(20, 6, 12, 8);
  problem_->hide();
  column->addWidget(problem_);
  connectParts();
  tellPace();
  show(0);
}

// How the program runs and why, whose it is, and what of it is shown.
QLayout* ProgramPane::makeHead() {
  auto* head = new QHBoxLayout;
  head->setContentsMargins(20, 0, 12, 0);
  auto* title = new QLabel(tr("Program"), this);
  title->setStyleSheet(QStringLiteral("font-size: 15px; font-weight: 700;"));
  head->addWidget(title);
  pace_ = new QLabel(this);
  pace_->setObjectName(QStringLiteral("programPace"));
  pace_->setContentsMargins(8, 2, 0, 0);
  pace_->setProperty("aside", true);
  pace_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
  pace_->setWordWrap(true);
  head->addWidget(pace_, 1);
  head->addWidget(new BoardChooser(doc_, this));
  auto* group = new QButtonGroup(this);
  const QString names[] = {tr("Steps"), tr("Text"), tr("Both")};
  for (int i = 0; i < 3; ++i) {
    tabs_[i] = new QPushButton(names[i], this);
    tabs_[i]->setObjectName(QStringLiteral("programTab%1").arg(i));
    tabs_[i]->setProperty("tab", true);
    tabs_[i]->setCheckable(true);
    group->addButton(tabs_[i]);
    head->addWidget(tabs_[i]);
    connect(tabs_[i], &QPushButton::clicked, this, [this, i] {
      if (roomy_) beside_ = i == both;
      show(i);
    });
  }
  return head;
}

QWidget* ProgramPane::makeStrip(RunControl& run) {
  names_ = new NamesStrip(doc_, run, this);
  auto* strip = new QScrollArea(this);
  strip->setWidgetResizable(true);
  strip->setFrameShape(QFrame::NoFrame);
  strip->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  strip->setFocusPolicy(Qt::NoFocus);
  strip->setWidget(names_);
  names_->setScroll(strip);
  return strip;
}

// While a step is tried alone.
QWidget* ProgramPane::makeTrialBar() {
  trial_ = new QFrame(this);
  trial_->setObjectName(QStringLiteral("trialBar"));
  auto* row = new QHBoxLayout(trial_);
  row->setContentsMargins(20, 4, 12, 4);
  trialWords_ = new QLabel(trial_);
  trialWords_->setTextFormat(Qt::PlainText);
  trialWords_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
  row->addWidget(trialWords_, 1);
  auto* whole = new QPushButton(tr("Run all of it"), trial_);
  whole->setObjectName(QStringLiteral("runAll"));
  connect(whole, &QPushButton::clicked, this, &ProgramPane::wholeWanted);
  row->addWidget(whole);
  trial_->hide();
  return trial_;
}

// The lanes, with an overview beside them where they are long.
QWidget* ProgramPane::makeRails(RunControl& run) {
  scroll_ = new QScrollArea(this);
  scroll_->setObjectName(QStringLiteral("programScroll"));
  scroll_->setWidgetResizable(true);
  scroll_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  auto* held = new QWidget(scroll_);
  auto* inner = new QVBoxLayout(held);
  inner->setContentsMargins(8, 0, 8, 8);
  inner->setSpacing(2);
  view_ = new ProgramView(doc_, run, held);
  inner->addWidget(view_);
  inner->addLayout(makeWays(held));
  inner->addStretch();
  scroll_->setWidget(held);
  scroll_->viewport()->setAutoFillBackground(false);
  held->setAutoFillBackground(false);
  // What one is in, when its head has scrolled away.
  heads_ = new QLabel(scroll_);
  heads_->setObjectName(QStringLiteral("programHeads"));
  heads_->setContentsMargins(22, 4, 22, 4);
  heads_->setTextFormat(Qt::PlainText);
  heads_->hide();
  auto* rails = new QWidget(this);
  auto* beside = new QHBoxLayout(rails);
  beside->setContentsMargins(0, 0, 0, 0);
  beside->setSpacing(0);
  beside->addWidget(scroll_, 1);
  beside->addWidget(new ProgramOverview(view_, scroll_, doc_, run, rails));
  return rails;
}

// All kinds of lanes, and what is remembered, behind a button.
QLayout* ProgramPane::makeWays(QWidget* held) {
  auto* lanes = new QVBoxLayout;
  lanes->setContentsMargins(30, 4, 12, 8);
  auto* ways = new Wrapping(4, held);
  auto* lanesToo = new QPushButton(tr("All kinds of lanes"), held);
  lanesToo->setObjectName(QStringLiteral("moreLanes"));
  lanesToo->setToolTip(
      tr("When a lane runs, what a lane keeps, own steps, and what is remembered"));
  lanesToo->setCheckable(true);
  ways->hide();
  connect(lanesToo, &QPushButton::toggled, ways, &QWidget::setVisible);
  const QString flat = QStringLiteral(
                           "QPushButton { border-radius: 6px; padding: 4px 9px; } "
                           "QPushButton:focus { border: 2px solid %1; padding: 3px 8px; }")
                           .arg(theme().ink.name());
  const auto offer = [&](const QString& name, const QString& label, const QString& tip) {
    auto* b = new QPushButton(label, ways);
    b->setObjectName(name);
    b->setToolTip(tip);
    b->setStyleSheet(flat);
    return b;
  };
  for (const TriggerKind& k : triggerKinds()) {
    // What stands in it is chosen afterwards.
    const bool test = k.starts == TriggerKind::Starts::test;
    const std::string sign = filled(
        k.sign, [&](const std::string&) { return std::string(test ? "a condition holds" : "…"); });
    const std::string on = k.on;
    connect(offer(QStringLiteral("addLane-") + QString::fromStdString(k.on),
                  QString::fromStdString(sign), QString::fromStdString(k.help)),
            &QPushButton::clicked, this, [this, on] { view_->addLane(on); });
  }
  connect(offer(QStringLiteral("addVariable"), tr("A variable"),
                tr("Holds a number, a truth or a text that steps change")),
          &QPushButton::clicked, names_, &NamesStrip::addVariable);
  connect(offer(QStringLiteral("addList"), tr("A list"), tr("Holds several numbers, by position")),
          &QPushButton::clicked, names_, &NamesStrip::addList);
  lanes->addWidget(lanesToo, 0, Qt::AlignLeft);
  lanes->addWidget(ways);
  return lanes;
}

QWidget* ProgramPane::makeText() {
  text_ = new QWidget(this);
  auto* column = new QVBoxLayout(text_);
  column->setContentsMargins(8, 0, 12, 10);
  code_ = new CodeView(doc_, text_);
  column->addWidget(code_);
  auto* copy = new QPushButton(tr("Copy all"), text_);
  copy->setObjectName(QStringLiteral("copyCode"));
  connect(copy, &QPushButton::clicked, this,
          [this] { QApplication::clipboard()->setText(code_->wholeText()); });
  column->addWidget(copy, 0, Qt::AlignLeft);
  return text_;
}

void ProgramPane::connectParts() {
  connect(shelf_, &Shelf::kindPicked, this, [this](const std::string& kind) {
    view_->addKind(kind);
    if (!view_->isTyping()) view_->setFocus();
  });
  connect(shelf_, &Shelf::groupPicked, this,
          [this](const QString& phrase) { view_->beginGroup(phrase); });
  connect(&doc_, &Document::changed, this, &ProgramPane::tellPace);
  connect(&doc_, &Document::boardChosen, this, &ProgramPane::tellPace);
  const auto tell = [this](const QString& sentence) {
    problem_->setText(sentence);
    problem_->setVisible(!sentence.isEmpty());
  };
  connect(view_, &ProgramView::problem, this, tell);
  connect(names_, &NamesStrip::problem, this, tell);
  const auto* bar = scroll_->verticalScrollBar();
  connect(bar, &QScrollBar::valueChanged, view_->card(), &TypingCard::follow);
  connect(bar, &QScrollBar::valueChanged, this, &ProgramPane::tellHeads);
  connect(view_, &ProgramView::laidOut, this, &ProgramPane::tellHeads);
  connect(view_, &ProgramView::wantVisible, this, [this](const QRectF& box) {
    const QPoint at = view_->mapTo(scroll_->widget(), box.center().toPoint());
    scroll_->ensureVisible(at.x(), at.y(), 10, 50);
  });
  connect(view_, &ProgramView::shifted, this, [this](double by) {
    auto* height = scroll_->verticalScrollBar();
    height->setValue(height->value() + qRound(by));
  });
}

void ProgramPane::tellPace() {
  const Program* program = doc_.project().program(doc_.board());
  if (!program || !program->hasSteps()) {
    pace_->setToolTip({});
    return pace_->setText({});
  }
  const auto why = whyInTurns(*program);
  pace_->setText(why ? tr("in turns, because %1").arg(str(*why)) : tr("runs freely"));
  pace_->setToolTip(
      why ? tr("Runs in turns of a quarter of a millisecond, because %1.").arg(str(*why))
          : tr("Runs freely, as fast as the chip."));
}

void ProgramPane::tellHeads() {
  const int top = view_->mapFrom(scroll_->viewport(), QPoint(0, 0)).y();
  const QStringList heads = top > 0 ? view_->headsAbove(top + 26) : QStringList();
  heads_->setVisible(!heads.isEmpty());
  if (heads.isEmpty()) return;
  const QString all = heads.join(QStringLiteral("  ›  "));
  heads_->setFont(theme().text(12));
  heads_->setGeometry(0, 0, scroll_->viewport()->width(), 26);
  // The innermost is what matters most.
  const QString words = heads_->fontMetrics().elidedText(all, Qt::ElideLeft, heads_->width() - 48);
  heads_->setToolTip(all);
  if (words == heads_->text()) return;  // each edit asks
  heads_->setText(words);
  heads_->raise();
}

void ProgramPane::setTrial(const QString& what) {
  trialWords_->setText(what.isEmpty() ? what : QStringLiteral("▶ ") + what);
  trialWords_->setToolTip(what);
  trial_->setVisible(!what.isEmpty());
}

void ProgramPane::show(int which) {
  which_ = which;
  tabs_[which]->setChecked(true);
  scroll_->parentWidget()->setVisible(which != 1);
  text_->setVisible(which != 0);
}

void ProgramPane::resizeEvent(QResizeEvent*) {
  tabs_[2]->setVisible(width() >= 640);
  shelf_->setVisible(width() >= 470);
  if (which_ == both && width() < 640) show(0);
  if (roomy_ && beside_ && which_ == 0 && width() >= 640) show(both);
}

void ProgramPane::setRoomy(bool roomy) {
  roomy_ = roomy;
  show(roomy && beside_ ? both : which_ == both ? 0 : which_);
}

void ProgramPane::setTextBeside(bool beside) {
  beside_ = beside;
  setRoomy(roomy_);
}

}  // namespace ignavo::app
