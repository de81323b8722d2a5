#include "art/art.h"

#include <cmath>

#include "art/strokes.h"
#include "bench/lying.h"
#include "theme/pitch.h"
#include "theme/theme.h"

namespace ignavo::app {

namespace {

struct Row {
  const char* type;
  PartPainter painter;
  AreaPainter portrait = nullptr, card = nullptr;
};
constexpr Row rows[] = {{"led", paintLed, paintLedPortrait, paintLedCard},
                        {"rgb-led", paintRgbLed},
                        {"number-display", paintNumberDisplay},
                        {"resistor", paintResistor},
                        {"button", paintButton},
                        {"switch", paintSwitch},
                        {"pot", paintPot},
                        {"light-sensor", paintLightSensor},
                        {"temp-sensor", paintTempSensor},
                        {"piezo", paintPiezo},
                        {"buzzer", paintBuzzer},
                        {"motor", paintMotor},
                        {"servo", paintServo},
                        {"npn", paintNpn},
                        {"nmos", paintNmos},
                        {"diode", paintDiode},
                        {"capacitor", paintCapacitor},
                        {"battery", paintBattery},
                        {"meter", paintMeter}};

const Row* rowOf(const std::string& type) {
  for (const Row& r : rows)
    if (type == r.type) return &r;
  return nullptr;
}

constexpr struct {
  const char* type;
  BoardPainter painter;
} boards[] = {{"tern", {paintTern, paintTernLamps}}};

}  // namespace

const BoardPainter* boardPainterOf(const std::string& type) {
  for (const auto& row : boards)
    if (type == row.type) return &row.painter;
  return nullptr;
}
PartPainter painterOf(const std::string& type) {
  const Row* row = rowOf(type);
  return row ? row->painter : nullptr;
}
AreaPainter portraitOf(const std::string& type) {
  const Row* row = rowOf(type);
  return row ? row->portrait : nullptr;
}
AreaPainter cardOf(const std::string& type) {
  const Row* row = rowOf(type);
  return row ? row->card : nullptr;
}

namespace {

Lying lyingIn(const Part& part, const PartLook& look) {
  const Footprint* print = catalogue().part(part.type);
  std::vector<Point> legs;
  for (const QPointF& leg : look.legs) legs.push_back({leg.x() / u, leg.y() / u});
  if (!print || legs.empty()) return {};
  Point at;
  if (print->leads)
    at = look.at ? Point{look.at->x() / u, look.at->y() / u} : legs.front() - print->rest.front();
  return lyingOn(*print, std::move(legs), at, look.turnDegrees);
}

}  // namespace

Frame frameOf(const Part& part, const PartLook& look) {
  const Lying l = lyingIn(part, look);
  return {{l.centre.x * u, l.centre.y * u}, l.degrees, {l.width * u, l.height * u}};
}

PartLook lookOf(const Project& project, const Part& part) {
  PartLook look;
  const auto lying = lyingOf(project, catalogue(), part);
  if (!lying) return look;
  for (const Point& leg : lying->legs) look.legs.push_back({leg.x * u, leg.y * u});
  look.turnDegrees = part.turnDegrees;
  if (catalogue().part(part.type)->leads)
    look.at = QPointF(lying->centre.x * u, lying->centre.y * u);
  const PartKind* kind = catalogue().partKind(part.type);
  look.pressed = kind && kind->pressed(part);
  return look;
}

PartLook sampleLook(const PartKind& kind) {
  PartLook look;
  const auto& places = kind.print.leads ? kind.print.rest : kind.print.orientations.front();
  for (const Point& o : places) look.legs.push_back({o.x * u, o.y * u});
  if (kind.print.leads) look.at = QPointF(0, 0);
  return look;
}

QRectF bodyOf(const Part& part, const PartLook& look) {
  const Lying l = lyingIn(part, look);
  const Point a = l.least(), b = l.most();
  return QRectF(QPointF(a.x * u, a.y * u), QPointF(b.x * u, b.y * u));
}

QRectF capOf(const PartLook& look) {
  QRectF box(look.legs.front(), QSizeF(0.01, 0.01));
  for (const QPointF& l : look.legs) box |= QRectF(l, QSizeF(0.01, 0.01));
  return QRectF(box.center() - QPointF(12, 12), QSizeF(24, 24));
}

QPainterPath wirePath(QPointF from, QPointF to, const std::vector<QPointF>& bends) {
  QPainterPath path(from);
  if (!bends.empty()) {
    // Smooth through the bends: quadratic pieces between their middles.
    for (std::size_t i = 0; i < bends.size(); ++i) {
      const bool last = i + 1 == bends.size();
      path.quadTo(bends[i], last ? to : (bends[i] + bends[i + 1]) / 2);
    }
    return path;
  }
  const double dx = to.x() - from.x(), dy = to.y() - from.y();
  if (std::abs(dx) >= 0.5 * std::abs(dy)) {
    // Leaves and arrives sideways; a long level one hangs through a little.
    const double sag = std::abs(dx) > 150 && std::abs(dy) < 20 ? 14
                       : std::abs(dx) > 30 && std::abs(dy) < 4 ? 4
                                                               : 0;
    path.cubicTo(from + QPointF(dx * 0.45, sag), to - QPointF(dx * 0.45, -sag), to);
  } else {
    const double bow = std::clamp(std::abs(dy) * 0.12, 6.0, 26.0) * (dx >= 0 ? 1 : -1);
    path.cubicTo(from + QPointF(bow, dy * 0.3), to + QPointF(bow, -dy * 0.3), to);
  }
  return path;
}

void paintWire(QPainter& p, const QPainterPath& path, QPointF from, QPointF to,
               const NetColour& colour, bool selected) {
  const Theme& t = theme();
  const QColor core = t.net(colour);
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  p.setBrush(Qt::NoBrush);
  const auto stroke = [&](const QColor& c, double width) {
    p.setPen(QPen(c, width, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    p.drawPath(path);
  };
  if (selected) stroke(t.ink, 11), stroke(t.paper, 8.5);
  stroke(t.halo, 8.5);
  // Light wires have an ink casing, dark ones a cream casing on the night bench.
  const bool dim = core.lightness() < 70;
  stroke(t.dark && dim ? t.wireCasing : core.darker(core.lightness() > 150 ? 190 : 150), 6);
  stroke(core, 4.4);
  if (colour.kind == NetColour::Kind::pin && colour.index >= 10) {
    p.setPen(QPen(t.netInk(colour), 1.6, Qt::DashLine, Qt::FlatCap));
    p.drawPath(path);
  }
  p.setPen(QPen(QColor(255, 255, 255, 60), 1.2, Qt::SolidLine, Qt::RoundCap));
  p.translate(0, -0.8);
  p.drawPath(path);
  p.translate(0, 0.8);
  for (QPointF end : {from, to}) {
    p.setPen(QPen(core.darker(170), 1));
    p.setBrush(core.darker(115));
    p.drawEllipse(end, 3.6, 3.6);
    p.setPen(Qt::NoPen);
    p.setBrush(QColor(255, 255, 255, 70));
    p.drawEllipse(end - QPointF(0.9, 0.9), 1.2, 1.2);
  }
  p.restore();
}

void paintMark(QPainter& p, QPointF at, Severity severity, int number, double size) {
  const Theme& t = theme();
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  const double r = size / 2;
  QPolygonF shape;
  if (severity == Severity::danger)
    for (int i = 0; i < 8; ++i) {
      const double a = (i + 0.5) * M_PI / 4;
      shape << at + QPointF(std::cos(a), std::sin(a)) * r * 1.08;
    }
  else if (severity == Severity::warning)
    shape << at + QPointF(0, -r * 1.1) << at + QPointF(r * 1.15, r * 0.9)
          << at + QPointF(-r * 1.15, r * 0.9);
  p.setPen(QPen(t.card, 1.6, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
  p.setBrush(t.severity(severity));
  if (severity == Severity::note)
    p.drawEllipse(at, r, r);
  else
    p.drawPolygon(shape);
  p.setPen(t.onMark);
  // Two digits have less room in a triangle than in the other shapes.
  const bool tight = number > 9 && severity == Severity::warning;
  p.setFont(t.text(size * (tight ? 0.46 : 0.55), QFont::Bold));
  const QString label = number > 0 ? QString::number(number) : QStringLiteral("!");
  p.drawText(QRectF(at.x() - r,
                    at.y() - r + (severity == Severity::warning ? size * (tight ? 0.17 : 0.12) : 0),
                    size, size),
             Qt::AlignCenter, label);
  p.restore();
}

}  // namespace ignavo::app
