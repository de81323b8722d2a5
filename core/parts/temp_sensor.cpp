#include <cmath>

#include "parts/list.h"

namespace ignavo {

const PartKind& tempSensorKind() {
  static const PartKind kind = [] {
    PartKind k;
    k.type = "temp-sensor";
    k.label = "Temperature sensor";
    k.category = "Sense";
    k.brief = "10 kΩ at 25 °C";
    k.idStem = "temp";
    k.typed = {"temperature sensor", "temp sensor", "thermistor", "ntc"};
    k.words = {"temperature", "warm", "heat", "cold", "ntc", "thermistor", "sensor", "analog"};
    k.what = "A resistor that falls as it gets warmer: 10 kΩ at 25 °C.";
    k.place =
        "Either way round, with a partner: sensor to 5 V, 10 kΩ to ground, and the row between "
        "them to an analog pin.";
    k.never = "So much current that it warms itself: never without a resistor in series.";
    k.print.legs = {{"a", "one leg"}, {"b", "other leg"}};
    k.print.orientations = {
        {{0, 0}, {0, 2}}, {{0, 0}, {0, -2}}, {{0, 0}, {2, 0}}, {{0, 0}, {-2, 0}}};
    k.print.stretches = true;
    k.print.reachMin = 1;
    k.print.reachMax = 4.2;
    k.print.bodyWidth = 1.2;
    k.print.bodyHeight = 1.2;
    k.print.round = true;
    k.props = {{"celsius", "Temperature", PropKind::Type::number, "°C", 20, -20, 100}};
    k.knob = "celsius";
    k.knobWords = {"Drag up to warm it, down to cool it.", "Cool it all the way", "Warm it all the way"};
    k.senses = true;
    k.buildRank = 3;
    k.nameOf = [](const Part&) { return std::string("Temperature sensor"); };
    k.shortText = [](const Part&) { return std::string("temperature sensor"); };
    k.devices = [](const Part& p) {
      // Beta equation: B = 3950 K, 10 kΩ at 298.15 K.
      const double kelvin = p.number("celsius", 20) + 273.15;
      PartDevices d;
      d.resistors = {{0, 1, 10e3 * std::exp(3950 * (1 / kelvin - 1 / 298.15))}};
      return d;
    };
    return k;
  }();
  return kind;
}

}  // namespace ignavo
