#include "run/devices/supply_guard.h"

#include <algorithm>

#include "run/run.h"

namespace ignavo {

namespace {
constexpr Nanoseconds overloadPatience = 100'000'000;  // USB gives up after 0.1 s
constexpr double sameLimit = 1e-6;  // exactly the limit is not more, whatever its last digits
}  // namespace

void SupplyGuard::look(const Run& run) {
  lookAt_ = never;
  const bool shorted = run.model->circuit->shorted();
  const bool gives = run.state.on && run.isOn(board_);
  if (!gives || !(shorted || run.boardAmps(board_) > run.mostAmps(board_) * (1 + sameLimit)))
    since_ = never;
  else if (since_ == never)
    since_ = run.now();
}

Nanoseconds SupplyGuard::due() const {
  return std::min(lookAt_, since_ == never ? never : since_ + overloadPatience);
}

Device::Done SupplyGuard::act(Run& run) {
  if (lookAt_ <= run.now()) {
    look(run);
    return {};
  }
  since_ = never;
  run.trip(board_);
  return {.event = true};
}

}  // namespace ignavo
