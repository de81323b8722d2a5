#pragma once
#include <vector>

#include "check/sweep.h"

namespace ignavo {

// Sums over islands. Islands that share a group of pins are summed way by way,
// so that no combination is counted that the program cannot produce.
BoardTotal totalOf(Circuit& circuit, const Sweep& sweep, int board);

}  // namespace ignavo
