#pragma once
#include "parts/kinds.h"

// One function per kind, each in a file of its own; catalogue.cpp lists them.
namespace ignavo {

const PartKind& ledKind();
const PartKind& rgbLedKind();
const PartKind& numberDisplayKind();
const PartKind& resistorKind();
const PartKind& buttonKind();
const PartKind& switchKind();
const PartKind& potKind();
const PartKind& lightSensorKind();
const PartKind& tempSensorKind();
const PartKind& piezoKind();
const PartKind& buzzerKind();
const PartKind& motorKind();
const PartKind& servoKind();
const PartKind& npnKind();
const PartKind& nmosKind();
const PartKind& diodeKind();
const PartKind& capacitorKind();
const PartKind& batteryKind();
const PartKind& meterKind();

const BoardKind& ternKind();

}  // namespace ignavo
