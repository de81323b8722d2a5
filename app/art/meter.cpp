#include <QTransform>

#include "art/strokes.h"
#include "parts/catalogue.h"
#include "theme/theme.h"

namespace ignavo::app {

namespace {

// What the dial can point at, from left to right.
struct Mark {
  Measures what;
  const char* text;
  const char* atRest;  // in the window, where nothing is read
  double degrees;
};
constexpr Mark marks[] = {{Measures::volts, "V", "0.00 V", -66},
                          {Measures::amps, "mA", "0.0 mA", -22},
                          {Measures::ohms, "Ω", "open", 22},
                          {Measures::continuity, "•))", "apart", 66}};

}  // namespace

void paintMeter(QPainter& p, const Part& part, const PartLook& look) {
  const Theme& t = theme();
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  const Frame frame = frameOf(part, look);
  const double w = frame.size.width(), h = frame.size.height();
  const QTransform turn =
      QTransform().translate(frame.centre.x(), frame.centre.y()).rotate(frame.degrees);
  paintLead(p, turn.map(QPointF(-17, h / 2 - 4)), look.legs[0], t.supply);
  paintLead(p, turn.map(QPointF(17, h / 2 - 4)), look.legs[1], t.leadB);
  frame.enter(p);
  p.setPen(QPen(t.slateEdge, 1.4));
  p.setBrush(t.slate);
  p.drawRoundedRect(QRectF(-w / 2, -h / 2, w, h), 10, 10);
  const Mark* mark = marks;
  for (const Mark& m : marks)
    if (catalogue().partKind(part.type)->measures(part) == m.what) mark = &m;
  // The window with what is read.
  const QRectF window(-w / 2 + 7, -h / 2 + 8, w - 14, 30);
  p.setPen(QPen(t.plasticEdge, 1));
  p.setBrush(t.cream);
  p.drawRoundedRect(window, 3, 3);
  p.setPen(t.plastic);
  p.setFont(t.mono(14, QFont::DemiBold));
  p.drawText(window.adjusted(4, 0, -6, 0), Qt::AlignVCenter | Qt::AlignRight,
             look.shown.isEmpty() ? QString::fromUtf8(mark->atRest) : look.shown);
  // The dial with its four marks.
  const QPointF dial(0, h / 2 - 32);
  p.setFont(t.text(9.5, QFont::DemiBold));
  p.setPen(t.cream);
  for (const Mark& m : marks) {
    const QPointF at = dial + QTransform().rotate(m.degrees).map(QPointF(0, -32));
    p.drawText(QRectF(at - QPointF(14, 8), QSizeF(28, 16)), Qt::AlignCenter,
               QString::fromUtf8(m.text));
  }
  p.translate(dial);
  p.rotate(mark->degrees);
  p.setPen(QPen(t.plasticEdge, 1));
  p.setBrush(t.plastic);
  p.drawEllipse(QPointF(), 18, 18);
  p.setPen(QPen(t.cream, 2.4, Qt::SolidLine, Qt::RoundCap));
  p.drawLine(QPointF(0, -15), QPointF(0, -4));
  p.restore();
}

}  // namespace ignavo::app
