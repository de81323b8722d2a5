#pragma once
#include "run/trace.h"

namespace ignavo {

// What a lamp did over a whole trace, from the current through it. Light is
// that of the mean current over the last 20 ms.
struct LampStatistics {
  double lightMean = 0;
  double lightAtEnd = 0;
  double litSeconds = 0;
  std::int64_t flashes = 0;  // times it became lit
  double peakAmps = 0;
};
constexpr Nanoseconds lightWindow = 20'000'000;
// What a signal's values are as the current of a lamp: those of a part are that; of a pin's level
// it is what flows through the board's own lamp on it, which is high as bright as a lamp can be.
double ampsPerUnit(const Trace& trace, int signal);
double lightAt(const Trace& trace, int signal, Nanoseconds at);
LampStatistics lampStatistics(const Trace& trace, int signal);

}  // namespace ignavo
