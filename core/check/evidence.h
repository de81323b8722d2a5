#pragma once
#include <optional>
#include <string>
#include <vector>

#include "check/finding.h"

namespace ignavo {

// One thing that shows a finding: a part with what it carries, a place with its
// voltage, or a step, in the combination in which the finding happens.
struct Evidence {
  Message words;     // "Red lamp: 91 mA, 2.7 V"
  std::string part;  // one of these three
  std::optional<Socket> socket;
  std::string step;
};

// The finding's parts, then its places, then its steps. Figures that cannot be
// solved are left out.
std::vector<Evidence> evidenceOf(const Project& project, const Finding& finding);

}  // namespace ignavo
