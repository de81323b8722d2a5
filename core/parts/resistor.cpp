#include "parts/list.h"

namespace ignavo {

const PartKind& resistorKind() {
  static const PartKind kind = [] {
    PartKind k;
    k.type = "resistor";
    k.label = "Resistor";
    k.category = "Limit and store";
    k.brief = "1 Ω to 10 MΩ";
    k.idStem = "r";
    k.typed = {"resistor"};
    k.words = {"ohm", "limit", "pull-up", "pull-down", "220", "10k", "bands"};
    k.what = "Limits how much current flows. The coloured bands tell how many ohms it has.";
    k.place = "Either way round. Its two legs must be in different rows.";
    k.never = "More heat than its rating, a quarter of a watt for the usual size.";
    k.print.legs = {{"a", "one end"}, {"b", "other end"}};
    k.print.orientations = {
        {{0, 0}, {7, 0}}, {{0, 0}, {0, 4}}, {{0, 0}, {0, -4}}, {{0, 0}, {-7, 0}}};
    k.print.stretches = true;
    k.print.reachMin = 2;
    k.print.reachMax = 9.5;
    k.print.bodyWidth = 2.4;
    k.print.bodyHeight = 0.75;
    k.props = {
        {"ohms", "Resistance", PropKind::Type::number, "Ω", 220, 1, 1e7, {}, true, false, true},
        {"watts", "Rated for", PropKind::Type::number, "W", 0.25, 0.05, 10, {}, false}};
    k.passes = true;
    k.buildRank = 1;
    k.damageLimits = {{DamageLimit::Of::watts, 1.0, 2.0}};
    k.nameOf = [](const Part&) { return std::string("R1"); };
    k.shortText = [](const Part& p) { return ohmsText(p.number("ohms", 220)); };
    k.ratedWatts = [](const Part& p) { return p.number("watts", 0.25); };
    k.devices = [](const Part& p) {
      PartDevices d;
      d.resistors.push_back({0, 1, p.number("ohms", 220)});
      return d;
    };
    return k;
  }();
  return kind;
}

}  // namespace ignavo
