#pragma once
#include <string>
#include <vector>

#include "parts/circuit.h"

namespace ignavo {

// A station on the way of the current from a source to where it goes back.
struct PathPoint {
  std::string part;  // id, or empty for a pin, supply or ground
  std::string name;  // "D4", "5 V", "Red lamp"
  int net = -1;      // of a pin, supply or ground
};

// The way that most of a part's current takes in a solved state: against the
// current back to a pin, a supply or a battery, and with it on to ground.
// Empty when hardly any flows.
std::vector<PathPoint> currentPath(const Project& project, Circuit& circuit, int part,
                                   const CircuitState& state);

}  // namespace ignavo
