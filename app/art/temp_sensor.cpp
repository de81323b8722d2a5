#include "art/strokes.h"
#include "theme/theme.h"

#include <algorithm>

namespace ignavo::app {

void paintTempSensor(QPainter& p, const Part& part, const PartLook& look) {
  const Theme& t = theme();
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  const Frame frame = frameOf(part, look);
  paintLegs(p, look, frame.centre);
  const double share = std::clamp((part.number("celsius", 20) + 20) / 120, 0.0, 1.0);
  p.translate(frame.centre);
  p.setPen(QPen(t.bead.darker(140), 1.2));
  p.setBrush(look.broken ? t.charred : t.bead);
  p.drawEllipse(QPointF(), 10, 10);
  // A small column in it rises with the warmth.
  p.setPen(Qt::NoPen);
  p.setBrush(t.cream);
  p.drawRoundedRect(QRectF(-2.6, -7.5, 5.2, 15), 2.6, 2.6);
  p.setBrush(t.track);
  p.drawRoundedRect(QRectF(-1.5, 6.5 - 13 * share, 3, 13 * share + 0.5), 1.5, 1.5);
  p.restore();
}

}  // namespace ignavo::app
