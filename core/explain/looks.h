#pragma once
#include <string>

#include "explain/moment.h"
#include "explain/output.h"
#include "run/lamp_looks.h"

namespace ignavo {

// What a part that shows something does at a moment, as people see or hear it.
struct OutputLook {
  // Of a lamp: "dark", "dim", "lit", "blinking", "too-fast"; of a sounder "silent", "sounding"; of
  // a motor and an arm "still", "turning".
  std::string looks;
  bool works = false;      // it is none of dark, silent, still
  Nanoseconds since = -1;  // of what is dark just now: when it was lit last; -1: it never was
  LampLook lamp;           // of a lamp, the brightest one in it
  int signal = -1;         // of its trace; -1: there is none
  // Of a lamp that looks dark: it is lit again and again, though never so long that it could be
  // seen; the longest flash of the last second.
  Nanoseconds flash = 0;
  double peakAmps = 0;  // of a lamp, within the last second
  double hertz = 0;     // of what sounds
};
// Of a motor: fast enough to be seen.
bool isTurning(const Motion& motion);
OutputLook outputLook(const RunMoment& moment, const Output& output);
// "Red lamp is dark since 2.31 s", no full stop.
Message lookInWords(const OutputLook& look, const std::string& name);

}  // namespace ignavo
