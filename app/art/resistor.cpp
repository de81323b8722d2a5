#include <QLinearGradient>

#include <cmath>

#include "art/art.h"
#include "theme/theme.h"

namespace ignavo::app {

void paintResistor(QPainter& p, const Part& part, const PartLook& look) {
  const Theme& t = theme();
  const QPointF a = look.legs[0], b = look.legs[1];
  const QPointF d = b - a;
  const double length = std::max(1.0, std::hypot(d.x(), d.y()));
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  p.translate((a + b) / 2);
  p.rotate(std::atan2(d.y(), d.x()) * 180 / M_PI);
  p.setPen(QPen(t.leg, 2.2, Qt::SolidLine, Qt::RoundCap));
  p.drawLine(QPointF(-length / 2, 0), QPointF(length / 2, 0));
  p.setPen(Qt::NoPen);
  p.setBrush(t.leg.darker(130));
  p.drawEllipse(QPointF(-length / 2, 0), 2.3, 2.3);
  p.drawEllipse(QPointF(length / 2, 0), 2.3, 2.3);
  const double half = std::min(20.0, length / 2 - 3);
  QPainterPath body;
  body.addRoundedRect(QRectF(-half + 4, -5, 2 * half - 8, 10), 3, 3);
  body.addRoundedRect(QRectF(-half, -6.2, 11, 12.4), 5, 5);
  body.addRoundedRect(QRectF(half - 11, -6.2, 11, 12.4), 5, 5);
  body.setFillRule(Qt::WindingFill);
  body = body.simplified();
  const QColor base = look.broken ? t.charred : t.resistorBody;
  QLinearGradient shade(0, -6, 0, 6);
  shade.setColorAt(0, base.lighter(112));
  shade.setColorAt(1, base.darker(112));
  p.setBrush(shade);
  p.setPen(QPen(t.resistorEdge, 1));
  p.drawPath(body);
  p.setClipPath(body, Qt::IntersectClip);
  const auto bands = bandsOf(part.number("ohms", 220));
  const double places[] = {-half + 5.5, -half * 0.38, -half * 0.38 + 8, half - 6};
  for (std::size_t i = 0; i < bands.size(); ++i)
    p.fillRect(QRectF(places[i] - 1.7, -7, 3.6, 14), t.band(QString::fromStdString(bands[i])));
  p.restore();
}

}  // namespace ignavo::app
