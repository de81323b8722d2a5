#include "art/art.h"
#include "theme/theme.h"

namespace ignavo::app {

void paintButton(QPainter& p, const Part&, const PartLook& look) {
  const Theme& t = theme();
  const QPointF middle = (look.legs[0] + look.legs[3]) / 2;
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(QPen(t.leg, 4, Qt::SolidLine, Qt::FlatCap));
  for (const QPointF& leg : look.legs) {
    const QPointF in = leg + (middle - leg) * 0.35;
    const bool sideways = std::abs(look.legs[1].x() - look.legs[0].x()) >
                          std::abs(look.legs[1].y() - look.legs[0].y());
    p.drawLine(leg, sideways ? QPointF(in.x(), leg.y()) : QPointF(leg.x(), in.y()));
    p.setPen(QPen(t.leg, 4, Qt::SolidLine, Qt::FlatCap));
  }
  const QRectF body(middle - QPointF(20, 20), QSizeF(40, 40));
  p.setPen(QPen(t.buttonBody.darker(150), 1));
  p.setBrush(t.buttonBody);
  p.drawRoundedRect(body, 4, 4);
  p.setPen(Qt::NoPen);
  p.setBrush(QColor(255, 255, 255, 30));
  for (QPointF corner : {QPointF(-15, -15), QPointF(15, -15), QPointF(-15, 15), QPointF(15, 15)})
    p.drawEllipse(middle + corner, 2, 2);
  const double r = look.pressed ? 10.5 : 11.5;
  p.setPen(QPen(look.pressed ? t.amber : t.buttonRing, look.pressed ? 2.4 : 1.6));
  p.setBrush(look.pressed ? t.buttonCap.darker(140) : t.buttonCap);
  p.drawEllipse(middle, r, r);
  if (!look.pressed) {
    p.setPen(Qt::NoPen);
    p.setBrush(QColor(255, 255, 255, 26));
    p.drawEllipse(middle - QPointF(2.5, 3), 6, 5);
  }
  p.restore();
}

}  // namespace ignavo::app
