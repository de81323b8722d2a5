#include "check/rules/list.h"

namespace ignavo {

// Causes come before their consequences, so that these can stay silent.
const std::vector<const Rule*>& rules() {
  static const std::vector<const Rule*> all = {
      &shortCircuitRule(), &partBypassedRule(),   &legLooseRule(),
      &ledReversedRule(),  &ledOvercurrentRule(), &pinOverloadRule(),
      &pinUnwiredRule(),   &inputFloatingRule(),  &pinUnusedRule()};
  return all;
}

std::vector<std::string> ruleIds() {
  std::vector<std::string> ids;
  for (const Rule* r : rules()) ids.push_back(r->id);
  return ids;
}

}  // namespace ignavo
