#include "parts/small_circuits.h"

#include <algorithm>

#include "bench/placing.h"

namespace ignavo {

const std::vector<SmallCircuit>& smallCircuits() {
  using Needs = SmallCircuit::Needs;
  static const std::vector<SmallCircuit> all = {
      {"lamp",
       "Lamp on a pin",
       "a lamp",
       "LED with 220 Ω",
       "An LED with the resistor that it needs, from the pin to ground. High lights it.",
       {"led", "lamp", "light"},
       "led",
       Needs::digital,
       true,
       [](Composer& c) {
         c.rows(3);
         c.part("resistor", {"c0", "h0"}, {{"ohms", 220.0}});
         c.part("led", {"i0", "i2"});
         c.wireFromPin("a0");
         c.ground("j2");
       }},
      {"button",
       "Button with pull-down",
       "a button",
       "pressed reads high",
       "A button to 5 V; 10 kΩ to ground hold the pin low while it is up.",
       {"button", "press", "pull-down", "pulldown"},
       "button",
       Needs::digital,
       false,
       [](Composer& c) {
         c.rows(6);
         c.part("button", {"e0", "f0", "e2", "f2"});
         c.part("resistor", {"c2", "c5"}, {{"ohms", 10000.0}});
         c.supply("a0");
         c.wireFromPin("a2");
         c.ground("a5");
       }},
      {"button-up",
       "Button with pull-up",
       "a button with pull-up",
       "pressed reads low",
       "A button to ground. The pin’s own pull-up holds it high while it is up.",
       {"button-up", "pull-up", "pullup"},
       "button",
       Needs::digital,
       false,
       [](Composer& c) {
         c.rows(3);
         c.part("button", {"e0", "f0", "e2", "f2"});
         c.wireFromPin("a0");
         c.ground("a2");
         c.pullUp();
       }},
      {"light",
       "Light sensor",
       "a light sensor",
       "more light, more volts",
       "A light sensor to 5 V and 10 kΩ to ground: the pin sees more volts in more light.",
       {"light-sensor", "dusk", "sensor", "divider"},
       "light-sensor",
       Needs::analog,
       false,
       [](Composer& c) {
         c.rows(7);
         c.part("light-sensor", {"c0", "c2"});
         c.part("resistor", {"d2", "d6"}, {{"ohms", 10000.0}});
         c.supply("a0");
         c.wireFromPin("a2");
         c.ground("a6");
       }},
      {"warmth",
       "Temperature sensor",
       "a temperature sensor",
       "warmer, more volts",
       "A temperature sensor to 5 V and 10 kΩ to ground: warmer means more volts.",
       {"temperature", "temperature-sensor", "warm"},
       "temp-sensor",
       Needs::analog,
       false,
       [](Composer& c) {
         c.rows(7);
         c.part("temp-sensor", {"c0", "c2"});
         c.part("resistor", {"d2", "d6"}, {{"ohms", 10000.0}});
         c.supply("a0");
         c.wireFromPin("a2");
         c.ground("a6");
       }},
      {"knob",
       "Knob",
       "a knob",
       "0 to 5 V by hand",
       "A potentiometer between 5 V and ground: its wiper gives the pin any voltage between.",
       {"knob", "potentiometer", "dial"},
       "pot",
       Needs::analog,
       false,
       [](Composer& c) {
         c.rows(5);
         c.part("pot", {"d0", "d2", "d4"});
         c.supply("a0");
         c.wireFromPin("a2");
         c.ground("a4");
       }},
      {"motor",
       "Motor with transistor",
       "a motor with its transistor",
       "with its diode",
       "A MOSFET that the pin switches, the motor from 5 V, and a diode across it for the peak "
       "when it is switched off.",
       {"motor", "winch", "transistor"},
       "motor",
       Needs::digital,
       true,
       [](Composer& c) {
         c.rows(8);
         c.part("nmos", {"c0", "c1", "c2"});
         c.part("resistor", {"e0", "e6"}, {{"ohms", 10000.0}});
         c.part("motor", {"j2", "j5"});
         c.part("diode", {"g5", "g2"});
         c.wireFromPin("a0");
         c.wire("e1", "f5");
         c.supply("i2");
         c.ground("a2");
         c.ground("a6");
       }},
      {"sounder",
       "Piezo on a pin",
       "a piezo",
       "sounds a tone",
       "A piezo from the pin to ground. Switched quickly, it sounds that tone.",
       {"sounder", "piezo", "bell", "beep"},
       "piezo",
       Needs::digital,
       true,
       [](Composer& c) {
         c.rows(6);
         c.part("piezo", {"c1", "c4"});
         c.wireFromPin("a1");
         c.ground("a4");
       }},
      {"servo",
       "Servo on a pin",
       "a servo",
       "turns to an angle",
       "A servo: its signal on the pin, its supply from 5 V and ground.",
       {"servo", "gate", "arm"},
       "servo",
       Needs::digital,
       true,
       [](Composer& c) {
         c.rows(3);
         c.part("servo", {"j0", "j1", "j2"});
         c.wireFromPin("f0");
         c.supply("h1");
         c.ground("h2");
       }}};
  return all;
}

const SmallCircuit* smallCircuit(const std::string& typed) {
  for (const SmallCircuit& c : smallCircuits())
    if (c.id == typed) return &c;
  for (const SmallCircuit& c : smallCircuits())
    if (std::find(c.words.begin(), c.words.end(), typed) != c.words.end()) return &c;
  return nullptr;
}

Composed compose(const Project& project, const SmallCircuit& circuit, const std::string& board,
                 const std::string& pin) {
  Composer composer(project, board, pin);
  circuit.compose(composer);
  if (!composer.problem().empty()) return {project, composer.problem(), {}};
  return {composer.project(), {}, composer.ids()};
}

std::vector<PinChoice> pinsFor(const Project& project, const SmallCircuit& circuit) {
  std::vector<PinChoice> free, taken;
  for (const BoardItem& board : project.boards) {
    const BoardKind* kind = catalogue().boardKind(board.type);
    if (!kind) continue;
    for (const BoardPin& pin : kind->pins) {
      if (pin.role != PinShape::Role::io || !pin.serial.empty()) continue;
      if (circuit.needs == SmallCircuit::Needs::analog && !pin.analog) continue;
      // Analog pins are kept for what needs them.
      if (circuit.needs == SmallCircuit::Needs::digital && pin.analog) continue;
      const bool is = canWire(project, catalogue(), {board.id, pin.name}).clear();
      (is ? free : taken).push_back({board.id, pin.name, is});
    }
  }
  free.insert(free.end(), taken.begin(), taken.end());
  return free;
}

}  // namespace ignavo
