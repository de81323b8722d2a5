#pragma once
#include "run/device.h"

namespace ignavo {

// The arm of a part that goes to the angle that pulses ask for, and draws more while it turns.
class Arm final : public DeviceOf<Arm> {
 public:
  // With less at its supply it has no force; above the other a pulse begins.
  static constexpr double leastVolts = 3, highVolts = 2;

  explicit Arm(int part) : part_(part) {}
  Arm(int part, const Arm& before) : Arm(before) { part_ = part; }

  // The volts at its leads from now on.
  void follow(double signalVolts, double supplyVolts, Nanoseconds now);
  bool turning() const { return ends_ != never; }
  bool asked() const { return asked_; }  // a pulse came ever
  double degreesAt(Nanoseconds now) const;

  Nanoseconds due() const override { return due_; }
  Done act(Run& run) override;
  bool repeats(const Arm& then, Nanoseconds later) const;
  void skip(const Arm& then, Nanoseconds later, std::int64_t times);

 private:
  int part_;
  bool high_ = false;  // in a pulse, since `risenAt_`
  Nanoseconds risenAt_ = 0;
  bool asked_ = false;
  double from_ = 0, to_ = 0;              // degrees
  Nanoseconds began_ = 0, ends_ = never;  // of the turn under way
  Nanoseconds due_ = never;               // when to begin or end drawing its current
};

}  // namespace ignavo
