#include "parts/list.h"

namespace ignavo {

const PartKind& diodeKind() {
  static const PartKind kind = [] {
    PartKind k;
    k.type = "diode";
    k.label = "Diode";
    k.category = "Limit and store";
    k.brief = "one way only";
    k.idStem = "d";
    k.typed = {"diode"};
    k.words = {"diode", "flyback", "one way", "protect", "rectifier"};
    k.what = "Lets current through from anode to cathode only. The band marks the cathode.";
    k.place =
        "Across a motor with its band towards plus: it takes up the peak when the motor is "
        "switched off.";
    k.never = "Forwards across a supply: nothing limits the current then.";
    k.print.legs = {{"anode", "anode"}, {"cathode", "cathode, at the band"}};
    k.print.orientations = {
        {{0, 0}, {0, 4}}, {{0, 0}, {7, 0}}, {{0, 0}, {0, -4}}, {{0, 0}, {-7, 0}}};
    k.print.stretches = true;
    k.print.reachMin = 2;
    k.print.reachMax = 9.5;
    k.print.polarised = true;
    k.print.bodyWidth = 2;
    k.print.bodyHeight = 0.8;
    k.buildRank = 1;
    k.ratedAmps = 1.0;
    k.nameOf = [](const Part&) { return std::string("Diode"); };
    k.shortText = [](const Part&) { return std::string("diode"); };
    k.mostAmps = [](const Part&) { return 1.0; };
    k.devices = [](const Part&) {
      PartDevices d;
      d.diodes = {
          {0, 1, electric::JunctionModel::through(0.70, 0.010, 1.9 * electric::thermalVolts, 0.1)}};
      return d;
    };
    return k;
  }();
  return kind;
}

}  // namespace ignavo
