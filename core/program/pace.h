#pragma once
#include <optional>
#include <string>
#include <vector>

#include "program/compiled.h"

// How fast a program changes its pins. Waits that are not plain numbers are
// taken as it suits the question, so that nothing is claimed that is not so.
namespace ignavo {

constexpr double dimPeriodSeconds = 256 * 4e-6;  // of a dimmed pin

// The shortest time in which a pin can go high, low and high again; infinity
// when it never does. Unknown waits take no time.
double shortestPeriodSeconds(const CompiledProgram& program, const std::string& pin);

// Steps after which the level that they set is replaced by the other one on
// every path within `seconds`, also round the loop. Unknown waits last long;
// pins that several lanes set are left out. So are levels that are set under a
// condition in place of a usual one and then stand for most of the time: those are seen.
struct BriefLevel {
  std::string step;  // id of the step that sets it
  std::string pin;
  std::optional<bool> high;  // nothing: it was flipped
  double seconds = 0;        // the longest it can stand
};
std::vector<BriefLevel> briefLevels(const CompiledProgram& program, double seconds);

}  // namespace ignavo
