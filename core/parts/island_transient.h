#pragma once
#include <map>
#include <string>
#include <vector>

#include "electric/transient.h"
#include "parts/circuit.h"

namespace ignavo {

// What a part remembers: the charge of its capacitors, the speed of its motors.
struct PartMemory {
  std::vector<double> capacitorVolts;
  std::vector<electric::MotorState> motors;
};

// An island with capacitors, motors or gates on its way through time. A value: a copy goes on from
// where it is, on its own. It goes in steps:
// each is worked out when it begins, and either finished or cut short by something that
// happens. An island that has settled stands still until then, and reads as solved.
class IslandTransient {
 public:
  // Begins empty: capacitors without charge, motors at rest. The circuit must outlive it.
  IslandTransient(Circuit& circuit, int island);

  // What the parts remember, by the part's index; and taking it over.
  std::map<int, PartMemory> memory() const;
  void recall(const std::map<int, PartMemory>& memory);

  // The circuit stands like this from so far into the step under way on. Where it stood so
  // already, that is advance().
  void change(const CircuitState& state, double seconds = 0);
  bool settled() const { return settled_; }
  bool solved() const { return solved_; }
  // Length of the step under way, in whole nanoseconds; none when settled.
  double stepSeconds() const { return stepSeconds_; }
  // Goes so far into the step, or to its end, and works out the next from there.
  void advance(double seconds);
  void finishStep() { advance(stepSeconds_); }

  // Readings at the begin and at the end of the step under way, and so many seconds into it; of
  // one pin, per Island::pins, alone.
  const IslandReading& here() const { return here_; }
  const IslandReading& there() const { return settled_ ? here_ : there_; }
  IslandReading reading(double seconds) const;
  PinReading pin(std::size_t index, double seconds) const;

  // Everything on which the further course depends; empty when settled.
  std::vector<double> signature() const;

 private:
  void reach(double seconds);
  void begin();
  void watchGates(const electric::StateVariables& before);
  electric::StateVariables settledVariables() const;
  void read(const electric::Solution& solution, IslandReading& out) const;

  Circuit& circuit_;
  int index_;
  Circuit::IslandWork& work_;
  electric::Transient transient_;
  std::string key_, wantedKey_;
  Circuit::Reached reached_;
  std::vector<std::uint8_t>
      dangling_;          // per capacitor of the network: one side is joined to nothing
  IslandReading target_;  // settled, as the circuit stands
  electric::StateVariables goal_;
  IslandReading before_, here_, there_;  // before the step that led here
  bool settled_ = true;  // until it is told how the circuit stands
  bool solved_ = true, begun_ = false;
  double stepSeconds_ = 0;
};

}  // namespace ignavo
