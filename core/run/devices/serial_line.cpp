#include "run/devices/serial_line.h"

#include <algorithm>

#include "program/said.h"
#include "project/indexing.h"
#include "run/run.h"

// A letter is ten bits of 26 microseconds: low, its eight bits from the lowest on, high. Without
// letters the line is high. Whether there is room in the buffer is counted, as turns are: a letter
// takes its 260 microseconds from the end of the work that was counted, never sooner than it really
// goes.
namespace ignavo {

void SerialLine::start() {
  buffer_.clear();
  bit_ = 0;
  gone_ = allIn_ = 0;
  due_ = never;
}

int SerialLine::say(Run& run, const std::string& wire, PinAccess::SayingTime time) {
  if (waits(time.turn)) return PinAccess::refused;
  if (buffer_.empty()) {
    began_ = due_ = first_ = std::max(run.now(), time.ready);
    count_ = 0;
    bit_ = -1;
  }
  buffer_ += wire;
  const auto letters = static_cast<std::int64_t>(wire.size());
  count_ += letters;
  // A letter gets in where at most so much of the line is before it.
  constexpr Nanoseconds most = (lineBuffer - 1) * letterNanoseconds;
  const Nanoseconds before = std::max(gone_, time.counted);
  gone_ = before + letters * letterNanoseconds;
  allIn_ = gone_ - letterNanoseconds - most;
  const Nanoseconds room = time.turn + most - before;
  const std::int64_t atOnce = room < 0 ? 0 : room / letterNanoseconds + 1;
  return static_cast<int>(std::min(letters, atOnce));
}

int SerialLine::lettersWaiting(Nanoseconds turn) const {
  return static_cast<int>(
      std::max<Nanoseconds>(0, (allIn_ - turn + letterNanoseconds - 1) / letterNanoseconds));
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
  }
  due_ = buffer_.empty() ? never : began_ + (bit_ + 1) * bitNanoseconds;
  show(run);
  return {};
}

}  // namespace ignavo
