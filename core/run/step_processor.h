#pragma once
#include <memory>
#include <vector>

#include "program/compiled.h"
#include "run/processor.h"

namespace ignavo {

// Runs the lanes of a compiled program step by step: each ready lane makes one step in its turn,
// in the order of the program. Pins are indices into program.pins.
class StepProcessor final : public Processor {
 public:
  explicit StepProcessor(std::shared_ptr<const CompiledProgram> program);

  std::unique_ptr<Processor> copy() const override;
  void start(Nanoseconds at) override;
  void adopt(const Processor& before, Nanoseconds now) override;
  Nanoseconds nextTime() const override { return due_; }
  Executed execute(PinAccess& pins, Nanoseconds limit) override;
  void pinChanged(int pin, bool high, Nanoseconds now) override;
  bool sameAs(const Processor& then, Nanoseconds later) const override;
  void jump(const Processor& then, Nanoseconds later, std::int64_t times) override;
  void show(Nanoseconds now, bool running, ProcessorView& out) const override;

 private:
  // What a lane is doing. Everything that decides how it goes on.
  struct Lane {
    const Instruction* code = nullptr;  // in the program
    int pc = 0;
    Nanoseconds wake = 0;       // may run from this moment
    Nanoseconds stepBegan = 0;  // when the present step began
    int waiting = -1;           // instruction of the wait that it sleeps in
    bool watching = false;      // sleeps until its pin rises or falls
    std::int64_t missed = 0;    // how often that came while it was running
    bool over = false;
    std::uint32_t dice = 1;  // of its random numbers
    int lastStep = -1;       // that it was in; index in program.steps
    std::vector<std::int64_t> counters;
    std::vector<Cell> stack;
  };
  struct Fault {
    NumberFault what;
    int step;  // index in program.steps
    Nanoseconds at;
  };
  void report(NumberFault what, int step, Nanoseconds now);
  static const Instruction& next(const Lane& lane) { return lane.code[lane.pc]; }
  bool perform(const Instruction& i, Lane& lane, PinAccess& pins);
  void choose();
  void goOn(const CompiledProgram& old, const StepProcessor& was, std::size_t lane,
            std::size_t oldLane, Nanoseconds now);
  void sleepOn(const CompiledLane& code, const Lane& was, int wait, Lane& lane,
               Nanoseconds now) const;

  std::shared_ptr<const CompiledProgram> program_;
  std::vector<Lane> lanes_;
  std::vector<std::int64_t> counts_;  // how often each step ran
  std::vector<signed char> forks_;    // which way each fork went last; -1 never, 0 no, 1 yes
  Nanoseconds free_ = 0;              // when the processor is free for the next instruction
  std::vector<Fault> faults_;         // the first of each kind of each step
  int current_ = -1;                  // lane in the middle of a step
  int previous_ = -1;                 // lane that had the last turn
  // The lane whose turn it is, when its next instruction begins and when that is complete.
  int next_ = -1;
  Nanoseconds begins_ = 0, due_ = never;
};

}  // namespace ignavo
