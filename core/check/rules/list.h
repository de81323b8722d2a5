#pragma once
#include "check/rule.h"

namespace ignavo {

const Rule& shortCircuitRule();
const Rule& partBypassedRule();
const Rule& legLooseRule();
const Rule& ledReversedRule();
const Rule& ledOvercurrentRule();
const Rule& pinOverloadRule();
const Rule& inputFloatingRule();
const Rule& pinUnwiredRule();
const Rule& pinUnusedRule();

}  // namespace ignavo
