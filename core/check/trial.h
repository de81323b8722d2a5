#pragma once
#include <string>

#include "project/project.h"

namespace ignavo {

// What a remedy would do, found by solving it: the most current through a part in any of its
// combinations, from its first read leg to its second, in amps; 0 when there is no such part.
double bestAmps(const Project& project, const std::string& part);
// The same in either direction.
double mostAmpsEitherWay(const Project& project, const std::string& part);

// The most heat that it makes then, in watts.
double mostWatts(const Project& project, const std::string& part);
// The most volts across it then, either way, and the most amps of a pin.
double mostVolts(const Project& project, const std::string& part);
double mostPinAmps(const Project& project, const std::string& board, const std::string& pin);

}  // namespace ignavo
