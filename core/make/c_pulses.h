#pragma once
#include <string>
#include <vector>

#include "make/c_lines.h"
#include "make/chips.h"
#include "program/turn_work.h"

namespace ignavo {

// A pin with tones or servo pulses, as the C knows it.
struct CPulsedPin {
  std::string port, bit;  // "PORTD", "5"
};

// The interrupt that makes their edges, and what begins, changes and ends them. `sounds`, `turns`:
// which of both are called for. Wants the clock (c_turns.h) before it.
void writePulses(CLines& out, const Chip::Timer& clock, const Chip::Timer& timer,
                 const std::vector<CPulsedPin>& pins, bool sounds, bool turns,
                 const TurnWork& work);

}  // namespace ignavo
