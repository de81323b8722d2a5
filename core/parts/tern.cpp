#include "parts/list.h"

namespace ignavo {

const BoardKind& ternKind() {
  static const BoardKind kind = [] {
    using Role = PinShape::Role;
    BoardKind k;
    k.type = "tern";
    k.label = "Tern board";
    k.brief = "5 V · 16 MHz";
    k.help =
        "A board with a small computer on it. Each pin can give 5 V or nothing, or look "
        "whether a voltage is there.";
    k.pins = {{"VIN", Role::supplyIn, ""}, {"5V", Role::supply5, ""},  {"3V3", Role::supply3, ""},
              {"GND", Role::ground, ""},   {"GND2", Role::ground, ""}, {"GND3", Role::ground, ""}};
    static const char* chipNames[] = {"PD2", "PD3", "PD4", "PD5", "PD6", "PD7",
                                      "PB0", "PB1", "PB2", "PB3", "PB4", "PB5"};
    for (int d = 2; d <= 13; ++d) {
      const bool pwm = d == 3 || d == 5 || d == 6 || d == 9 || d == 10 || d == 11;
      k.pins.push_back({"D" + std::to_string(d), Role::io, chipNames[d - 2], pwm, false, ""});
    }
    for (int a = 0; a <= 5; ++a)
      k.pins.push_back(
          {"A" + std::to_string(a), Role::io, "PC" + std::to_string(a), false, true, ""});
    k.pins.push_back({"D0", Role::io, "PD0", false, false, "rx"});
    k.pins.push_back({"D1", Role::io, "PD1", false, false, "tx"});
    k.shape.width = 8;
    k.shape.height = 28.6;
    for (std::size_t i = 0; i < k.pins.size(); ++i)
      k.shape.pins.push_back(
          {k.pins[i].name, {7.25, 1.8 + static_cast<double>(i)}, k.pins[i].role});
    k.lampPin = "D13";
    k.chip = "atmega328p";
    k.flashBytes = 32256;  // 32 KiB less the boot loader
    k.ramBytes = 2048;
    return k;
  }();
  return kind;
}

}  // namespace ignavo
