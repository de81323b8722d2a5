#include "parts/list.h"

namespace ignavo {

const PartKind& capacitorKind() {
  static const PartKind kind = [] {
    PartKind k;
    k.type = "capacitor";
    k.label = "Capacitor";
    k.category = "Limit and store";
    k.brief = "stores a little";
    k.idStem = "c";
    k.typed = {"capacitor"};
    k.words = {"capacitor", "store", "smooth", "farad", "electrolytic", "condenser"};
    k.what = "Stores charge: it holds a voltage for a while and lets no steady current through.";
    k.place = "In different rows. An electrolytic one has a plus leg, which is the longer one.";
    k.never = "More volts than it is made for; an electrolytic one the wrong way round.";
    k.print.legs = {{"a", "one leg; plus if electrolytic"}, {"b", "other leg"}};
    k.print.orientations = {
        {{0, 0}, {0, 2}}, {{0, 0}, {0, -2}}, {{0, 0}, {2, 0}}, {{0, 0}, {-2, 0}}};
    k.print.stretches = true;
    k.print.reachMin = 1;
    k.print.reachMax = 4.2;
    k.print.polarised = true;
    k.print.bodyWidth = 1.5;
    k.print.bodyHeight = 1.3;
    k.props = {
        {"farads", "Capacitance", PropKind::Type::number, "F", 1e-7, 1e-12, 0.1, {}, false, true},
        {"volts", "Made for", PropKind::Type::number, "V", 25, 1, 1000},
        {"electrolytic", "Electrolytic", PropKind::Type::truth}};
    k.buildRank = 3;
    k.nameOf = [](const Part&) { return std::string("Capacitor"); };
    k.shortText = [](const Part& p) { return quantityText(p.number("farads", 1e-7), "F"); };
    k.stores = true;
    k.damageLimits = {{DamageLimit::Of::volts, 0.001}, {DamageLimit::Of::reverseVolts, 0.001}};
    k.absoluteMaximum = [](const Part& p) {
      constexpr double againstItsPlus = 1.0;  // an electrolytic one
      return VoltLimits{p.number("volts", 25), p.truth("electrolytic") ? againstItsPlus : 0};
    };
    k.devices = [](const Part& p) {
      PartDevices d;
      d.capacitors = {{0, 1, p.number("farads", 1e-7)}};
      return d;
    };
    return k;
  }();
  return kind;
}

}  // namespace ignavo
