#pragma once
#include <algorithm>
#include <random>
#include <set>

#include "parts/circuit.h"
#include "support/build.h"

// Benches that nobody thought of, for laws that must hold on any.
namespace ignavo::test {

// A random bench, silly ones included: anything plugged in anywhere.
inline Project randomBench(std::mt19937& random, int parts) {
  Bench bench;
  std::set<std::string> used;
  const auto hole = [&] {
    for (;;) {
      std::string h;
      if (random() % 5 == 0) {
        static const char* rails[] = {"lp", "ln", "rp", "rn"};
        h = rails[random() % 4] + std::to_string(random() % 25 + 1);
      } else {
        h = std::string(1, static_cast<char>('a' + random() % 10)) +
            std::to_string(random() % 12 + 1);
      }
      if (used.insert(h).second) return h;
    }
  };
  static const char* colours[] = {"red", "amber", "green", "blue", "white"};
  static const double ohms[] = {1, 10, 47, 100, 220, 1000, 10000, 1e6};
  for (int i = 0; i < parts; ++i) {
    const std::string n = std::to_string(i);
    switch (random() % 4) {
      case 0:
        bench.led("led" + n, hole(), hole(), colours[random() % 5]);
        break;
      case 1:
        bench.part("button", "btn" + n, {hole(), hole(), hole(), hole()});
        break;
      default:
        bench.resistor("r" + n, ohms[random() % 8], hole(), hole());
    }
  }
  std::set<std::string> pins;
  static const char* names[] = {"5V", "GND", "3V3", "GND2", "D2", "D3", "D4", "D5", "A0"};
  for (unsigned i = 0; i < 2 + random() % 6; ++i)
    if (const char* pin = names[random() % 9]; pins.insert(pin).second) bench.wire(pin, hole());
  for (unsigned i = 0; i < random() % 5; ++i) bench.wire(hole(), hole());
  static const char* programs[] = {"", "set d4 high\nwait 0.1\nset d4 low\nwait 0.1\n",
                                   "if d2 high\n  set d3 high\notherwise\n  set d3 low\n",
                                   "set d5 d2\nwait 0.01\n"};
  bench.program(programs[random() % 4]);
  if (random() % 3 == 0) bench.pullUp("D2");
  return bench;
}

// Every kind of part with any values, plugged in anywhere, and a few wires.
inline Project sillyBench(std::mt19937& random, int parts, int rows) {
  Project p = emptyProject();
  p.breadboards[0].type = "full";
  std::set<std::string> used;
  const auto hole = [&]() -> Socket {
    for (;;) {
      static const char* rails[] = {"lp", "ln", "rp", "rn"};
      const std::string h = random() % 6 == 0
                                ? rails[random() % 4] + std::to_string(random() % 50 + 1)
                                : std::string(1, static_cast<char>('a' + random() % 10)) +
                                      std::to_string(random() % static_cast<unsigned>(rows) + 1);
      if (used.insert(h).second) return {"bb", h};
    }
  };
  const auto& kinds = catalogue().parts();
  for (int i = 0; i < parts; ++i) {
    const PartKind& kind = *kinds[random() % kinds.size()];
    if (used.size() + kind.print.legs.size() > static_cast<std::size_t>(rows) * 9) break;
    Part part = newPart(p, kind);
    for (const PropKind& prop : kind.props) {
      if (prop.type == PropKind::Type::choice)
        part.setProp(prop.key, prop.choices[random() % prop.choices.size()]);
      else if (prop.type == PropKind::Type::truth)
        part.setProp(prop.key, random() % 2 == 0);
      else if (random() % 2)
        part.setProp(prop.key,
                     random() % 4 == 0 ? prop.min
                     : random() % 3 == 0
                         ? prop.max
                         : std::clamp(prop.defaultValue * static_cast<double>(random() % 9),
                                      prop.min, prop.max));
    }
    for (Leg& leg : part.legs)
      if (random() % 16) leg.in = hole();
    part.at = Point{50, 10};
    p = edits::addPart(std::move(p), std::move(part));
  }
  std::set<std::string> pins;
  static const char* names[] = {"5V", "GND", "3V3", "GND2", "VIN", "D2", "D3", "D4", "D5", "A0"};
  for (unsigned i = 0; i < 1 + random() % 8; ++i)
    if (const char* pin = names[random() % 10]; pins.insert(pin).second) {
      Wire w;
      w.id = freeId(p, "w");
      w.from = {"b1", pin};
      w.to = hole();
      p = edits::addWire(std::move(p), w);
    }
  return p;
}

inline CircuitState randomState(const Circuit& c, std::mt19937& random) {
  CircuitState s = c.restState();
  for (auto& turned : s.turned) turned = static_cast<Turned>(random() % turnedPlaces);
  for (auto& pin : s.pins) pin = static_cast<PinDrive>(random() % 4);
  for (auto& pressed : s.pressed) pressed = random() % 2;
  return s;
}

}  // namespace ignavo::test
