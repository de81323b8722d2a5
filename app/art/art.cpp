#include "art/art.h"

#include <cmath>

#include "theme/theme.h"

namespace ignavo::app {

PartPainter painterOf(const std::string& type) {
  struct Row {
    const char* type;
    PartPainter painter;
  };
  static constexpr Row rows[] = {
      {"led", paintLed}, {"resistor", paintResistor}, {"button", paintButton}};
  for (const Row& r : rows)
    if (type == r.type) return r.painter;
  return nullptr;
}

QRectF bodyOf(const Part& part, const std::vector<QPointF>& legs) {
  QRectF box(legs.front(), QSizeF(0, 0));
  for (const QPointF& l : legs) box |= QRectF(l, QSizeF(0.01, 0.01));
  if (part.type == "resistor") {
    const QPointF d = legs[1] - legs[0];
    const double length = std::hypot(d.x(), d.y());
    const QPointF u = length > 0 ? d / length : QPointF(1, 0);
    const QPointF half = u * 20;
    const QRectF body(box.center() - half, box.center() + half);
    return body.normalized().adjusted(-6, -6, 6, 6);
  }
  if (legs.size() == 2) return QRectF(box.center() - QPointF(11, 11), QSizeF(22, 22));
  return QRectF(box.center() - QPointF(20, 20), QSizeF(40, 40));
}

QRectF capOf(const std::vector<QPointF>& legs) {
  QRectF box(legs.front(), QSizeF(0.01, 0.01));
  for (const QPointF& l : legs) box |= QRectF(l, QSizeF(0.01, 0.01));
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
  stroke(t.dark && dim ? t.casing : core.darker(core.lightness() > 150 ? 190 : 150), 6);
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
  p.setFont(t.text(size * 0.55, QFont::Bold));
  const QString label = number > 0 ? QString::number(number) : QStringLiteral("!");
  p.drawText(QRectF(at.x() - r, at.y() - r + (severity == Severity::warning ? size * 0.12 : 0),
                    size, size),
             Qt::AlignCenter, label);
  p.restore();
}

}  // namespace ignavo::app
