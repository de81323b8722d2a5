#pragma once
#include <cmath>

#include "check/rule.h"

// What the rules about lamps have in common.
namespace ignavo {

constexpr double darkAmps = 1e-6;  // below this a lamp is dark, whatever one does

// An earlier finding says why this lamp is dark or dim.
bool lampExplained(const CheckContext& c, int part);
// A resistor that carries this current in that state, or nothing.
const Part* resistorWith(const CheckContext& c, int island, double amps, const CircuitState& state);

}  // namespace ignavo
