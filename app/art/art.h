#pragma once
#include <QPainter>
#include <QPainterPath>
#include <QPointF>
#include <optional>
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
  bool pressed = false;       // or thrown, of a switch
  bool broken = false;
  std::vector<double> lamps = {};  // of a part with several, 0 … 1
  double hertz = 0;                // of a sounder
  double shaftDegrees = 0;         // where a motor's shaft stands
  bool turning = false;
  double armDegrees = -1;          // of a servo; -1: not asked for yet
  std::optional<QPointF> at = {};  // middle of a body with leads
  int turnDegrees = 0;             // of that body
  QString shown = {};              // by a part that measures
  bool operator==(const PartLook&) const = default;
};

using PartPainter = void (*)(QPainter&, const Part&, const PartLook&);
// One painter per part kind, listed in art.cpp.
PartPainter painterOf(const std::string& type);
// Pictures of their own that some kinds have: from the side in the inspector,
// and on the card in the cabinet. Null: as it lies on the bench.
using AreaPainter = void (*)(QPainter&, const Part&, const QRectF& area);
AreaPainter portraitOf(const std::string& type);
AreaPainter cardOf(const std::string& type);
void paintLedPortrait(QPainter& p, const Part& part, const QRectF& area);
void paintLedCard(QPainter& p, const Part& part, const QRectF& area);
#define IGNAVO_PAINTER(name) void name(QPainter& p, const Part& part, const PartLook& look)
IGNAVO_PAINTER(paintLed);
IGNAVO_PAINTER(paintRgbLed);
IGNAVO_PAINTER(paintNumberDisplay);
IGNAVO_PAINTER(paintResistor);
IGNAVO_PAINTER(paintButton);
IGNAVO_PAINTER(paintSwitch);
IGNAVO_PAINTER(paintPot);
IGNAVO_PAINTER(paintLightSensor);
IGNAVO_PAINTER(paintTempSensor);
IGNAVO_PAINTER(paintPiezo);
IGNAVO_PAINTER(paintBuzzer);
IGNAVO_PAINTER(paintMotor);
IGNAVO_PAINTER(paintServo);
IGNAVO_PAINTER(paintNpn);
IGNAVO_PAINTER(paintNmos);
IGNAVO_PAINTER(paintDiode);
IGNAVO_PAINTER(paintCapacitor);
IGNAVO_PAINTER(paintBattery);
IGNAVO_PAINTER(paintMeter);
#undef IGNAVO_PAINTER

// How a part of a project lies, as a look without light or sound.
PartLook lookOf(const Project& project, const Part& part);
// How it lies in the first way of its footprint, its first leg at the origin.
PartLook sampleLook(const PartKind& kind);
// Where a part's body is, for hits and marks.
QRectF bodyOf(const Part& part, const PartLook& look);
// The cap of a part that can be pressed, the slider of one that can be thrown.
QRectF capOf(const PartLook& look);

// A picture for the inspector, beside which the legs are named.
void paintPortrait(QPainter& p, const Part& part, const QRectF& area);
// The part as it lies when new, scaled into an area; at most so large.
void paintSample(QPainter& p, const Part& part, const QRectF& area, double most);

struct PinPill {
  std::string pin;
  NetColour colour;
  QString held = {};  // by hand, at what: "30 %"; empty: nobody holds it
  bool operator==(const PinPill&) const = default;
};
// Where its name stands on a board, to the left of its hole.
QRectF nameOfPin(const BoardKind& kind, std::size_t pin, QPointF board);
struct BoardLook {
  bool powered = false;
  double lamp = 0;      // the board's own lamp
  std::string tag;      // what it is called, where there are several
  bool active = false;  // of several, the one that the panes show
  std::vector<PinPill> pills;
  bool operator==(const BoardLook&) const = default;
};
// All of it; or all but its lamps; or only these.
void paintBoard(QPainter& p, const BoardKind& kind, QPointF at, const BoardLook& look);
void paintDarkBoard(QPainter& p, const BoardKind& kind, QPointF at, const BoardLook& look);
void paintBoardLamps(QPainter& p, const BoardKind& kind, QPointF at, const BoardLook& look);
// One per kind of board, each in a file of its own: its body, all but pins and lamps, and its
// lamps. art.cpp lists them.
struct BoardPainter {
  void (*body)(QPainter& p, const BoardKind& kind, const BoardLook& look);
  void (*lamps)(QPainter& p, const BoardLook& look);
};
const BoardPainter* boardPainterOf(const std::string& type);
void paintTern(QPainter& p, const BoardKind& kind, const BoardLook& look);
void paintTernLamps(QPainter& p, const BoardLook& look);
// `tag`: its id, where there are several.
void paintBreadboard(QPainter& p, const BreadboardKind& kind, QPointF at, const QString& tag = {});

QPainterPath wirePath(QPointF from, QPointF to, const std::vector<QPointF>& bends);
void paintWire(QPainter& p, const QPainterPath& path, QPointF from, QPointF to,
               const NetColour& colour, bool selected = false);

// Marks of findings: the shape tells the severity as well as the colour.
void paintMark(QPainter& p, QPointF at, Severity severity, int number, double size = 20);

}  // namespace ignavo::app
