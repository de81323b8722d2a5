#pragma once
#include <cmath>
#include <functional>
#include <vector>

#include "check/finding.h"
#include "parts/circuit.h"
#include "program/reach.h"

namespace ignavo {

// The largest value that something took, and the simplest state in which it
// did: the one with the fewest buttons held, pins high and knobs turned.
class Peak {
  // What is about the same as the value; beside what it is compared with.
  double under_ = -HUGE_VAL, over_ = -HUGE_VAL;
  std::size_t pose_ = 0;

 public:
  double value = 0;
  int effort = 0;
  bool seen = false;
  CircuitState state;  // once the island is swept

  // `pose`: which one of those swept.
  void offer(double v, std::size_t pose, int itsEffort) {
    if (v < under_ || (v <= over_ && itsEffort >= effort)) return;
    constexpr double same = 1e-6;  // relative; the solver's last digits mean nothing
    const double air = same * std::abs(v) + 1e-12;
    value = v;
    under_ = v - air;
    over_ = v + air;
    pose_ = pose;
    effort = itsEffort;
    seen = true;
  }
  template <typename Poses>
  void keepState(const Poses& swept) {
    if (seen) state = swept[pose_].state;
  }
};

struct PartSweep {
  IGNAVO_VALUE(PartSweep);

  Peak amps;         // first leg to second
  Peak reverseAmps;  // second to first
  Peak watts;
  Peak volts;               // largest absolute value
  Peak reverseVolts;        // largest from second to first
  std::vector<Peak> lamps;  // through each lamp inside
};
struct PinSweep {
  IGNAVO_VALUE(PinSweep);

  Peak amps;      // absolute
  Peak floating;  // value 1 in a state in which it floats
  bool everFixed = false;
};

// One combination that was solved, and whether it can last for a millisecond
// or more: a program may go through others in passing.
struct SweptPose {
  CircuitState state;
  bool lasts = true;
};

// "pressed" / "released" of a button, "left" / "right" of a switch.
std::string poseWord(const PartKind& kind, bool pressed);
// Nothing is held, and pins that any step writes are low, as at power-on.
CircuitState idleState(const Project& project, const Circuit& circuit);
// The state that a pose describes; whatever it does not name is idle.
CircuitState stateOf(const Project& project, const Circuit& circuit, const Pose& pose);

// Solves the settled state of every combination of buttons, knobs, sensors and
// output pins that can occur, island by island. Combinations of outputs that
// the programs can never produce are left out.
class Sweep {
 public:
  explicit Sweep(const Project& project, Circuit& circuit,
                 const std::function<bool()>& cancelled = {});
  ~Sweep();
  Sweep(const Sweep&) = delete;
  Sweep& operator=(const Sweep&) = delete;

  const PartSweep& part(int index) const { return parts_[static_cast<std::size_t>(index)]; }
  const PinSweep& pin(int index) const { return pins_[static_cast<std::size_t>(index)]; }
  // What was solved of an island, the simplest combination first.
  const std::vector<SweptPose>& posesOf(int island) const {
    return swept_[static_cast<std::size_t>(island)];
  }
  double poses() const { return poses_; }
  bool sampled() const { return sampled_; }
  const std::vector<std::string>& unsolved() const { return unsolved_; }
  // Pins that are swept as outputs.
  const std::vector<int>& outputs() const { return outputs_; }
  bool isOutput(int pin) const;
  bool programmed() const { return programmed_; }
  // Outputs that the programs tie to those of this island, directly or over
  // other islands; empty when there are none.
  std::vector<int> tiedTo(int island) const;
  // The lasting ways in which such outputs can stand; at most 4096 of them.
  std::vector<std::vector<PinDrive>> waysOf(const std::vector<int>& tied) const;
  // The buttons, turned knobs and swept pins of an island, in words and ids.
  Pose poseOf(int island, const CircuitState& state) const;

 private:
  bool isFed(int island) const;
  // Something that can stand in several ways: a button, a knob, a group of pins.
  struct SweepAxis {
    std::vector<std::function<void(CircuitState&)>> ways;  // the simplest first
    std::vector<bool> lasts;
    bool grouped = false;  // part of a group that other islands share: counted once, elsewhere
    void add(std::function<void(CircuitState&)> way, bool last = true) {
      ways.push_back(std::move(way));
      lasts.push_back(last);
    }
  };
  void chooseOutputs();
  void addLine(const BoardItem& board, const Program& program);
  void addGroup(const std::string& board, const OutputGroup& group);
  SweepAxis pinsAxis(const std::vector<int>& pins) const;
  std::vector<SweepAxis> axesOf(int island) const;
  void sweepIsland(int island);
  void keepStates(int island);
  void take(int island, const CircuitState& state, bool lasts, int effort);

  const Project& project_;
  Circuit& circuit_;
  std::vector<int> outputs_;
  std::vector<PartSweep> parts_;
  std::vector<PinSweep> pins_;
  std::vector<std::vector<SweptPose>> swept_;  // per island
  struct Group {
    std::vector<int> pins;  // in the order of its bits; -1: no such pin
    OutputGroup ways;
  };
  std::vector<Group> groups_;
  bool programmed_ = false;
  double poses_ = 1;
  bool sampled_ = false;
  std::vector<std::string> unsolved_;
};

}  // namespace ignavo
