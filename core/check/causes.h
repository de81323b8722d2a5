#pragma once
#include <functional>
#include <optional>

#include "check/rule.h"

namespace ignavo {

// One fault gives one finding. Findings that go away together when one mend is made have one
// cause: the one whose mend it is stays, and is told with that mend. What else the mend would
// bring up speaks against it.
//
// `judge` gives what is found in a project, consequences included, and nothing where it cannot
// be solved; it is asked two dozen times at most, less often where it takes long.
using Judge = std::function<std::optional<std::vector<Finding>>(const Project&)>;
void keepCauses(const CheckContext& context, const Judge& judge);

}  // namespace ignavo
