#pragma once
#include <vector>

#include "run/record.h"

// What was done by hand in a run, to be done again: on the same project, or on a changed one, so
// that the past of that can be looked at.
namespace ignavo {

// By time: presses, keys, pins that were held, knobs and switches, power and resets. Of edits only
// what was turned or thrown; all else of them is not done by hand but built.
std::vector<Input> doneByHand(const RunRecord& record);

// A changed project as it begins: knobs and switches stand as they stood at power-on.
Project asAtPowerOn(Project changed, const Project& first);

// Do they differ in nothing but what is turned or thrown by hand, if in anything?
bool differsByHandOnly(const Project& a, const Project& b);

}  // namespace ignavo
