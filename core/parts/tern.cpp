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
    k.pins = {{"VIN", Role::supplyIn, ""}, {"5V", Role::supply, ""},   {"3V3", Role::supply, ""},
              {"GND", Role::ground, ""},   {"GND2", Role::ground, ""}, {"GND3", Role::ground, ""}};
    k.supplies = {
        {"5V", "5 V", 5, 0.500,
         "The computer’s socket switches off above that. What needs much gets a supply of its own.",
         true, "VIN", 1.1},
        {"3V3", "3.3 V", 3.3, 0.050,
         "It comes from a small regulator on the board. Use 5 V for what needs more.", true, "5V",
         0}};
    k.minVolts = 2.7;  // the chip’s brown-out detector holds it in reset below
    k.minInVolts = 7, k.maxInVolts = 12;
    static const char* chipNames[] = {"PD2", "PD3", "PD4", "PD5", "PD6", "PD7",
                                      "PB0", "PB1", "PB2", "PB3", "PB4", "PB5"};
    static const char* timers[] = {"", "2B", "", "0B", "0A", "", "", "1A", "1B", "2A", "", ""};
    for (int d = 2; d <= 13; ++d) {
      const std::string timer = timers[d - 2];
      k.pins.push_back(
          {"D" + std::to_string(d), Role::io, chipNames[d - 2], !timer.empty(), false, "", timer});
    }
    for (int a = 0; a <= 5; ++a)
      k.pins.push_back(
          {"A" + std::to_string(a), Role::io, "PC" + std::to_string(a), false, true, "", ""});
    k.pins.push_back({"D0", Role::io, "PD0", false, false, "rx", ""});
    k.pins.push_back({"D1", Role::io, "PD1", false, false, "tx", ""});
    for (BoardPin& pin : k.pins) {
      if (pin.role == Role::supply) pin.supply = pin.name;
      if (pin.role == Role::io) pin.supply = k.mainSupply().pin;
      if (pin.serial == "rx") pin.usbHighOhms = 1e3;
    }
    k.shape.width = 8;
    k.shape.height = 28.6;
    for (std::size_t i = 0; i < k.pins.size(); ++i) {
      const BoardPin& pin = k.pins[i];
      PinShape shape{pin.name, {7.25, 1.8 + static_cast<double>(i)}, pin.role};
      if (pin.role == Role::supply)
        shape.volts = k.supply(pin.name)->volts, shape.label = k.supply(pin.name)->label;
      k.shape.pins.push_back(std::move(shape));
    }
    // Places as the board is drawn.
    k.features = {
        {"USB socket",
         {1.6, -1.1},
         {4.2, 1.0},
         {"The cable to the computer: it brings 5 V and the program.", "500 mA at most."}},
        {"Reset button",
         {1.0, 2.4},
         {3.3, 5.6},
         {"Starts the program from its beginning. Key T does the same."}},
        {"Chip",
         {0.6, 8.9},
         {3.5, 14.8},
         {"ATmega328P: the small computer that runs the program,", "16 million steps a second."}},
        {"Lamp PWR", {1.0, 18.0}, {4.6, 19.3}, {"Lit while the board has power."}},
        {"Lamp LED",
         {1.0, 19.3},
         {4.6, 20.6},
         {"The board’s own lamp. It shows the level of D13."},
         true},
        {"Lamp BUSY", {1.0, 20.6}, {4.6, 21.9}, {"Flickers while a program is sent to the board."}},
        {"Supply pins",
         {4.6, 1.2},
         {6.8, 7.3},
         {"VIN takes 7 to 12 V. 5V and 3V3 feed the circuit,",
          "GND is where the current goes back."}},
        {"Digital pins",
         {4.6, 7.3},
         {6.8, 19.3},
         {"D2 to D13 give 5 V or 0 V, or look whether a voltage is there.",
          "Those with ∿ can dim."}},
        {"Analog pins",
         {4.6, 19.3},
         {6.8, 25.3},
         {"A0 to A5 measure a voltage from 0 to 5 V;", "they work as digital pins, too."}},
        {"Serial pins",
         {4.6, 25.3},
         {6.8, 27.4},
         {"D0 and D1 talk to the computer. Leave them free", "while a program is sent."}}};
    k.lampPin = "D13";
    k.chip = "atmega328p";
    k.pulseTimers = "12";
    k.flashBytes = 32256;  // 32 KiB less the boot loader
    k.ramBytes = 2048;
    return k;
  }();
  return kind;
}

}  // namespace ignavo
