#pragma once
#include <map>
#include <string>

#include "project/program_model.h"

namespace ignavo {

// A lane, or a step of one, that is copied for other parts.

// Asks and sets other pins: all of these at once, as one may take the name of another.
void renamePins(Lane& lane, const std::map<std::string, std::string>& to);
void renamePins(Step& step, const std::map<std::string, std::string>& to);
// Without the ids of the lane and its steps, to be compared with others.
Lane withoutIds(Lane lane);

}  // namespace ignavo
