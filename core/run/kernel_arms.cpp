#include <algorithm>
#include <cmath>

#include "project/indexing.h"
#include "run/board_run.h"

// Arms that go to the angle that pulses ask for, and draw more while they turn.
namespace ignavo {

namespace {

constexpr double secondsPerDegree = 0.1 / 60;
constexpr double leastTurnDegrees = 1;  // less it does not feel
constexpr double leastVolts = 3;        // with less it has no force
constexpr double highVolts = 2, lowVolts = 1;
constexpr double shortestMilliseconds = 0.3, longestMilliseconds = 3;  // of a pulse
}  // namespace

double Kernel::Arm::degreesAt(Nanoseconds now) const {
  if (ends == never || now >= ends) return to;
  return from + (to - from) * static_cast<double>(now - began) / static_cast<double>(ends - began);
}

// The volts at its leads from now on. At the end of a pulse it may set out: 1 ms is 0°,
// 2 ms is 180°.
void Kernel::watchArm(int part, double signalVolts, double supplyVolts) {
  const auto found =
      std::find_if(arms_.begin(), arms_.end(), [&](const Arm& arm) { return arm.part == part; });
  if (found == arms_.end()) return;
  Arm& arm = *found;
  if (arm.ends != never && supplyVolts < leastVolts) {  // it stays where it is
    arm.from = arm.to = arm.degreesAt(now_);
    arm.ends = arm.due = now_;
  }
  if (!arm.high && signalVolts > highVolts) {
    arm.high = true;
    arm.risenAt = now_;
    return;
  }
  if (!arm.high || signalVolts > lowVolts) return;
  arm.high = false;
  const double milliseconds = static_cast<double>(now_ - arm.risenAt) * 1e-6;
  if (milliseconds < shortestMilliseconds || milliseconds > longestMilliseconds ||
      supplyVolts < leastVolts)
    return;
  const double wanted = std::clamp((milliseconds - 1) * 180, 0.0, 180.0);
  arm.asked = true;
  if (std::abs(wanted - arm.to) < leastTurnDegrees) return;
  arm.from = arm.degreesAt(now_);
  arm.to = wanted;
  arm.began = now_;
  arm.ends = now_ + std::max<Nanoseconds>(
                        1, std::llround(std::abs(arm.to - arm.from) * secondsPerDegree * 1e9));
  arm.due = now_;  // what it draws changes at once
}

// Arms that set out or arrive now. False when there are none.
bool Kernel::moveArms() {
  for (Arm& arm : arms_) {
    if (arm.due > now_) continue;
    const bool turning = arm.ends > now_;
    arm.due = turning ? arm.ends : never;
    if (!turning) arm.ends = never;
    const int part = arm.part;
    if (!at(state_.broken, part)) moveContact(part, turning);
    return true;
  }
  return false;
}

}  // namespace ignavo
