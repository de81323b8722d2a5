#include "check/rules/lamps.h"

#include <algorithm>

namespace ignavo {

bool lampExplained(const CheckContext& c, int part) {
  static constexpr std::initializer_list<const char*> causes = {
      "rail-unfed",     "leg-loose",    "part-bypassed",      "led-reversed", "short-circuit",
      "pin-fight",      "led-dark",     "no-common-ground",   "motor-on-pin", "diode-backwards",
      "button-bridged", "over-voltage", "button-along-trench"};
  if (c.explained(c.part(part).id, causes)) return true;
  // Something in its own path is: a loose resistor, a pin that no step uses.
  const auto& island = c.circuit.island(c.circuit.islandOfPart(part));
  return std::any_of(island.parts.begin(), island.parts.end(),
                     [&](int p) {
                       return c.explained(c.part(p).id, {"rail-unfed", "leg-loose", "part-bypassed",
                                                         "led-reversed", "no-common-ground"});
                     }) ||
         std::any_of(island.pins.begin(), island.pins.end(), [&](int p) {
           return c.pinExplained(c.pinName(c.circuit.pins()[static_cast<std::size_t>(p)]),
                                 {"pin-unused", "pin-direction", "pin-unwired", "pin-fight"});
         });
}

const Part* resistorWith(const CheckContext& c, int island, double amps,
                         const CircuitState& state) {
  const auto& members = c.circuit.island(island).parts;
  const IslandReading& r = c.circuit.solveIsland(island, state);
  for (std::size_t k = 0; k < members.size(); ++k) {
    const PartKind* kind = c.circuit.kindOf(members[k]);
    if (!kind || !kind->passes) continue;
    if (std::abs(std::abs(r.parts[k].amps) - amps) < 0.01 * amps) return &c.part(members[k]);
  }
  return nullptr;
}

}  // namespace ignavo
