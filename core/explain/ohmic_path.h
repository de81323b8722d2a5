#pragma once
#include <limits>
#include <vector>

#include "parts/circuit.h"

namespace ignavo {

// A way through wires, resistors and contacts alone.
struct OhmicPath {
  double ohms = std::numeric_limits<double>::infinity();
  std::vector<int> parts;  // in order
  std::vector<int> edges;  // the same, as indices of Circuit::edges
  bool found() const { return ohms < std::numeric_limits<double>::infinity(); }
};

// The path of least resistance between two nets below `most` ohms, pressing
// buttons as needed (Dijkstra's algorithm over nets). With a state only
// contacts that are closed in it count. Parts in `without` are left out.
OhmicPath leastPath(const Circuit& circuit, int from, int to, double most,
                    const std::vector<int>& without = {}, const CircuitState* state = nullptr);

// Nets that hang together through wires, resistors and contacts, whatever their
// ohms, though not through what lamps, sounders and motors have inside; the walk
// ends at (and takes in) nets of supply and ground.
std::vector<int> ohmicReach(const Circuit& circuit, int from);

}  // namespace ignavo
