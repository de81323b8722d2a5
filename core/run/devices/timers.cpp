#include "run/devices/timers.h"

#include <algorithm>

#include "project/indexing.h"
#include "run/run.h"

// A board's timers count 256 ticks of 4 microseconds, all in step from power-on. A level that is
// set takes effect at the beginning of the next period; a pin is high from there for its share.
namespace ignavo {

namespace {
constexpr Nanoseconds timerTick = 4'000;
constexpr Nanoseconds timerPeriod = Timers::ticks * timerTick;
}  // namespace

void Timers::start(Nanoseconds now) {
  began_ = now;
  pins_.clear();
}

Nanoseconds Timers::nextPeriod(Nanoseconds now) const {
  return began_ + ((now - began_) / timerPeriod + 1) * timerPeriod;
}

bool Timers::dims(int pin) const {
  return !pins_.empty() &&
         std::any_of(pins_.begin(), pins_.end(), [&](const Dimmed& d) { return d.pin == pin; });
}

void Timers::dim(int pin, int share, Nanoseconds now) {
  auto it = std::find_if(pins_.begin(), pins_.end(), [&](const Dimmed& d) { return d.pin >= pin; });
  if (it == pins_.end() || it->pin != pin) it = pins_.insert(it, {pin, 0, 0, nextPeriod(now)});
  it->nextShare = share;
  used_ = true;
}

void Timers::release(int pin) {
  std::erase_if(pins_, [&](const Dimmed& d) { return d.pin == pin; });
}

void Timers::renumber(const std::vector<int>& places, bool programDims) {
  for (Dimmed& d : pins_) d.pin = at(places, d.pin);
  release(-1);
  std::sort(pins_.begin(), pins_.end(),
            [](const Dimmed& a, const Dimmed& b) { return a.pin < b.pin; });
  used_ = programDims || !pins_.empty();
}

Nanoseconds Timers::due() const {
  Nanoseconds soonest = never;
  for (const Dimmed& d : pins_) soonest = std::min(soonest, d.due);
  return soonest;
}

Device::Done Timers::act(Run& run) {
  const Nanoseconds now = run.now();
  const bool begins = (now - began_) % timerPeriod == 0;
  for (Dimmed& d : pins_) {
    if (d.due > now) continue;
    if (begins) d.share = d.nextShare;
    d.due = begins ? now + d.share * timerTick : nextPeriod(now);
    at(run.state.pins, d.pin).high = begins;
    run.refreshPin(d.pin);
  }
  return {.event = true, .atLoopHead = begins};
}

bool Timers::repeats(const Timers& then, Nanoseconds later) const {
  if (!used_ && !then.used_) return true;
  return later % timerPeriod == (began_ - then.began_) % timerPeriod &&
         std::equal(pins_.begin(), pins_.end(), then.pins_.begin(), then.pins_.end(),
                    [&](const Dimmed& a, const Dimmed& b) {
                      return a.pin == b.pin && a.share == b.share && a.nextShare == b.nextShare &&
                             a.due - later == b.due;
                    });
}

void Timers::skip(const Timers&, Nanoseconds later, std::int64_t times) {
  for (Dimmed& d : pins_) d.due += later * times;
}

}  // namespace ignavo
