#include "parts/list.h"

namespace ignavo {

namespace {

struct Cells {
  const char* kind;
  const char* text;
  double volts, ohms, mostAmps;
};
constexpr Cells all[] = {{"9v", "9 V battery", 9.0, 1.7, 1.0},
                         {"3aa", "3 AA cells", 4.5, 0.45, 2.0},
                         {"4aa", "4 AA cells", 6.0, 0.60, 2.0},
                         {"coin", "coin cell", 3.0, 60.0, 0.030}};
const Cells& cellsOf(const Part& part) {
  const std::string wanted = part.text("kind", "9v");
  for (const Cells& c : all)
    if (wanted == c.kind) return c;
  return all[0];
}

}  // namespace

const PartKind& batteryKind() {
  static const PartKind kind = [] {
    PartKind k;
    k.type = "battery";
    k.label = "Battery";
    k.category = "Power";
    k.brief = "9 V, AA or coin";
    k.idStem = "bat";
    k.typed = {"battery"};
    k.words = {"battery", "cell", "power", "supply", "9v", "aa", "coin", "plus"};
    k.what = "Feeds a circuit of its own, or one that needs more than the board can give.";
    k.place =
        "Beside the breadboard. Red lead to a + rail of its own, dark lead to ground; join its "
        "ground with the board’s.";
    k.never = "Its two leads joined, or its plus to the board’s 5 V.";
    k.print.legs = {{"+", "plus, red lead", false, LegShape::Feeds::plus},
                    {"-", "minus, dark lead", false, LegShape::Feeds::minus}};
    k.print.orientations = {
        {{0, 0}, {0, 1}}, {{0, 0}, {1, 0}}, {{0, 0}, {0, 2}}, {{0, 0}, {0, -1}}};
    k.print.leads = true;
    k.print.rest = {{-1, -4}, {1, -4}};
    k.print.polarised = true;
    k.print.bodyWidth = 4.6;
    k.print.bodyHeight = 6.4;
    k.props = {{"kind", "Kind", PropKind::Type::choice, "", 0, 0, 0, {"9v", "3aa", "4aa", "coin"}}};
    k.buildRank = 7;
    k.nameOf = [](const Part&) { return std::string("Battery"); };
    k.shortText = [](const Part& p) { return std::string(cellsOf(p).text); };
    k.mostAmps = [](const Part& p) { return cellsOf(p).mostAmps; };
    k.devices = [](const Part& p) {
      PartDevices d;
      d.batteries = {{0, 1, cellsOf(p).volts, cellsOf(p).ohms}};
      return d;
    };
    return k;
  }();
  return kind;
}

}  // namespace ignavo
