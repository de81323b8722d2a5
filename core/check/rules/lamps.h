#pragma once
#include <cmath>

#include "check/rule.h"
#include "explain/reach.h"

// What the rules about lamps have in common.
namespace ignavo {

// An earlier finding says why this lamp is dark or dim.
bool lampExplained(const CheckContext& c, int part);
// A resistor that carries this current in that state, or nothing.
const Part* resistorWith(const CheckContext& c, int island, double amps, const CircuitState& state);

// The largest current through one of a part's lamps, in any combination.
const Peak& lampPeak(const PartSweep& s, std::size_t lamp);
double lampAmps(const Project& project, const std::string& part, std::size_t lamp);

// The smallest resistor of a beginner's box that leaves a lamp at most 15 mA, tried out on the
// circuit itself: in place of the one in its path, or put into its path where there is none.
struct Limited {
  Remedy remedy;
  double ohms = 0, amps = 0;
};
std::optional<Limited> limited(const Project& project, const std::string& part, std::size_t lamp,
                               const Part* resistor, const std::function<bool()>& cancelled);

// A wire in place of a resistor that lamps share, and one of as many ohms for each of them;
// nothing when there is no room.
std::optional<Remedy> resistorEach(const CheckContext& c, int resistor,
                                   const std::vector<int>& lamps);

}  // namespace ignavo
