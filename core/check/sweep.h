#pragma once
#include <functional>
#include <vector>

#include "check/finding.h"
#include "parts/circuit.h"

namespace ignavo {

// The largest value that something took, and the state in which it did.
struct Peak {
  double value = 0;
  CircuitState state;
  bool seen = false;
  void offer(double v, const CircuitState& s) {
    if (seen && v <= value) return;
    value = v;
    state = s;
    seen = true;
  }
};

struct PartSweep {
  Peak amps;         // first leg to second
  Peak reverseAmps;  // second to first
  Peak watts;
  Peak volts;               // largest absolute value
  std::vector<Peak> lamps;  // through each lamp inside
};
struct PinSweep {
  Peak amps;      // absolute
  Peak floating;  // value 1 in a state in which it floats
  bool everFixed = false;
};

// "pressed" / "released" of a button, "left" / "right" of a switch.
std::string poseWord(const PartKind& kind, bool pressed);

// Solves the settled state of every combination of buttons and output pins
// that can occur, island by island.
class Sweep {
 public:
  explicit Sweep(const Project& project, Circuit& circuit,
                 const std::function<bool()>& cancelled = {});

  const PartSweep& part(int index) const { return parts_[static_cast<std::size_t>(index)]; }
  const PinSweep& pin(int index) const { return pins_[static_cast<std::size_t>(index)]; }
  double poses() const { return poses_; }
  bool sampled() const { return sampled_; }
  const std::vector<std::string>& unsolved() const { return unsolved_; }
  double mostSupplyAmps() const { return supplyAmps_; }
  // Pins that are swept as outputs.
  const std::vector<int>& outputs() const { return outputs_; }
  // The buttons and swept pins of an island, in words and ids.
  Pose poseOf(int island, const CircuitState& state) const;

 private:
  void chooseOutputs();
  void sweepIsland(int island);
  void take(int island, const CircuitState& state);

  const Project& project_;
  Circuit& circuit_;
  std::vector<int> outputs_;
  std::vector<PartSweep> parts_;
  std::vector<PinSweep> pins_;
  bool programmed_ = false;
  double poses_ = 1;
  bool sampled_ = false;
  double supplyAmps_ = 0;
  double islandAmps_ = 0;
  std::vector<std::string> unsolved_;
};

}  // namespace ignavo
