#include "bench/meter.h"

#include <QButtonGroup>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <QToolButton>
#include <algorithm>
#include <cmath>

#include "bench/bench_view.h"
#include "parts/measuring.h"
#include "theme/card.h"
#include "theme/text.h"
#include "theme/theme.h"

namespace ignavo::app {

namespace {
constexpr int cardWidth = 276, cardHeight = 108, cardMargin = 14;
}  // namespace

MeterTip::MeterTip(Kind kind, QWidget* parent) : QWidget(parent), kind_(kind) {
  setObjectName(kind == Kind::red     ? QStringLiteral("probeRed")
                : kind == Kind::black ? QStringLiteral("probeBlack")
                                      : QStringLiteral("clamp"));
  setAccessibleName(kind == Kind::red     ? tr("Red probe")
                    : kind == Kind::black ? tr("Black probe")
                                          : tr("Clamp"));
  setToolTip(kind == Kind::clamp ? tr("Drag it onto a wire; arrow keys go from wire to wire")
                                 : tr("Drag it to a hole, pin or leg; arrow keys move it"));
  setFocusPolicy(Qt::StrongFocus);
  setCursor(Qt::OpenHandCursor);
  resize(kind == Kind::clamp ? QSize(30, 30) : QSize(26, 48));
}

QPoint MeterTip::hot() const {
  if (kind_ == Kind::clamp) return {15, 15};
  return kind_ == Kind::red ? QPoint(4, 44) : QPoint(22, 44);
}

void MeterTip::paintEvent(QPaintEvent*) {
  const Theme& t = theme();
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const QColor body = kind_ == Kind::red ? t.supply : t.ground;
  if (kind_ == Kind::clamp) {
    p.setPen(QPen(t.paper, 7));
    p.drawEllipse(QPointF(15, 15), 10, 10);
    p.setPen(QPen(t.ink, 4));
    p.drawArc(QRectF(5, 5, 20, 20), 100 * 16, 340 * 16);
  } else {
    // A needle, then a grip that leans away from the hole, so that it can be seen.
    const QPointF tip = hot(), away = kind_ == Kind::red ? QPointF(9, -22) : QPointF(-9, -22);
    p.setPen(QPen(t.paper, 9, Qt::SolidLine, Qt::RoundCap));
    p.drawLine(tip + away * 0.75, tip + away * 1.65);
    p.setPen(QPen(t.steel, 2.4, Qt::SolidLine, Qt::RoundCap));
    p.drawLine(tip, tip + away * 0.8);
    p.setPen(QPen(body, 6.5, Qt::SolidLine, Qt::RoundCap));
    p.drawLine(tip + away * 0.75, tip + away * 1.65);
    p.setPen(QPen(t.ink, 1));
    p.setBrush(body);
    p.drawEllipse(tip, 2.6, 2.6);
  }
  if (hasFocus()) {
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(t.ink, 2));
    p.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 4, 4);
  }
}

void MeterTip::mousePressEvent(QMouseEvent* e) {
  grip_ = e->position().toPoint() - hot();
  raise();
}

void MeterTip::mouseMoveEvent(QMouseEvent* e) {
  if (e->buttons() & Qt::LeftButton) Q_EMIT draggedTo(mapToParent(e->position().toPoint()) - grip_);
}

void MeterTip::keyPressEvent(QKeyEvent* e) {
  const int dx = (e->key() == Qt::Key_Right) - (e->key() == Qt::Key_Left);
  const int dy = (e->key() == Qt::Key_Down) - (e->key() == Qt::Key_Up);
  if (dx || dy)
    Q_EMIT stepped(dx, dy);
  else
    QWidget::keyPressEvent(e);
}

