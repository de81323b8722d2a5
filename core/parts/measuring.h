#pragma once
#include <optional>

#include "parts/circuit.h"

namespace ignavo {

// What a meter reads. Its probes touch any hole, pin or leg, taken or not.

// Volts from the red probe to the black one; nothing where one of them has no voltage.
std::optional<double> voltsBetween(const Nets& nets, const CircuitReading& reading,
                                   const Socket& red, const Socket& black);

// What the meter puts on its probes to measure ohms: too little for any junction, so that
// resistances are read and lamps are not.
constexpr double meterVolts = 0.2;
constexpr double meterMostOhms = 50e6;  // above it reads "no way through"
constexpr double meterBeepsOhms = 50;   // below it the continuity tester sounds
// Ohms between the probes with the power off: batteries and boards give nothing.
// `pressed` and `broken` as in the state. Nothing where there is no way through.
std::optional<double> ohmsBetween(const Project& project, const Circuit& circuit,
                                  const CircuitState& state, const Socket& red,
                                  const Socket& black);

// What a part that measures shows: "1.95 V", "12.3 mA", "220 Ω", "joined"; "–" where there is
// nothing to read. `powered`: something may give a voltage, so that ohms cannot be measured.
std::string displayOf(const Project& project, const Circuit& circuit, const CircuitState& state,
                      int part, const PartReading* reading, bool powered);

}  // namespace ignavo
