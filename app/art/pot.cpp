#include "art/strokes.h"
#include "theme/theme.h"

#include <cmath>

namespace ignavo::app {

void paintPot(QPainter& p, const Part& part, const PartLook& look) {
  const Theme& t = theme();
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  const Frame frame = frameOf(part, look);
  paintLegs(p, look, frame.centre, 2.6);
  frame.enter(p);
  const double w = frame.size.width(), h = frame.size.height();
  p.setPen(QPen(t.slateEdge, 1.3));
  p.setBrush(look.broken ? t.charred : t.slate);
  p.drawRoundedRect(QRectF(-w / 2, -h / 2, w, h), 6, 6);
  const double r = 21;
  p.setPen(QPen(t.slateEdge.darker(115), 1.2));
  p.setBrush(t.knob);
  p.drawEllipse(QPointF(), r, r);
  p.setPen(QPen(t.slateEdge, 1));
  p.setBrush(Qt::NoBrush);
  p.drawEllipse(QPointF(), r - 5, r - 5);
  // The pointer goes from one end leg round to the other, 270° in all.
  const double share = part.number("position", 50) / 100;
  const double a = (-225 + 270 * share + 90) * M_PI / 180;
  const QPointF d(std::cos(a), std::sin(a));
  p.setPen(QPen(t.plastic, 3, Qt::SolidLine, Qt::RoundCap));
  p.drawLine(d * 6, d * (r - 3));
  p.restore();
}

}  // namespace ignavo::app
