#pragma once
#include <optional>

#include "run/trace.h"

namespace ignavo {

// What a signal did between two moments, as one measures between two marks.
struct Stretch {
  Nanoseconds length = 0;
  std::int64_t edges = 0;         // from < t ≤ to
  std::optional<double> seconds;  // of a period: from rise to rise, the mean of all in it
  double duty = 0;                // share of the time above zero, 0 … 1
  std::optional<double> hertz() const {
    return seconds && *seconds > 0 ? std::optional(1 / *seconds) : std::nullopt;
  }
};
// `from` ≤ `to`, both within the trace; a signal of levels.
Stretch stretchOf(const Trace& trace, int signal, Nanoseconds from, Nanoseconds to);

// The next edge after a moment, or the last one before it, of one signal or (-1) of any pin; -1:
// there is none.
Nanoseconds edgeAfter(const Trace& trace, int signal, Nanoseconds moment);
Nanoseconds edgeBefore(const Trace& trace, int signal, Nanoseconds moment);

}  // namespace ignavo
