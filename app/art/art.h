#pragma once
#include <QPainter>
#include <QPainterPath>
#include <QPointF>
#include <vector>

#include "bench/breadboards.h"
#include "bench/identity.h"
#include "check/finding.h"
#include "parts/catalogue.h"

// Pictures of parts, boards, breadboards and wires, as they look from above.
// Lengths are pixels at 100 %: one hole pitch is Theme::pitch.
namespace ignavo::app {

// How a part looks at the moment.
struct PartLook {
  std::vector<QPointF> legs;  // where each leg ends, in the footprint's order
  double light = 0;           // 0 … 1
  bool pressed = false;
  bool broken = false;
};

using PartPainter = void (*)(QPainter&, const Part&, const PartLook&);
// One painter per part kind, listed in art.cpp.
PartPainter painterOf(const std::string& type);
void paintLed(QPainter& p, const Part& part, const PartLook& look);
void paintResistor(QPainter& p, const Part& part, const PartLook& look);
void paintButton(QPainter& p, const Part& part, const PartLook& look);

// Where a part's body is, for hits and marks.
QRectF bodyOf(const Part& part, const std::vector<QPointF>& legs);
// The cap of a part that can be pressed.
QRectF capOf(const std::vector<QPointF>& legs);

// A side picture for the inspector, with the legs to be named.
void paintPortrait(QPainter& p, const Part& part, const QRectF& area);

struct PinPill {
  std::string pin;
  NetColour colour;
};
struct BoardLook {
  bool powered = false;
  double lamp = 0;  // the board's own lamp
  std::vector<PinPill> pills;
};
void paintBoard(QPainter& p, const BoardKind& kind, QPointF at, const BoardLook& look);
void paintBreadboard(QPainter& p, const BreadboardKind& kind, QPointF at);

QPainterPath wirePath(QPointF from, QPointF to, const std::vector<QPointF>& bends);
void paintWire(QPainter& p, const QPainterPath& path, QPointF from, QPointF to,
               const NetColour& colour, bool selected = false);

// Marks of findings: the shape tells the severity as well as the colour.
void paintMark(QPainter& p, QPointF at, Severity severity, int number, double size = 20);

}  // namespace ignavo::app
