#include "parts/list.h"

namespace ignavo {

const PartKind& piezoKind() {
  static const PartKind kind = [] {
    PartKind k;
    k.type = "piezo";
    k.label = "Piezo";
    k.category = "Sound";
    k.brief = "sounds a tone";
    k.idStem = "piezo";
    k.typed = {"piezo"};
    k.words = {"sound", "tone", "beep", "bell", "buzzer", "music", "speaker", "passive"};
    k.what = "A disc that bends with voltage. Switched on and off quickly, it sounds that tone.";
    k.place = "Its plus leg to a pin, the other to ground. It needs no resistor.";
    k.never = "Nothing breaks it on a pin, but a steady level is silent.";
    k.print.legs = {{"+", "plus leg"}, {"-", "minus leg"}};
    k.print.orientations = {{{0, 0}, {0, 3}}, {{0, 0}, {0, -3}}};
    k.print.polarised = true;
    k.print.bodyWidth = 4.4;
    k.print.bodyHeight = 4.4;
    k.print.round = true;
    k.shows = Shows::sound;
    k.moves = Moves::tone;
    k.tracedVolts = {0, 1};
    k.buildRank = 3;
    k.nameOf = [](const Part&) { return std::string("Piezo"); };
    k.shortText = [](const Part&) { return std::string("piezo"); };
    k.devices = [](const Part&) {
      PartDevices d;
      d.resistors = {{0, 1, 100e3}};
      d.capacitors = {{0, 1, 20e-9}};
      return d;
    };
    return k;
  }();
  return kind;
}

}  // namespace ignavo
