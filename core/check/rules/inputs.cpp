#include "check/rules/inputs.h"

#include <algorithm>

namespace ignavo {

namespace {

void add(InputLevels& out, const PinReading& r, const BoardKind& kind) {
  if (r.floating || !r.volts || r.supplyVolts <= 0) {
    out.floats = true;
    return;
  }
  if (!out.seen()) out.min = out.max = *r.volts;
  out.min = std::min(out.min, *r.volts);
  out.max = std::max(out.max, *r.volts);
  const double share = *r.volts / r.supplyVolts;
  (share > kind.highShare ? out.high : share < kind.lowShare ? out.low : out.between) = true;
}

std::size_t placeOf(const Circuit& circuit, int pin) {
  const auto& members = circuit.island(circuit.pins()[static_cast<std::size_t>(pin)].island).pins;
  return static_cast<std::size_t>(std::find(members.begin(), members.end(), pin) - members.begin());
}

}  // namespace

InputLevels levelsOf(Circuit& circuit, const Sweep& sweep, int pinIndex) {
  InputLevels out;
  const CircuitPin& pin = circuit.pins()[static_cast<std::size_t>(pinIndex)];
  const std::size_t place = placeOf(circuit, pinIndex);
  for (const SweptPose& pose : sweep.posesOf(pin.island))
    add(out, circuit.solveIsland(pin.island, pose.state).pins[place], *pin.kind);
  return out;
}

std::vector<InputLevels> levelsWhileDriven(Circuit& circuit, const Sweep& sweep, int pinIndex) {
  constexpr std::size_t mostPoses = 256;  // beyond that the others say it already
  std::vector<InputLevels> out;
  const CircuitPin& pin = circuit.pins()[static_cast<std::size_t>(pinIndex)];
  const std::size_t place = placeOf(circuit, pinIndex);
  const auto& poses = sweep.posesOf(pin.island);
  for (int other : circuit.island(pin.island).pins) {
    if (other == pinIndex || !sweep.isOutput(other)) continue;
    for (const PinDrive drive : {PinDrive::low, PinDrive::high}) {
      InputLevels levels;
      for (std::size_t k = 0; k < std::min(poses.size(), mostPoses); ++k) {
        CircuitState state = poses[k].state;
        state.pins[static_cast<std::size_t>(other)] = drive;
        add(levels, circuit.solveIsland(pin.island, state).pins[place], *pin.kind);
      }
      out.push_back(levels);
    }
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
