#pragma once
#include "parts/circuit.h"

// A circuit as it would be with a fault mended.
namespace ignavo {

// Pins and buttons in `to` as they stand in a state of `from`, by their names; what is new there
// rests, and inputs are pulled as `to` has it.
CircuitState carriedOver(const Project& from, const Circuit& circuit, const CircuitState& state,
                         const Project& to, const Circuit& toCircuit);

}  // namespace ignavo
