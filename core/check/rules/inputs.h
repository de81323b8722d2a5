#pragma once
#include <vector>

#include "check/rule.h"

// What the rules about read pins have in common.
namespace ignavo {

// The levels that a pin takes over all combinations.
struct InputLevels {
  bool high = false, low = false, between = false, floats = false;
  double min = 0, max = 0;  // volts
  bool seen() const { return high || low || between; }
  // Low at first, in between it keeps what it was.
  bool changes() const { return high && (low || between); }
};
InputLevels levelsOf(Circuit& circuit, const Sweep& sweep, int pin);
// The same while one of the other outputs stands as given: a program can set it just for
// the moment in which it reads. One for each of them and each level.
std::vector<InputLevels> levelsWhileDriven(Circuit& circuit, const Sweep& sweep, int pin);

// Buttons, switches, knobs and sensors of an island.
std::vector<int> sourcesOn(const Circuit& circuit, int island);

// Does the pin read both levels in this project, and never float?
bool readsBothLevels(const Project& project, const CircuitPin& pin);

// Something that is said already makes one of them do nothing.
bool pressedWithoutEffect(const CheckContext& c, const std::vector<int>& parts);

}  // namespace ignavo
