#include "parts/list.h"

namespace ignavo {

const PartKind& switchKind() {
  static const PartKind kind = [] {
    PartKind k;
    constexpr double closedOhms = 0.05;
    k.type = "switch";
    k.label = "Slide switch";
    k.category = "Press and turn";
    k.brief = "left or right";
    k.idStem = "sw";
    k.typed = {"slide switch", "switch"};
    k.words = {"switch", "slide", "toggle", "choose", "input", "on", "off"};
    k.what = "Joins its middle leg to one of its outer legs, and stays where it is put.";
    k.place = "Each leg in a row of its own. A click on its slider moves it.";
    k.never = "5 V on one outer leg and ground on the middle one: sliding would short them.";
    k.print.legs = {{"left", "left leg", true},
                    {"common", "common leg, in the middle"},
                    {"right", "right leg", true}};
    k.print.orientations = {{{0, 0}, {0, 1}, {0, 2}}, {{0, 0}, {0, -1}, {0, -2}}};
    k.print.mirror = {{0, 2}};
    k.print.bodyWidth = 1.5;
    k.print.bodyHeight = 3.6;
    k.props = {{"position", "Position", PropKind::Type::choice, "", 0, 0, 0, {"left", "right"}}};
    k.thrownKey = "position";
    k.thrownValue = "right";
    k.buildRank = 2;
    k.readLegs = {0, 1};
    k.nameOf = [](const Part&) { return std::string("Switch"); };
    k.shortText = [](const Part&) { return std::string("slide switch"); };
    k.devices = [](const Part&) {
      PartDevices d;
      d.contacts = {{0, 1, closedOhms, false}, {2, 1, closedOhms, true}};
      return d;
    };
    return k;
  }();
  return kind;
}

}  // namespace ignavo
