#include "art/strokes.h"
#include "theme/theme.h"

namespace ignavo::app {

void paintSwitch(QPainter& p, const Part& part, const PartLook& look) {
  const Theme& t = theme();
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  const Frame frame = frameOf(part, look);
  paintLegs(p, look, frame.centre);
  frame.enter(p);
  const double w = frame.size.width(), h = frame.size.height();
  p.setPen(QPen(t.steelEdge, 1.2));
  p.setBrush(look.broken ? t.charred : t.steel);
  p.drawRoundedRect(QRectF(-w / 2, -h / 2, w, h), 3, 3);
  p.setPen(Qt::NoPen);
  p.setBrush(t.pinHole);
  p.drawRoundedRect(QRectF(-6, -20, 12, 40), 2, 2);
  // The slider stands at the leg that is joined to the middle one.
  const double y = look.pressed ? 9 : -9;
  p.setPen(QPen(t.plasticEdge, 1));
  p.setBrush(t.cream);
  p.drawRoundedRect(QRectF(-7.5, y - 9, 15, 18), 2.5, 2.5);
  p.setPen(QPen(t.steelEdge, 1.2));
  for (double r : {-4.0, 0.0, 4.0}) p.drawLine(QPointF(-4.5, y + r), QPointF(4.5, y + r));
  p.restore();
}

}  // namespace ignavo::app
