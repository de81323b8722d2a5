#pragma once
#include <optional>
#include <vector>

#include "check/finding.h"
#include "run/input.h"
#include "run/trace.h"

namespace ignavo {

// When a finding came true in a run: the first moment after `from`, up to `to`, at which pins and
// buttons stood as in its combination. Of one that holds in every combination the beginning of the
// run. Nothing: they never stood so, or its combination names what a run does not record (knobs).
// `events`: presses and releases of the run, by time. `from` -1: from the beginning on.
std::optional<Nanoseconds> firstShown(const Finding& finding, const Project& project,
                                      const Trace& trace, const std::vector<Event>& events,
                                      Nanoseconds from, Nanoseconds to);

}  // namespace ignavo
