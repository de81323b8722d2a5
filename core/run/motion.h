#pragma once
#include "parts/circuit.h"
#include "run/trace.h"

namespace ignavo {

// A buzzer sounds so high, from so many volts on; then so much flows through it: its diode and
// 330 ohms (parts/buzzer.cpp).
inline constexpr double buzzerHertz = 2300, buzzerVolts = 2.5, buzzerAmps = 0.0055;

// What a part does that can be heard or seen to move.
struct Motion {
  double hertz = 0;                 // of a sounder; 0: silent
  double revolutionsPerMinute = 0;  // of a motor, signed
  double degrees = -1;              // of an arm; -1: no pulse has asked for any yet
};

// As far back as anything of a moment is told from what was recorded: motion, light.
inline constexpr Nanoseconds longestLook = 100'000'000;

// All but an arm, which the kernel moves itself. From the settled reading and, where pulses count,
// from the traced signal of the part (-1: none) up to `now`.
Motion motionOf(const PartKind& kind, const PartReading& reading, const Trace& trace, int signal,
                Nanoseconds now);

}  // namespace ignavo
