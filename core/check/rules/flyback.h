#pragma once
#include <optional>
#include <vector>

#include "check/rule.h"

// What the two rules about the diode across a motor have in common.
namespace ignavo {

struct SwitchedMotor {
  int motor = 0;
  int transistor = 0;
  int switchedNet = 0;      // the motor's side at the transistor
  int otherNet = 0;         // its other side
  double breakVolts = 0;    // at which the transistor breaks through
  std::vector<int> diodes;  // parts across the motor, either way round
};
// The highest voltage across the transistor when it switches the running motor off: what
// the solver finds on the way through time.
// Nothing where no combination runs the motor, or none stops it.
std::optional<double> peakWhenSwitchedOff(const CheckContext& c, const SwitchedMotor& s);
// Motors with a transistor at one of their legs.
std::vector<SwitchedMotor> switchedMotors(const CheckContext& c);

}  // namespace ignavo
