#include "art/strokes.h"
#include "theme/theme.h"

#include <cmath>

namespace ignavo::app {

void paintNumberDisplay(QPainter& p, const Part& part, const PartLook& look) {
  const Theme& t = theme();
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  const Frame frame = frameOf(part, look);
  const QColor colour = t.ledColour(QString::fromStdString(part.text("colour", "red")));
  frame.enter(p);
  const double w = frame.size.width(), h = frame.size.height();
  // Legs go straight down under the block; their tips show at both sides.
  p.setPen(Qt::NoPen);
  p.setBrush(t.leg);
  for (int row = -2; row <= 2; ++row)
    for (double side : {-1.0, 1.0})
      p.drawRect(QRectF(side * 2.5 * Theme::pitch - 3, row * Theme::pitch - 2.5, 6, 5));
  p.setPen(QPen(t.plasticEdge, 1.2));
  p.setBrush(look.broken ? t.charred : t.pinHole);
  p.drawRoundedRect(QRectF(-w / 2, -h / 2, w, h), 4, 4);
  const auto light = [&](std::size_t i) {
    return i < look.lamps.size() && !look.broken ? look.lamps[i] : 0.0;
  };
  const double x = 17, y = 31, lean = -4;
  const auto at = [&](double px, double py) { return QPointF(px + lean * py / y - 2, py); };
  const QPointF ends[7][2] = {
      {at(-x, -y), at(x, -y)}, {at(x, -y), at(x, 0)},   {at(x, 0), at(x, y)}, {at(-x, y), at(x, y)},
      {at(-x, 0), at(-x, y)},  {at(-x, -y), at(-x, 0)}, {at(-x, 0), at(x, 0)}};
  for (std::size_t i = 0; i < 8; ++i) {
    const QColor bar = light(i) > 0.02 ? litColour(colour, light(i)) : t.segmentOff;
    if (i == 7) {
      p.setPen(Qt::NoPen);
      p.setBrush(bar);
      p.drawEllipse(QPointF(x + 11, y + 1), 3.6, 3.6);
      continue;
    }
    const QPointF d = ends[i][1] - ends[i][0];
    const QPointF in = d * (5.0 / std::hypot(d.x(), d.y()));
    if (light(i) > 0.02) {
      QColor halo = colour;
      halo.setAlphaF(static_cast<float>(0.35 * light(i)));
      p.setPen(QPen(halo, 12, Qt::SolidLine, Qt::RoundCap));
      p.drawLine(ends[i][0] + in, ends[i][1] - in);
    }
    p.setPen(QPen(bar, 6, Qt::SolidLine, Qt::RoundCap));
    p.drawLine(ends[i][0] + in, ends[i][1] - in);
  }
  p.restore();
}

}  // namespace ignavo::app
