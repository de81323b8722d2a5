#include "run/scheduler.h"

#include <algorithm>

namespace ignavo {

namespace {
// Loop heads without a period of everything, after which a period of some will do.
constexpr std::int64_t headsInVain = 4096;

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
  for (;; --acts) {
    const Nanoseconds due = run.state.devices.due();
    if (due > until) return Outcome::done;
    if (acts <= 0) return Outcome::paused;
    run.state.now = std::max(run.state.now, due);
    const Device::Done done = run.state.devices.act(run);
    if ((stop != Stop::atEnd && done.step) || (stop == Stop::atEvent && done.event))
      return Outcome::stopped;
    if (done.atLoopHead && maySkip_) {
      run.trace.extendTo(run.now());
      onLoopHead(run, horizon);
    }
  }
}

void Scheduler::forget() {
  cycleSnapshot_.reset();
  loopHeads_ = inVain_ = 0;
}

bool Scheduler::stoodAside(const RunState& now, int place) const {
  return now.devices.version(place) == cycleSnapshot_->devices.version(place);
}

std::optional<Nanoseconds> Scheduler::repeatsUntil(const Run& run, Nanoseconds horizon,
                                                   bool aside) const {
  const RunState& now = run.state;
  const Nanoseconds later = now.now - cycleSnapshot_->now;
  if (later <= 0 || !standAlike(now, *cycleSnapshot_)) return std::nullopt;
  Nanoseconds limit = horizon;
  for (int place = now.devices.count(); place-- > 0;) {
    if (aside && stoodAside(now, place)) {
      if (std::find(run.readMoving.begin(), run.readMoving.end(), place) != run.readMoving.end())
        return std::nullopt;
      limit = std::min(limit, now.devices.at(place).due());
    } else {
      const Device &device = now.devices.at(place), &then = cycleSnapshot_->devices.at(place);
      if (!device.sameAs(then, later)) return std::nullopt;
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
    cycleSnapshot_.reset();
    loopHeads_ = 0;
    return;
  }
  if (cycleSnapshot_) {
    const auto limit = repeatsUntil(run, horizon, aside);
    const Nanoseconds period = now.now - cycleSnapshot_->now;
    // Where something is due before the next round is over, nothing is gained.
    const std::int64_t times = limit && *limit != never ? (*limit - 1 - now.now) / period : 0;
    if (times > 0) {
      if (run.trace.repeatLast(period, times)) {
        for (int place = 0; place < now.devices.count(); ++place)
          if (!aside || !stoodAside(now, place))
            now.devices.jump(place, cycleSnapshot_->devices.at(place), period, times);
        now.now += period * times;
        skipped_ += times;
      }
      if (!aside) inVain_ = 0;
      loopHeads_ = 0;
      cycleSnapshot_.reset();
    }
  }
  ++loopHeads_;
  if (!cycleSnapshot_ || (loopHeads_ & (loopHeads_ - 1)) == 0) {
    cycleSnapshot_ = now;
    run.readMoving.clear();
  }
}

}  // namespace ignavo
