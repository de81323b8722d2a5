#include "parts/list.h"

namespace ignavo {

const PartKind& buzzerKind() {
  static const PartKind kind = [] {
    PartKind k;
    k.type = "buzzer";
    k.label = "Buzzer";
    k.category = "Sound";
    k.brief = "buzzes by itself";
    k.idStem = "buzz";
    k.typed = {"buzzer"};
    k.words = {"sound", "beep", "alarm", "horn", "bell", "active"};
    k.what = "Buzzes by itself at 2.3 kHz as long as it gets 3 to 6 volts.";
    k.place = "The plus leg towards the pin, the minus leg to ground.";
    k.never = "The wrong way round it stays silent.";
    k.print.legs = {{"+", "plus leg, longer"}, {"-", "minus leg"}};
    k.print.orientations = {{{0, 0}, {0, 3}}, {{0, 0}, {0, -3}}};
    k.print.polarised = true;
    k.print.bodyWidth = 3.6;
    k.print.bodyHeight = 3.6;
    k.print.round = true;
    k.shows = Shows::sound;
    k.moves = Moves::buzz;
    k.buildRank = 3;
    k.ratedAmps = 0.030;
    k.nameOf = [](const Part&) { return std::string("Buzzer"); };
    k.shortText = [](const Part&) { return std::string("buzzer"); };
    k.absoluteMaximum = [](const Part&) { return VoltLimits{6.6, 0}; };  // made for 3 to 6 V
    k.devices = [](const Part&) {
      // A silicon junction in series with 330 Ω: about 12 mA at 5 V.
      PartDevices d;
      d.diodes = {{0, 1,
                   electric::JunctionModel::through(0.70 + 0.010 * 330, 0.010,
                                                    1.9 * electric::thermalVolts, 330)}};
      return d;
    };
    return k;
  }();
  return kind;
}

}  // namespace ignavo
