#include "art/strokes.h"
#include "theme/theme.h"

#include <QTransform>

namespace ignavo::app {

void paintBattery(QPainter& p, const Part& part, const PartLook& look) {
  const Theme& t = theme();
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  const Frame frame = frameOf(part, look);
  const double w = frame.size.width(), h = frame.size.height();
  const std::string kind = part.text("kind", "9v");
  const QTransform turn =
      QTransform().translate(frame.centre.x(), frame.centre.y()).rotate(frame.degrees);
  paintLead(p, turn.map(QPointF(-17, -h / 2 + 6)), look.legs[0], t.supply);
  paintLead(p, turn.map(QPointF(17, -h / 2 + 6)), look.legs[1], t.leadB);
  frame.enter(p);
  p.setPen(QPen(t.slateEdge, 1.4));
  if (kind == "coin") {
    p.setBrush(t.plastic);
    p.drawRoundedRect(QRectF(-w / 2, -h / 2 + 4, w, h - 8), 16, 16);
    p.setPen(QPen(t.steelEdge, 1.4));
    p.setBrush(t.steel);
    p.drawEllipse(QPointF(0, 8), w / 2 - 7, w / 2 - 7);
    p.setPen(t.plastic);
    p.setFont(t.text(15, QFont::Bold));
    p.drawText(QRectF(-w / 2, -2, w, 20), Qt::AlignCenter, QStringLiteral("3 V"));
  } else if (kind == "9v") {
    p.setBrush(t.slate);
    p.drawRoundedRect(QRectF(-w / 2, -h / 2 + 4, w, h - 4), 5, 5);
    p.setBrush(t.plastic);
    p.drawRoundedRect(QRectF(-w / 2, -h / 2, w, 20), 5, 5);
    p.setBrush(t.cream);
    p.setPen(Qt::NoPen);
    p.drawRect(QRectF(-w / 2 + 1, -4, w - 2, 34));
    p.setPen(t.slateEdge);
    p.setFont(t.text(20, QFont::Bold));
    p.drawText(QRectF(-w / 2, -4, w, 34), Qt::AlignCenter, QStringLiteral("9 V"));
  } else {
    const int cells = kind == "4aa" ? 4 : 3;
    p.setBrush(t.plastic);
    p.drawRoundedRect(QRectF(-w / 2, -h / 2 + 2, w, h - 2), 5, 5);
    const double width = (w - 10) / cells;
    for (int i = 0; i < cells; ++i) {
      const QRectF cell(-w / 2 + 5 + i * width + 1, -h / 2 + 18, width - 2, h - 28);
      p.setPen(QPen(t.slateEdge, 1));
      p.setBrush(t.slate);
      p.drawRoundedRect(cell, 3, 3);
      const bool up = i % 2 == 0;
      p.setBrush(t.steel);
      p.drawRect(QRectF(cell.center().x() - 3, up ? cell.top() - 4 : cell.bottom(), 6, 4));
      p.setBrush(t.cream);
      p.setPen(Qt::NoPen);
      p.drawRect(
          QRectF(cell.left() + 1, up ? cell.top() + 5 : cell.bottom() - 17, cell.width() - 2, 12));
    }
    p.setPen(t.cream);
    p.setFont(t.text(10, QFont::DemiBold));
    p.drawText(QRectF(-8, -h / 2 + 2, w / 2 + 4, 12), Qt::AlignCenter,
               cells == 4 ? QStringLiteral("6 V") : QStringLiteral("4.5 V"));
  }
  paintPlus(p, QPointF(-17, -h / 2 + 11), 8);
  p.restore();
}

}  // namespace ignavo::app
