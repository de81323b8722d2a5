#pragma once
#include <vector>

#include "check/sweep.h"

namespace ignavo {

// The largest sums that a board must carry in any lasting combination.
struct BoardTotal {
  double chipAmps = 0;     // out of its pins together, or into them
  double supplyAmps = 0;   // out of 5 V, pins included
  double supply3Amps = 0;  // out of 3.3 V
};

// Sums over islands. Islands that share a group of pins are summed way by way,
// so that no combination is counted that the program cannot produce.
BoardTotal totalOf(Circuit& circuit, const Sweep& sweep, int board);

}  // namespace ignavo