Meter::Meter(BenchView& bench) : QWidget(&bench), bench_(bench) {
  setObjectName(QStringLiteral("meter"));
  setAccessibleName(tr("Meter"));
  resize(cardWidth, cardHeight);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(14, 8, 10, 10);
  column->setSpacing(3);
  auto* top = new QHBoxLayout;
  top->setSpacing(4);
  modes_ = new QButtonGroup(this);
  const std::pair<const char*, QString> names[] = {{"V", tr("Volts between the probes")},
                                                   {"Ω", tr("Ohms between the probes")},
                                                   {"joined?", tr("Is there a way through?")},
                                                   {"mA", tr("Milliamps in a wire, by the clamp")}};
  for (int i = 0; i < 4; ++i) {
    auto* b = new QToolButton(this);
    b->setObjectName(QStringLiteral("meterMode%1").arg(i));
    b->setText(QString::fromUtf8(names[i].first));
    b->setToolTip(names[i].second);
    b->setAccessibleName(names[i].second);
    b->setCheckable(true);
    b->setProperty("segment", true);
    modes_->addButton(b, i);
    top->addWidget(b);
  }
  top->addStretch();
  auto* close = new QToolButton(this);
  close->setObjectName(QStringLiteral("meterClose"));
  close->setText(QStringLiteral("×"));
  close->setProperty("segment", true);
  close->setToolTip(tr("Put the meter away (E)"));
  close->setAccessibleName(close->toolTip());
  top->addWidget(close);
  column->addLayout(top);
  value_ = new QLabel(this);
  value_->setObjectName(QStringLiteral("meterValue"));
  value_->setFont(theme().mono(24, QFont::Bold));
  column->addWidget(value_);
  where_ = new QLabel(this);
  where_->setFont(theme().text(12));
  note_ = new QLabel(this);
  note_->setObjectName(QStringLiteral("meterNote"));
  note_->setFont(theme().text(12));
  column->addWidget(where_);
  column->addWidget(note_);
  redTip_ = new MeterTip(MeterTip::Kind::red, &bench);
  blackTip_ = new MeterTip(MeterTip::Kind::black, &bench);
  clampTip_ = new MeterTip(MeterTip::Kind::clamp, &bench);
  for (MeterTip* tip : {redTip_, blackTip_, clampTip_}) {
    tip->hide();
    connect(tip, &MeterTip::draggedTo, this, [this, tip](QPoint at) { dragged(tip, at); });
    connect(tip, &MeterTip::stepped, this, [this, tip](int dx, int dy) { stepped(tip, dx, dy); });
  }
  connect(modes_, &QButtonGroup::idClicked, this,
          [this](int mode) { setMode(static_cast<Mode>(mode)); });
  connect(close, &QToolButton::clicked, this, [this] {
    hide();
    Q_EMIT closed();
  });
  hide();
}

void Meter::mousePressEvent(QMouseEvent* e) { grip_ = e->position().toPoint(); }

void Meter::mouseMoveEvent(QMouseEvent* e) {
  if (!(e->buttons() & Qt::LeftButton)) return;
  laid_ = mapToParent(e->position().toPoint()) - grip_;
  refresh();
  bench_.update();
}

void Meter::showEvent(QShowEvent*) { setMode(mode_); }

void Meter::hideEvent(QHideEvent*) {
  for (MeterTip* tip : {redTip_, blackTip_, clampTip_}) tip->hide();
  bench_.update();
}

void Meter::setMode(Mode mode) {
  mode_ = mode;
  modes_->button(static_cast<int>(mode))->setChecked(true);
  const bool clamp = mode == Mode::milliamps;
  if (isVisible()) {
    redTip_->setVisible(!clamp);
    blackTip_->setVisible(!clamp);
    clampTip_->setVisible(clamp);
  }
  refresh();
  bench_.update();
}

void Meter::put(MeterTip::Kind kind, const Socket& socket) {
  (kind == MeterTip::Kind::red ? red_ : black_) = socket;
  refresh();
  bench_.update();
}

void Meter::clampOn(const std::string& wire) {
  wire_ = wire;
  refresh();
  bench_.update();
}

