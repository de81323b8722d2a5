#pragma once
#include <string>
#include <vector>

#include "parts/circuit.h"
#include "text/message.h"

namespace ignavo {

// What holds a net at its level, pins of programs apart: the way of least resistance to a supply or
// to ground through wires, resistors and contacts that are closed.
struct Holding {
  enum class To : std::uint8_t { nothing, supply, ground } to = To::nothing;
  double ohms = 0;
  std::vector<std::string> parts;  // ids, on the way
  Message words;  // "R1 (10 kΩ) holds it low", "nothing holds it at a level", no full stop
};
// `state`: how buttons and switches stand, and pins.
Holding holdingOf(const Project& project, const Circuit& circuit, int net,
                  const CircuitState& state);

}  // namespace ignavo
