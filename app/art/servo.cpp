#include "art/strokes.h"
#include "theme/theme.h"

#include <QTransform>

namespace ignavo::app {

void paintServo(QPainter& p, const Part& part, const PartLook& look) {
  const Theme& t = theme();
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  const Frame frame = frameOf(part, look);
  const double w = frame.size.width(), h = frame.size.height();
  const QTransform turn =
      QTransform().translate(frame.centre.x(), frame.centre.y()).rotate(frame.degrees);
  paintLead(p, turn.map(QPointF(-w / 2 + 4, -7)), look.legs[0], t.leadSignal);
  paintLead(p, turn.map(QPointF(-w / 2 + 4, 0)), look.legs[1], t.supply);
  paintLead(p, turn.map(QPointF(-w / 2 + 4, 7)), look.legs[2], t.leadB);
  frame.enter(p);
  p.setPen(QPen(t.servo.darker(150), 1.2));
  p.setBrush(look.broken ? t.charred : t.servo);
  p.drawRoundedRect(QRectF(-w / 2 - 5, -h / 2 + 12, w + 10, h - 24), 3, 3);
  p.drawRoundedRect(QRectF(-w / 2 + 4, -h / 2, w - 8, h), 5, 5);
  p.setPen(Qt::NoPen);
  p.setBrush(t.steel);
  for (double x : {-w / 2 - 1, w / 2 + 1}) p.drawEllipse(QPointF(x, 0), 2.4, 2.4);
  // The arm on its hub; 90° points straight up.
  const QPointF hub(w / 2 - 26, 0);
  p.setPen(QPen(t.servo.darker(140), 1));
  p.setBrush(t.servo.lighter(115));
  p.drawEllipse(hub, 17, 17);
  p.translate(hub);
  p.rotate(look.armDegrees < 0 ? 0 : look.armDegrees - 90);
  p.setPen(QPen(t.steelEdge, 1.2));
  p.setBrush(t.cream);
  QPainterPath arm;
  arm.moveTo(-8, 0);
  arm.lineTo(-3.6, -40);
  arm.arcTo(QRectF(-3.6, -43.6, 7.2, 7.2), 180, -180);
  arm.lineTo(8, 0);
  arm.arcTo(QRectF(-8, -8, 16, 16), 0, -180);
  p.drawPath(arm);
  p.setBrush(t.steel);
  p.drawEllipse(QPointF(), 3, 3);
  p.restore();
}

}  // namespace ignavo::app
