#include <algorithm>

#include "art/art.h"

namespace ignavo::app {

void paintSample(QPainter& p, const Part& part, const QRectF& area, double most) {
  const PartKind* kind = catalogue().partKind(part.type);
  const PartPainter painter = painterOf(part.type);
  if (!kind || !painter) return;
  const PartLook look = sampleLook(*kind);
  QRectF box = bodyOf(part, look);
  for (const QPointF& leg : look.legs) box |= QRectF(leg - QPointF(3, 3), QSizeF(6, 6));
  const double scale = std::min({most, area.width() / box.width(), area.height() / box.height()});
  p.save();
  p.translate(area.center());
  p.scale(scale, scale);
  p.translate(-box.center());
  painter(p, part, look);
  p.restore();
}

void paintPortrait(QPainter& p, const Part& part, const QRectF& area) {
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  if (const AreaPainter portrait = portraitOf(part.type))
    portrait(p, part, area);
  else
    paintSample(p, part, area.adjusted(12, 10, -12, -10), 1.7);
  p.restore();
}

}  // namespace ignavo::app
