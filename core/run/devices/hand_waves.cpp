#include "run/devices/hand_waves.h"

#include <algorithm>
#include <cassert>

#include "project/indexing.h"
#include "run/run.h"

namespace ignavo {

namespace {
constexpr Nanoseconds tick = HandWaves::period / HandWaves::shares;
static_assert(tick * HandWaves::shares == HandWaves::period);
}  // namespace

int HandWaves::shareOf(int pin) const {
  for (const Held& held : pins_)
    if (held.pin == pin) return held.share;
  return 0;
}

bool HandWaves::isHigh(int pin) const {
  return std::any_of(pins_.begin(), pins_.end(),
                     [&](const Held& held) { return held.pin == pin && held.high; });
}

void HandWaves::hold(int pin, int share, Nanoseconds now) {
  assert(share > 0 && share < shares);
  for (Held& held : pins_) {
    if (held.pin != pin) continue;
    if (held.high) held.due = std::max(now + 1, held.due + (share - held.share) * tick);
    held.share = share;
    return;
  }
  const auto place =
      std::find_if(pins_.begin(), pins_.end(), [&](const Held& held) { return held.pin > pin; });
  pins_.insert(place, {pin, share, true, now + share * tick});
}

void HandWaves::release(int pin) {
  std::erase_if(pins_, [&](const Held& held) { return held.pin == pin; });
}

void HandWaves::renumber(const std::vector<int>& places) {
  for (Held& held : pins_) held.pin = at(places, held.pin);
  release(-1);
  std::sort(pins_.begin(), pins_.end(), [](const Held& a, const Held& b) { return a.pin < b.pin; });
}

Nanoseconds HandWaves::due() const {
  Nanoseconds soonest = never;
  for (const Held& held : pins_) soonest = std::min(soonest, held.due);
  return soonest;
}

Device::Done HandWaves::act(Run& run) {
  const Nanoseconds now = run.now();
  bool begins = false;
  for (Held& held : pins_) {
    if (held.due > now) continue;
    const Nanoseconds highFor = held.share * tick;
    held.high = !held.high;
    held.due = now + (held.high ? highFor : period - highFor);
    begins = begins || held.high;
    at(run.state.pins, held.pin).hand = held.high ? 1 : 0;
    run.refreshPin(held.pin);
  }
  return {.event = true, .atLoopHead = begins};
}

bool HandWaves::repeats(const HandWaves& then, Nanoseconds later) const {
  return std::equal(pins_.begin(), pins_.end(), then.pins_.begin(), then.pins_.end(),
                    [&](const Held& a, const Held& b) {
                      return a.pin == b.pin && a.share == b.share && a.high == b.high &&
                             a.due - later == b.due;
                    });
}

void HandWaves::skip(const HandWaves&, Nanoseconds later, std::int64_t times) {
  for (Held& held : pins_) held.due += later * times;
}

}  // namespace ignavo
