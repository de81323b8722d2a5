#pragma once
#include "program/steps.h"

// One function per step kind, each in a file of its own; steps.cpp lists them.
namespace ignavo {

const StepKind& setStep();
const StepKind& flipStep();
const StepKind& levelStep();
const StepKind& waitStep();
const StepKind& repeatStep();
const StepKind& loopStep();
const StepKind& ifStep();
const StepKind& whileStep();
const StepKind& waitUntilStep();
const StepKind& leaveStep();
const StepKind& endStep();
const StepKind& remarkStep();
const StepKind& letStep();
const StepKind& addStep();
const StepKind& putStep();
const StepKind& toneStep();
const StepKind& silenceStep();
const StepKind& servoStep();
const StepKind& callStep();
const StepKind& postStep();
const StepKind& logStep();

}  // namespace ignavo
