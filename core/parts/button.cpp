#include "parts/list.h"

namespace ignavo {

const PartKind& buttonKind() {
  static const PartKind kind = [] {
    constexpr double closedOhms = 0.05;
    PartKind k;
    k.type = "button";
    k.label = "Button";
    k.category = "Press and turn";
    k.brief = "4 legs";
    k.idStem = "btn";
    k.typed = {"button"};
    k.words = {"press", "push", "switch", "key", "input", "call"};
    k.what = "Joins its upper legs to its lower legs while it is pressed.";
    k.place =
        "Across the trench. The two legs of the upper row are always joined, and so are the "
        "two of the lower row.";
    k.never = "5 V on one side and ground on the other: pressing would short them.";
    k.print.legs = {{"1a", "upper left leg", true},
                    {"1b", "upper right leg", true},
                    {"2a", "lower left leg", true},
                    {"2b", "lower right leg", true}};
    k.print.orientations = {{{0, 0}, {3, 0}, {0, 2}, {3, 2}}, {{0, 0}, {0, 3}, {-2, 0}, {-2, 3}}};
    k.print.joined = {{0, 1}, {2, 3}};
    k.print.mirror = {{0, 2}, {1, 3}};
    k.print.bodyWidth = 2.4;
    k.print.bodyHeight = 2.4;
    k.props = {
        {"contacts", "Contacts", PropKind::Type::choice, "", 0, 0, 0, {"real", "ideal"}, false}};
    k.pressable = true;
    k.buildRank = 2;
    k.readLegs = {0, 2};
    k.nameOf = [](const Part&) { return std::string("Button"); };
    k.shortText = [](const Part&) { return std::string("push button"); };
    k.devices = [](const Part&) {
      PartDevices d;
      d.contacts.push_back({0, 2, closedOhms});
      return d;
    };
    return k;
  }();
  return kind;
}

}  // namespace ignavo
