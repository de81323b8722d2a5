#include "bench/part_sprites.h"

#include <algorithm>
#include <cmath>

namespace ignavo::app {

namespace {

// How far light reaches from the middle of a lamp, and its line from its legs.
constexpr double glows = 45, strokes = 4;
constexpr int largest = 400;  // pixels: what is larger is painted anew

QRectF extentOf(const Part& part, const PartLook& look) {
  QRectF out = bodyOf(part, look).adjusted(-strokes, -strokes, strokes, strokes);
  for (const QPointF& leg : look.legs)
    out |= QRectF(leg - QPointF(strokes, strokes), QSizeF(2 * strokes, 2 * strokes));
  const double light =
      look.lamps.empty() ? look.light : *std::max_element(look.lamps.begin(), look.lamps.end());
  if (light <= 0) return out;
  const QPointF middle = (look.legs.front() + look.legs.back()) / 2;
  return out | QRectF(middle - QPointF(glows, glows), QSizeF(2 * glows, 2 * glows)) |
         bodyOf(part, look).adjusted(-glows, -glows, glows, glows);
}

double stepOf(double light) { return std::round(light * 255) / 255; }

}  // namespace

void PartSprites::paint(QPainter& p, const Part& part, PartLook look, PartPainter painter) {
  look.light = stepOf(look.light);
  for (double& lamp : look.lamps) lamp = stepOf(lamp);
  const qreal ratio = p.device()->devicePixelRatioF();
  Kept& kept = kept_[part.id];
  const bool same = kept.ratio == ratio && kept.transform == p.worldTransform() &&
                    kept.look == look && kept.part == part;
  if (!same || p.opacity() < 1) {
    kept = {part, look, p.worldTransform(), ratio, {}, {}};
    return painter(p, part, look);
  }
  if (kept.pixmap.isNull()) {
    const QRectF box = kept.transform.mapRect(extentOf(part, look));
    const QRect pixels = QRectF(box.topLeft() * ratio, box.size() * ratio).toAlignedRect();
    if (pixels.width() > largest || pixels.height() > largest) return painter(p, part, look);
    kept.at = pixels.topLeft();
    kept.pixmap = QPixmap(pixels.size());
    kept.pixmap.setDevicePixelRatio(ratio);
    kept.pixmap.fill(Qt::transparent);
    QPainter on(&kept.pixmap);
    on.setRenderHints(p.renderHints());
    on.setTransform(kept.transform *
                    QTransform::fromTranslate(-kept.at.x() / ratio, -kept.at.y() / ratio));
    painter(on, part, look);
  }
  p.save();
  p.resetTransform();
  p.drawPixmap(QPointF(kept.at) / ratio, kept.pixmap);
  p.restore();
}

int PartSprites::count() const {
  return static_cast<int>(std::count_if(
      kept_.begin(), kept_.end(), [](const auto& kept) { return !kept.second.pixmap.isNull(); }));
}

}  // namespace ignavo::app
