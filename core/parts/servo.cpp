#include "parts/list.h"

namespace ignavo {

const PartKind& servoKind() {
  static const PartKind kind = [] {
    PartKind k;
    k.type = "servo";
    k.label = "Servo";
    k.category = "Movement";
    k.brief = "turns to an angle";
    k.idStem = "servo";
    k.typed = {"servo"};
    k.words = {"servo", "arm", "gate", "angle", "turn", "move", "motor"};
    k.what =
        "An arm that goes to the angle that a pulse asks for: 1 ms for 0°, 2 ms for 180°, fifty "
        "times a second.";
    k.place = "Beside the breadboard. Red lead to 5 V, dark lead to ground, the third to any pin.";
    k.never = "More than 6 V, or a pin as its supply.";
    k.print.legs = {
        {"signal", "signal, yellow lead"}, {"+", "plus, red lead"}, {"-", "minus, dark lead"}};
    k.print.orientations = {{{0, 0}, {0, 1}, {0, 2}}, {{0, 0}, {0, -1}, {0, -2}}};
    k.print.leads = true;
    k.print.rest = {{-4, -1}, {-4, 0}, {-4, 1}};
    k.print.mirror = {{0, 2}};
    k.print.polarised = true;
    k.print.bodyWidth = 6;
    k.print.bodyHeight = 3;
    k.shows = Shows::turning;
    k.moves = Moves::angle;
    k.tracedVolts = {0, 2};
    k.buildRank = 6;
    k.readLegs = {1, 2};
    k.nameOf = [](const Part&) { return std::string("Servo"); };
    k.shortText = [](const Part&) { return std::string("servo"); };
    // Made for 5 V, up to 6; its electronics bear next to nothing the other way round.
    k.absoluteMaximum = [](const Part&) { return VoltLimits{6.6, 0.5}; };
    k.powerLegs = {1};
    k.devices = [](const Part&) {
      // At rest: 10 kΩ at its input, 8 mA at 5 V. While it turns, which is its own way of
      // being pressed: 150 mA.
      PartDevices d;
      d.resistors = {{0, 2, 10e3}, {1, 2, 5 / 0.008}};
      d.contacts = {{1, 2, 5 / (0.150 - 0.008), true}};
      return d;
    };
    return k;
  }();
  return kind;
}

}  // namespace ignavo
