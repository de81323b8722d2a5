#include <algorithm>

#include "art/art.h"
#include "art/strokes.h"
#include "theme/pitch.h"
#include "theme/theme.h"

namespace ignavo::app {

namespace {

// A lamp's face between dark and as bright as it can be.
QColor between(const QColor& dark, const QColor& bright, double level) {
  const auto part = static_cast<float>(std::clamp(level, 0.0, 1.0));
  const auto mix = [part](float a, float b) { return a + (b - a) * part; };
  return QColor::fromRgbF(mix(dark.redF(), bright.redF()), mix(dark.greenF(), bright.greenF()),
                          mix(dark.blueF(), bright.blueF()));
}

}  // namespace

void paintTern(QPainter& p, const BoardKind& kind, const BoardLook& look) {
  const Theme& t = theme();
  const QRectF body(0, 0, kind.shape.width * u, kind.shape.height * u);
  // The socket for the cable, at the top.
  p.setPen(QPen(t.boardMetal.darker(120), 1));
  p.setBrush(t.boardMetal);
  p.drawRoundedRect(QRectF(30, -14, 40, 32), 3, 3);
  p.drawRect(QRectF(37, -18, 26, 8));
  shadowed(p, body, 11, t.board, t.boardEdge);
  p.setBrush(t.boardMetal);
  p.setPen(QPen(t.boardMetal.darker(120), 1));
  p.drawRoundedRect(QRectF(30, -14, 40, 28), 3, 3);
  p.setPen(QPen(t.boardEdge, 1));
  p.setBrush(Qt::NoBrush);
  p.drawRoundedRect(body.adjusted(7, 8, -26, -8), 7, 7);

  // Reset button.
  p.setPen(Qt::NoPen);
  p.setBrush(t.resetButton);
  p.drawRoundedRect(QRectF(20, 44, 32, 32), 3, 3);
  p.setBrush(t.resetCap);
  p.drawEllipse(QPointF(36, 60), 9, 9);
  p.setPen(t.boardPrint);
  p.setFont(t.text(9.5, QFont::Medium));
  p.drawText(QRectF(8, 79, 56, 14), Qt::AlignCenter, QStringLiteral("RESET"));

  // Chip with its legs.
  p.setPen(Qt::NoPen);
  p.setBrush(t.boardMetal);
  for (int i = 0; i < 8; ++i) {
    p.drawRect(QRectF(13, 160 + i * 11, 6, 4));
    p.drawRect(QRectF(53, 160 + i * 11, 6, 4));
  }
  p.setBrush(t.boardChip);
  p.drawRoundedRect(QRectF(18, 152, 36, 96), 3, 3);
  p.setBrush(t.chipDot);
  p.drawEllipse(QPointF(25, 160), 2.5, 2.5);

  p.setPen(t.boardPrint);
  QFont name = t.text(15, QFont::Bold);
  name.setLetterSpacing(QFont::AbsoluteSpacing, 1.5);
  p.setFont(name);
  p.drawText(QRectF(6, 262, 66, 20), Qt::AlignCenter, QString::fromStdString(kind.type).toUpper());
  p.setFont(t.text(9.5));
  p.drawText(QRectF(0, 281, 78, 14), Qt::AlignCenter, QString::fromStdString(kind.brief));

  if (!look.tag.empty()) {
    const QRectF tag(21, 295, 36, 13);
    p.setPen(QPen(t.boardPrint, 1));
    p.setBrush(look.active ? QBrush(t.boardPrint) : Qt::NoBrush);
    p.drawRoundedRect(tag, 3, 3);
    p.setPen(look.active ? t.board : t.boardPrint);
    p.setFont(t.text(10, QFont::Bold));
    p.drawText(tag, Qt::AlignCenter, QString::fromStdString(look.tag));
  }
}

void paintTernLamps(QPainter& p, const BoardLook& look) {
  const Theme& t = theme();
  struct Lamp {
    const char* label;
    double level;
    QColor colour;
  };
  const Lamp lamps[] = {{"PWR", look.powered ? 1.0 : 0.0, t.lampOn},
                        {"LED", look.lamp, t.amber},
                        {"BUSY", 0, t.lampOn}};
  for (int i = 0; i < 3; ++i) {
    const QPointF c(28, 318 + i * 21);
    if (lamps[i].level > 0.03) {
      QColor glow = lamps[i].colour;
      glow.setAlphaF(static_cast<float>(0.45 * lamps[i].level));
      p.setPen(Qt::NoPen);
      p.setBrush(glow);
      p.drawEllipse(c, 10, 10);
    }
    QColor face = t.lampOff;
    if (lamps[i].level > 0.03) face = between(t.lampOff, lamps[i].colour, lamps[i].level);
    p.setPen(Qt::NoPen);
    p.setBrush(face);
    p.drawRoundedRect(QRectF(c - QPointF(5, 3.5), QSizeF(10, 7)), 2, 2);
    p.setPen(t.boardPrint);
    p.setFont(t.text(9.5, QFont::Medium));
    p.drawText(QRectF(42, c.y() - 7, 36, 14), Qt::AlignLeft | Qt::AlignVCenter,
               QString::fromLatin1(lamps[i].label));
  }
}

}  // namespace ignavo::app
