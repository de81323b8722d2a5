#pragma once
#include <string>

namespace ignavo {

// docs/checks.md: what the check does and every rule with its meaning, why it
// matters and how it is mended, as the rules themselves say it.
std::string checksManual();

}  // namespace ignavo
