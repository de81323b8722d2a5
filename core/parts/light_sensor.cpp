#include <cmath>

#include "parts/list.h"

namespace ignavo {

const PartKind& lightSensorKind() {
  static const PartKind kind = [] {
    PartKind k;
    k.type = "light-sensor";
    k.label = "Light sensor";
    k.category = "Sense";
    k.brief = "less ohms in light";
    k.idStem = "light";
    k.typed = {"light sensor", "ldr"};
    k.words = {"light", "dark", "dusk", "sun", "ldr", "sensor", "analog", "input"};
    k.what = "A resistor that falls with light: about 100 kΩ in the dark, 1 kΩ in full light.";
    k.place =
        "Either way round, with a partner: sensor to 5 V, 10 kΩ to ground, and the row between "
        "them to an analog pin.";
    k.never = "A supply straight across it in bright light with nothing in series.";
    k.print.legs = {{"a", "one leg"}, {"b", "other leg"}};
    k.print.orientations = {
        {{0, 0}, {0, 2}}, {{0, 0}, {0, -2}}, {{0, 0}, {2, 0}}, {{0, 0}, {-2, 0}}};
    k.print.stretches = true;
    k.print.reachMin = 1;
    k.print.reachMax = 4.2;
    k.print.bodyWidth = 1.4;
    k.print.bodyHeight = 1.4;
    k.print.round = true;
    k.props = {{"light", "Light", PropKind::Type::number, "%", 50, 0, 100}};
    k.knob = "light";
    k.knobWords = {"Drag down to cover it, up to let light in.", "Cover it", "Full light on it"};
    k.senses = true;
    k.buildRank = 3;
    k.nameOf = [](const Part&) { return std::string("Light sensor"); };
    k.shortText = [](const Part&) { return std::string("light sensor"); };
    k.devices = [](const Part& p) {
      PartDevices d;
      d.resistors = {{0, 1, 100e3 * std::pow(0.01, p.number("light", 50) / 100)}};
      return d;
    };
    return k;
  }();
  return kind;
}

}  // namespace ignavo
