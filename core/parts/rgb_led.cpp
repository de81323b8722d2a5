#include "parts/list.h"

namespace ignavo {

const PartKind& rgbLedKind() {
  static const PartKind kind = [] {
    PartKind k;
    k.type = "rgb-led";
    k.label = "RGB LED";
    k.category = "Light";
    k.brief = "common cathode";
    k.idStem = "rgb";
    k.typed = {"rgb led", "rgb"};
    k.words = {"light", "lamp", "colour", "mix", "led", "glow"};
    k.what = "Three lamps in one dome: red, green and blue. Together they mix any colour.";
    k.place =
        "Each leg in a row of its own. The longest leg is the common cathode and goes to ground; "
        "each colour gets a resistor of its own.";
    k.never = "More than 30 mA through any of its colours: each needs its own resistor.";
    k.print.legs = {{"red", "red leg, the outer one", true},
                    {"green", "green leg", true},
                    {"blue", "blue leg, the other outer one", true},
                    {"cathode", "common cathode, longest leg"}};
    k.print.orientations = {{{0, 0}, {0, 2}, {0, 3}, {0, 1}}, {{0, 0}, {0, -2}, {0, -3}, {0, -1}}};
    k.print.mirror = {{0, 2}, {1, 3}};
    k.print.polarised = true;
    k.print.bodyWidth = 1.5;
    k.print.bodyHeight = 1.5;
    k.print.round = true;
    k.shows = Shows::light;
    k.lamps = {0, 1, 2};
    k.buildRank = 3;
    k.readLegs = {0, 3};
    k.ratedAmps = 0.020;
    k.burnsAmps = 0.030;
    k.damageLimits = {{DamageLimit::Of::amps, 2.0, 0.030}, {DamageLimit::Of::amps, 0.001, 0.100}};
    k.nameOf = [](const Part&) { return std::string("Colour lamp"); };
    k.shortText = [](const Part&) { return std::string("RGB LED"); };
    k.devices = [](const Part&) {
      // As the red, green and blue LED (10 mA at 1.90, 2.20 and 3.00 V).
      PartDevices d;
      const double emission = 2 * electric::thermalVolts;
      d.diodes = {{0, 3, electric::JunctionModel::through(1.90, 0.010, emission, 5)},
                  {1, 3, electric::JunctionModel::through(2.20, 0.010, emission, 5)},
                  {2, 3, electric::JunctionModel::through(3.00, 0.010, emission, 12)}};
      return d;
    };
    return k;
  }();
  return kind;
}

}  // namespace ignavo
