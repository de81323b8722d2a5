#pragma once
#include <string>

#include "bench/nets.h"
#include "program/steps.h"

namespace ignavo {

// What a part of the bench suggests to do with it in the program of a board, by the pin that it
// hangs on: a lamp is lit, a button is asked, a sensor compared with half, a motor gets a level, an
// arm an angle, a sounder a tone.
struct Suggestion {
  Steps steps;
  std::optional<Trigger> lane;  // besides, of a button: each time it is pressed
  Message problem;              // where it hangs on no pin of that board
};
Suggestion suggestionFor(const Project& project, const Nets& nets, const std::string& board,
                         const std::string& part);

}  // namespace ignavo
