#include "run/hand_card.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QSignalBlocker>
#include <QVBoxLayout>
#include <algorithm>

#include "program/facts.h"
#include "theme/card.h"
#include "theme/named_button.h"
#include "theme/text.h"

namespace ignavo::app {

namespace {
constexpr int wide = 300, margin = 8;
}

HandCard::HandCard(Document& document, RunControl& run, QWidget* parent)
    : QWidget(parent), doc_(document), run_(run) {
  setObjectName(QStringLiteral("handCard"));
  setFocusPolicy(Qt::StrongFocus);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(14, 10, 12, 10);
  column->setSpacing(8);
  auto* head = new QHBoxLayout;
  title_ = new QLabel(this);
  title_->setObjectName(QStringLiteral("handPin"));
  title_->setTextFormat(Qt::PlainText);
  title_->setFont(theme().text(13, QFont::DemiBold));
  head->addWidget(title_, 1);
  close_ = namedButton(this, head, "handClose", QStringLiteral("×"));
  close_->setProperty("close", true);
  close_->setAccessibleName(tr("Close"));
  close_->setToolTip(tr("Close; what is held stays held (Escape)"));
  close_->setFixedWidth(30);
  column->addLayout(head);
  auto* row = new QHBoxLayout;
  row->setSpacing(8);
  low_ = namedButton(this, row, "handLow", tr("Low"));
  level_ = new QSlider(Qt::Horizontal, this);
  level_->setObjectName(QStringLiteral("handLevel"));
  level_->setRange(0, 100);
  level_->setSingleStep(5);
  level_->setPageStep(10);
  row->addWidget(level_, 1);
  high_ = namedButton(this, row, "handHigh", tr("High"));
  figure_ = new QLabel(this);
  figure_->setObjectName(QStringLiteral("handFigure"));
  figure_->setFont(theme().mono(13));
  figure_->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
  figure_->setMinimumWidth(
      QFontMetrics(figure_->font()).horizontalAdvance(QStringLiteral("100 %")));
  row->addWidget(figure_);
  column->addLayout(row);
  auto* foot = new QHBoxLayout;
  note_ = new QLabel(this);
  note_->setObjectName(QStringLiteral("handNote"));
  note_->setTextFormat(Qt::PlainText);
  note_->setWordWrap(true);
  note_->setProperty("aside", true);
  foot->addWidget(note_, 1);
  free_ = namedButton(this, foot, "handFree", tr("Let go"));
  free_->setToolTip(tr("The program has it again, or nobody (Delete)"));
  column->addLayout(foot);
  for (QPushButton* side : {low_, high_}) side->setCheckable(true);
  connect(low_, &QPushButton::clicked, this, [this] { hold(0); });
  connect(high_, &QPushButton::clicked, this, [this] { hold(100); });
  connect(level_, &QSlider::valueChanged, this, [this](int percent) { hold(percent); });
  connect(free_, &QPushButton::clicked, this, &HandCard::letGo);
  connect(close_, &QPushButton::clicked, this, &QWidget::hide);
  connect(&run_, &RunControl::updated, this, [this] {
    if (isVisible()) refresh();
  });
  connect(&run_, &RunControl::stateChanged, this, [this] {
    if (!run_.isOn()) hide();
  });
  hide();
}

void HandCard::open(const std::string& board, const std::string& pin, QPoint beside) {
  if (!run_.isOn()) return;
  board_ = board;
  pin_ = pin;
  refresh();
  resize(wide, layout()->totalHeightForWidth(wide));
  const QSize room = parentWidget()->size();
  int x = beside.x() + 14;
  if (x + width() > room.width() - margin) x = beside.x() - 14 - width();
  move(std::clamp(x, margin, std::max(margin, room.width() - width() - margin)),
       std::clamp(beside.y() - height() / 2, margin,
                  std::max(margin, room.height() - height() - margin)));
  show();
  raise();
  level_->setFocus();
}

void HandCard::hold(double percent) {
  run_.hold(str(board_), str(pin_), percent);
  refresh();
}

void HandCard::letGo() {
  run_.letGo(str(board_), str(pin_));
  refresh();
}

QString HandCard::sentence(std::optional<double> held) const {
  const Program* program = doc_.project().program(board_);
  bool written = false;
  if (program)
    for (const PinUse& use : pinUses(*program))
      written = written || (use.pin == pin_ && !use.writers.empty());
  if (!held)
    return written ? tr("The program sets it. Drag, and your level counts instead.")
                   : tr("Nobody sets it. Drag, or press a side: you hold it then.");
  const bool between = *held > 0 && *held < 100;
  if (between)
    return tr("Held by hand: on and off 977 times a second, high for %1 % of the time.")
        .arg(*held, 0, 'f', 0);
  return written ? tr("Held by hand: what the program does to it does not count.")
                 : tr("Held by hand.");
}

void HandCard::refresh() {
  if (pin_.empty()) return;
  const auto held = run_.heldPercent(board_, pin_);
  const QString label = doc_.pinLabel(board_, pin_);
  title_->setText(label.isEmpty() ? str(pin_) : str(pin_) + QStringLiteral(" · ") + label);
  setAccessibleName(tr("%1 by hand").arg(title_->text()));
  level_->setAccessibleName(tr("Level of %1 in percent").arg(title_->text()));
  {
    const QSignalBlocker quiet(level_);
    if (!level_->isSliderDown()) level_->setValue(qRound(held.value_or(0)));
  }
  low_->setChecked(held && *held == 0);
  high_->setChecked(held && *held == 100);
  figure_->setText(held ? QStringLiteral("%1 %").arg(*held, 0, 'f', 0) : QStringLiteral("–"));
  note_->setText(sentence(held));
  free_->setEnabled(held.has_value());
}

void HandCard::keyPressEvent(QKeyEvent* e) {
  switch (e->key()) {
    case Qt::Key_Escape:
      return hide();
    case Qt::Key_Delete:
    case Qt::Key_Backspace:
      return letGo();
    default:
      QWidget::keyPressEvent(e);
  }
}

void HandCard::paintEvent(QPaintEvent*) { paintCard(*this, theme().ink2); }

}  // namespace ignavo::app
