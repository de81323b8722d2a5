#pragma once
#include <cstdint>
#include <memory>
#include <string>
#include <vector>

#include "program/compiled.h"
#include "run/trace.h"

namespace ignavo {

constexpr Nanoseconds never = INT64_MAX;

// What a lane is doing. Everything that decides how it goes on.
struct LaneState {
  int pc = 0;
  Nanoseconds wake = 0;       // may run from this moment
  Nanoseconds stepBegan = 0;  // when the present step began
  int waiting = -1;           // instruction of the wait that it sleeps in
  bool watching = false;      // sleeps until its pin rises or falls
  std::int64_t missed = 0;    // how often that came while it was running
  bool over = false;
  std::vector<std::int64_t> counters;
  std::vector<double> stack;
};

// What the processor needs of the world around it.
class PinAccess {
 public:
  virtual ~PinAccess() = default;
  virtual bool readPin(int pin, Nanoseconds at) = 0;
  // Share of the supply at the pin in percent, measured in 1,024 stages.
  virtual double readLevel(int pin, Nanoseconds at) = 0;
  virtual void setPin(int pin, bool high, Nanoseconds at) = 0;
  virtual void flipPin(int pin, Nanoseconds at) = 0;
  virtual void setLevel(int pin, double percent, Nanoseconds at) = 0;
};

// One board's processor: runs the lanes of a compiled program step by step in a
// fixed order. Owns no clock; the kernel asks when the next instruction would
// be complete and then executes it.
class Processor {
 public:
  // Starts all lanes at `at`. Pins are indices into program.pins.
  void start(const CompiledProgram& program, Nanoseconds at);
  // Goes on with a changed program: lanes keep their place where the step they
  // are in still exists, else they begin again.
  void adopt(const CompiledProgram& program, Nanoseconds now);

  // When the next instruction will be complete; `never` when all lanes are over.
  Nanoseconds nextTime() const;
  // Executes that instruction. True when a lane came round to its beginning.
  bool execute(PinAccess& pins);

  // A pin rose or fell: wakes the lanes that wait for it. Those that run miss it.
  void pinChanged(int pin, bool high, Nanoseconds now);
  void addMissed(std::size_t lane, std::int64_t times) { lanes_[lane].missed += times; }

  bool betweenSteps() const { return current_ < 0; }
  // Is everything as in `other`, apart from `shift` in time?
  bool sameAs(const Processor& other, Nanoseconds shift) const;
  void shiftBy(Nanoseconds shift);

  const CompiledProgram& program() const { return *program_; }
  const std::vector<LaneState>& lanes() const { return lanes_; }
  // Step that a lane is in (index in program().steps), -1 for none.
  int stepOf(std::size_t lane) const;
  // How often each step ran, and which way each fork went last (-1 never, 0 no, 1 yes).
  const std::vector<std::int64_t>& stepCounts() const { return counts_; }
  std::vector<std::int64_t>& stepCounts() { return counts_; }
  const std::vector<signed char>& forks() const { return forks_; }

 private:
  // The lane whose turn it is and when its next instruction begins; lane -1: none.
  struct Choice {
    int lane = -1;
    Nanoseconds start = 0;
  };
  Choice choose() const;
  std::shared_ptr<const CompiledProgram> program_ = std::make_shared<CompiledProgram>();
  std::vector<LaneState> lanes_;
  std::vector<int> lastStep_;
  std::vector<std::int64_t> counts_;
  std::vector<signed char> forks_;
  Nanoseconds free_ = 0;  // when the processor is free for the next instruction
  int current_ = -1;      // lane in the middle of a step
  int previous_ = -1;     // lane that had the last turn
};

}  // namespace ignavo
