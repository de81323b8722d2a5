#pragma once
#include <cstdint>
#include <string>

#include "run/device.h"
#include "run/processor.h"

namespace ignavo {

// The line from a board to the computer that it hangs on: 38,400 bits a second, a letter in 260
// microseconds, and a buffer of 64 of them.
class SerialLine final : public DeviceOf<SerialLine> {
 public:
  // `pin`: of the circuit, that it goes out at; -1: the board has none, or its program says
  // nothing.
  explicit SerialLine(int pin = -1) : pin_(pin) {}
  SerialLine(int pin, const SerialLine& before) : SerialLine(before) { pin_ = pin; }

  // Power came on: nothing is on its way.
  void start();
  // How many letters get into the buffer at once; PinAccess::refused where at the beginning of this
  // turn an earlier line was not all in it. Its first letter goes out when it is ready.
  int say(Run& run, const std::string& wire, PinAccess::SayingTime time);
  // Letters that begin after `from`, up to `until`, beside the first after a rest.
  std::int64_t letters(Nanoseconds from, Nanoseconds until) const;
  bool waits(Nanoseconds turn) const { return allIn_ > turn; }
  int lettersWaiting(Nanoseconds turn) const;

  Nanoseconds due() const override { return due_; }
  Done act(Run& run) override;
  // While something is on its way nothing repeats.
  bool repeats(const SerialLine& then, Nanoseconds) const {
    return due_ == never && then.due_ == never;
  }
  void skip(const SerialLine&, Nanoseconds, std::int64_t) {}

 private:
  void show(Run& run);

  int pin_;
  std::string buffer_;  // all that was said; the first of it is being sent
  // As turns are counted: when all of it is gone, and when the last of it is in the buffer.
  Nanoseconds gone_ = 0, allIn_ = 0;
  Nanoseconds began_ = 0;  // that letter
  int bit_ = 0;            // of it: 0 begins it, 9 ends it; -1: it is not ready
  Nanoseconds due_ = never;
  // What is said without a rest.
  Nanoseconds first_ = 0;
  std::int64_t count_ = 0;
};

}  // namespace ignavo
