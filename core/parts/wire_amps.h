#pragma once
#include <vector>

#include "parts/circuit.h"

namespace ignavo {

// Amps through each wire of Project::wires, from its `from` to its `to`. A net's metal
// shares its current as if every wire had the same resistance; where wires make no ring
// within a net there is but one way. `circuit` and `reading` must be of this project.
std::vector<double> wireAmps(const Project& project, const Circuit& circuit,
                             const CircuitReading& reading);

}  // namespace ignavo
