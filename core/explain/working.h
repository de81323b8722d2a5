#pragma once
#include <string>
#include <vector>

#include "explain/output.h"
#include "explain/reach.h"

// What would have to be otherwise for a part to work. The circuit is solved with pins, buttons and
// knobs changed, fewest first, until a lamp lights, a sounder gets its volts, a motor turns.
namespace ignavo {

// One thing that stands otherwise than it does now.
struct Change {
  enum class What : std::uint8_t { pin, contact, knob } what = What::pin;
  int index = -1;   // in Circuit::pins(), or in Project::parts
  bool on = false;  // high, pressed (thrown over)
  Turned turned = Turned::asSet;
};

struct Working {
  bool found = false;
  CircuitState state;           // in which it works; where none is found, the one to begin with
  std::vector<Change> changes;  // against the one to begin with, what matters most first
  double amps = 0;              // of a lamp the brightest one in it; of others through it
};

// Does a part do what it is for in that reading of it? Of an arm: it has its supply, and a level on
// its signal leg. A part that shows nothing never does.
bool works(Circuit& circuit, const Output& output, const CircuitState& state,
           double* amps = nullptr);

// Pins, as Circuit::pins(), by how they may be changed.
struct PinWays {
  std::vector<int> uncertain;  // dimmed, sounding or blinking: either level is as good as the other
  std::vector<int> driven;     // that a program writes: most likely meant, and tried first
  std::vector<int> kept;       // left as they are: inputs
};
// From a state on. Some thousand combinations are tried at most.
Working nearestWorking(Circuit& circuit, const Output& output, const CircuitState& from,
                       const PinWays& pins);

}  // namespace ignavo
