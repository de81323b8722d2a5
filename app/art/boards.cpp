#include <algorithm>

#include "art/art.h"
#include "art/strokes.h"
#include "theme/pitch.h"
#include "theme/theme.h"

namespace ignavo::app {

namespace {

QPointF px(Point p) { return {p.x * u, p.y * u}; }

// A ring round the name of a pin that is held by hand, and at what on a tag that hangs from it.
void paintHeld(QPainter& p, const QRectF& name, const QString& at) {
  const Theme& t = theme();
  p.setBrush(Qt::NoBrush);
  p.setPen(QPen(t.boardPrint, 1.8));
  p.drawRoundedRect(name.adjusted(-2.5, -2.5, 2.5, 2.5), 9, 9);
  p.setFont(t.mono(10.5, QFont::Bold));
  const double w = QFontMetricsF(p.font()).horizontalAdvance(at) + 10;
  const QRectF tag(name.left() - w - 10, name.top() - 1, w, name.height() + 2);
  p.drawLine(QPointF(tag.right(), tag.center().y()), QPointF(name.left() - 3, tag.center().y()));
  p.setPen(Qt::NoPen);
  p.setBrush(t.card);
  p.drawRoundedRect(tag, 2, 2);
  p.setPen(t.ink);
  p.drawText(tag, Qt::AlignCenter, at);
}

// That a pin can dim, beside its name; no font that comes along has this sign.
constexpr double waveWide = 7.5, waveGap = 3;
void paintWave(QPainter& p, QPointF left, const QColor& ink) {
  constexpr double quarter = waveWide / 4, high = 3.6;
  QPainterPath wave(left);
  wave.cubicTo(left + QPointF(quarter * 0.7, -high), left + QPointF(quarter * 1.3, -high),
               left + QPointF(quarter * 2, 0));
  wave.cubicTo(left + QPointF(quarter * 2.7, high), left + QPointF(quarter * 3.3, high),
               left + QPointF(waveWide, 0));
  p.setBrush(Qt::NoBrush);
  p.setPen(QPen(ink, 1.3, Qt::SolidLine, Qt::RoundCap));
  p.drawPath(wave);
}

void paintPinName(QPainter& p, const BoardKind& kind, std::size_t i, const BoardLook& look) {
  const Theme& t = theme();
  const BoardPin& pin = kind.pins[i];
  QString label = QString::fromStdString(pin.name);
  if (!pin.serial.empty()) label += QStringLiteral(" ") + QString::fromStdString(pin.serial);
  const auto pill = std::find_if(look.pills.begin(), look.pills.end(),
                                 [&](const PinPill& held) { return held.pin == pin.name; });
  const bool used = pill != look.pills.end();
  const QFont font = t.text(10.5, used ? QFont::Bold : QFont::Medium);
  const double words = used || pin.pwm ? QFontMetricsF(font).horizontalAdvance(label) : 0;
  const double wave = pin.pwm ? waveWide + waveGap : 0;
  QRectF place = nameOfPin(kind, i, {});
  if (used) {
    constexpr double inside = 6.5, beyond = 3;
    const double w = words + wave + 2 * inside;
    const QRectF box(place.right() - w + beyond, place.top() + 0.5, w, 14);
    p.setPen(Qt::NoPen);
    p.setBrush(t.net(pill->colour));
    p.drawRoundedRect(box, 7, 7);
    if (!pill->held.isEmpty()) paintHeld(p, box, pill->held);
    place = box.adjusted(-beyond, 0, -inside, 0);
  }
  const QColor ink = used ? t.netInk(pill->colour) : t.boardPrint;
  p.setFont(font);
  p.setPen(ink);
  p.drawText(place, Qt::AlignRight | Qt::AlignVCenter, label);
  if (pin.pwm) paintWave(p, {place.right() - words - wave, place.center().y()}, ink);
}

// Every pin, on the edge that faces the breadboard.
void paintHeader(QPainter& p, const BoardKind& kind, const BoardLook& look) {
  const Theme& t = theme();
  const double x = kind.shape.pins.front().at.x * u;
  p.setPen(Qt::NoPen);
  p.setBrush(t.boardHeader);
  p.drawRoundedRect(QRectF(x - 9.5, kind.shape.pins.front().at.y * u - 11, 19,
                           (static_cast<double>(kind.pins.size()) - 1) * u + 22),
                    3, 3);
  for (std::size_t i = 0; i < kind.pins.size(); ++i) {
    const QPointF c = px(kind.shape.pins[i].at);
    p.setPen(QPen(t.pinEdge, 1));
    p.setBrush(t.pinHole);
    p.drawRoundedRect(QRectF(c - QPointF(4.5, 4.5), QSizeF(9, 9)), 1.5, 1.5);
    paintPinName(p, kind, i, look);
  }
}
}  // namespace

QRectF nameOfPin(const BoardKind& kind, std::size_t pin, QPointF board) {
  const QPointF hole = px(kind.shape.pins[pin].at) + board;
  return {hole.x() - 62, hole.y() - 7.5, 48, 15};
}

void paintBoard(QPainter& p, const BoardKind& kind, QPointF at, const BoardLook& look) {
  paintDarkBoard(p, kind, at, look);
  paintBoardLamps(p, kind, at, look);
}

void paintDarkBoard(QPainter& p, const BoardKind& kind, QPointF at, const BoardLook& look) {
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  p.translate(at);
  if (const BoardPainter* painter = boardPainterOf(kind.type)) painter->body(p, kind, look);
  paintHeader(p, kind, look);
  p.restore();
}

void paintBoardLamps(QPainter& p, const BoardKind& kind, QPointF at, const BoardLook& look) {
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  p.translate(at);
  if (const BoardPainter* painter = boardPainterOf(kind.type)) painter->lamps(p, look);
  p.restore();
}

void paintBreadboard(QPainter& p, const BreadboardKind& kind, QPointF at, const QString& tag) {
  const Theme& t = theme();
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  p.translate(at);
  shadowed(p, QRectF(0, 0, kind.width * u, kind.height * u), 7, t.breadboard, t.breadboardEdge);
  const auto hole = [&](const Hole& h) { return px(kind.at(h)); };
  const QPointF e1 = hole({4, -1, 1}), f1 = hole({5, -1, 1});
  const QPointF last = hole({4, -1, kind.rows});
  p.setPen(Qt::NoPen);
  p.setBrush(t.trench);
  p.drawRoundedRect(QRectF((e1.x() + f1.x()) / 2 - 8, e1.y() - 12, 16, last.y() - e1.y() + 24), 3,
                    3);

  // Holes with their rings: all at once, for there are hundreds, and filled, which is fast.
  QList<QRectF> rings, holes;
  for (const Hole& h : kind.allHoles()) {
    const QPointF c = hole(h);
    rings << QRectF(c.x() - 3.1, c.y() - 3.1, 6.2, 6.2);
    holes << QRectF(c.x() - 2.1, c.y() - 2.1, 4.2, 4.2);
  }
  p.setBrush(t.holeRing);
  p.drawRects(rings);
  p.setBrush(t.hole);
  p.drawRects(holes);

  p.setPen(t.rowPrint);
  p.setFont(t.text(10));
  for (int c = 0; c < 10; ++c) {
    const QPointF h = hole({c, -1, 1});
    p.drawText(QRectF(h.x() - 8, h.y() - 26, 16, 14), Qt::AlignCenter, QString(QChar('a' + c)));
  }
  const double left = hole({0, -1, 1}).x() - 21, right = hole({9, -1, 1}).x() + 5;
  for (int row = 1; row <= kind.rows; row += (row == 1 ? 4 : 5)) {
    const double y = hole({0, -1, row}).y();
    p.drawText(QRectF(left, y - 7, 15, 14), Qt::AlignRight | Qt::AlignVCenter,
               QString::number(row));
    p.drawText(QRectF(right + 3, y - 7, 18, 14), Qt::AlignLeft | Qt::AlignVCenter,
               QString::number(row));
  }
  if (!tag.isEmpty()) {
    p.setFont(t.text(10, QFont::Bold));
    p.drawText(QRectF((e1.x() + f1.x()) / 2 - 24, last.y() + 14, 48, 14), Qt::AlignCenter, tag);
  }
  for (int rail = 0; rail < 4 && kind.railHoles > 0; ++rail) {
    const bool plus = rail % 2 == 0;
    const QPointF a = hole({-1, rail, 1}), b = hole({-1, rail, kind.railHoles});
    const double x = plus ? a.x() - 8 : a.x() + 8;
    p.setPen(QPen(plus ? t.railPlus : t.railMinus, 1.4));
    if (kind.railBreakAt > 0) {
      const double middle =
          (hole({-1, rail, kind.railBreakAt}).y() + hole({-1, rail, kind.railBreakAt + 1}).y()) / 2;
      p.drawLine(QPointF(x, a.y() - 10), QPointF(x, middle - 6));
      p.drawLine(QPointF(x, middle + 6), QPointF(x, b.y() + 10));
    } else {
      p.drawLine(QPointF(x, a.y() - 10), QPointF(x, b.y() + 10));
    }
    p.setFont(t.text(12, QFont::Bold));
    p.drawText(QRectF(a.x() - 8, a.y() - 27, 16, 15), Qt::AlignCenter,
               plus ? QStringLiteral("+") : QStringLiteral("−"));
  }
  p.restore();
}

}  // namespace ignavo::app
