#pragma once
#include <string>

#include "run/trace.h"
#include "text/message.h"

// Guess first: what a lamp was expected to do before the power came on, beside what it did.
namespace ignavo {

struct GuessOutcome {
  bool known = false;  // the run has come far enough to tell
  std::string was;     // "dark", "lit" or "blinking": over the time that counts
  bool right = false;
  Nanoseconds differs = -1;  // the first moment at which it was otherwise; -1: there is none
  Message words;             // "Guessed lit; it blinked, first dark at 0.50 s", no full stop
};
// The first seconds count; less, where the run has not come so far: then only what has been seen
// already. `guessed`: "dark", "lit", "blinking", or "unsure". `signal`: of the lamp's current.
// `name`: the lamp's.
constexpr Nanoseconds guessCounts = 5 * second;
GuessOutcome guessOutcome(const std::string& guessed, const std::string& name, const Trace& trace,
                          int signal);

}  // namespace ignavo
