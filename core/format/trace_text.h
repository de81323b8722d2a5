#pragma once
#include <string>

#include "run/trace.h"

namespace ignavo {

// What a run recorded, as other programs read it: a value change dump (IEEE 1364), pins as wires
// and currents (amps) or volts as reals, in nanoseconds; or a table, a row for each moment at which
// anything changed, in seconds.
std::string vcdText(const Trace& trace);
std::string csvText(const Trace& trace);

}  // namespace ignavo
