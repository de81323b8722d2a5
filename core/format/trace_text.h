#pragma once
#include <functional>
#include <string>
#include <string_view>

#include "run/trace.h"

namespace ignavo {

// What a run recorded, as other programs read it: a value change dump (IEEE 1364), pins as wires
// and currents (amps) or volts as reals, in nanoseconds; or a table, a row for each moment at which
// anything changed, in seconds. It may be long: it is handed over in pieces, each with the share of
// the trace, 0 … 1, that it comes to; where `take` returns false it ends there, and returns false.
using TakeText = std::function<bool(std::string_view piece, double share)>;
bool writeVcd(const Trace& trace, const TakeText& take);
bool writeCsv(const Trace& trace, const TakeText& take);
// In one piece, of what is short.
std::string vcdText(const Trace& trace);
std::string csvText(const Trace& trace);

}  // namespace ignavo