void Meter::dragged(MeterTip* tip, QPoint at) {
  if (tip->kind() == MeterTip::Kind::clamp) {
    wire_ = bench_.wireNear(at);
    if (wire_.empty()) tip->move(at - tip->hot());
  } else {
    const auto socket = bench_.anySocketNear(at);
    (tip->kind() == MeterTip::Kind::red ? red_ : black_) = socket;
    if (!socket) tip->move(at - tip->hot());
  }
  read();
  if (tip->kind() == MeterTip::Kind::clamp ? !wire_.empty()
                                           : (tip == redTip_ ? red_ : black_).has_value())
    placeTips();
  bench_.update();
}

void Meter::stepped(MeterTip* tip, int dx, int dy) {
  if (tip->kind() == MeterTip::Kind::clamp) {
    const auto& wires = *bench_.document().project().wires;
    if (wires.empty()) return;
    int index = -1;
    for (std::size_t i = 0; i < wires.size(); ++i)
      if (wires[i]->id == wire_) index = static_cast<int>(i);
    const int count = static_cast<int>(wires.size());
    clampOn(wires[static_cast<std::size_t>((index + dx + dy + count) % count)]->id);
  } else {
    auto& held = tip == redTip_ ? red_ : black_;
    if (const auto next = bench_.nextSocket(held, dx, dy)) put(tip->kind(), *next);
  }
}

// Tips that touch nothing lie beside the card.
void Meter::placeTips() {
  const auto rest = [&](int k) { return geometry().topLeft() + QPoint(24 + 34 * k, -8); };
  const auto go = [&](MeterTip* tip, const std::optional<Socket>& socket, int k) {
    const QPoint at = socket ? bench_.screenOf(*socket).toPoint() : rest(k);
    tip->move(at - tip->hot());
    tip->raise();
  };
  go(redTip_, red_, 0);
  go(blackTip_, black_, 1);
  const auto middle = bench_.middleOfWire(wire_);
  clampTip_->move((middle ? middle->toPoint() : rest(0)) - clampTip_->hot());
  clampTip_->raise();
}

void Meter::refresh() {
  if (!isVisible()) return;
  const Project& project = bench_.document().project();
  if (!wire_.empty() && !project.wire(wire_)) wire_.clear();
  for (auto* held : {&red_, &black_})
    if (*held && bench_.document().nets().of(**held) < 0) held->reset();
  // At the lower right, above the scale of volts, unless it was laid elsewhere.
  const QPoint at = laid_.value_or(
      QPoint(bench_.width() - width() - cardMargin, bench_.height() - height() - 62));
  move(std::clamp(at.x(), 0, std::max(0, bench_.width() - width())),
       std::clamp(at.y(), 0, std::max(0, bench_.height() - height())));
  raise();
  placeTips();
  read();
}

QString Meter::value() const { return value_->text(); }
QString Meter::note() const { return note_->text(); }

QString Meter::placeName(const Socket& socket) const {
  const Project& project = bench_.document().project();
  if (const Part* part = project.part(socket.owner))
    return tr("%1, %2").arg(str(part->name), str(socket.point));
  return str(socket.point);
}

void Meter::read() {
  if (mode_ == Mode::milliamps) return readMilliamps();
  where_->setText(tr("red %1  ·  black %2")
                      .arg(red_ ? placeName(*red_) : tr("nowhere"),
                           black_ ? placeName(*black_) : tr("nowhere")));
  if (!red_ || !black_) {
    value_->setText(QStringLiteral("–"));
    note_->setText(tr("Drag both tips to what you want to measure."));
  } else if (mode_ == Mode::volts) {
    readVolts();
  } else {
    readOhms();
  }
}

void Meter::readVolts() {
  const CircuitReading* r = bench_.shownReading();
  if (!r) {
    value_->setText(QStringLiteral("0.00 V"));
    return note_->setText(tr("The power is off. P switches it on."));
  }
  if (bench_.hasTripped()) {
    value_->setText(QStringLiteral("0.00 V"));
    return note_->setText(tr("The supply switched itself off: too much was drawn from it."));
  }
  const auto stood = bench_.voltages(r);
  const auto volts = voltsBetween(stood->nets, stood->reading, *red_, *black_);
  value_->setText(volts ? QStringLiteral("%1 V").arg(*volts, 0, 'f', 2) : QStringLiteral("–"));
  note_->setText(!volts            ? tr("One of them has no fixed voltage.")
                 : *volts < -0.005 ? tr("Minus: black is the higher one.")
                                   : QString());
}

