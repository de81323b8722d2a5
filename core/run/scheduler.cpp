#include "run/scheduler.h"

#include <algorithm>
#include <utility>

namespace ignavo {

namespace {
// Loop heads without a period of everything, after which a period of some will do.
constexpr std::int64_t headsInVain = 512;
// So many rounds of one device are worth a copy of it; loop heads after a comparison in vain.
constexpr std::int64_t roundsWorthIt = 8;
constexpr int mostRests = 256;
// After noise: loop heads to leave out before everything is copied again.
constexpr std::int64_t mostAfterNoise = 1024;

// All that is not a device and decides how a run goes on.
bool standAlike(const RunState& a, const RunState& b) {
  return a.on == b.on && a.joined == b.joined && a.active == b.active &&
         a.devices.count() == b.devices.count() && a.circuit == b.circuit &&
         std::equal(a.boards.begin(), a.boards.end(), b.boards.begin(), b.boards.end(),
                    [](const BoardState& x, const BoardState& y) { return x.sameAs(y); }) &&
         std::equal(a.pins.begin(), a.pins.end(), b.pins.begin(), b.pins.end(),
                    [](const PinState& x, const PinState& y) {
                      return x.level == y.level && x.high == y.high && x.chip == y.chip &&
                             x.hand == y.hand && x.burnt == y.burnt;
                    });
}
}  // namespace

Scheduler::Outcome Scheduler::run(Run& run, Nanoseconds until, Nanoseconds horizon, Stop stop,
                                  std::int64_t acts) {
  run.until = until;
  run.stepwise = stop != Stop::atEnd;
  run.stopsAtLoopHeads = maySkip_;
  bool atLoopHead = false;
  for (;; --acts) {
    const Nanoseconds due = run.state.devices.due();
    if (due > until) return Outcome::done;
    if (acts <= 0) return Outcome::paused;
    run.state.now = std::max(run.state.now, due);
    const int place = run.state.devices.first();
    const std::uint64_t changes = run.state.devices.changes();
    const Device::Done done = run.state.devices.act(run);
    if (!done.quiet || run.state.devices.changes() != changes + 1 || place != looking_.place)
      looking_ = {};
    if ((stop != Stop::atEnd && done.step) || (stop == Stop::atEvent && done.event))
      return Outcome::stopped;
    if (!maySkip_) continue;
    if (done.atLoopHead && done.quiet) onQuietLoopHead(run, place);
    atLoopHead = atLoopHead || done.atLoopHead;
    // All that is due at this moment belongs to what comes before it.
    if (!atLoopHead || run.state.devices.due() <= run.now()) continue;
    atLoopHead = false;
    run.trace.extendTo(run.now());
    onLoopHead(run, horizon);
  }
}

void Scheduler::forget() {
  looking_ = {};
  compares_ = false;
  cycleSnapshot_ = {};  // the devices may be others from now on
  loopHeads_ = inVain_ = afterNoise_ = 0;
}

bool Scheduler::stoodAside(const RunState& now, int place) const {
  return now.devices.version(place) == cycleSnapshot_.devices.version(place);
}

void Scheduler::onQuietLoopHead(Run& run, int place) {
  Devices& devices = run.state.devices;
  const Nanoseconds now = run.now(), before = std::exchange(looking_.at, now);
  const Nanoseconds limit = std::min(run.until, devices.dueBeside(place) - 1);
  if (looking_.then) {
    const std::shared_ptr<const Device> then = std::move(looking_.then);
    const Nanoseconds round = now - before;
    if (round > 0 && devices.at(place).sameAs(*then, round)) {
      // What a round takes is done before anything else is due.
      const Nanoseconds end = std::min(limit - round, devices.at(place).standsUntil(*then) - 1);
      const std::int64_t times = std::max<Nanoseconds>(0, end - now) / round;
      if (times > 0) {
        devices.jump(place, *then, round, times);
        run.state.now = looking_.at = now + round * times;
        skipped_ += times;
      }
      rests_ = 1;
    } else {
      rest_ = rests_;
      rests_ = std::min(2 * rests_, mostRests);
    }
  }
  const bool known = looking_.place == place;  // how long a round is
  looking_.place = place;
  if (rest_ > 0)
    --rest_;
  else if (known && looking_.at > before && limit - looking_.at >= roundsWorthIt * (now - before))
    looking_.then = devices.at(place).copy();
}

std::optional<Nanoseconds> Scheduler::repeatsUntil(const Run& run, Nanoseconds horizon,
                                                   bool aside) {
  const RunState& now = run.state;
  const Nanoseconds later = now.now - cycleSnapshot_.now;
  if (later <= 0 || !standAlike(now, cycleSnapshot_)) return std::nullopt;
  Nanoseconds limit = horizon;
  // What was on its way when it was compared last is likely to be so still.
  if (differed_ < now.devices.count() && !(aside && stoodAside(now, differed_)) &&
      !now.devices.at(differed_).sameAs(cycleSnapshot_.devices.at(differed_), later))
    return std::nullopt;
  for (int place = now.devices.count(); place-- > 0;) {
    if (aside && stoodAside(now, place)) {
      if (std::find(run.readMoving.begin(), run.readMoving.end(), place) != run.readMoving.end())
        return std::nullopt;
      limit = std::min(limit, now.devices.at(place).due());
    } else {
      const Device &device = now.devices.at(place), &then = cycleSnapshot_.devices.at(place);
      if (!device.sameAs(then, later)) {
        differed_ = place;
        return std::nullopt;
      }
      limit = std::min(limit, device.standsUntil(then));
    }
  }
  return limit;
}

void Scheduler::onLoopHead(Run& run, Nanoseconds horizon) {
  RunState& now = run.state;
  const bool aside = ++inVain_ > headsInVain;
  if (run.irregular) {
    run.irregular = false;
    if (compares_) afterNoise_ = std::min(2 * afterNoise_ + 1, mostAfterNoise);
    compares_ = false;
    loopHeads_ = -afterNoise_;
    return;
  }
  if (compares_) {
    const auto limit = repeatsUntil(run, horizon, aside);
    const Nanoseconds period = now.now - cycleSnapshot_.now;
    // Where something is due before the next round is over, nothing is gained.
    const std::int64_t times = limit && *limit != never ? (*limit - 1 - now.now) / period : 0;
    if (times > 0) {
      if (run.trace.repeatLast(period, times)) {
        for (int place = 0; place < now.devices.count(); ++place)
          if (!aside || !stoodAside(now, place))
            now.devices.jump(place, cycleSnapshot_.devices.at(place), period, times);
        now.now += period * times;
        skipped_ += times;
      }
      if (!aside) inVain_ = 0;
      loopHeads_ = afterNoise_ = 0;
      compares_ = false;
    }
  }
  if (++loopHeads_ <= 0) return;
  if (!compares_ || (loopHeads_ & (loopHeads_ - 1)) == 0) {
    cycleSnapshot_.follow(now);
    compares_ = true;
    run.readMoving.clear();
  }
}

}  // namespace ignavo
