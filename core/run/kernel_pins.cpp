#include <algorithm>
#include <cmath>

#include "project/indexing.h"
#include "run/board_run.h"
#include "run/random.h"

// What of a run happens at the pins: levels that lanes wait for, dimming, and pins that
// nothing holds.
namespace ignavo {

namespace {

constexpr Nanoseconds noiseSlot = 1'000'000;  // a floating pin may change every millisecond
// The board's timers count 256 ticks of 4 microseconds, all in step from power-on.
constexpr Nanoseconds timerTick = 4'000;
constexpr int timerTicks = 256;
constexpr Nanoseconds timerPeriod = timerTicks * timerTick;

// Hum of the mains (50 Hz) with a random disturbance in one slot out of four.
struct Hum {
  bool high;
  std::uint64_t stream, slot;
};
Hum humAt(const CircuitPin& p, std::uint64_t seed, Nanoseconds now) {
  const auto slot = static_cast<std::uint64_t>(now / noiseSlot);
  const std::uint64_t stream = keyOf((p.board + "." + p.name).c_str());
  const std::uint64_t bits = randomBits(seed, stream, slot);
  const std::uint64_t phase = mixed(seed ^ stream) % 20;
  const bool hum = (slot + phase) % 20 < 10;
  return {(bits & 3) == 0 ? (bits & 4) != 0 : hum, stream, slot};
}
}  // namespace

bool Kernel::noise(int pin) const {
  return humAt(at(circuit_->pins(), pin), project_->seed, now_).high;
}

// What an analog pin that nothing holds measures, in percent.
double Kernel::driftOf(int pin) const {
  const Hum hum = humAt(at(circuit_->pins(), pin), project_->seed, now_);
  const double swing = 0.5 * randomShare(project_->seed, hum.stream ^ 1, hum.slot);
  return percentMeasured(hum.high ? 0.5 + swing : 0.5 - swing);
}

// The level of a pin as the program would read it now. Lanes may be waiting for it.
void Kernel::seeLevel(int pin, bool high) {
  PinRun& run = at(pins_, pin);
  if ((run.level != 0) == high) return;
  run.level = high ? 1 : 0;
  if (std::find(watched_.begin(), watched_.end(), pin) == watched_.end()) return;
  if (run.signal >= 0) trace_.record(run.signal, now_, run.level);
  for (auto& board : boards_)
    for (std::size_t k = 0; k < board->circuitPin.size(); ++k)
      if (board->circuitPin[k] == pin) board->processor.pinChanged(static_cast<int>(k), high, now_);
}

void Kernel::watchFloating(int pin) {
  if (floatDue_ == never && std::find(watched_.begin(), watched_.end(), pin) != watched_.end())
    floatDue_ = (now_ / noiseSlot + 1) * noiseSlot;
}

// Pins that start lanes and float. False when it is not the time to look.
bool Kernel::lookAtFloating() {
  if (floatDue_ > now_) return false;
  floatDue_ = never;
  for (int pin : watched_) {
    if (!at(pins_, pin).floating) continue;
    noiseRead_ = true;
    seeLevel(pin, noise(pin));
    watchFloating(pin);
  }
  return true;
}

void Kernel::makeOutput(int pin, bool high) {
  PinRun& run = at(pins_, pin);
  const bool dimmed = run.pulseDue != never;
  run.pulseDue = never;
  if (run.role == PinRole::output && run.high == high && !dimmed) return;
  run.high = high;
  refreshPin(pin);
}

Nanoseconds Kernel::nextPulsePeriod() const {
  return timersBegan_ + ((now_ - timersBegan_) / timerPeriod + 1) * timerPeriod;
}

// From the timer's next period on the pin is high for that share of it.
void Kernel::dimPin(int pin, double percent) {
  const CircuitPin& p = at(circuit_->pins(), pin);
  // What cannot dim is switched.
  if (!p.shape().pwm) return makeOutput(pin, percent >= 50);
  const int share =
      static_cast<int>(std::lround(std::clamp(percent, 0.0, 100.0) / 100 * timerTicks));
  if (share == 0 || share == timerTicks) return makeOutput(pin, share > 0);
  PinRun& run = at(pins_, pin);
  run.nextShare = share;
  if (run.pulseDue == never) run.pulseDue = nextPulsePeriod();
}

// Edges of dimmed pins that come now. False when there are none.
bool Kernel::pulsePins() {
  bool any = false;
  for (int p = 0; p < static_cast<int>(pins_.size()); ++p) {
    PinRun& run = at(pins_, p);
    if (run.pulseDue > now_) continue;
    any = true;
    const bool begins = (now_ - timersBegan_) % timerPeriod == 0;
    if (begins) run.share = run.nextShare;
    run.high = begins;
    run.pulseDue = begins ? now_ + run.share * timerTick : nextPulsePeriod();
    refreshPin(p);
  }
  return any;
}

// How the timers stand, for finding out that a run repeats.
std::vector<Nanoseconds> Kernel::pulseSignature() const {
  std::vector<Nanoseconds> out;
  for (const Arm& arm : arms_) {
    out.push_back(arm.high ? now_ - arm.risenAt : -1);
    out.push_back(std::llround(arm.to * 1e6));
  }
  if (!dims_) return out;
  out.push_back((now_ - timersBegan_) % timerPeriod);
  for (const PinRun& pin : pins_) {
    out.push_back(pin.pulseDue == never ? -1 : pin.pulseDue - now_);
    out.push_back(pin.share);
    out.push_back(pin.nextShare);
  }
  return out;
}

}  // namespace ignavo
