#pragma once
#include <vector>

#include "run/snapshot.h"

namespace ignavo {

// A moment of a run, and what was before it: how everything stood then, its trace and what
// happened (both may go on further).
struct RunMoment {
  const Snapshot& now;
  const Trace& trace;
  const std::vector<Event>& events;
};

}  // namespace ignavo
