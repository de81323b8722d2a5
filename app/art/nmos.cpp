#include "art/strokes.h"
#include "theme/theme.h"

namespace ignavo::app {

void paintNmos(QPainter& p, const Part& part, const PartLook& look) {
  const Theme& t = theme();
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  const Frame frame = frameOf(part, look);
  paintLegs(p, look, frame.centre, 2.8);
  frame.enter(p);
  const double w = frame.size.width(), h = frame.size.height();
  // Metal tab with its hole, black case in front.
  p.setPen(QPen(t.steelEdge, 1.2));
  p.setBrush(t.steel);
  p.drawRoundedRect(QRectF(-w / 2, -h / 2, 12, h), 2, 2);
  p.setPen(QPen(t.plasticEdge, 1.2));
  p.setBrush(look.broken ? t.charred : t.plastic);
  p.drawRoundedRect(QRectF(-w / 2 + 8, -h / 2, w - 8, h), 2.5, 2.5);
  p.setPen(t.cream);
  p.setFont(t.text(9, QFont::DemiBold));
  p.drawText(QRectF(-8, -23, 20, 12), Qt::AlignCenter, QStringLiteral("G"));
  p.drawText(QRectF(-8, -6, 20, 12), Qt::AlignCenter, QStringLiteral("D"));
  p.drawText(QRectF(-8, 11, 20, 12), Qt::AlignCenter, QStringLiteral("S"));
  p.restore();
}

}  // namespace ignavo::app
