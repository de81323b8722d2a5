#include "run/devices/supply_guard.h"

#include <algorithm>

#include "run/run.h"

namespace ignavo {

namespace {
constexpr Nanoseconds overloadPatience = 100'000'000;  // USB gives up after 0.1 s
// A chip waits for its supply and its crystal before it begins: 65 ms, as its fuses are set.
constexpr Nanoseconds startUp = 65'000'000;
constexpr double sameLimit = 1e-6;  // exactly the limit is not more, whatever its last digits
}  // namespace

void SupplyGuard::look(Run& run) {
  lookAt_ = never;
  const bool shorted = run.model->circuit->shorted(board_);
  const bool gives = run.state.on && run.isOn(board_);
  if (!gives || !(shorted || run.boardAmps(board_) > run.mostAmps(board_) * (1 + sameLimit)))
    since_ = never;
  else if (since_ == never)
    since_ = run.now();
  stopsAt_ = never;
  const bool alone = run.live() && !run.plugged(board_);
  const bool enough = alone && run.boardVolts(board_) >= run.minVolts(board_);
  if (alone && !enough && run.fed(board_)) stopsAt_ = run.now();
  if (!enough || run.fed(board_))
    startsAt_ = never;
  else if (startsAt_ == never)
    startsAt_ = run.now() + startUp;
}

Nanoseconds SupplyGuard::due() const {
  const Nanoseconds trips = since_ == never ? never : since_ + overloadPatience;
  return std::min({lookAt_, trips, stopsAt_, startsAt_});
}

Device::Done SupplyGuard::act(Run& run) {
  if (lookAt_ <= run.now()) {
    look(run);
    return {};
  }
  if (stopsAt_ <= run.now()) {
    stopsAt_ = never;
    run.starve(board_);
  } else if (startsAt_ <= run.now()) {
    startsAt_ = never;
    run.revive(board_);
  } else {
    since_ = never;
    run.trip(board_);
  }
  return {.event = true};
}

}  // namespace ignavo
