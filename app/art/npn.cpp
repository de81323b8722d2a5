#include "art/strokes.h"
#include "theme/theme.h"

namespace ignavo::app {

void paintNpn(QPainter& p, const Part& part, const PartLook& look) {
  const Theme& t = theme();
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  const Frame frame = frameOf(part, look);
  paintLegs(p, look, frame.centre);
  frame.enter(p);
  // A half-round case, flat towards the left.
  QPainterPath half(QPointF(-7, -17));
  half.cubicTo(QPointF(17, -20), QPointF(17, 20), QPointF(-7, 17));
  half.closeSubpath();
  p.setPen(QPen(t.plasticEdge, 1.2));
  p.setBrush(look.broken ? t.charred : t.plastic);
  p.drawPath(half);
  p.setPen(QPen(t.slate, 1.4));
  p.drawLine(QPointF(-7, -15), QPointF(-7, 15));
  p.setPen(t.cream);
  p.setFont(t.text(8, QFont::DemiBold));
  p.drawText(QRectF(-6, -17, 12, 11), Qt::AlignCenter, QStringLiteral("E"));
  p.drawText(QRectF(-6, -5, 12, 11), Qt::AlignCenter, QStringLiteral("B"));
  p.drawText(QRectF(-6, 7, 12, 11), Qt::AlignCenter, QStringLiteral("C"));
  p.restore();
}

}  // namespace ignavo::app
