#include <algorithm>
#include <cmath>

#include "art/art.h"
#include "theme/theme.h"

namespace ignavo::app {

namespace {

// An LED from the side: dome, rim, a long and a short leg.
void ledPortrait(QPainter& p, const Part& part, const QRectF& area) {
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

}  // namespace

void paintPortrait(QPainter& p, const Part& part, const QRectF& area) {
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  const PartKind* kind = catalogue().partKind(part.type);
  if (kind && kind->type == "led") {
    ledPortrait(p, part, area);
  } else if (const PartPainter painter = painterOf(part.type); painter && kind) {
    // Others are shown as they lie on the bench, larger.
    const PartLook look = sampleLook(*kind);
    QRectF box = bodyOf(part, look);
    for (const QPointF& leg : look.legs) box |= QRectF(leg - QPointF(3, 3), QSizeF(6, 6));
    const double scale =
        std::min({1.7, (area.width() - 24) / box.width(), (area.height() - 20) / box.height()});
    p.translate(area.center());
    p.scale(scale, scale);
    p.translate(-box.center());
    painter(p, part, look);
  }
  p.restore();
}

}  // namespace ignavo::app
