#pragma once
#include <memory>
#include <vector>

#include "program/compiled.h"
#include "run/processor.h"

namespace ignavo {

// Runs a compiled program by its steps. What all such have in common: the lanes and how far they
// are, what an instruction does, what is reported and shown. When a lane has its say is decided by
// the one that runs freely (plain_processor) and the one that runs in turns (turn_processor). Pins
// are indices into program.pins.
class StepProcessor : public Processor {
 public:
  void start(Nanoseconds at) override;
  void adopt(const Processor& before, Nanoseconds now) override;
  Nanoseconds nextTime() const override { return due_; }
  std::optional<bool> lookedAt(int pin, Nanoseconds since) const override;
  void show(PinAccess& pins, Nanoseconds now, bool running, ProcessorView& out) const override;

 protected:
  explicit StepProcessor(std::shared_ptr<const CompiledProgram> program)
      : program_(std::move(program)) {}

  // What a lane is doing. Everything that decides how it goes on.
  struct Lane {
    const Instruction* code = nullptr;  // in the program
    const std::vector<Instruction>* list = nullptr;
    int index = 0;  // of the lane whose random numbers it takes
    int pc = 0;
    bool over = false, idle = false;  // for ever; until it is started
    int waiting = -1;                 // instruction of the wait that it sleeps in
    Nanoseconds wake = 0;             // it sleeps until then
    Nanoseconds since = 0;            // from when the next wait counts
    bool stepped = false;             // had its step in this turn
    std::int64_t owed = 0;            // cycles that its next look takes besides
    bool afresh = false;              // such a look is what it does in this turn
    int queued = 0;                   // how often it is to run again
    std::int64_t missed = 0;          // how often what starts it came while it was running
    std::int64_t bounced = 0;         // of these: only by contacts that bounced
    Nanoseconds ceased = -1;          // when what starts it ended last; -1: not yet
    std::uint32_t dice = 1;           // of its random numbers
    int lastStep = -1;                // that it was in; index in program.steps
    std::vector<std::int64_t> counters;
    std::vector<Cell> stack;
    std::vector<int> returns;  // where it goes on behind the own steps that it is in

    const Instruction& next() const { return code[pc]; }
    bool sameAs(const Lane& o) const {
      return over == o.over && idle == o.idle && pc == o.pc && waiting == o.waiting &&
             dice == o.dice && queued == o.queued && counters == o.counters && stack == o.stack &&
             returns == o.returns;
    }
  };
  struct Fault {
    NumberFault what;
    int step;  // index in program.steps
    Nanoseconds at;
  };

  void tellStep(const Instruction& i, const Lane& l, PinAccess& pins, Nanoseconds now) const;
  // What an instruction of the lane does, complete at `now`; waits and ends are the caller's. True
  // when it asks or changes anything outside.
  bool perform(const Instruction& i, Lane& lane, PinAccess& pins, Nanoseconds now);
  // True: it is on its way.
  bool say(const Instruction& i, Lane& lane, PinAccess& pins, Nanoseconds now);
  // What a wait or level takes off the stack.
  static double realTaken(const Instruction& i, Lane& lane);
  // What is counted, and when it was counted last.
  void jump(std::int64_t times, const StepProcessor& then, Nanoseconds later);

  // When a lane did a step last; one that stands at it looks again and again.
  bool cameTo(const Lane& lane, int step, Nanoseconds since) const;

  // From when the processor is free, at the start or for what goes on from before.
  virtual void begin(Nanoseconds at) = 0;
  // Looks who is next: sets due_.
  virtual void choose() = 0;
  // What starts this lane came.
  virtual void came(int /*lane*/) {}
  // When a wait of those seconds ends that began at `since`.
  virtual Nanoseconds endOfWait(const Instruction& wait, double seconds,
                                Nanoseconds since) const = 0;

  std::shared_ptr<const CompiledProgram> program_;
  std::vector<Lane> lanes_;
  std::vector<std::int64_t> counts_;   // how often each step ran
  std::vector<Nanoseconds> lastRuns_;  // when it was done last
  std::vector<Cell> memory_;           // variables, lists
  std::vector<std::int32_t> asked_;    // per list, at its first cell: the position read last
  std::vector<std::int64_t> moments_;  // of signal operators, as turns since power-on
  std::vector<std::uint8_t> held_;     // the program's keys
  std::int64_t turns_ = 0;             // since then, up to this one
  Nanoseconds turn_ = 0;               // it, or the last one: when it should begin
  Nanoseconds turnBegan_ = 0;          // and when it did
  std::int64_t shares_ = 0;            // what was counted in it so far, in microseconds
  std::vector<signed char> forks_;     // which way each fork went last; -1 never, 0 no, 1 yes
  std::vector<Fault> faults_;          // the first of each kind of each step
  bool changed_ = true;                // did the last step that set a pin change it
  bool measured_ = false;              // the first measurement takes longer
  Nanoseconds powerOn_ = 0;            // when it began
  std::int64_t spoken_ = 0;            // cycles that the line that was said last took
  std::int64_t spokenShare_ = 0;       // and what was counted for it, in microseconds
  double seconds_ = 0;                 // of the wait that began last
  Nanoseconds due_ = never;            // when the next instruction is complete

 private:
  void give(const Instruction& i, Lane& lane, Cell value);
  Cell valueOf(const CompiledSignal::Part& part, PinAccess& pins, Nanoseconds now);
  int place(const Instruction& i, std::int32_t position, Nanoseconds now);
  void report(NumberFault what, int step, Nanoseconds now);
  void goOn(const CompiledProgram& old, const StepProcessor& was, std::size_t lane,
            std::size_t oldLane, Nanoseconds now);
  void sleepOn(const CompiledLane& code, const Lane& was, int wait, Lane& lane, Nanoseconds now);
};

// The one that runs this program as it runs.
std::unique_ptr<Processor> stepProcessor(std::shared_ptr<const CompiledProgram> program);

}  // namespace ignavo
