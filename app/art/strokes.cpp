#include "art/strokes.h"

#include <QRadialGradient>
#include <algorithm>
#include <cmath>

#include "theme/theme.h"

namespace ignavo::app {

void paintLegs(QPainter& p, const PartLook& look, QPointF towards, double width) {
  const Theme& t = theme();
  for (const QPointF& leg : look.legs) {
    p.setPen(QPen(t.leg, width, Qt::SolidLine, Qt::RoundCap));
    p.drawLine(leg, towards);
    p.setPen(Qt::NoPen);
    p.setBrush(t.leg.darker(130));
    p.drawEllipse(leg, 2.3, 2.3);
  }
}

void paintLead(QPainter& p, QPointF from, QPointF to, const QColor& colour) {
  const Theme& t = theme();
  QPainterPath path(from);
  const QPointF d = to - from;
  path.cubicTo(from + QPointF(d.x() * 0.5, 0), to - QPointF(d.x() * 0.4, d.y() * 0.1), to);
  p.setBrush(Qt::NoBrush);
  p.setPen(QPen(t.halo, 5.5, Qt::SolidLine, Qt::RoundCap));
  p.drawPath(path);
  p.setPen(QPen(colour.darker(140), 3.8, Qt::SolidLine, Qt::RoundCap));
  p.drawPath(path);
  p.setPen(QPen(colour, 2.6, Qt::SolidLine, Qt::RoundCap));
  p.drawPath(path);
  p.setPen(QPen(t.steelEdge, 1));
  p.setBrush(t.steel);
  p.drawEllipse(to, 2.8, 2.8);
}

void paintGlow(QPainter& p, QPointF at, const QColor& colour, double light, double radius) {
  if (light <= 0.02) return;
  const double reach = radius * (1.7 + 2.4 * light);
  QRadialGradient glow(at, reach);
  QColor inner = colour.lighter(115), outer = colour;
  inner.setAlphaF(static_cast<float>(0.75 * light));
  outer.setAlpha(0);
  glow.setColorAt(0.2, inner);
  glow.setColorAt(1, outer);
  p.setPen(Qt::NoPen);
  p.setBrush(glow);
  p.drawEllipse(at, reach, reach);
}

QColor litColour(const QColor& colour, double light, const QColor& lit) {
  // Unlit it is darker than lit, and duller, so that it never looks the brighter of two.
  const QColor off = QColor::fromHslF(std::max(0.0f, colour.hslHueF()),
                                      colour.hslSaturationF() * 0.65f, colour.lightnessF() * 0.68f);
  const auto mix = [&](double a, double b) { return static_cast<float>(a + (b - a) * light); };
  return QColor::fromRgbF(mix(off.redF(), lit.redF()), mix(off.greenF(), lit.greenF()),
                          mix(off.blueF(), lit.blueF()));
}

void paintPlus(QPainter& p, QPointF at, double size) {
  const double h = size / 2;
  p.setPen(QPen(theme().supply, 2, Qt::SolidLine, Qt::FlatCap));
  p.drawLine(at - QPointF(h, 0), at + QPointF(h, 0));
  p.drawLine(at - QPointF(0, h), at + QPointF(0, h));
}

QPointF towardsFirstLeg(const PartLook& look, QPointF middle, double radius) {
  const QPointF d = look.legs.front() - middle;
  return d * (radius / std::max(1.0, std::hypot(d.x(), d.y())));
}

void paintSoundRings(QPainter& p, QPointF at, double radius, double hertz) {
  if (hertz <= 0) return;
  // Closer together for a higher tone.
  const double step = std::clamp(14 - 3 * std::log2(hertz / 250), 5.0, 16.0);
  for (int i = 1; i <= 3; ++i) {
    QColor c = theme().ink;
    c.setAlphaF(0.6f - 0.15f * static_cast<float>(i));
    p.setPen(QPen(c, 2, Qt::SolidLine, Qt::RoundCap));
    p.setBrush(Qt::NoBrush);
    const double r = radius + i * step;
    const QRectF box(at - QPointF(r, r), QSizeF(2 * r, 2 * r));
    p.drawArc(box, -35 * 16, 70 * 16);
    p.drawArc(box, 145 * 16, 70 * 16);
  }
}

void paintCross(QPainter& p, QPointF at, double size) {
  p.setPen(QPen(theme().paper, 2));
  p.drawLine(at - QPointF(size, size), at + QPointF(size, size));
  p.drawLine(at - QPointF(size, -size), at + QPointF(size, -size));
}

void shadowed(QPainter& p, const QRectF& r, double radius, const QColor& fill, const QColor& edge) {
  p.setPen(Qt::NoPen);
  p.setBrush(theme().shadow);
  p.drawRoundedRect(r.translated(3, 4), radius, radius);
  p.setPen(QPen(edge, 1.2));
  p.setBrush(fill);
  p.drawRoundedRect(r, radius, radius);
}

}  // namespace ignavo::app
