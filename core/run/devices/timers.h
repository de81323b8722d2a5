#pragma once
#include <vector>

#include "run/device.h"

namespace ignavo {

// The timers of a board, and the pins that they dim: each is high for a share of every period.
class Timers final : public DeviceOf<Timers> {
 public:
  static constexpr int ticks = 256;  // of a period

  Timers() = default;
  explicit Timers(bool programDims) : used_(programDims) {}

  // Power came on: all count from now, and none dims a pin.
  void start(Nanoseconds now);
  // From the next period on the pin is high for so many ticks of it, 1 … ticks − 1.
  void dim(int pin, int share, Nanoseconds now);
  void release(int pin);  // a step sets it from now on
  bool dims(int pin) const;
  // The project was edited: pins have other numbers now (-1: gone), and the program may dim others.
  void renumber(const std::vector<int>& places, bool programDims);

  Nanoseconds due() const override;
  Done act(Run& run) override;
  bool repeats(const Timers& then, Nanoseconds later) const;
  void skip(const Timers& then, Nanoseconds later, std::int64_t times);

 private:
  struct Dimmed {
    int pin;
    int share, nextShare;  // of this period and of those after it
    Nanoseconds due;       // its next edge
  };
  Nanoseconds nextPeriod(Nanoseconds now) const;

  Nanoseconds began_ = 0;
  bool used_ = false;         // else it does not matter how they stand
  std::vector<Dimmed> pins_;  // by pin
};

}  // namespace ignavo
