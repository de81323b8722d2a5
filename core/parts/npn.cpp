#include "parts/list.h"

namespace ignavo {

const PartKind& npnKind() {
  static const PartKind kind = [] {
    PartKind k;
    k.type = "npn";
    k.label = "npn transistor";
    k.category = "Limit and store";
    k.brief = "switches up to 0.6 A";
    k.idStem = "q";
    k.typed = {"npn", "transistor"};
    k.words = {"transistor", "switch", "amplify", "bipolar", "npn", "relay"};
    k.what = "A small current into its base lets a large one flow from collector to emitter.";
    k.place =
        "Each leg in a row of its own: emitter to ground, base through 1 kΩ to a pin, collector "
        "to the load.";
    k.never = "A base without a resistor, or more than 600 mA through the collector.";
    k.print.legs = {{"emitter", "emitter, top leg with the flat side left"},
                    {"base", "base, the middle leg"},
                    {"collector", "collector, the third leg"}};
    k.print.orientations = {{{0, 0}, {0, 1}, {0, 2}}, {{0, 0}, {0, -1}, {0, -2}}};
    k.print.mirror = {{0, 2}};
    k.print.polarised = true;
    k.print.bodyWidth = 1.9;
    k.print.bodyHeight = 2.4;
    k.gated = true;
    k.buildRank = 4;
    k.readLegs = {2, 0};
    k.ratedAmps = 0.600;
    k.nameOf = [](const Part&) { return std::string("Transistor"); };
    k.shortText = [](const Part&) { return std::string("npn transistor"); };
    k.mostAmps = [](const Part&) { return 0.6; };
    k.devices = [](const Part&) {
      PartDevices d;
      d.bipolars = {{2, 1, 0, {}}};
      d.diodes = {{2, 0, electric::JunctionModel::breakdown(45)}};
      return d;
    };
    return k;
  }();
  return kind;
}

}  // namespace ignavo
