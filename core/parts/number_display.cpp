#include "parts/list.h"

namespace ignavo {

const PartKind& numberDisplayKind() {
  static const PartKind kind = [] {
    PartKind k;
    k.type = "number-display";
    k.label = "Number display";
    k.category = "Light";
    k.brief = "one digit";
    k.idStem = "digit";
    k.typed = {"number display", "display", "digit"};
    k.words = {"light", "lamp", "digit", "segment", "number", "count", "led"};
    k.what = "Eight small lamps, seven bars and a dot, that together show a digit.";
    k.place =
        "Across the trench. Each bar has a leg of its own and needs a resistor of its own; the two "
        "middle legs are joined and go to ground.";
    k.never = "More than 30 mA through any bar: each needs its own resistor.";
    // Seen from above, with the dot at the lower right.
    k.print.legs = {{"a", "bar a, top", true},         {"b", "bar b, upper right", true},
                    {"c", "bar c, lower right", true}, {"d", "bar d, bottom", true},
                    {"e", "bar e, lower left", true},  {"f", "bar f, upper left", true},
                    {"g", "bar g, middle", true},      {"dp", "dot", true},
                    {"k1", "common cathode, left"},    {"k2", "common cathode, right", true}};
    // Left side down: f g k1 e d. Right side down: a b k2 c dp.
    k.print.orientations = {
        {{0, 0}, {0, 1}, {0, 3}, {-5, 4}, {-5, 3}, {-5, 0}, {-5, 1}, {0, 4}, {-5, 2}, {0, 2}},
        {{0, 0}, {0, -1}, {0, -3}, {5, -4}, {5, -3}, {5, 0}, {5, -1}, {0, -4}, {5, -2}, {0, -2}}};
    k.print.joined = {{8, 9}};
    k.print.mirror = {{0, 3}, {1, 4}, {2, 6}, {5, 7}, {8, 9}};
    k.print.polarised = true;
    k.print.bodyWidth = 4.6;
    k.print.bodyHeight = 5.4;
    k.props = {{"colour",
                "Colour",
                PropKind::Type::choice,
                "",
                0,
                0,
                0,
                {"red", "amber", "green", "blue"}}};
    k.shows = Shows::light;
    k.lamps = {0, 1, 2, 3, 4, 5, 6, 7};
    k.buildRank = 2;
    k.readLegs = {0, 8};
    k.ratedAmps = 0.020;
    k.burnsAmps = 0.030;
    k.damageLimits = {{DamageLimit::Of::amps, 2.0, 0.030}, {DamageLimit::Of::amps, 0.001, 0.100}};
    k.nameOf = [](const Part&) { return std::string("Number display"); };
    k.shortText = [](const Part& p) { return p.text("colour", "red") + " digit"; };
    k.devices = [](const Part& p) {
      PartDevices d;
      const std::string colour = p.text("colour", "red");
      const double volts = colour == "red"     ? 1.90
                           : colour == "amber" ? 2.05
                           : colour == "green" ? 2.20
                                               : 3.00;
      const auto bar = electric::JunctionModel::through(volts, 0.010, 2 * electric::thermalVolts,
                                                        colour == "blue" ? 12 : 5);
      for (int leg = 0; leg < 8; ++leg) d.diodes.push_back({leg, 8, bar});
      return d;
    };
    return k;
  }();
  return kind;
}

}  // namespace ignavo
