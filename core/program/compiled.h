#pragma once
#include <cstdint>
#include <string>
#include <vector>

#include "project/program_model.h"

namespace ignavo {

// What each thing costs on a board's processor, in nanoseconds.
struct CostTable {
  std::int64_t setPin = 4000;
  std::int64_t readPin = 4000;
  std::int64_t readLevel = 112000;
  std::int64_t setLevel = 6000;
  std::int64_t arithmetic = 2000;
  std::int64_t loopTurn = 1000;
  std::int64_t branch = 1000;
};

enum class OpCode : std::uint8_t {
  push,        // number onto the stack
  readPin,     // level of pin `arg`
  readLevel,   // share of the supply at pin `arg`, in percent
  operate,     // operator `arg` on the top of the stack
  setPin,      // pin `arg` to the popped truth
  flipPin,     // pin `arg` to the other level
  setLevel,    // pin `arg` dimmed to the popped percent
  watch,       // sleep until pin `arg` rises (`number` 1) or falls (0)
  wait,        // sleep for the popped seconds, counted from the start of the step
  jump,        // to `target`
  branch,      // to `target` when the popped value is false; remembers which way
  countStart,  // counter `arg` = popped number, rounded
  countTurn,   // to `target` when counter `arg` is used up, else one less
  end,         // the lane is over
};

// Does it change what a pin gives?
inline bool writesPin(OpCode code) {
  return code == OpCode::setPin || code == OpCode::flipPin || code == OpCode::setLevel;
}

struct Instruction {
  OpCode code = OpCode::end;
  bool endsStep = false;  // the next lane takes its turn after this one
  bool loopHead = false;  // jumps back to the beginning of an endless lane
  int arg = 0;
  int target = 0;
  double number = 0;
  std::int64_t nanoseconds = 0;
  int step = -1;   // index in CompiledProgram::steps
  int offset = 0;  // place among the instructions of that step
};

struct CompiledLane {
  std::string id;
  std::string trigger;
  std::vector<Instruction> code;
  std::vector<int> counterOwner;  // step of each loop counter
};

// A program as the simulated processor runs it. Pins are indices into `pins`.
struct CompiledProgram {
  std::vector<CompiledLane> lanes;
  std::vector<std::string> steps;  // step ids
  std::vector<std::string> pins;
  std::vector<std::string> written;  // pins that any step writes
  std::vector<std::string> watched;  // pins that start a lane
};

CompiledProgram compile(const Program& program, const CostTable& costs);

// The plain number that instruction `at` takes, where it is all that its step pushed before it;
// null: what it takes is worked out.
const Instruction* plainOperand(const std::vector<Instruction>& code, int at);

// For the step kinds: what they may emit.
class Compiler {
 public:
  explicit Compiler(const CostTable& costs) : costs_(costs) {}

  const CostTable& costs() const { return costs_; }
  int pin(const std::string& name);
  void emit(Instruction instruction);
  void value(const Expr* e);  // an absent value counts as 0
  void steps(const Steps* body);
  int here() const { return static_cast<int>(lane_->code.size()); }
  Instruction& at(int index) { return lane_->code[static_cast<std::size_t>(index)]; }
  int newCounter();
  void lane(const Lane& lane);
  CompiledProgram take() { return std::move(out_); }

 private:
  CostTable costs_;
  CompiledProgram out_;
  CompiledLane* lane_ = nullptr;
  int step_ = -1;
  int offset_ = 0;
};

}  // namespace ignavo
