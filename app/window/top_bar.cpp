#include "window/top_bar.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QStyleOptionFrame>

#include "theme/theme.h"

namespace ignavo::app {

namespace {
constexpr const char* names[stationCount] = {"Wire", "Check", "Program", "Run", "Build"};

void paintGlyph(QPainter& p, Glyph which, const QColor& ink) {
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(QPen(ink, 2, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
  p.setBrush(Qt::NoBrush);
  switch (which) {
    case Glyph::menu:
      for (int y : {5, 10, 15}) p.drawLine(3, y, 17, y);
      break;
    case Glyph::undo:
    case Glyph::redo: {
      if (which == Glyph::redo) p.translate(20, 0), p.scale(-1, 1);
      QPainterPath path(QPointF(4, 8));
      path.cubicTo(8, 4.5, 16, 5, 16, 10.5);
      path.cubicTo(16, 14, 13, 15.5, 10, 15.5);
      p.drawPath(path);
      p.drawLine(QPointF(4, 8), QPointF(8.6, 8.6));
      p.drawLine(QPointF(4, 8), QPointF(5.2, 3.6));
      break;
    }
    case Glyph::reset: {
      p.drawArc(QRectF(3.5, 3.5, 13, 13), 50 * 16, 290 * 16);
      p.drawLine(QPointF(14.6, 5.4), QPointF(15.6, 1.8));
      p.drawLine(QPointF(14.6, 5.4), QPointF(10.9, 5.6));
      break;
    }
    case Glyph::pause:
      p.setPen(QPen(ink, 3.4, Qt::SolidLine, Qt::RoundCap));
      p.drawLine(QPointF(7, 5), QPointF(7, 15));
      p.drawLine(QPointF(13, 5), QPointF(13, 15));
      break;
    case Glyph::go:
      p.setBrush(ink);
      p.drawPolygon(QPolygonF({{6, 4}, {16, 10}, {6, 16}}));
      break;
    case Glyph::step:
      p.setBrush(ink);
      p.drawPolygon(QPolygonF({{4, 5}, {11, 10}, {4, 15}}));
      p.drawLine(QPointF(15, 5), QPointF(15, 15));
      break;
  }
}
}  // namespace

QIcon glyph(Glyph which) {
  QIcon icon;
  for (const auto mode : {QIcon::Normal, QIcon::Disabled}) {
    QPixmap pix(40, 40);
    pix.setDevicePixelRatio(2);
    pix.fill(Qt::transparent);
    QPainter p(&pix);
    paintGlyph(p, which, mode == QIcon::Normal ? theme().ink : theme().line);
    p.end();
    icon.addPixmap(pix, mode);
  }
  return icon;
}

StationLine::StationLine(QWidget* parent) : QWidget(parent) {
  setObjectName(QStringLiteral("stationLine"));
  setAccessibleName(QStringLiteral("Stations: Wire, Check, Program, Run, Build"));
  setFocusPolicy(Qt::TabFocus);
  setMouseTracking(true);
}

// In cells of the same width; where their names would come too near to each other, with the same
// gap between them.
std::array<QRectF, stationCount> StationLine::nameBoxes() const {
  constexpr double leastGap = 14;
  const QFontMetricsF font(theme().text(13, QFont::Bold));  // as the one that is open is written
  const double cell = static_cast<double>(width()) / stationCount;
  std::array<double, stationCount> wide{};
  double all = 0;
  bool near = false;
  for (std::size_t i = 0; i < stationCount; ++i) {
    all += wide[i] = font.horizontalAdvance(QString::fromLatin1(names[i]));
    near = near || (i > 0 && cell - (wide[i - 1] + wide[i]) / 2 < leastGap);
  }
  const double gap = std::max(0.0, (width() - all) / stationCount);
  std::array<QRectF, stationCount> out;
  double left = gap / 2;
  for (std::size_t i = 0; i < stationCount; ++i) {
    if (!near) left = cell * (0.5 + static_cast<double>(i)) - wide[i] / 2;
    out[i] = QRectF(left, 19, wide[i], 17);
    left += wide[i] + gap;
  }
  return out;
}

double StationLine::x(int i) const { return nameBoxes()[static_cast<std::size_t>(i)].center().x(); }
int StationLine::stationAt(double at) const {
  int i = 0;
  while (i + 1 < stationCount && at > (x(i) + x(i + 1)) / 2) ++i;
  return i;
}
QPoint StationLine::centreOf(Station s) const { return {qRound(x(static_cast<int>(s))), 20}; }

void StationLine::setStation(Station s) {
  at_ = static_cast<int>(s);
  update();
}

void StationLine::setState(Station s, const QString& words, bool alert, const QString& brief) {
  words_[static_cast<std::size_t>(s)] = words;
  brief_[static_cast<std::size_t>(s)] = brief;
  alert_[static_cast<std::size_t>(s)] = alert;
  update();
}

// A little wider than its cell.
QString StationLine::shownState(Station s) const {
  const auto i = static_cast<std::size_t>(s);
  const QFontMetrics font(theme().text(11, alert_[i] ? QFont::DemiBold : QFont::Normal));
  const int room = width() / stationCount + 14;
  const bool fits = font.horizontalAdvance(words_[i]) <= room || brief_[i].isEmpty();
  return font.elidedText(fits ? words_[i] : brief_[i], Qt::ElideRight, room);
}

// Under its station each, not beyond the line's own ends, and none over the next.
std::array<QRectF, stationCount> StationLine::stateBoxes() const {
  constexpr double gap = 5;
  std::array<QRectF, stationCount> out;
  double end = width();
  for (int i = stationCount - 1; i >= 0; --i) {
    const auto k = static_cast<std::size_t>(i);
    const QFontMetrics font(theme().text(11, alert_[k] ? QFont::DemiBold : QFont::Normal));
    const double wide = font.horizontalAdvance(shownState(static_cast<Station>(i))) + 1;
    const double left = std::max(0.0, std::min(x(i) - wide / 2, end - wide));
    out[k] = QRectF(left, 34, wide, 15);
    end = left - gap;
  }
  return out;
}

void StationLine::paintEvent(QPaintEvent*) {
  const Theme& t = theme();
  const auto states = stateBoxes();
  const auto boxes = nameBoxes();
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(QPen(t.line, 3));
  p.drawLine(QPointF(x(0), 11), QPointF(x(4), 11));
  for (int i = 0; i < stationCount; ++i) {
    const bool here = i == at_;
    p.setPen(QPen(t.ink, 2));
    p.setBrush(here ? t.ink : t.card);
    const double r = here ? 8 : i == hover_ ? 6.5 : 5;
    p.drawEllipse(QPointF(x(i), 11), r, r);
    if (here && hasFocus()) {
      p.setBrush(Qt::NoBrush);
      p.setPen(QPen(t.ink, 2));
      p.drawEllipse(QPointF(x(i), 11), r + 3.5, r + 3.5);
    }
    p.setPen(t.ink);
    p.setFont(t.text(13, here ? QFont::Bold : QFont::Medium));
    p.drawText(boxes[static_cast<std::size_t>(i)], Qt::AlignCenter | Qt::TextDontClip,
               QString::fromLatin1(names[i]));
    p.setFont(t.text(11, alert_[static_cast<std::size_t>(i)] ? QFont::DemiBold : QFont::Normal));
    p.setPen(alert_[static_cast<std::size_t>(i)] ? t.danger : t.ink2);
    p.drawText(states[static_cast<std::size_t>(i)], Qt::AlignCenter,
               shownState(static_cast<Station>(i)));
  }
}

void StationLine::mousePressEvent(QMouseEvent* e) {
  Q_EMIT chosen(static_cast<Station>(stationAt(e->position().x())));
}
void StationLine::mouseMoveEvent(QMouseEvent* e) {
  hover_ = stationAt(e->position().x());
  update();
}
void StationLine::leaveEvent(QEvent*) {
  hover_ = -1;
  update();
}
void StationLine::keyPressEvent(QKeyEvent* e) {
  if (e->key() == Qt::Key_Left && at_ > 0) return Q_EMIT chosen(static_cast<Station>(at_ - 1));
  if (e->key() == Qt::Key_Right && at_ + 1 < stationCount)
    return Q_EMIT chosen(static_cast<Station>(at_ + 1));
  QWidget::keyPressEvent(e);
}

PowerSwitch::PowerSwitch(QWidget* parent) : QWidget(parent) {
  setObjectName(QStringLiteral("power"));
  setAccessibleName(QStringLiteral("Power, off"));
  setFocusPolicy(Qt::StrongFocus);
  setFixedSize(64, 30);
  setCursor(Qt::PointingHandCursor);
}

void PowerSwitch::setOn(bool on) {
  on_ = on;
  setAccessibleName(on ? QStringLiteral("Power, on") : QStringLiteral("Power, off"));
  update();
}

void PowerSwitch::setWaiting(bool waiting) {
  if (waiting_ == waiting) return;
  waiting_ = waiting;
  setAccessibleName(waiting ? QStringLiteral("Power, coming on") : QStringLiteral("Power, off"));
  update();
}

void PowerSwitch::paintEvent(QPaintEvent*) {
  const Theme& t = theme();
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const QRectF box(2, 2, width() - 4, height() - 4);
  p.setPen(QPen(t.ink, hasFocus() ? 3 : 1.6));
  p.setBrush(on_ ? t.amber : t.field);
  p.drawRoundedRect(box, 13, 13);
  const QPointF knob(on_ ? box.right() - 13 : box.left() + 13, box.center().y());
  p.setPen(QPen(t.ink, 1.4));
  p.setBrush(t.card);
  p.drawEllipse(knob, 10, 10);
  p.setPen(QPen(t.ink, 1.7, Qt::SolidLine, Qt::RoundCap));
  p.drawArc(QRectF(knob - QPointF(4.6, 4.2), QSizeF(9.2, 9.2)), 125 * 16, 290 * 16);
  p.drawLine(knob + QPointF(0, -6), knob + QPointF(0, -1));
  p.setFont(t.text(12, QFont::Bold));
  p.setPen(on_ ? t.onAmber : t.ink);
  const QRectF word = on_ ? box.adjusted(2, 0, -24, 0) : box.adjusted(24, 0, -2, 0);
  p.drawText(word, Qt::AlignCenter,
             on_        ? QStringLiteral("on")
             : waiting_ ? QStringLiteral("…")
                        : QStringLiteral("off"));
}

void PowerSwitch::mousePressEvent(QMouseEvent*) { Q_EMIT toggled(); }
void PowerSwitch::keyPressEvent(QKeyEvent* e) {
  if (e->key() == Qt::Key_Space || e->key() == Qt::Key_Return) return Q_EMIT toggled();
  QWidget::keyPressEvent(e);
}

namespace {
// A title that is too long for its place ends in "…" until it is edited.
class TitleEdit : public QLineEdit {
 public:
  using QLineEdit::QLineEdit;

 protected:
  void paintEvent(QPaintEvent* e) override {
    constexpr int side = 5;
    const int room = width() - 2 * side;
    if (hasFocus() || fontMetrics().horizontalAdvance(text()) <= room)
      return QLineEdit::paintEvent(e);
    QPainter p(this);
    QStyleOptionFrame frame;
    initStyleOption(&frame);
    style()->drawPrimitive(QStyle::PE_PanelLineEdit, &frame, &p, this);
    p.setFont(font());
    p.setPen(palette().color(QPalette::Text));
    p.drawText(rect().adjusted(side, 0, -side, 0), Qt::AlignVCenter | Qt::AlignLeft,
               fontMetrics().elidedText(text(), Qt::ElideRight, room));
  }
};
}  // namespace

TopBar::TopBar(QWidget* parent) : QWidget(parent) {
  setObjectName(QStringLiteral("topBar"));
  setFixedHeight(Theme::topBar);
  const auto button = [&](const char* name, const QString& tip) {
    auto* b = new QToolButton(this);
    b->setObjectName(QString::fromLatin1(name));
    b->setToolTip(tip);
    b->setAccessibleName(tip);
    b->setAutoRaise(true);
    b->setIconSize({20, 20});
    b->setFixedSize(32, 32);
    return b;
  };
  menu = button("menu", tr("Menu"));
  title = new TitleEdit(this);
  connect(title, &QLineEdit::textChanged, title, &QLineEdit::setToolTip);
  title->setObjectName(QStringLiteral("title"));
  title->setAccessibleName(tr("Project title"));
  title->setMaxLength(200);
  subtitle = new QLabel(this);
  subtitle->setObjectName(QStringLiteral("subtitle"));
  undo = button("undo", tr("Undo"));
  redo = button("redo", tr("Redo"));
  line = new StationLine(this);
  auto* label = new QLabel(tr("Power"), this);
  label->setObjectName(QStringLiteral("powerLabel"));
  power = new PowerSwitch(this);
  source = new QToolButton(this);
  source->setObjectName(QStringLiteral("runs"));
  source->setAutoRaise(true);
  source->setPopupMode(QToolButton::InstantPopup);
  source->setToolButtonStyle(Qt::ToolButtonTextOnly);
  source->setToolTip(tr("What runs with the power on: the steps, or the chip’s own code"));
  reset = button("reset", tr("Reset the board (T)"));
  pause = button("pause", tr("Pause (Ctrl+Space)"));
  speed = button("speed", tr("Speed"));
  speed->setFixedSize(102, 32);  // "Speed 1/1000×"
  speed->setToolButtonStyle(Qt::ToolButtonTextOnly);
  speed->setPopupMode(QToolButton::InstantPopup);
  time = new QLabel(QStringLiteral("00:00.0"), this);
  time->setObjectName(QStringLiteral("time"));
  timeNote = new QLabel(tr("since power-on"), this);
  timeNote->setObjectName(QStringLiteral("timeNote"));

  auto* names = new QVBoxLayout;
  names->setSpacing(0);
  names->setContentsMargins(0, 5, 0, 5);
  names->addWidget(title);
  names->addWidget(subtitle);
  auto* times = new QVBoxLayout;
  times->setSpacing(0);
  times->setContentsMargins(0, 6, 0, 6);
  time->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
  timeNote->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
  times->addWidget(time);
  times->addWidget(timeNote);
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(8, 0, 16, 0);
  row->setSpacing(6);
  row->addWidget(menu);
  row->addLayout(names, 3);
  row->addWidget(undo);
  row->addWidget(redo);
  row->addSpacing(8);
  row->addWidget(line, 6);
  row->addSpacing(8);
  auto* powers = new QVBoxLayout;
  powers->setSpacing(0);
  powers->setContentsMargins(0, 6, 0, 5);
  powers->addWidget(label, 0, Qt::AlignRight);
  powers->addWidget(source, 0, Qt::AlignRight);
  row->addLayout(powers);
  row->addWidget(power);
  row->addWidget(reset);
  row->addWidget(pause);
  row->addWidget(speed);
  row->addLayout(times);
  time->setMinimumWidth(84);
  title->setMinimumWidth(120);
  setSource(tr("steps"));
  restyle();
}

void TopBar::setPauseIcon(bool paused) {
  pause->setIcon(glyph(paused ? Glyph::go : Glyph::pause));
  pause->setToolTip(paused ? tr("Go on (Ctrl+Space)") : tr("Pause (Ctrl+Space)"));
}

void TopBar::setSource(const QString& words) {
  source->setText(words + QStringLiteral(" ▼"));
  source->setAccessibleName(tr("Runs by %1").arg(words));
}

void TopBar::restyle() {
  const Theme& t = theme();
  menu->setIcon(glyph(Glyph::menu));
  undo->setIcon(glyph(Glyph::undo));
  redo->setIcon(glyph(Glyph::redo));
  reset->setIcon(glyph(Glyph::reset));
  setPauseIcon(false);
  const QString small = QStringLiteral("color: %1; font-size: 11px;").arg(t.ink2.name());
  subtitle->setStyleSheet(small + QStringLiteral("padding-left: 4px;"));
  timeNote->setStyleSheet(small);
  title->setStyleSheet(
      QStringLiteral("QLineEdit { border: 1px solid transparent; background: transparent; padding: "
                     "0 3px; font-size: 15px; font-weight: 700; }"
                     "QLineEdit:hover { border-color: %1; } QLineEdit:focus { border: 2px solid "
                     "%2; padding: 0 2px; }")
          .arg(t.line.name(), t.ink.name()));
  time->setStyleSheet(QStringLiteral("font-family: 'JetBrains Mono'; font-size: 16px;"));
  findChild<QLabel*>(QStringLiteral("powerLabel"))
      ->setStyleSheet(QStringLiteral("font-weight: 600;"));
  source->setStyleSheet(
      QStringLiteral("QToolButton { border: 1px solid transparent; border-radius: 4px; color: %1; "
                     "font-size: 11px; padding: 0 3px; } QToolButton:hover { border-color: %2; } "
                     "QToolButton:focus { border: 2px solid %3; padding: 0 2px; }"
                     "QToolButton::menu-indicator { image: none; }")
          .arg(t.ink2.name(), t.line.name(), t.ink.name()));
  const QString frame =
      QStringLiteral(
          "QToolButton { border: 1px solid %1; border-radius: 7px; background: %2; font-weight: "
          "500; }"
          "QToolButton:hover { border-color: %3; } QToolButton:focus { border: 2px solid %4; }"
          "QToolButton::menu-indicator { image: none; }")
          .arg(t.line.name(), t.card.name(), t.ink2.name(), t.ink.name());
  for (QToolButton* b : {reset, pause, speed}) b->setStyleSheet(frame);
  const QString plain = QStringLiteral(
                            "QToolButton { border: 0; border-radius: 6px; } QToolButton:hover { "
                            "background: %1; } QToolButton:focus { border: 2px solid %2; } "
                            "QToolButton::menu-indicator { image: none; }")
                            .arg(t.field.name(), t.ink.name());
  for (QToolButton* b : {menu, undo, redo}) b->setStyleSheet(plain);
}

void TopBar::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.fillRect(rect(), theme().card);
  p.setPen(theme().line);
  p.drawLine(0, height() - 1, width(), height() - 1);
}

}  // namespace ignavo::app
