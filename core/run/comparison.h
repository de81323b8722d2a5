#pragma once
#include <cstdint>
#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "run/record.h"
#include "text/message.h"

namespace ignavo {

// How far apart the edges of steps and of the firmware that was made of them may be.
//
// In turns both keep the same turns: 100 µs, which never grow. A program that runs freely takes its
// time for what it works out, which is known to a quarter: 20 µs and 25 % of the time since its
// last wait, counted anew behind each wait.
struct Tolerance {
  static constexpr Nanoseconds inTurns = 100'000;
  static constexpr Nanoseconds plain = 20'000;
  static constexpr double plainShare = 0.25;
  // Of a timer that dims: a level takes effect when one begins.
  static constexpr Nanoseconds period = 1'024'000;
  // What was said comes over the line: a full buffer and the line itself.
  static constexpr Nanoseconds line = 60'000'000;
};

struct Comparison {
  std::int64_t edges = 0;                  // of pins that the programs set, in the run by steps
  std::int64_t lines = 0;                  // that they said
  Nanoseconds largest = 0, largestAt = 0;  // difference of two edges that belong together
  struct Difference {
    Nanoseconds at = 0;
    std::string board, pin;  // ids; no pin: something said
    // What was there: an edge, a line; empty: nothing.
    struct Side {
      Nanoseconds at = -1;
      bool high = false;
      std::string text;
    };
    Side steps, firmware;
  };
  std::optional<Difference> first;
  bool same() const { return !first; }
  // The firmware looks at its pins a moment behind the beginning of a turn. What comes in between
  // it sees a turn earlier than the steps: so many inputs came in just that moment, and the steps
  // that were compared had them a little earlier.
  int races = 0;
};

// Two runs of one project with the same inputs, up to the same moment: by its steps, with waits
// traced (RunSetup), and with its boards running their own code. Of very many edges of a pin the
// first 200,000 are compared, where a trace has forgotten its beginning from where both begin.
Comparison compared(const RunRecord& steps, const RunRecord& firmware);

// A run by the boards' own code, compared with what the steps make of the same inputs.
struct ComparedRun {
  Comparison comparison;
  Trace steps;  // of the run by steps
};
// Runs those steps. What was edited meanwhile counts for the circuit; the programs are those of
// power-on, as the boards hold them. Nothing when `cancelled` said so, asked now and then.
std::optional<ComparedRun> comparedWithSteps(const RunRecord& firmware,
                                             const std::function<bool()>& cancelled = {});

// Runs both, with the same inputs, and compares them. `code`: of all boards with a program.
Comparison comparedRuns(std::shared_ptr<const Project> project, const ChipPrograms& code,
                        const std::vector<Input>& inputs, Nanoseconds until);

// What is said of a side of a difference.
Message sentence(const Comparison::Difference::Side& side);
// What a comparison came to: "37 edges, all the same; the largest difference is 11 µs at 4.2 s", or
// the first moment at which they differ. `where`: what the board's pin of that is called.
Message verdict(const Comparison& comparison, const std::string& where);

}  // namespace ignavo
