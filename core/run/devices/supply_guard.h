#pragma once
#include "run/device.h"

namespace ignavo {

// Watches what a board's supply gives: more than its cable may deliver for a while, and it gives
// up.
class SupplyGuard final : public DeviceOf<SupplyGuard> {
 public:
  explicit SupplyGuard(int board) : board_(board) {}

  void look(const Run& run);                         // it may give more or less now
  void lookSoon(Nanoseconds now) { lookAt_ = now; }  // when all that is due now has been done
  void rest() { since_ = lookAt_ = never; }          // it gives nothing

  Nanoseconds due() const override;
  Done act(Run& run) override;
  bool repeats(const SupplyGuard& then, Nanoseconds later) const {
    return sameMoment(since_, then.since_, later) && sameMoment(lookAt_, then.lookAt_, later);
  }
  void skip(const SupplyGuard&, Nanoseconds later, std::int64_t times) {
    shift(since_, later * times);
    shift(lookAt_, later * times);
  }

 private:
  int board_;
  Nanoseconds since_ = never;  // when it began to give too much
  Nanoseconds lookAt_ = never;
};

}  // namespace ignavo
