#include <QPainter>
#include <algorithm>
#include <cmath>

#include "bench/bench_view.h"
#include "text/message.h"
#include "theme/text.h"
#include "theme/theme.h"

// What the bench says of the thing under the pointer.
namespace ignavo::app {

namespace {
QString volts(double v) { return QString::number(v, 'f', 2) + QStringLiteral(" V"); }
}  // namespace

QStringList BenchView::netTip(const Socket& socket) const {
  const int net = doc_.nets().of(socket);
  if (net < 0) return {};
  const Net& n = doc_.nets().all()[static_cast<std::size_t>(net)];
  QString first = QString::fromStdString(n.name);
  const BreadboardItem* bb = doc_.project().breadboard(socket.owner);
  const BreadboardKind* kind = bb ? breadboardKind(bb->type) : nullptr;
  const auto hole = kind ? kind->parse(socket.point) : std::nullopt;
  QString where;
  if (hole)
    where = hole->rail >= 0
                ? QStringLiteral("%1: all its holes are joined inside")
                      .arg(QString::fromStdString(kind->stripName(kind->stripOf(*hole))))
                : QStringLiteral("row %1: %2 are joined inside")
                      .arg(hole->number)
                      .arg(hole->column < 5 ? "a–e" : "f–j");
  QStringList lines;
  const bool named = !n.pins.empty();
  if (const BoardItem* board = doc_.project().board(socket.owner)) {
    const BoardKind* boardKind = catalogue().boardKind(board->type);
    const int i = boardKind->shape.pinIndex(socket.point);
    const BoardPin& pin = boardKind->pins[static_cast<std::size_t>(i)];
    const QString label = doc_.pinLabel(board->id, pin.name);
    lines << QStringLiteral("Pin %1%2")
                 .arg(QString::fromStdString(pin.name),
                      label.isEmpty() ? QString() : QStringLiteral(" · ") + label);
    QStringList can;
    if (pin.role == PinShape::Role::io) can << QStringLiteral("digital");
    if (pin.pwm) can << QStringLiteral("∿ can dim");
    if (pin.analog) can << QStringLiteral("measures");
    if (!pin.serial.empty()) can << QStringLiteral("serial ") + QString::fromStdString(pin.serial);
    if (pin.role == PinShape::Role::ground) can << QStringLiteral("ground, 0 V");
    if (pin.role == PinShape::Role::supply)
      can << tr("supply, %1").arg(QString::fromStdString(boardKind->supply(pin.supply)->label));
    if (pin.role == PinShape::Role::supplyIn)
      can << tr("%1–%2 V in, instead of the cable")
                 .arg(boardKind->minInVolts)
                 .arg(boardKind->maxInVolts);
    if (!pin.chipName.empty())
      can << QStringLiteral("%1 on the chip").arg(QString::fromStdString(pin.chipName));
    lines << can.join(QStringLiteral(" · "));
  } else {
    lines
        << (named
                ? QStringLiteral("%1 · net of %2").arg(QString::fromStdString(socket.point), first)
                : QStringLiteral("%1").arg(QString::fromStdString(socket.point)));
    if (!where.isEmpty()) lines << where;
  }
  const CircuitReading* r = tintReading();
  const auto stood = voltages(r);
  const int of = stood ? stood->nets.of(socket) : -1;
  const auto place = static_cast<std::size_t>(of);
  if (of >= 0 && stood->nets.all()[place].used() && place < stood->reading.nets.size()) {
    const auto v = stood->reading.nets[place];
    lines << (stood->circuit.floatingNets(stood->reading).contains(of)
                  ? QStringLiteral("no fixed level: nothing holds it")
              : v ? volts(*v)
                  : QStringLiteral("no voltage"));
    if (r == (restReading_ ? &*restReading_ : nullptr))
      lines.last() += QStringLiteral(", once the power is on");
  }
  return lines;
}

QStringList BenchView::partTip(const std::string& id) const {
  const Part* part = doc_.project().part(id);
  const PartKind* kind = part ? catalogue().partKind(part->type) : nullptr;
  if (!kind) return {};
  QStringList lines{QString::fromStdString(part->name)};
  const int i = partIndex(id);
  if (const PropKind* prop = kind->knob.empty() ? nullptr : kind->prop(kind->knob))
    lines[0] += QStringLiteral(" · %1 %2")
                    .arg(shownPart(*part).value_or(*part).number(prop->key, prop->defaultValue))
                    .arg(QString::fromStdString(prop->unit));
  const Snapshot* s = live();
  if (s && i >= 0 && static_cast<std::size_t>(i) < s->reading.parts.size()) {
    const PartReading& r = s->reading.parts[static_cast<std::size_t>(i)];
    QStringList values;
    if (r.volts) values << volts(*r.volts);
    values << currentText(r.amps);
    if (s->state.broken[static_cast<std::size_t>(i)])
      values << QStringLiteral("burnt out");
    else if (s->motion[static_cast<std::size_t>(i)].hertz > 0)
      values << QStringLiteral("sounds at %1 Hz")
                    .arg(s->motion[static_cast<std::size_t>(i)].hertz, 0, 'f', 0);
    else if (kind->moves == Moves::spin)
      values << QStringLiteral("%1 turns a minute")
                    .arg(s->motion[static_cast<std::size_t>(i)].revolutionsPerMinute, 0, 'f', 0);
    else if (kind->moves == Moves::angle && s->motion[static_cast<std::size_t>(i)].degrees >= 0)
      values << QStringLiteral("%1°").arg(s->motion[static_cast<std::size_t>(i)].degrees, 0, 'f',
                                          0);
    else if (kind->shows == Shows::sound)
      values << QStringLiteral("silent");
    else if (kind->shows == Shows::light)
      values << (s->light[static_cast<std::size_t>(i)] > litLight ? QStringLiteral("lit")
                                                                  : QStringLiteral("dark"));
    lines << values.join(QStringLiteral(" · "));
  } else if (poseReading_ && i >= 0 && static_cast<std::size_t>(i) < poseReading_->parts.size()) {
    const PartReading& r = poseReading_->parts[static_cast<std::size_t>(i)];
    lines << (r.volts ? volts(*r.volts) + QStringLiteral(" · ") : QString()) + currentText(r.amps);
  } else {
    for (const Finding& f : doc_.check().findings)
      if (!f.parts.empty() && f.parts.front() == id && !f.meant) {
        lines << str(f.title);
        return lines;
      }
    for (const WorstReading& w : doc_.check().readings)
      if (w.part == id)
        lines << (std::abs(w.amps) < leakedAmps
                      ? tr("carries nothing as it is wired")
                      : QStringLiteral("at most %1").arg(currentText(w.amps)));
  }
  return lines;
}

// Which nets would be joined by what is in hand: "Joins D4 with row 14 left".
QStringList BenchView::joinTip() const {
  if (!proposal_) return {};
  const Obstacle& o = proposal_->arranged.obstacle;
  QStringList lines;
  for (const std::string& id : proposal_->arranged.ids) {
    const Part* part = proposal_->arranged.project.part(id);
    if (!part) continue;
    if (!o.clear()) return {obstacleText(o, part->type)};
    const Footprint* print = catalogue().part(part->type);
    if (proposal_->arranged.ids.size() > 1) break;
    for (std::size_t i = 0; i < part->legs.size() && lines.size() < 6; ++i) {
      const Leg& leg = part->legs[i];
      const int net = leg.in ? proposal_->nets.of(*leg.in) : -1;
      if (net < 0) continue;
      lines << QStringLiteral("%1: %2, net of %3")
                   .arg(QString::fromStdString(
                            print->legs[i].meaning.empty() ? leg.id : print->legs[i].meaning),
                        QString::fromStdString(leg.in->point),
                        QString::fromStdString(
                            proposal_->nets.all()[static_cast<std::size_t>(net)].name));
    }
    if (lines.isEmpty() && part->at) lines << QStringLiteral("On the mat");
  }
  if (!o.clear()) return {obstacleText(o, {})};
  return lines;
}

// Parts of a board explain themselves.
QStringList BenchView::boardPartTip(const BoardItem& board) const {
  const BoardKind* kind = catalogue().boardKind(board.type);
  if (!kind) return {};
  const QPointF at = toBench(mouse_) - px(board.at);
  for (const BoardFeature& f : kind->features) {
    const QRectF box(px(f.min), px(f.max));
    if (!box.contains(at)) continue;
    QStringList lines{QString::fromStdString(f.name)};
    for (const std::string& line : f.lines) lines << QString::fromStdString(line);
    return lines;
  }
  return {QString::fromStdString(kind->label), QString::fromStdString(kind->brief)};
}

QStringList BenchView::tipLines() const {
  if (mode_ == Mode::placing ||
      ((mode_ == Mode::movingLeg || mode_ == Mode::movingPart) && dragging_))
    return joinTip();
  if (mode_ == Mode::wiring || (mode_ == Mode::movingEnd && dragging_)) {
    if (!wireTo_) return {};
    if (!wireObstacle_.clear()) return {obstacleText(wireObstacle_, {})};
    QStringList lines = netTip(*wireTo_);
    const int from = wireFrom_ ? doc_.nets().of(*wireFrom_) : -1;
    const int to = doc_.nets().of(*wireTo_);
    if (from >= 0 && to >= 0) {
      const auto name = [&](int net) {
        return QString::fromStdString(doc_.nets().all()[static_cast<std::size_t>(net)].name);
      };
      lines.insert(0, from == to ? QStringLiteral("%1 is joined to this already").arg(name(from))
                                 : QStringLiteral("Joins %1 with %2").arg(name(from), name(to)));
    }
    return lines;
  }
  if (mode_ == Mode::turningKnob) return partTip(grabbed_.id);
  if (mode_ != Mode::idle) return {};
  switch (hover_.what) {
    case Hit::What::mark: {
      const Finding& f = doc_.check().findings[static_cast<std::size_t>(hover_.index)];
      return {str(f.title), QString::fromUtf8(severityTitle(f.severity))};
    }
    case Hit::What::leg: {
      const Part* part = doc_.project().part(hover_.id);
      const PartKind* kind = part ? catalogue().partKind(part->type) : nullptr;
      if (!kind) return {};
      const int leg = kind->print.legIndex(hover_.leg);
      QStringList lines{QStringLiteral("%1: %2").arg(
          QString::fromStdString(part->name),
          QString::fromStdString(kind->print.legs[static_cast<std::size_t>(leg)].meaning))};
      return lines + netTip(hover_.socket);
    }
    case Hit::What::part:
    case Hit::What::cap:
    case Hit::What::knob:
    case Hit::What::latch:
      return partTip(hover_.id);
    case Hit::What::board:
      if (const BoardItem* board = doc_.project().board(hover_.id)) return boardPartTip(*board);
      return {};
    case Hit::What::bend:
    case Hit::What::wire: {
      const Wire* w = doc_.project().wire(hover_.id);
      if (!w) return {};
      QStringList lines{QStringLiteral("%1 → %2").arg(QString::fromStdString(w->from.point),
                                                      QString::fromStdString(w->to.point))};
      const QStringList net = netTip(w->from);
      if (net.size() > 2)
        lines << net.last();
      else
        lines << QStringLiteral("net of ") +
                     QString::fromStdString(
                         doc_.nets().all()[static_cast<std::size_t>(doc_.nets().of(w->from))].name);
      return lines;
    }
    case Hit::What::socket:
    case Hit::What::wireEnd:
      return netTip(hover_.socket);
    default:
      return {};
  }
}

void BenchView::paintTip(QPainter& p) {
  if (!underMouse() && mode_ == Mode::idle && !rect().contains(mouse_.toPoint())) return;
  // The keyboard's cursor says what it stands on in the line below.
  if (cursorShown_ && mode_ == Mode::idle) return;
  const QStringList lines = tipLines();
  if (lines.isEmpty()) return;
  paintLines(p, lines, mouse_);
}

// A dark card beside a point; never beyond the edges.
void BenchView::paintLines(QPainter& p, const QStringList& lines, QPointF beside) {
  const Theme& t = theme();
  p.setRenderHint(QPainter::Antialiasing);
  double w = 0;
  for (int i = 0; i < lines.size(); ++i)
    w = std::max(w, QFontMetricsF(i ? t.text(12.5) : t.text(12.5, QFont::DemiBold))
                        .horizontalAdvance(lines[i]));
  QRectF box(beside + QPointF(26, 20),
             QSizeF(w + 24, 18.0 * static_cast<double>(lines.size()) + 12));
  if (box.right() > width() - 6) box.moveRight(beside.x() - 26);
  if (box.left() < 6) box.moveLeft(6);
  if (box.bottom() > height() - 6) box.moveBottom(beside.y() - 20);
  p.setPen(Qt::NoPen);
  p.setBrush(t.shadow);
  p.drawRoundedRect(box.translated(0, 2), 5, 5);
  p.setBrush(t.tooltip);
  p.drawRoundedRect(box, 5, 5);
  for (int i = 0; i < lines.size(); ++i) {
    p.setFont(i ? t.text(12.5) : t.text(12.5, QFont::DemiBold));
    p.setPen(i ? t.tooltipInk2 : t.tooltipInk);
    p.drawText(QRectF(box.left() + 12, box.top() + 6 + 18 * i, w + 4, 18),
               Qt::AlignVCenter | Qt::AlignLeft, lines[i]);
  }
}

void BenchView::paintCallOut(QPainter& p) {
  if (callOut_.part.empty() && !callOut_.socket) return;
  Finding where;
  if (!callOut_.part.empty()) where.parts = {callOut_.part};
  if (callOut_.socket) where.sockets = {*callOut_.socket};
  paintLines(p, callOut_.words.split(QStringLiteral(": ")),
             toScreen(markPlace(doc_.project(), where)));
}

}  // namespace ignavo::app
