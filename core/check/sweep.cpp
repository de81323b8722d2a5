#include "check/sweep.h"

#include <algorithm>
#include <cmath>

#include "program/steps.h"
#include "run/random.h"

namespace ignavo {

namespace {
constexpr int mostVariables = 12;  // 4096 poses
constexpr int sampledPoses = 4096;
constexpr double shortedAmps = 5.0;  // a supply giving this stands across less than 1 Ω
template <typename T>
decltype(auto) at(T& v, int i) {
  return v[static_cast<std::size_t>(i)];
}
}  // namespace

Sweep::Sweep(const Project& project, Circuit& circuit, const std::function<bool()>& cancelled)
    : project_(project), circuit_(circuit) {
  parts_.resize(project.parts->size());
  pins_.resize(circuit.pins().size());
  chooseOutputs();
  if (circuit_.shorted()) return;
  for (int i = 0; i < circuit_.islandCount(); ++i) {
    if (cancelled && cancelled()) return;
    sweepIsland(i);
  }
}

void Sweep::chooseOutputs() {
  for (const auto& program : project_.programs) programmed_ = programmed_ || program->hasSteps();
  for (int p = 0; p < static_cast<int>(circuit_.pins().size()); ++p) {
    const CircuitPin& pin = at(circuit_.pins(), p);
    bool output = false;
    if (programmed_) {
      if (const Program* program = project_.program(pin.board))
        for (const PinUse& use : pinUses(*program))
          output = output || (use.pin == pin.name && !use.writers.empty());
    } else {
      // Without a program: a pin that reaches something to be seen, and no button.
      bool shows = false, pressable = false;
      for (int part : circuit_.island(pin.island).parts) {
        const PartKind* kind = circuit_.kindOf(part);
        shows = shows || (kind && (kind->shows != Shows::nothing || kind->gated));
        pressable = pressable || (kind && (kind->sweepable() || kind->senses));
      }
      const Net& net = at(circuit_.nets().all(), pin.net);
      output = shows && !pressable && !(net.wires.empty() && net.legs.empty());
    }
    if (output) outputs_.push_back(p);
  }
}

std::string poseWord(const PartKind& kind, bool pressed) {
  if (kind.thrownKey.empty()) return pressed ? "pressed" : "released";
  if (pressed) return kind.thrownValue;
  for (const PropKind& prop : kind.props)
    if (prop.key == kind.thrownKey)
      for (const std::string& choice : prop.choices)
        if (choice != kind.thrownValue) return choice;
  return {};
}

Pose Sweep::poseOf(int island, const CircuitState& state) const {
  Pose pose;
  const bool several = project_.boards.size() > 1;
  for (int p : circuit_.island(island).pins) {
    if (std::find(outputs_.begin(), outputs_.end(), p) == outputs_.end()) continue;
    const CircuitPin& pin = at(circuit_.pins(), p);
    const PinDrive drive = at(state.pins, p);
    if (drive != PinDrive::high && drive != PinDrive::low) continue;
    pose[(several ? pin.board + "." : "") + pin.name] = drive == PinDrive::high ? "high" : "low";
  }
  for (int part : circuit_.island(island).parts)
    if (circuit_.kindOf(part) && circuit_.kindOf(part)->sweepable())
      pose[at(*project_.parts, part)->id] =
          poseWord(*circuit_.kindOf(part), at(state.pressed, part) != 0);
  return pose;
}

void Sweep::sweepIsland(int island) {
  const Circuit::Island& shape = circuit_.island(island);
  std::vector<int> pins, contacts;
  for (int p : shape.pins)
    if (std::find(outputs_.begin(), outputs_.end(), p) != outputs_.end()) pins.push_back(p);
  for (int p : shape.parts)
    if (circuit_.kindOf(p) && circuit_.kindOf(p)->sweepable()) contacts.push_back(p);
  islandAmps_ = 0;

  CircuitState rest = circuit_.restState();
  const int n = static_cast<int>(pins.size() + contacts.size());
  const auto state = [&](const std::function<bool(int)>& bit) {
    CircuitState s = rest;
    int k = 0;
    for (int p : pins) at(s.pins, p) = bit(k++) ? PinDrive::high : PinDrive::low;
    for (int c : contacts) at(s.pressed, c) = bit(k++) ? 1 : 0;
    return s;
  };
  const auto try_ = [&](const std::function<bool(int)>& bit) { take(island, state(bit)); };
  poses_ = std::min(poses_ * std::ldexp(1.0, std::min(n, 60)), 1e18);
  if (!programmed_ && pins.size() > 1) {
    // Nothing says which pins go together: one at a time, and all.
    const int np = static_cast<int>(pins.size());
    for (int presses = 0; presses < (1 << std::min<std::size_t>(contacts.size(), 6)); ++presses) {
      const auto with = [&](const std::function<bool(int)>& pinBit) {
        try_([&](int k) { return k < np ? pinBit(k) : ((presses >> (k - np)) & 1) != 0; });
      };
      with([](int) { return false; });
      with([](int) { return true; });
      for (int one = 0; one < np; ++one) with([&](int k) { return k == one; });
    }
  } else if (n <= mostVariables) {
    for (int bits = 0; bits < (1 << n); ++bits) try_([&](int k) { return ((bits >> k) & 1) != 0; });
  } else {
    sampled_ = true;
    try_([](int) { return false; });
    try_([](int) { return true; });
    for (int one = 0; one < n; ++one) try_([&](int k) { return k == one; });
    for (int i = 0; i < sampledPoses - n - 2; ++i)
      try_([&](int k) {
        return (randomBits(project_.seed, static_cast<std::uint64_t>(k),
                           static_cast<std::uint64_t>(i)) &
                1) != 0;
      });
  }
  supplyAmps_ += islandAmps_;
}

void Sweep::take(int island, const CircuitState& state) {
  const Circuit::Island& shape = circuit_.island(island);
  const IslandReading& r = circuit_.solveIsland(island, state);
  if (!r.converged) {
    for (int p : shape.parts) {
      const std::string& id = at(*project_.parts, p)->id;
      if (std::find(unsolved_.begin(), unsolved_.end(), id) == unsolved_.end())
        unsolved_.push_back(id);
    }
    return;
  }
  if (r.supplyAmps > shortedAmps) return;  // a finding of its own
  islandAmps_ = std::max(islandAmps_, r.supplyAmps);
  for (std::size_t k = 0; k < shape.parts.size(); ++k) {
    PartSweep& p = at(parts_, shape.parts[k]);
    p.amps.offer(r.parts[k].amps, state);
    p.reverseAmps.offer(-r.parts[k].amps, state);
    p.watts.offer(r.parts[k].watts, state);
    p.volts.offer(std::abs(r.parts[k].volts.value_or(0)), state);
    p.lamps.resize(r.parts[k].lamps.size());
    for (std::size_t l = 0; l < p.lamps.size(); ++l) p.lamps[l].offer(r.parts[k].lamps[l], state);
  }
  for (std::size_t k = 0; k < shape.pins.size(); ++k) {
    PinSweep& p = at(pins_, shape.pins[k]);
    p.amps.offer(std::abs(r.pins[k].amps), state);
    if (r.pins[k].floating)
      p.floating.offer(1, state);
    else
      p.everFixed = true;
  }
}

}  // namespace ignavo
