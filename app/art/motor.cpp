#include "art/strokes.h"
#include "theme/theme.h"

#include <QLinearGradient>
#include <QTransform>

namespace ignavo::app {

void paintMotor(QPainter& p, const Part& part, const PartLook& look) {
  const Theme& t = theme();
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  const Frame frame = frameOf(part, look);
  // The winch drum takes the right end of the body's place.
  constexpr double drum = 30;
  const double w = frame.size.width() - drum, h = frame.size.height();
  const QTransform turn =
      QTransform().translate(frame.centre.x(), frame.centre.y()).rotate(frame.degrees);
  paintLead(p, turn.map(QPointF(-(w + drum) / 2, -8)), look.legs[0], t.leadA);
  paintLead(p, turn.map(QPointF(-(w + drum) / 2, 8)), look.legs[1], t.leadB);
  frame.enter(p);
  p.translate(-drum / 2, 0);
  QLinearGradient round(0, -h / 2, 0, h / 2);
  const QColor base = look.broken ? t.charred : t.steel;
  round.setColorAt(0, base.darker(125));
  round.setColorAt(0.35, base.lighter(112));
  round.setColorAt(1, base.darker(150));
  // Shaft with a winch drum that shows its turning.
  p.setPen(QPen(t.steelEdge, 1));
  p.setBrush(t.steelEdge);
  p.drawRect(QRectF(w / 2 - 8, -3, 16, 6));
  p.setBrush(t.cream);
  p.setPen(QPen(t.slateEdge, 1.4));
  p.drawEllipse(QPointF(w / 2 + 13, 0), 14, 14);
  p.save();
  p.translate(w / 2 + 13, 0);
  p.rotate(look.shaftDegrees);
  p.setPen(QPen(t.slateEdge, look.turning ? 2.6 : 2, Qt::SolidLine, Qt::RoundCap));
  for (int i = 0; i < 3; ++i) {
    p.rotate(120);
    p.drawLine(QPointF(0, 0), QPointF(0, -12));
  }
  p.restore();
  p.setPen(QPen(t.steelEdge, 1.2));
  p.setBrush(round);
  p.drawRoundedRect(QRectF(-w / 2 + 6, -h / 2, w - 10, h), 6, 6);
  p.setBrush(t.plastic);
  p.drawRoundedRect(QRectF(-w / 2, -h / 2 + 8, 14, h - 16), 3, 3);
  p.restore();
}

}  // namespace ignavo::app
