#pragma once
#include <string>

#include "program/facts.h"

// How the steps of a program switch one pin. Worked out values, flips and dimming may give
// either level.
namespace ignavo {

struct Switching {
  bool mayGoHigh = false, mayGoLow = false;
  bool written = false;
  const Step* highUnderTest = nullptr;  // the first step that sets it high under a condition
  const Step* lowUnderTest = nullptr;   // … low
  bool highAnyway = false;              // one that begins with the power does so without any
  const Step* low = nullptr;            // the first that sets it low at all
  const Step* test = nullptr;           // the condition of the former two, whichever comes first,
  Runs branch = Runs::again;            // and when the branch of it runs
};
Switching switchingOf(const Program& program, const std::string& pin);

}  // namespace ignavo
