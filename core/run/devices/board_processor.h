#pragma once
#include <memory>

#include "run/device.h"
#include "run/processor.h"

namespace ignavo {

// A board's processor, joined to the pins of the circuit. It stands still while its board has no
// power.
class BoardProcessor final : public DeviceOf<BoardProcessor> {
 public:
  BoardProcessor(int board, std::unique_ptr<Processor> processor)
      : board_(board), processor_(std::move(processor)) {}
  BoardProcessor(const BoardProcessor& o)
      : DeviceOf(o), board_(o.board_), fed_(o.fed_), processor_(o.processor_->copy()) {}

  void feed(bool fed) { fed_ = fed; }
  void start(Nanoseconds now) { processor_->start(now); }
  void forgetBeyond(Nanoseconds done) { processor_->forgetBeyond(done); }
  void pinChanged(int pin, bool high, Nanoseconds now) { processor_->pinChanged(pin, high, now); }
  void keyChanged(const std::string& key, bool down, Nanoseconds now) {
    processor_->keyChanged(key, down, now);
  }
  const Processor& processor() const { return *processor_; }
  // What it can show of itself; it only looks at the run.
  void show(Run& run, bool running, ProcessorView& out) const;

  Nanoseconds due() const override { return fed_ ? processor_->nextTime() : never; }
  Done act(Run& run) override;
  bool repeats(const BoardProcessor& then, Nanoseconds later) const {
    return fed_ == then.fed_ && processor_->sameAs(*then.processor_, later);
  }
  Nanoseconds standsUntil(const Device& then) const override {
    return processor_->standsUntil(*static_cast<const BoardProcessor&>(then).processor_);
  }
  void skip(const BoardProcessor& then, Nanoseconds later, std::int64_t times) {
    processor_->jump(*then.processor_, later, times);
  }

 private:
  int board_;
  bool fed_ = false;
  std::unique_ptr<Processor> processor_;
};

}  // namespace ignavo
