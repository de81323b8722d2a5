#pragma once
#include <string>
#include <vector>

namespace ignavo {

// What the generator has to know of a chip beside its pins: a row in chips.cpp.
struct Chip {
  // A timer that counts from 0 to 255 in fast PWM, with the outputs that dim pins.
  struct Timer {
    char number = '0';
    bool wide = false;      // counts to 65,535 where it dims nothing
    std::string prescaler;  // for a tick every 4 microseconds
    std::string dims;       // bits of the register A, so that it counts to 255 and dims
    std::string dimsB;      // and of the register B
    std::string wakes;      // its compare interrupt
    std::string edges;      // and the second one
  };

  std::string name;  // for the compiler
  long hertz = 0;
  std::vector<Timer> timers;  // the first is the clock
  std::string holdTimers;     // what stops their prescalers, so that they start together
  int tickMicroseconds = 4;
  bool hasLine = false;              // a serial unit
  std::string lineEmpty, lineHears;  // its interrupts
};

const Chip* chip(const std::string& name);

}  // namespace ignavo
