#include "parts/list.h"

namespace ignavo {

namespace {

struct Colour {
  const char* name;
  const char* title;
  double forwardVolts;  // at 10 mA across the whole part
  double seriesOhms;
};
constexpr Colour colours[] = {
    {"red", "Red", 1.90, 5},     {"orange", "Orange", 2.00, 5}, {"amber", "Amber", 2.05, 5},
    {"green", "Green", 2.20, 5}, {"blue", "Blue", 3.00, 12},    {"white", "White", 3.00, 12},
    {"pink", "Pink", 3.00, 12},
};

const Colour& colourOf(const Part& part) {
  const std::string wanted = part.text("colour", "red");
  for (const Colour& c : colours)
    if (wanted == c.name) return c;
  return colours[0];
}

PartDevices devices(const Part& part) {
  const Colour& c = colourOf(part);
  PartDevices d;
  d.diodes.push_back({0, 1,
                      electric::JunctionModel::through(c.forwardVolts, 0.010,
                                                       2 * electric::thermalVolts, c.seriesOhms)});
  return d;
}

}  // namespace

const PartKind& ledKind() {
  static const PartKind kind = [] {
    PartKind k;
    k.type = "led";
    k.label = "LED";
    k.category = "Light";
    k.brief = "7 colours";
    k.idStem = "led";
    k.typed = {"led", "lamp"};
    k.words = {"light", "lamp", "diode", "glow", "red", "green", "amber", "blue", "signal"};
    k.what = "A lamp that lets current through in one direction only and shines while it does.";
    k.place =
        "The long leg (anode) towards plus, the short leg at the flat side towards ground. "
        "Each leg in a row of its own.";
    k.never = "More than 30 mA: always with a resistor in its path.";
    k.print.legs = {{"anode", "long leg"}, {"cathode", "short leg, flat side"}};
    k.print.orientations = {
        {{0, 0}, {0, 2}}, {{0, 0}, {0, -2}}, {{0, 0}, {2, 0}}, {{0, 0}, {-2, 0}}};
    k.print.stretches = true;
    k.print.reachMin = 1;
    k.print.reachMax = 3.2;
    k.print.polarised = true;
    k.print.bodyWidth = 1.3;
    k.print.bodyHeight = 1.3;
    k.print.round = true;
    PropKind colour{"colour", "Colour", PropKind::Type::choice, "", 0, 0, 0, {}, false};
    for (const Colour& c : colours) colour.choices.push_back(c.name);
    colour.alsoCalled = {{"yellow", "amber"}, {"gold", "amber"},       {"golden", "amber"},
                         {"clear", "white"},  {"colourless", "white"}, {"colorless", "white"},
                         {"rose", "pink"},    {"purple", "pink"},      {"violet", "pink"},
                         {"magenta", "pink"}, {"turquoise", "blue"},   {"cyan", "blue"},
                         {"lime", "green"},   {"scarlet", "red"},      {"crimson", "red"}};
    k.props = {colour};
    k.shows = Shows::light;
    k.lamps = {0};
    k.buildRank = 3;
    k.ratedAmps = 0.020;
    k.burnsAmps = 0.030;
    k.damageLimits = {{DamageLimit::Of::amps, 2.0, 0.030}, {DamageLimit::Of::amps, 0.001, 0.100}};
    k.nameOf = [](const Part& p) { return std::string(colourOf(p).title) + " lamp"; };
    k.shortText = [](const Part& p) { return std::string(colourOf(p).name) + " LED"; };
    k.absoluteMaximum = [](const Part&) { return VoltLimits{0, 5.0}; };
    k.devices = devices;
    return k;
  }();
  return kind;
}

}  // namespace ignavo
