#pragma once
#include <vector>

#include "run/device.h"

namespace ignavo {

// Pins that are held at a level by hand: each is high for that share of every period, whatever its
// chip could do. One device for the pins of all boards.
class HandWaves final : public DeviceOf<HandWaves> {
 public:
  static constexpr int shares = 256;                // of a period
  static constexpr Nanoseconds period = 1'024'000;  // 977 Hz, as the timers dim

  // 1 … shares − 1. It goes high now; one that goes on keeps its beat, so that a level that is
  // dragged does not stutter.
  void hold(int pin, int share, Nanoseconds now);
  void release(int pin);
  bool isHigh(int pin) const;
  int shareOf(int pin) const;  // 0: none
  // The project was edited: pins have other numbers now; -1: gone.
  void renumber(const std::vector<int>& places);

  Nanoseconds due() const override;
  Done act(Run& run) override;
  bool repeats(const HandWaves& then, Nanoseconds later) const;
  void skip(const HandWaves& then, Nanoseconds later, std::int64_t times);

 private:
  struct Held {
    int pin, share;
    bool high;
    Nanoseconds due;  // its next edge
  };
  std::vector<Held> pins_;  // by pin
};

}  // namespace ignavo
