#include "art/strokes.h"
#include "theme/theme.h"

namespace ignavo::app {

void paintPiezo(QPainter& p, const Part& part, const PartLook& look) {
  const Theme& t = theme();
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  const Frame frame = frameOf(part, look);
  paintLegs(p, look, frame.centre, 2.6);
  const double r = frame.size.width() / 2;
  paintSoundRings(p, frame.centre, r, look.hertz);
  frame.enter(p);
  p.setPen(QPen(t.plasticEdge, 1.2));
  p.setBrush(look.broken ? t.charred : t.plastic);
  p.drawEllipse(QPointF(), r, r);
  p.setPen(QPen(t.brass.darker(130), 1));
  p.setBrush(t.brass);
  p.drawEllipse(QPointF(), r * 0.66, r * 0.66);
  p.setBrush(t.cream);
  p.drawEllipse(QPointF(), r * 0.36, r * 0.36);
  p.rotate(-frame.degrees);
  paintPlus(p, towardsFirstLeg(look, frame.centre, r * 0.82), 8);
  p.restore();
}

}  // namespace ignavo::app
