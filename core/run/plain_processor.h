#pragma once
#include "run/step_processor.h"

namespace ignavo {

// Runs a plain program freely: one lane, each instruction at the cycles that it takes on the chip.
class PlainProcessor final : public StepProcessor {
 public:
  explicit PlainProcessor(std::shared_ptr<const CompiledProgram> program);

  std::unique_ptr<Processor> copy() const override;
  Executed execute(PinAccess& pins, Nanoseconds limit) override;
  void pinChanged(int, bool, Nanoseconds) override {}
  void adopt(const Processor& before, Nanoseconds now) override;
  bool sameAs(const Processor& then, Nanoseconds later) const override;
  void jump(const Processor& then, Nanoseconds later, std::int64_t times) override;

 private:
  // A moment counted in cycles, which need not be whole nanoseconds: of so many cycles that are,
  // the rest.
  struct Moment {
    Nanoseconds at = 0;
    std::int64_t cycles = 0;
  };
  void begin(Nanoseconds at) override { free_ = {at, 0}; }
  void choose() override;
  Nanoseconds endOfWait(const Instruction& wait, double seconds, Nanoseconds since) const override;
  Moment after(Moment from, std::int64_t cycles) const;
  std::int64_t cyclesOfWait(const Instruction& wait, double seconds) const;
  Nanoseconds told(const Moment& m) const {
    return m.cycles == 0 ? m.at : m.at + m.cycles * unitNanoseconds_ / unitCycles_;
  }

  std::int64_t unitCycles_ = 1, unitNanoseconds_ = 1;  // the fewest cycles that take whole ones
  int only_ = 0;                                       // the lane that does anything
  Moment complete_;                                    // when the next instruction is
  Moment free_;                                        // for the next instruction
};

}  // namespace ignavo
