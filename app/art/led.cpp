#include <QRadialGradient>

#include <cmath>

#include "art/strokes.h"
#include "theme/theme.h"

namespace ignavo::app {

void paintLed(QPainter& p, const Part& part, const PartLook& look) {
  const Theme& t = theme();
  const QColor colour = t.ledColour(QString::fromStdString(part.text("colour", "red")));
  const QPointF anode = look.legs[0], cathode = look.legs[1];
  const QPointF middle = (anode + cathode) / 2;
  const QPointF d = cathode - anode;
  const double length = std::max(1.0, std::hypot(d.x(), d.y()));
  const QPointF u = d / length, across(-u.y(), u.x());
  constexpr double radius = 10.5;
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  if (!look.broken)
    paintGlow(p, middle, t.ledGlow(QString::fromStdString(part.text("colour", "red"))), look.light,
              radius);
  p.setPen(QPen(t.leg, 2.2, Qt::SolidLine, Qt::RoundCap));
  p.drawLine(anode, middle);
  p.drawLine(cathode, middle);
  p.setPen(Qt::NoPen);
  p.setBrush(t.leg.darker(130));
  p.drawEllipse(anode, 2.3, 2.3);
  p.drawEllipse(cathode, 2.3, 2.3);
  // Rim with its flat side towards the cathode.
  QPainterPath rim;
  rim.addEllipse(middle, radius, radius);
  QPainterPath cut;
  const QPointF flat = middle + u * (radius - 2.6);
  cut.addPolygon(QPolygonF({flat + across * 20, flat - across * 20, flat - across * 20 + u * 20,
                            flat + across * 20 + u * 20}));
  rim = rim.subtracted(cut);
  QColor body = litColour(colour, look.light);
  if (look.broken) body = t.burnt;
  p.setPen(QPen(colour.darker(look.broken ? 300 : 160), 1.2));
  p.setBrush(body);
  p.drawPath(rim);
  // Dome and its highlight.
  QRadialGradient dome(middle - QPointF(3, 3.5), 11);
  dome.setColorAt(0, QColor(255, 255, 255, look.broken ? 30 : 190));
  dome.setColorAt(0.45, QColor(255, 255, 255, 35));
  dome.setColorAt(1, QColor(0, 0, 0, 18));
  p.setPen(Qt::NoPen);
  p.setBrush(dome);
  p.drawEllipse(middle, 7.6, 7.6);
  p.setPen(QPen(t.flatSide, 2.2, Qt::SolidLine, Qt::RoundCap));
  const double half = std::sqrt(radius * radius - (radius - 2.6) * (radius - 2.6));
  p.drawLine(flat + across * half, flat - across * half);
  if (look.broken) {
    p.setPen(QPen(t.paper, 2));
    p.drawLine(middle - QPointF(5, 5), middle + QPointF(5, 5));
    p.drawLine(middle - QPointF(5, -5), middle + QPointF(5, -5));
  }
  p.restore();
}

}  // namespace ignavo::app
