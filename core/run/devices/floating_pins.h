#pragma once
#include "run/device.h"

namespace ignavo {

// Pins that nothing holds and whose edges start something: they hum, so that they are looked at
// again and again.
class FloatingPins final : public DeviceOf<FloatingPins> {
 public:
  void watch(Nanoseconds now);  // one floats

  Nanoseconds due() const override { return due_; }
  Done act(Run& run) override;
  // What floats follows noise, which has no period.
  bool repeats(const FloatingPins& then, Nanoseconds) const {
    return due_ == never && then.due_ == never;
  }
  void skip(const FloatingPins&, Nanoseconds, std::int64_t) {}

 private:
  Nanoseconds due_ = never;
};

}  // namespace ignavo
