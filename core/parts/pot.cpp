#include "parts/list.h"

namespace ignavo {

const PartKind& potKind() {
  static const PartKind kind = [] {
    PartKind k;
    k.type = "pot";
    k.label = "Potentiometer";
    k.category = "Press and turn";
    k.brief = "a knob, 10 kΩ";
    k.idStem = "pot";
    k.typed = {"potentiometer", "pot", "knob"};
    k.words = {"knob", "turn", "dial", "volume", "potentiometer", "analog", "input", "resistor"};
    k.what = "A resistor with a sliding tap. Turning the knob moves the tap from end to end.";
    k.place =
        "Each leg in a row of its own. Outer legs to 5 V and ground, the wiper in the middle to "
        "an analog pin.";
    k.never = "5 V and ground on the wiper and an end: turned right round it would be a short.";
    k.print.legs = {{"end1", "first outer leg", true},
                    {"wiper", "wiper, the middle leg"},
                    {"end2", "second outer leg", true}};
    k.print.orientations = {{{0, 0}, {0, 2}, {0, 4}}, {{0, 0}, {0, -2}, {0, -4}}};
    k.print.mirror = {{0, 2}};
    k.print.bodyWidth = 3.2;
    k.print.bodyHeight = 5;
    k.props = {
        {"ohms", "Resistance", PropKind::Type::number, "Ω", 10000, 100, 1e6, {}, false, true},
        {"position", "Position", PropKind::Type::number, "%", 50, 0, 100}};
    k.knob = "position";
    k.knobWords = {"Drag up or down to turn it.", "Turn it to its beginning", "Turn it to its end"};
    k.divides = true;
    k.senses = true;
    k.buildRank = 2;
    k.readLegs = {0, 2};
    k.readsEitherEnd = true;
    k.nameOf = [](const Part&) { return std::string("Knob"); };
    k.shortText = [](const Part& p) { return ohmsText(p.number("ohms", 10000)) + " knob"; };
    k.ratedWatts = [](const Part&) { return 0.2; };
    k.devices = [](const Part& p) {
      // The tap touches the track with an ohm, also at its ends.
      constexpr double tapOhms = 1;
      const double all = p.number("ohms", 10000);
      const double share = p.number("position", 50) / 100;
      PartDevices d;
      d.resistors = {{0, 1, tapOhms + all * share}, {1, 2, tapOhms + all * (1 - share)}};
      return d;
    };
    return k;
  }();
  return kind;
}

}  // namespace ignavo
