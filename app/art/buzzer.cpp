#include "art/strokes.h"
#include "theme/theme.h"

namespace ignavo::app {

void paintBuzzer(QPainter& p, const Part& part, const PartLook& look) {
  const Theme& t = theme();
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  const Frame frame = frameOf(part, look);
  paintLegs(p, look, frame.centre, 2.6);
  const double r = frame.size.width() / 2;
  paintSoundRings(p, frame.centre, r, look.hertz);
  p.translate(frame.centre);
  p.setPen(QPen(t.plasticEdge, 1.2));
  p.setBrush(look.broken ? t.charred : t.plastic);
  p.drawEllipse(QPointF(), r, r);
  p.setPen(QPen(t.slate, 1.6));
  p.setBrush(Qt::NoBrush);
  p.drawEllipse(QPointF(), r - 5, r - 5);
  p.setPen(Qt::NoPen);
  p.setBrush(t.pinHole);
  p.drawEllipse(QPointF(), 5.5, 5.5);
  // The label of a plus side.
  const QPointF at = towardsFirstLeg(look, frame.centre, r - 9);
  p.setBrush(t.cream);
  p.drawEllipse(at, 6.5, 6.5);
  paintPlus(p, at, 8);
  p.restore();
}

}  // namespace ignavo::app
