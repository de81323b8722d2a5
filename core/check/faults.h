#pragma once
#include <vector>

#include "check/finding.h"
#include "explain/fault.h"

namespace ignavo {

// What was found, as those need it who explain a run (explain/why.h); in the same order.
std::vector<Fault> faultsOf(const std::vector<Finding>& findings);
// What is amiss with the circuit whatever the programs do: what is found where there are none.
// Takes as long as a check.
std::vector<Fault> faultsWithoutPrograms(const Project& project);

}  // namespace ignavo
