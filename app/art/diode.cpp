#include "art/strokes.h"
#include "theme/theme.h"

#include <algorithm>
#include <cmath>

namespace ignavo::app {

void paintDiode(QPainter& p, const Part& part, const PartLook& look) {
  const Theme& t = theme();
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  const Frame frame = frameOf(part, look);
  paintLegs(p, look, frame.centre);
  frame.enter(p);
  const double w = std::min(
      frame.size.width(),
      std::hypot(look.legs[1].x() - look.legs[0].x(), look.legs[1].y() - look.legs[0].y()) - 6);
  const double h = frame.size.height();
  p.setPen(QPen(t.plasticEdge, 1));
  p.setBrush(look.broken ? t.charred : t.plastic);
  p.drawRoundedRect(QRectF(-w / 2, -h / 2, w, h), 3, 3);
  p.fillRect(QRectF(w / 2 - 9, -h / 2, 4.5, h), t.steel);
  p.restore();
}

}  // namespace ignavo::app
