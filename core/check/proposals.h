#pragma once
#include <optional>
#include <string>
#include <vector>

#include "check/rule.h"

namespace ignavo {

// Something that may have been meant: the mend, and how it is told.
struct Proposal {
  Remedy remedy;
  Sentences words;              // follow the finding's reason
  std::optional<Socket> place;  // where it leads to
  // How near at hand it is; of mends that do as much the likelier one was meant.
  enum Likely { otherPole, twoRowsOff, itsPole, toWhatWaits, toItsPin, oneRowOff, anyway };
  Likely likely = anyway;
};

// What may have been meant where something was found, as its rule says what to look for; else
// the finding's own first remedy.
std::vector<Proposal> proposalsFor(const CheckContext& context, const Finding& finding);

}  // namespace ignavo
