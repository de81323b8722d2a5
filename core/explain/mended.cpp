#include "explain/mended.h"

#include <map>

#include "project/indexing.h"

namespace ignavo {

CircuitState carriedOver(const Project& from, const Circuit& circuit, const CircuitState& state,
                         const Project& to, const Circuit& toCircuit) {
  CircuitState out = toCircuit.restState();
  for (std::size_t p = 0; p < toCircuit.pins().size(); ++p) {
    const CircuitPin& pin = toCircuit.pins()[p];
    const int was = circuit.pinIndex(pin.board, pin.name);
    if (was < 0) continue;
    // An input is pulled as it is over there.
    const PinDrive drive = at(state.pins, was);
    if (drive != PinDrive::input && drive != PinDrive::pullUp) out.pins[p] = drive;
  }
  std::map<std::string, std::size_t> places;
  for (std::size_t p = 0; p < from.parts->size(); ++p) places[(*from.parts)[p]->id] = p;
  for (std::size_t p = 0; p < to.parts->size(); ++p)
    if (const auto was = places.find((*to.parts)[p]->id); was != places.end())
      out.pressed[p] = state.pressed[was->second];
  return out;
}

}  // namespace ignavo
