#include "art/strokes.h"
#include "theme/theme.h"

#include <algorithm>

namespace ignavo::app {

void paintRgbLed(QPainter& p, const Part& part, const PartLook& look) {
  const Theme& t = theme();
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  const Frame frame = frameOf(part, look);
  constexpr double radius = 12;
  const QColor colours[] = {t.ledColour(QStringLiteral("red")),
                            t.ledColour(QStringLiteral("green")),
                            t.ledColour(QStringLiteral("blue"))};
  const auto light = [&](std::size_t i) {
    return i < look.lamps.size() && !look.broken ? look.lamps[i] : 0.0;
  };
  // The three lights mix as they do for the eye.
  const double most = std::max({light(0), light(1), light(2)});
  if (most > 0.02) {
    const QColor mix = QColor::fromRgbF(static_cast<float>(light(0) / most * 0.75 + 0.25),
                                        static_cast<float>(light(1) / most * 0.75 + 0.25),
                                        static_cast<float>(light(2) / most * 0.75 + 0.25));
    paintGlow(p, frame.centre, mix, most, radius);
  }
  paintLegs(p, look, frame.centre);
  frame.enter(p);
  p.setPen(QPen(t.steelEdge, 1.2));
  p.setBrush(look.broken ? t.burnt : t.cream);
  p.drawEllipse(QPointF(), radius, radius);
  p.setPen(Qt::NoPen);
  // Each colour beside its leg: red, (cathode), green, blue from top to bottom.
  const double places[] = {-5.5, 2.0, 7.0};
  for (std::size_t i = 0; i < 3; ++i) {
    p.setBrush(look.broken ? t.charred : litColour(colours[i], light(i)));
    p.drawEllipse(QPointF(i == 1 ? 2.5 : 0, places[i] - 0.5), 3.1, 3.1);
  }
  p.setPen(QPen(t.gloss, 1.4));
  p.setBrush(Qt::NoBrush);
  p.drawArc(QRectF(-9, -9, 18, 18), 110 * 16, 60 * 16);
  if (look.broken) paintCross(p, {});
  p.restore();
}

}  // namespace ignavo::app
