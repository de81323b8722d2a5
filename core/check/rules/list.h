#pragma once
#include "check/rule.h"

namespace ignavo {

const Rule& shortCircuitRule();
const Rule& railUnfedRule();
const Rule& buttonAlongTrenchRule();
const Rule& buttonBridgedRule();
const Rule& overVoltageRule();
const Rule& noCommonGroundRule();
const Rule& pinCannotRule();
const Rule& thresholdGapRule();
const Rule& bounceRule();
const Rule& pinFightRule();
const Rule& partBypassedRule();
const Rule& legLooseRule();
const Rule& motorOnPinRule();
const Rule& diodeBackwardsRule();
const Rule& noFlybackRule();
const Rule& ledReversedRule();
const Rule& ledOvercurrentRule();
const Rule& resistorHotRule();
const Rule& capacitorReversedRule();
const Rule& capacitorVoltageRule();
const Rule& partOverloadRule();
const Rule& pinOverloadRule();
const Rule& boardOverloadRule();
const Rule& pinUnwiredRule();
const Rule& pinDirectionRule();
const Rule& inputFloatingRule();
const Rule& inputStuckRule();
const Rule& activeLowRule();
const Rule& pinUnusedRule();
const Rule& lampsInParallelRule();
const Rule& sharedResistorRule();
const Rule& ledDimRule();
const Rule& ledDarkRule();
const Rule& piezoSteadyRule();
const Rule& tooFastRule();
const Rule& twoWritersRule();
const Rule& stuckLoopRule();
const Rule& flipsWhileHeldRule();
const Rule& pressMissedRule();
const Rule& neverOnRule();
const Rule& neverOffRule();
const Rule& variableUnusedRule();
const Rule& listPositionRule();
const Rule& testNeverRule();
const Rule& oddOneOutRule();
const Rule& serialLoadedRule();
const Rule& wireLooseRule();
const Rule& toneUnheardRule();
const Rule& servoRangeRule();
const Rule& textCutRule();
const Rule& serialTakenRule();
const Rule& tooBigRule();

}  // namespace ignavo
