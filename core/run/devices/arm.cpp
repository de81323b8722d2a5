#include "run/devices/arm.h"

#include <algorithm>
#include <cmath>

#include "project/indexing.h"
#include "run/run.h"

// At the end of a pulse it may set out: 1 ms is 0°, 2 ms is 180°. It turns 60° in 0.1 s (the table
// of models).
namespace ignavo {

namespace {
constexpr double secondsPerDegree = 0.1 / 60;
constexpr double leastTurnDegrees = 1;  // less it does not feel
constexpr double lowVolts = 1;
constexpr double shortestMilliseconds = 0.3, longestMilliseconds = 3;  // of a pulse
}  // namespace

double Arm::degreesAt(Nanoseconds now) const {
  if (ends_ == never || now >= ends_) return to_;
  return from_ +
         (to_ - from_) * static_cast<double>(now - began_) / static_cast<double>(ends_ - began_);
}

void Arm::follow(double signalVolts, double supplyVolts, Nanoseconds now) {
  if (turning() && supplyVolts < leastVolts) {  // it stays where it is
    from_ = to_ = degreesAt(now);
    ends_ = due_ = now;
  }
  if (!high_ && signalVolts > highVolts) {
    high_ = true;
    risenAt_ = now;
    return;
  }
  if (!high_ || signalVolts > lowVolts) return;
  high_ = false;
  const double milliseconds = static_cast<double>(now - risenAt_) * 1e-6;
  if (milliseconds < shortestMilliseconds || milliseconds > longestMilliseconds ||
      supplyVolts < leastVolts)
    return;
  const double wanted = std::clamp((milliseconds - 1) * 180, 0.0, 180.0);
  asked_ = true;
  if (std::abs(wanted - to_) < leastTurnDegrees) return;
  from_ = degreesAt(now);
  to_ = wanted;
  began_ = now;
  ends_ =
      now + std::max<Nanoseconds>(1, std::llround(std::abs(to_ - from_) * secondsPerDegree * 1e9));
  due_ = now;  // what it draws changes at once
}

// It sets out or arrives.
Device::Done Arm::act(Run& run) {
  const bool sets = ends_ > run.now();
  due_ = sets ? ends_ : never;
  if (!sets) ends_ = never;
  if (!at(run.state.circuit.broken, part_)) run.moveContact(part_, sets);
  return {.event = true};
}

bool Arm::repeats(const Arm& then, Nanoseconds later) const {
  if (high_ != then.high_ || to_ != then.to_ || !sameMoment(due_, then.due_, later) ||
      !sameMoment(ends_, then.ends_, later))
    return false;
  if (high_ && risenAt_ - later != then.risenAt_) return false;
  return !turning() || (from_ == then.from_ && began_ - later == then.began_);
}

void Arm::skip(const Arm&, Nanoseconds later, std::int64_t times) {
  const Nanoseconds by = later * times;
  risenAt_ += by;
  began_ += by;
  shift(ends_, by);
  shift(due_, by);
}

}  // namespace ignavo
