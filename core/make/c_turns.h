#pragma once
#include "make/c_lines.h"
#include "make/c_pins.h"
#include "program/turn_work.h"

namespace ignavo {

// What a program in turns is built on: the clock, the turns, and how a lane goes on.
void writeClock(CLines& out, const Chip& chip, bool counted);
// What lanes do beside going on where they stood.
struct CLanes {
  bool any = false;
  bool runOwn = false;     // own steps
  bool throwDice = false;  // random numbers in those
  bool talk = false;       // over the serial line
  int sounding = 0;        // pins with tones or pulses
};
void writeTurns(CLines& out, const Chip::Timer* waker, const CLanes& lanes, const TurnWork& work);
// The function that starts a lane, where a lane is started by something.
void writeStart(CLines& out, const TurnWork& work);
// What tells when a lane that the clock starts is due.
void writeEvery(CLines& out);

}  // namespace ignavo
