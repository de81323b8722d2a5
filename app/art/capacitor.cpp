#include "art/strokes.h"
#include "theme/theme.h"

namespace ignavo::app {

void paintCapacitor(QPainter& p, const Part& part, const PartLook& look) {
  const Theme& t = theme();
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  const Frame frame = frameOf(part, look);
  paintLegs(p, look, frame.centre);
  const auto* electrolytic = part.prop("electrolytic");
  const bool can =
      electrolytic && std::holds_alternative<bool>(*electrolytic) && std::get<bool>(*electrolytic);
  frame.enter(p);
  if (can) {
    // A can from above, with its stripe at the minus leg.
    constexpr double r = 13;
    p.setPen(QPen(t.can.darker(140), 1.2));
    p.setBrush(look.broken ? t.charred : t.can);
    p.drawEllipse(QPointF(), r, r);
    QPainterPath disc, side;
    disc.addEllipse(QPointF(), r - 0.8, r - 0.8);
    side.addRect(QRectF(r * 0.42, -r, r, 2 * r));
    p.setPen(Qt::NoPen);
    p.setBrush(t.canStripe);
    p.drawPath(disc.intersected(side));
    p.setBrush(t.steel);
    p.drawEllipse(QPointF(-2.5, 0), r * 0.5, r * 0.5);
    p.setPen(QPen(t.can, 2));
    p.drawLine(QPointF(r * 0.55, 0), QPointF(r * 0.9, 0));
    p.rotate(-frame.degrees);
    paintPlus(p, towardsFirstLeg(look, frame.centre, r + 5), 7);
  } else {
    p.setPen(QPen(t.ochre.darker(140), 1.2));
    p.setBrush(look.broken ? t.charred : t.ochre);
    p.drawRoundedRect(QRectF(-13, -8, 26, 16), 8, 8);
    p.setPen(Qt::NoPen);
    p.setBrush(t.glossFaint);
    p.drawRoundedRect(QRectF(-10, -6, 20, 5), 2.5, 2.5);
  }
  p.restore();
}

}  // namespace ignavo::app
