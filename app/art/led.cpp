#include <QRadialGradient>

#include <cmath>

#include "art/strokes.h"
#include "theme/theme.h"

namespace ignavo::app {

void paintLed(QPainter& p, const Part& part, const PartLook& look) {
  const Theme& t = theme();
  const QString name = QString::fromStdString(part.text("colour", "red"));
  const QColor colour = t.ledColour(name);
  const QPointF anode = look.legs[0], cathode = look.legs[1];
  const QPointF middle = (anode + cathode) / 2;
  const QPointF d = cathode - anode;
  const double length = std::max(1.0, std::hypot(d.x(), d.y()));
  const QPointF along = d / length, across(-along.y(), along.x());
  constexpr double radius = 10.5;
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  if (!look.broken) paintGlow(p, middle, t.ledGlow(name), look.light, radius);
  p.setPen(QPen(t.leg, 2.2, Qt::SolidLine, Qt::FlatCap));  // its ends lie under other things
  p.drawLine(anode, cathode);
  p.setPen(Qt::NoPen);
  p.setBrush(t.leg.darker(130));
  p.drawEllipse(anode, 2.3, 2.3);
  p.drawEllipse(cathode, 2.3, 2.3);
  // Rim with its flat side towards the cathode: a circle without what lies beyond a chord.
  const QPointF flat = middle + along * (radius - 2.6);
  const double towards = QLineF(anode, cathode).angle();
  const double beyond = qRadiansToDegrees(std::acos((radius - 2.6) / radius));
  QPainterPath rim;
  const QRectF circle(middle - QPointF(radius, radius), QSizeF(2 * radius, 2 * radius));
  rim.arcMoveTo(circle, towards + beyond);
  rim.arcTo(circle, towards + beyond, 360 - 2 * beyond);
  rim.closeSubpath();
  // The glass is brighter than the light that reaches what is around it.
  QColor body = litColour(colour, std::sqrt(look.light), t.ledLit(name));
  if (look.broken) body = t.burnt;
  p.setPen(QPen(colour.darker(look.broken ? 300 : 160), 1.2));
  p.setBrush(body);
  p.drawPath(rim);
  // Dome and its highlight.
  QRadialGradient dome(middle - QPointF(3, 3.5), 11);
  const auto gleam = static_cast<int>(look.broken ? 30 : 90 + 100 * look.light);
  dome.setColorAt(0, QColor(255, 255, 255, gleam));
  dome.setColorAt(0.45, QColor(255, 255, 255, static_cast<int>(10 + 25 * look.light)));
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

// An LED from the side: dome, rim, a long and a short leg.
void paintLedPortrait(QPainter& p, const Part& part, const QRectF& area) {
  const Theme& t = theme();
  const QColor colour = t.ledColour(QString::fromStdString(part.text("colour", "red")));
  const double x = area.center().x(), top = area.top() + 14;
  p.setPen(QPen(t.leg, 3, Qt::SolidLine, Qt::FlatCap));
  p.drawLine(QPointF(x - 12, top + 62), QPointF(x - 12, top + 102));
  p.drawLine(QPointF(x + 12, top + 62), QPointF(x + 12, top + 90));
  QPainterPath dome;
  dome.moveTo(x - 25, top + 54);
  dome.lineTo(x - 25, top + 25);
  dome.arcTo(QRectF(x - 25, top, 50, 50), 180, -180);
  dome.lineTo(x + 25, top + 54);
  dome.closeSubpath();
  p.setPen(QPen(colour.darker(140), 1.2));
  p.setBrush(colour);
  p.drawPath(dome);
  p.setBrush(colour.darker(115));
  p.drawRect(QRectF(x - 29, top + 53, 54, 10));  // the rim lacks its edge at the short leg
  p.setPen(Qt::NoPen);
  p.setBrush(QColor(255, 255, 255, 90));
  p.drawEllipse(QRectF(x - 17, top + 10, 9, 22));
  p.setFont(t.text(15, QFont::Bold));
  p.setPen(t.danger);
  p.drawText(QRectF(x - 38, top + 82, 16, 18), Qt::AlignCenter, QStringLiteral("+"));
  p.setPen(t.note);
  p.drawText(QRectF(x + 22, top + 72, 16, 18), Qt::AlignCenter, QStringLiteral("−"));
}

// Three of its colours.
void paintLedCard(QPainter& p, const Part&, const QRectF& area) {
  const Theme& t = theme();
  static constexpr const char* colours[] = {"red", "amber", "green"};
  for (int i = 0; i < 3; ++i) {
    const QColor colour = t.ledColour(QString::fromLatin1(colours[i]));
    p.setPen(QPen(colour.darker(130), 1));
    p.setBrush(colour);
    p.drawEllipse(area.center() + QPointF((i - 1) * 28, 0), 10, 10);
  }
}

}  // namespace ignavo::app