void Meter::readOhms() {
  if (bench_.isPowered()) {
    value_->setText(QStringLiteral("–"));
    return note_->setText(tr("Switch the power off first: it would disturb."));
  }
  const auto ohms = ohmsBetween(bench_.document().project(), bench_.circuit(),
                                bench_.circuit().restState(), *red_, *black_);
  if (mode_ == Mode::continuity) {
    const bool joined = ohms && *ohms < meterBeepsOhms;
    value_->setText(joined ? tr("joined") : tr("apart"));
    return note_->setText(joined ? tr("A real meter beeps here.")
                          : ohms ? tr("Only through %1.").arg(str(ohmsText(std::round(*ohms))))
                                 : tr("There is no way through."));
  }
  value_->setText(ohms ? str(ohmsText(*ohms < 10 ? std::round(*ohms * 10) / 10 : std::round(*ohms)))
                       : tr("open"));
  note_->setText(ohms ? QString() : tr("No way through. Lamps and diodes do not count."));
}

void Meter::readMilliamps() {
  const Project& project = bench_.document().project();
  const Wire* wire = project.wire(wire_);
  where_->setText(
      wire ? tr("around the wire %1 – %2").arg(str(wire->from.point), str(wire->to.point))
           : tr("around nothing"));
  if (!wire) {
    value_->setText(QStringLiteral("–"));
    return note_->setText(tr("Drag the ring onto a wire."));
  }
  const CircuitReading* r = bench_.shownReading();
  if (!r) {
    value_->setText(QStringLiteral("0.0 mA"));
    return note_->setText(tr("The power is off. P switches it on."));
  }
  const std::vector<double>& amps = bench_.shownWireAmps();
  double milliamps = 0;
  for (std::size_t i = 0; i < project.wires->size() && i < amps.size(); ++i)
    if ((*project.wires)[i]->id == wire_) milliamps = amps[i] * 1000;
  value_->setText(QStringLiteral("%1 mA").arg(std::abs(milliamps), 0, 'f', 1));
  note_->setText(std::abs(milliamps) < 0.05
                     ? QString()
                     : tr("from %1 to %2")
                           .arg(str((milliamps > 0 ? wire->from : wire->to).point),
                                str((milliamps > 0 ? wire->to : wire->from).point)));
}

void Meter::paintLeads(QPainter& p) const {
  if (!isVisible()) return;
  const Theme& t = theme();
  p.setRenderHint(QPainter::Antialiasing);
  const auto lead = [&](const MeterTip* tip, QColor colour, QPoint from) {
    const QPointF to = tip->pos() + (tip->kind() == MeterTip::Kind::clamp ? QPoint(15, 26)
                                     : tip->kind() == MeterTip::Kind::red ? QPoint(19, 8)
                                                                          : QPoint(7, 8));
    QPainterPath path(from);
    path.cubicTo(from + QPointF(0, -60), to + QPointF(30, -40), to);
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(t.halo, 6));
    p.drawPath(path);
    p.setPen(QPen(colour, 3, Qt::SolidLine, Qt::RoundCap));
    p.drawPath(path);
  };
  const QRect card = geometry();
  if (mode_ == Mode::milliamps) {
    lead(clampTip_, t.ink2, card.topLeft() + QPoint(60, 2));
    return;
  }
  lead(blackTip_, t.ground, card.topLeft() + QPoint(card.width() - 60, 2));
  lead(redTip_, t.supply, card.topLeft() + QPoint(card.width() - 30, 2));
}

void Meter::paintEvent(QPaintEvent*) { paintCard(*this, theme().line); }

}  // namespace ignavo::app
