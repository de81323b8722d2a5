#pragma once
#include <vector>

#include "parts/circuit.h"

// Where current could get to, whatever the levels: what hangs together over anything that lets it
// pass. Follows a path to where it breaks.
namespace ignavo {

// A part that carries less is dark, silent or still, whatever one does; a lamp that carries less
// than the second is hardly to be seen by daylight.
constexpr double darkAmps = 1e-6;
constexpr double dimAmps = 1e-3;
// A motor that turns slower, in radians per second, stands still for all that can be seen: half a
// turn takes a second. One that is held fast by its load creeps in the model (its friction is
// smooth around standstill).
constexpr double leastRadians = 3;

// Legs of a part that current can get to from one of them: not through a gate.
std::vector<int> legsBehind(const PartKind& kind, const Part& part, int leg);

// Nets that hang together with one, itself first, through parts that let a steady current pass. The
// walk ends at nets of supply and ground, which it takes in, and at one part (-1: at none).
std::vector<int> netsBehind(const Project& project, const Circuit& circuit, int net,
                            int withoutPart = -1);

// What is at the end of a path.
struct PathEnds {
  bool plus = false, minus = false;  // something that gives, or takes, always: supply, battery
  std::vector<int> pins;             // of boards that a program can name, as Circuit::pins()
};
PathEnds endsOf(const Circuit& circuit, const std::vector<int>& nets);

// Is something plugged into a pin's net besides the pin?
bool isWired(const Nets& nets, const Socket& pin);

// A leg behind which nothing could give or take current: its path ends there.
struct PathBreak {
  int part = -1, leg = -1;
  int net = -1;  // the last one on the way, where a leg or wire is missing
  bool found() const { return part >= 0; }
};
// Of a part between its read legs, or of one of several lamps inside it; nothing where both sides
// lead somewhere.
PathBreak breakOf(const Project& project, const Circuit& circuit, int part, int lamp = -1);

}  // namespace ignavo
