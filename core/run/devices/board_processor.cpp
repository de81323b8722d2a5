#include "run/devices/board_processor.h"

#include <algorithm>
#include <cmath>

#include "project/indexing.h"
#include "run/run.h"

namespace ignavo {

namespace {

constexpr int mostAtOnce = 64;  // then the scheduler has its say

// The pins of a board as its program counts them.
class BoardPins final : public PinAccess {
 public:
  BoardPins(Run& run, const std::vector<int>& places) : run_(run), places_(places) {}

  bool readPin(int pin, Nanoseconds when) override {
    const int p = arrive(pin, when);
    return p >= 0 && run_.read(p);
  }
  int readLevel(int pin, Nanoseconds when) override {
    const int p = arrive(pin, when);
    return p < 0 ? 0 : static_cast<int>(std::lround(run_.readPercent(p) * stages / 100));
  }
  void setPin(int pin, bool high, Nanoseconds when) override {
    if (const int p = arrive(pin, when); p >= 0) run_.makeOutput(p, high);
  }
  void flipPin(int pin, Nanoseconds when) override {
    if (const int p = arrive(pin, when); p >= 0) run_.flip(p);
  }
  void setLevel(int pin, double percent, Nanoseconds when) override {
    if (const int p = arrive(pin, when); p >= 0) run_.dim(p, percent);
  }
  void sound(int pin, float hertz, Nanoseconds when) override {
    if (const int p = arrive(pin, when); p >= 0) run_.sound(p, hertz);
  }
  void silence(int pin, Nanoseconds when) override {
    if (const int p = arrive(pin, when); p >= 0) run_.makeOutput(p, false);
  }
  void turnServo(int pin, float degrees, Nanoseconds when) override {
    if (const int p = arrive(pin, when); p >= 0) run_.turnServo(p, degrees);
  }

 private:
  int arrive(int pin, Nanoseconds when) {
    run_.state.now = when;
    return at(places_, pin);
  }
  Run& run_;
  const std::vector<int>& places_;
};

}  // namespace

Device::Done BoardProcessor::act(Run& run) {
  BoardPins pins(run, at(run.model->boards, board_).circuitPin);
  const int place = at(run.state.places.boards, board_);
  Processor::Executed done;
  run.trace.programsBegin();
  // It goes on by itself until something else is due.
  Nanoseconds limit = 0;
  std::uint64_t changes = 0;
  for (int k = 0; k < mostAtOnce; ++k) {
    if (k == 0 || changes != run.state.devices.changes()) {
      changes = run.state.devices.changes();
      limit = std::min(run.until, run.state.devices.dueBeside(place) - 1);
      if (k > 0 && processor_->nextTime() > limit) break;  // what it did makes another due first
    }
    done = processor_->execute(pins, limit);
    run.state.now = done.at;
    if ((done.atLoopHead && run.stopsAtLoopHeads) || (done.step && run.stepwise) ||
        processor_->nextTime() > limit)
      break;
  }
  return {.event = false, .step = done.step, .atLoopHead = done.atLoopHead};
}

}  // namespace ignavo
