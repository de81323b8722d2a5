#pragma once
#include <string>
#include <vector>

#include "parts/circuit.h"
#include "text/message.h"

namespace ignavo {

// What holds a net at its level, pins of programs apart: the ways of least resistance to a supply
// and to ground through wires, resistors and contacts that are closed; both, where neither is much
// nearer.
struct Holding {
  enum class To : std::uint8_t { nothing, supply, ground, both } to = To::nothing;
  double ohms = 0;                 // to the nearer side
  std::vector<std::string> parts;  // ids, on the way
  // "R1 joins it to ground", "nothing holds it at a level", no full stop; where something holds it,
  // it can open a sentence.
  Message words;
};
// `state`: how buttons and switches stand, and pins. `name`: of the net or its pin, as it is told.
Holding holdingOf(const Project& project, const Circuit& circuit, int net,
                  const CircuitState& state, const Message& name = "it");

}  // namespace ignavo
