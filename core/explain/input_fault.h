#pragma once
#include <string>

#include "explain/fault.h"
#include "explain/moment.h"

// What is amiss with the circuit around a pin that a program reads.
namespace ignavo {

// The first of what is known; null: nothing is.
const Fault* faultAround(const RunMoment& moment, const std::string& board, const std::string& pin,
                         const std::vector<Fault>& faults);

// Is it the reason why the pin reads as it does? With its mend it would read otherwise, as pins and
// buttons stand now, or stood while something was pressed before; where no mend is known, if the
// pin has no fixed level, or does not change with what was pressed. `measured`: for how much it is
// asked, not whether.
bool keepsFromLevel(const RunMoment& moment, const std::string& board, const std::string& pin,
                    const Fault& fault, bool measured);

}  // namespace ignavo
