#pragma once
#include <string>
#include <vector>

#include "bench/nets.h"

// The parts that a pin of a board reaches, and at which level of the pin each of them is on or held
// down. Read off the wiring alone: what a program's words mean needs no circuit to be solved.
namespace ignavo {

struct HangingPart {
  enum class Is { lamp, button, sensor, sounder, buzzer, motor, arm };
  int part = 0;  // index in Project::parts
  Is is = Is::lamp;
  bool whenLow = false;  // lit, running or held down where the pin is low
};

// In the order in which they are met, walking away from the pin through resistors, and through the
// transistors that it switches; supplies and other pins end the walk. Nothing where there is no
// such pin.
std::vector<HangingPart> hangingOn(const Project& project, const Nets& nets,
                                   const std::string& board, const std::string& pin);

}  // namespace ignavo
