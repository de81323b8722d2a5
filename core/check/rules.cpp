#include "check/rules/list.h"

namespace ignavo {

// Causes come before their consequences, so that these can stay silent.
const std::vector<const Rule*>& rules() {
  static const std::vector<const Rule*> all = {&shortCircuitRule(),
                                               &railUnfedRule(),
                                               &buttonAlongTrenchRule(),
                                               &buttonBridgedRule(),
                                               &overVoltageRule(),
                                               &noCommonGroundRule(),
                                               &pinFightRule(),
                                               &partBypassedRule(),
                                               &legLooseRule(),
                                               &motorOnPinRule(),
                                               &diodeBackwardsRule(),
                                               &noFlybackRule(),
                                               &ledReversedRule(),
                                               &ledOvercurrentRule(),
                                               &resistorHotRule(),
                                               &capacitorReversedRule(),
                                               &capacitorVoltageRule(),
                                               &partOverloadRule(),
                                               &pinOverloadRule(),
                                               &boardOverloadRule(),
                                               &serialTakenRule(),
                                               &toneUnheardRule(),
                                               &pinUnwiredRule(),
                                               &pinCannotRule(),
                                               &pinDirectionRule(),
                                               &neverOnRule(),
                                               &inputFloatingRule(),
                                               &inputStuckRule(),
                                               &activeLowRule(),
                                               &pinUnusedRule(),
                                               &lampsInParallelRule(),
                                               &sharedResistorRule(),
                                               &ledDimRule(),
                                               &ledDarkRule(),
                                               &piezoSteadyRule(),
                                               &tooFastRule(),
                                               &twoWritersRule(),
                                               &stuckLoopRule(),
                                               &neverOffRule(),
                                               &thresholdGapRule(),
                                               &flipsWhileHeldRule(),
                                               &bounceRule(),
                                               &pressMissedRule(),
                                               &variableUnusedRule(),
                                               &listPositionRule(),
                                               &testNeverRule(),
                                               &servoRangeRule(),
                                               &textCutRule(),
                                               &tooBigRule(),
                                               &oddOneOutRule(),
                                               &serialTakenRule(),
                                               &serialLoadedRule(),
                                               &wireLooseRule()};
  return all;
}

const Rule* ruleOf(const std::string& id) {
  for (const Rule* rule : rules())
    if (rule->id == id) return rule;
  return nullptr;
}

std::vector<std::string> ruleIds() {
  std::vector<std::string> ids;
  for (const Rule* r : rules()) ids.push_back(r->id);
  return ids;
}

}  // namespace ignavo
