#pragma once
#include "run/trace.h"

namespace ignavo {

// How a lamp looks to whoever stands before it.
enum class Looks : std::uint8_t {
  dark,
  dim,  // lit, though no more than a fifth as bright as it can be
  lit,
  blinking,  // on and off, and it can be seen
  tooFast    // on and off so fast that it looks lit in part
};

struct LampLook {
  Looks looks = Looks::dark;
  double light = 0;      // 0 … 1, of the mean current: of a lamp that blinks, over its flashes
  double perSecond = 0;  // flashes
  // Of what is too fast: how long it stays as it is, on the mean; 0: it is not.
  Nanoseconds changesEvery = 0;
  bool operator==(const LampLook&) const = default;
};

// From the current through it (a signal of the trace, Signal::What::partAmps, or pinLevel for a
// board's own lamp; outside of it: dark)
// before a moment; one that blinks goes on and off at least once in four seconds, and went on doing
// so. More flashes than 25 in a second run into each other, as the
// light of a lamp is that of its mean current over 20 ms (lightWindow).
LampLook lampLook(const Trace& trace, int signal, Nanoseconds moment);

}  // namespace ignavo
