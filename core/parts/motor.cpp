#include "parts/list.h"

namespace ignavo {

const PartKind& motorKind() {
  static const PartKind kind = [] {
    PartKind k;
    k.type = "motor";
    k.label = "Motor";
    k.category = "Movement";
    k.brief = "3 to 6 V";
    k.idStem = "motor";
    k.typed = {"motor"};
    k.words = {"motor", "turn", "winch", "wheel", "fan", "move", "spin"};
    k.what = "Turns while current flows; the other way round with the leads exchanged.";
    k.place =
        "Beside the breadboard; its two leads reach any row. Switched by a transistor, with a "
        "diode across it.";
    k.never = "A pin on its own: it takes far more than the 20 mA that a pin may give.";
    k.print.legs = {{"a", "one lead"}, {"b", "other lead"}};
    k.print.orientations = {{{0, 0}, {0, 1}}, {{0, 0}, {0, 2}}, {{0, 0}, {0, -1}}};
    k.print.leads = true;
    k.print.rest = {{-3.7, -1}, {-3.7, 1}};
    k.print.bodyWidth = 6.2;
    k.print.bodyHeight = 3.4;
    k.props = {{"load", "Load", PropKind::Type::number, "%", 0, 0, 100}};
    k.knob = "load";
    k.knobWords = {"Drag up to put a load on it, down to take it off.", "Take the load off", "Full load"};
    k.shows = Shows::turning;
    k.moves = Moves::spin;
    k.buildRank = 6;
    k.nameOf = [](const Part&) { return std::string("Motor"); };
    k.shortText = [](const Part&) { return std::string("motor"); };
    k.absoluteMaximum = [](const Part&) {
      return VoltLimits{6.6, 0};
    };  // made for 3 to 6 V; fresh cells give a little more
    k.powerLegs = {0, 1};
    k.devices = [](const Part& p) {
      PartDevices d;
      electric::MotorModel m;
      m.loadNewtonMetres = p.number("load", 0) / 100 * 2.90e-3;
      d.motors = {{0, 1, m}};
      return d;
    };
    return k;
  }();
  return kind;
}

}  // namespace ignavo
