#include "run/devices/board_processor.h"

#include <algorithm>

#include "project/indexing.h"
#include "run/run.h"

namespace ignavo {

namespace {

// The pins of a board as its program counts them.
class BoardPins final : public PinAccess {
 public:
  BoardPins(Run& run, const std::vector<int>& places) : run_(run), places_(places) {}

  bool readPin(int pin, Nanoseconds when) override {
    const int p = arrive(pin, when);
    return p >= 0 && run_.read(p);
  }
  double readLevel(int pin, Nanoseconds when) override {
    const int p = arrive(pin, when);
    return p < 0 ? 0 : run_.readPercent(p);
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
  // What it does alone it may do until something else is due.
  const Nanoseconds others = run.state.devices.dueBeside(at(run.state.places.boards, board_));
  const Processor::Executed done =
      processor_->execute(pins, std::min(run.until, others == never ? never : others - 1));
  run.state.now = done.at;
  return {.event = false, .step = done.step, .cameRound = done.cameRound};
}

}  // namespace ignavo
