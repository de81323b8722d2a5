#include "run/devices/serial_line.h"

#include <algorithm>

#include "program/said.h"
#include "project/indexing.h"
#include "run/run.h"

// A letter is ten bits of 26 microseconds: low, its eight bits from the lowest on, high. Without
// letters the line is high.
namespace ignavo {

void SerialLine::start() {
  waiting_.clear();
  buffer_.clear();
  bit_ = 0;
  filled_ = -1;
  due_ = never;
}

std::size_t SerialLine::fill(Nanoseconds now) {
  if (waiting_.empty()) return 0;
  const std::size_t room = static_cast<std::size_t>(lineHolds) - buffer_.size();
  const std::size_t moved = std::min(room, waiting_.size());
  buffer_ += waiting_.substr(0, moved);
  waiting_.erase(0, moved);
  filled_ = now;
  return moved;
}

int SerialLine::say(Run& run, const std::string& wire, Nanoseconds turn, Nanoseconds ready) {
  if (waits(turn)) return PinAccess::refused;
  const bool idle = buffer_.empty();
  waiting_ = wire;
  const std::size_t moved = fill(turn);
  if (idle) {
    began_ = due_ = first_ = std::max(run.now(), ready);
    count_ = 0;
    bit_ = -1;
  }
  count_ += static_cast<std::int64_t>(wire.size());
  return static_cast<int>(moved);
}

std::int64_t SerialLine::letters(Nanoseconds from, Nanoseconds until) const {
  const auto begun = [&](Nanoseconds when) {
    const std::int64_t behindFirst = std::max<Nanoseconds>(0, when - first_) / letterNanoseconds;
    return std::min(behindFirst, std::max<std::int64_t>(0, count_ - 1));
  };
  return begun(until) - begun(from);
}

void SerialLine::show(Run& run) {
  if (pin_ < 0) return;
  constexpr int last = 9;
  const bool high =
      buffer_.empty() || bit_ < 0 || bit_ == last ||
      (bit_ > 0 && (static_cast<unsigned char>(buffer_.front()) >> (bit_ - 1) & 1) != 0);
  PinState& pin = at(run.state.pins, pin_);
  if (pin.high == high) return;
  pin.high = high;
  run.refreshPin(pin_);
}

Device::Done SerialLine::act(Run& run) {
  constexpr int bits = 10;
  if (++bit_ == bits) {
    bit_ = 0;
    began_ += letterNanoseconds;
    buffer_.erase(0, 1);
    (void)fill(run.now());
  }
  due_ = buffer_.empty() ? never : began_ + (bit_ + 1) * bitNanoseconds;
  show(run);
  return {};
}

}  // namespace ignavo
