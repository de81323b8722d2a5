#pragma once
#include <optional>
#include <vector>

#include "electric/solver.h"

namespace ignavo::electric {

// What a network remembers from one moment to the next.
struct StateVariables {
  std::vector<double> capacitorVolts;  // across the plates, without the resistance in series
  std::vector<MotorState> motors;
  bool operator==(const StateVariables&) const = default;
};

// What something is between two steps, as a sum of what it was before the step that led here, is
// here and is there.
struct Blend {
  double before = 0, here = 1, there = 0;
};

// A network on its way through time. Steps are trapezoidal, and backward Euler after
// anything has changed abruptly. Each is as long as its error allows, which is told from
// the difference between the step and a prediction from the steps before (forward Euler
// or Adams and Bashforth's second; Gresho, Lee and Sani 1980). One capacitor among what is as
// good as linear takes the exponential way that it is known to take instead.
class Transient {
 public:
  explicit Transient(const Network& network);

  // Parameters may be changed here; changed() is to be called then.
  Network& network() { return network_; }
  const Network& network() const { return network_; }
  const StateVariables& state() const { return state_; }
  void setState(StateVariables state) { state_ = std::move(state); }

  // Something changed abruptly: solves this very moment, with capacitors and motors as
  // they are. False when it cannot be solved.
  bool changed();
  // After changed(), of a network that settles at `goal`: where its way there is one exponential,
  // that is taken from here on.
  void easeTo(const StateVariables& goal);
  // Small-signal resistance in ohms of a node in the moment solved last.
  double resistanceAt(Node node) const { return solver_.resistanceAt(node); }

  // Works out a step of at most so many seconds and gives its length, a whole number of
  // nanoseconds; 0 when it cannot be solved.
  double propose(double mostSeconds);
  // Goes to the end of what was proposed, or only so far into it.
  void accept();
  bool go(double seconds);

  const Solution& here() const { return here_; }
  const Solution& there() const { return next_.solution; }  // at the end of what was proposed

  // So many seconds into what was proposed. Volts and amps may be blended: exact on an exponential
  // way, else as near as the steps are (a parabola).
  Blend blendAt(double seconds) const;

  // The state variables of a settled network.
  static StateVariables settled(const Network& network, const Solution& solution);
  // So near to it that the difference means nothing.
  bool nearTo(const StateVariables& settled) const;
  // Everything that the further course depends on, the parameters apart.
  std::vector<double> signature() const;

 private:
  struct Step {
    double seconds = 0;
    bool first = false;  // since something changed
    Solution solution;
    StateVariables state, rates;
    double error = 0;  // 1: as much as is allowed
  };
  // Every volt and amp is what it will be at rest, and a rest of the difference that fades.
  struct Decay {
    double seconds = 0;  // until 1 / e of the difference is left
    Solution rest;
    StateVariables restState;
  };
  bool take(double seconds, Step& step);
  void fade(double seconds, Step& step) const;
  double decayStep() const;
  bool isLinear(const Solution& a, const Solution& b, double amps) const;
  void measure(Step& step) const;
  double secondsToStandstill() const;
  bool halts() const;
  bool swings() const;
  void findRates(const StateVariables& state, const Solution& solution, StateVariables& out) const;

  Network network_;
  Solver solver_;
  StateVariables state_, rates_, ratesBefore_;
  Solution here_;
  std::vector<double> voltsBefore_, guess_;  // at the step before
  Step next_;
  std::optional<Decay> decay_;
  double lastSeconds_ = 0;       // of the step that led here; 0: something changed here
  bool abrupt_ = true;           // something was changed from outside just now
  bool swung_ = false;           // since then backward Euler is taken while it does
  double firstSeconds_ = 1e-5;   // that did as a first step after that
  double againSeconds_ = 1e-5;   // and as a first step for another reason
  double wantedSeconds_ = 1e-5;  // what the last error allows
};

}  // namespace ignavo::electric
