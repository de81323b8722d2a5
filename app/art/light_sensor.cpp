#include "art/strokes.h"
#include "theme/theme.h"

#include <cmath>

namespace ignavo::app {

void paintLightSensor(QPainter& p, const Part& part, const PartLook& look) {
  const Theme& t = theme();
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  const Frame frame = frameOf(part, look);
  paintLegs(p, look, frame.centre);
  frame.enter(p);
  constexpr double r = 12;
  const double light = part.number("light", 50) / 100;
  p.setPen(QPen(t.track.darker(125), 1.2));
  p.setBrush(look.broken ? t.charred : t.cream);
  p.drawEllipse(QPointF(), r, r);
  // The winding track that feels the light.
  QPainterPath track(QPointF(-8, -6));
  const double xs[] = {8, 8, -8, -8, 8, 8, -8}, ys[] = {-6, -2, -2, 2, 2, 6, 6};
  for (int i = 0; i < 7; ++i) track.lineTo(xs[i], ys[i]);
  p.setBrush(Qt::NoBrush);
  p.setPen(QPen(t.track, 2, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
  p.drawPath(track);
  // Covered from above as it gets darker.
  if (light < 0.99) {
    QColor shadow = t.pinHole;
    shadow.setAlphaF(static_cast<float>(0.62 * (1 - light)));
    p.setPen(Qt::NoPen);
    p.setBrush(shadow);
    p.drawEllipse(QPointF(), r - 0.6, r - 0.6);
  }
  if (light > 0.5) {
    p.setPen(QPen(t.brass, 1.6, Qt::SolidLine, Qt::RoundCap));
    p.rotate(-frame.degrees);
    for (int i = 0; i < 3; ++i) {
      const double a = (-150 + 30 * i) * M_PI / 180;
      p.drawLine(QPointF(std::cos(a), std::sin(a)) * (r + 3),
                 QPointF(std::cos(a), std::sin(a)) * (r + 4 + 6 * light));
    }
  }
  p.restore();
}

}  // namespace ignavo::app
