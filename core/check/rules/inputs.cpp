#include "check/rules/inputs.h"

#include <algorithm>

namespace ignavo {

InputLevels levelsOf(Circuit& circuit, const Sweep& sweep, int pinIndex) {
  InputLevels out;
  const CircuitPin& pin = circuit.pins()[static_cast<std::size_t>(pinIndex)];
  const auto& members = circuit.island(pin.island).pins;
  const auto place = static_cast<std::size_t>(std::find(members.begin(), members.end(), pinIndex) -
                                              members.begin());
  for (const SweptPose& pose : sweep.posesOf(pin.island)) {
    const PinReading& r = circuit.solveIsland(pin.island, pose.state).pins[place];
    if (r.floating || !r.volts) {
      out.floats = true;
      continue;
    }
    if (!out.seen()) out.least = out.most = *r.volts;
    out.least = std::min(out.least, *r.volts);
    out.most = std::max(out.most, *r.volts);
    const double share = *r.volts / pin.kind->supplyVolts;
    (share > pin.kind->highShare  ? out.high
     : share < pin.kind->lowShare ? out.low
                                  : out.between) = true;
  }
  return out;
}

std::vector<int> sourcesOn(const Circuit& circuit, int island) {
  std::vector<int> out;
  for (int part : circuit.island(island).parts)
    if (const PartKind* kind = circuit.kindOf(part); kind && (kind->sweepable() || kind->senses))
      out.push_back(part);
  return out;
}

bool readsBothLevels(const Project& project, const CircuitPin& pin) {
  Circuit circuit(project);
  const Sweep sweep(project, circuit);
  const InputLevels levels = levelsOf(circuit, sweep, circuit.pinIndex(pin.board, pin.name));
  return !levels.floats && levels.changes();
}

bool pressedWithoutEffect(const CheckContext& c, const std::vector<int>& parts) {
  return std::any_of(parts.begin(), parts.end(), [&](int p) {
    return c.explained(c.part(p).id, {"rail-unfed", "leg-loose", "part-bypassed", "button-bridged",
                                      "button-along-trench"});
  });
}

}  // namespace ignavo
