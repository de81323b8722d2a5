#pragma once
#include <optional>
#include <string>
#include <vector>

#include "explain/fault.h"
#include "explain/looks.h"
#include "explain/moment.h"

// Why a program has a pin as it is at a moment of its run, and not otherwise: from who may set it,
// who has set it, and what keeps the others from their turn.
namespace ignavo {

struct LastSet {
  Nanoseconds at = 0;
  std::string step;   // id; empty: nobody knows (the chip's own code)
  std::string level;  // "high", "low", "30%", "tone", "servo"
};

struct PinReason {
  bool byHand = false;             // somebody holds it: the program cannot
  bool never = false;              // no step could ever set it so
  std::vector<std::string> steps;  // ids of steps and lanes, the main one first
  std::optional<LastSet> lastSet;
  // The circuit of an input is why: it reads other than it would with that mended.
  std::optional<Fault> circuit;
  Message words;  // "“set D4 low” set it low at 2.31 s; its lane waits", no full stop
};

// The step that set a pin last, up to the moment.
std::optional<LastSet> lastSetOf(const RunMoment& moment, const std::string& board,
                                 const std::string& pin);

// Why it is not at that level. `faults`: where the mend of one of them would set the pin so, it is
// the reason (a step that names another pin).
PinReason whyNot(const RunMoment& moment, const std::string& board, const std::string& pin,
                 bool high, const std::vector<Fault>& faults);

// What has a pin so that what hangs on it works: `look` is of that.
PinReason whatDrives(const RunMoment& moment, const std::string& board, const std::string& pin,
                     const OutputLook& look);

// What a pin does that a sounder hangs on which is heard only while its level changes.
PinReason whySteady(const RunMoment& moment, const std::string& board, const std::string& pin);

}  // namespace ignavo
