#pragma once
#include <vector>

#include "run/trace.h"
#include "text/message.h"

namespace ignavo {

// Where a run and the one before it part, pin by pin: the first edge of each that is not as it was.
struct TraceDifference {
  std::string board, pin;
  enum class What : std::uint8_t { later, earlier, more, fewer } what = What::later;
  std::int64_t edge = 1;  // which of its edges, from power-on on
  Nanoseconds at = 0;     // when the later run makes it; of one that it does not make, when it was
  Nanoseconds by = 0;     // how much later or earlier it is
  bool operator==(const TraceDifference&) const = default;
};

// In the order in which they come; pins that only one of both knows are left out. Looks no further
// than both go, and a microsecond is no difference.
std::vector<TraceDifference> traceDifferences(const Trace& before, const Trace& now);
// "D4’s third edge is 0.5 s later"
Message sentence(const TraceDifference& difference);

}  // namespace ignavo
