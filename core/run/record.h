#pragma once
#include <memory>
#include <string>
#include <vector>

#include "run/chip_program.h"
#include "run/input.h"
#include "run/processor.h"
#include "run/trace.h"

namespace ignavo {

// What a run came to so far, and what it was made of: enough to make it again, or another way. A
// value of its own, to be looked at while the run goes on.
struct RunRecord {
  std::shared_ptr<const Project> project;  // as it was at power-on
  RunSetup setup;
  std::vector<Input> inputs;  // applied until then, by time
  Nanoseconds now = 0;
  Trace trace;
  std::vector<SaidLine> said;
};

// The note of a board that is up at a moment: the last one until then, unless its time is over;
// null: there is none. `said`: by time.
const SaidLine* noteUp(const std::vector<SaidLine>& said, const std::string& board,
                       Nanoseconds moment);

}  // namespace ignavo
