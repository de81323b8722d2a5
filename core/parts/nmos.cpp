#include "parts/list.h"

namespace ignavo {

const PartKind& nmosKind() {
  static const PartKind kind = [] {
    PartKind k;
    k.type = "nmos";
    k.label = "MOSFET";
    k.category = "Limit and store";
    k.brief = "switches up to 2 A";
    k.idStem = "m";
    k.typed = {"mosfet", "nmos"};
    k.words = {"transistor", "switch", "mosfet", "gate", "nmos", "winch", "relay"};
    k.what = "A voltage on its gate lets current flow from drain to source. The gate takes none.";
    k.place =
        "Each leg in a row of its own: source to ground, gate to a pin and through 10 kΩ to "
        "ground, drain to the load.";
    k.never = "A gate that nothing drives, or more than 2 A.";
    k.print.legs = {{"gate", "gate, the first leg"},
                    {"drain", "drain, the middle leg"},
                    {"source", "source, the third leg"}};
    k.print.orientations = {{{0, 0}, {0, 1}, {0, 2}}, {{0, 0}, {0, -1}, {0, -2}}};
    k.print.mirror = {{0, 2}};
    k.print.polarised = true;
    k.print.bodyWidth = 2.2;
    k.print.bodyHeight = 3.4;
    k.gated = true;
    k.buildRank = 4;
    k.readLegs = {1, 2};
    k.ratedAmps = 2.0;
    k.nameOf = [](const Part&) { return std::string("MOSFET"); };
    k.shortText = [](const Part&) { return std::string("MOSFET"); };
    k.mostAmps = [](const Part&) { return 2.0; };
    k.devices = [](const Part&) {
      PartDevices d;
      d.mosfets = {{1, 0, 2, {}}};
      // Its body diode, from source to drain: silicon, 0.70 V at 10 mA; and its avalanche.
      d.diodes = {
          {2, 1, electric::JunctionModel::through(0.70, 0.010, 1.9 * electric::thermalVolts, 0.1)},
          {1, 2, electric::JunctionModel::breakdown(60)}};
      d.capacitors = {{0, 2, 1e-9, 0.1, true}};
      return d;
    };
    return k;
  }();
  return kind;
}

}  // namespace ignavo
