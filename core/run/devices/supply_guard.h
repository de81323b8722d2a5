#pragma once
#include "run/device.h"

namespace ignavo {

// Watches a board's supply: when its cable has to deliver more than it may for a while, it gives
// up. Without the cable, the chip stops when it gets too little to run on, and begins anew a
// moment after it gets enough again.
class SupplyGuard final : public DeviceOf<SupplyGuard> {
 public:
  explicit SupplyGuard(int board) : board_(board) {}

  void look(Run& run);                               // it may give more or less now
  void lookSoon(Nanoseconds now) { lookAt_ = now; }  // when all that is due now has been done

  Nanoseconds due() const override;
  Done act(Run& run) override;
  bool repeats(const SupplyGuard& then, Nanoseconds later) const {
    return sameMoment(since_, then.since_, later) && sameMoment(lookAt_, then.lookAt_, later) &&
           sameMoment(stopsAt_, then.stopsAt_, later) &&
           sameMoment(startsAt_, then.startsAt_, later);
  }
  void skip(const SupplyGuard&, Nanoseconds later, std::int64_t times) {
    shift(since_, later * times);
    shift(lookAt_, later * times);
    shift(stopsAt_, later * times);
    shift(startsAt_, later * times);
  }

 private:
  int board_;
  Nanoseconds since_ = never;  // when it began to give too much
  Nanoseconds lookAt_ = never;
  Nanoseconds stopsAt_ = never, startsAt_ = never;  // the chip
};

}  // namespace ignavo
