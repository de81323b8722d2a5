#pragma once
#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "program/costs.h"
#include "program/instruction.h"
#include "project/program_model.h"
#include "text/message.h"

namespace ignavo {

struct CompiledLane {
  std::string id;
  std::string trigger;
  // The edge of a pin that starts it, if one does.
  int pin = -1;
  bool high = false;
  std::uint32_t dice = 1;  // what its random numbers begin with
  std::vector<Instruction> code;
  std::vector<int> counterOwner;  // step of each loop counter
};

// A program as the simulated processor runs it. Pins are indices into `pins`.
struct CompiledProgram {
  bool inTurns = false;
  CostTable costs;
  std::vector<CompiledLane> lanes;
  std::vector<std::string> steps;  // step ids
  std::vector<std::string> pins;
  std::vector<std::string> written;  // pins that any step writes
  std::vector<std::string> watched;  // pins that start a lane
};

// `seed`: the project's.
// `digital`: pins that cannot measure; asked for their level they are only read.
CompiledProgram compile(const Program& program, const CostTable& costs = {}, std::uint64_t seed = 1,
                        std::vector<std::string> digital = {});
ProgramPace paceOf(const CompiledProgram& program);

// Why a program does not run freely but in turns: the first reason. Nothing: it is plain.
std::optional<Message> whyInTurns(const Program& program);

// For the step kinds: what they may emit.
class Compiler {
 public:
  Compiler(const CostTable& costs, std::uint64_t seed, std::vector<std::string> digital)
      : costs_(costs), seed_(seed), digital_(std::move(digital)) {}

  int pin(const std::string& name);
  // Appends it; a plain number that was pushed for it alone becomes part of it. Gives its place.
  int emit(Instruction instruction);
  // Puts it onto the stack as that type; an absent value counts as 0.
  void value(const Expr* e, ValueType wanted);
  void truth(const Expr* e) { value(e, ValueType::truth); }
  void steps(const Steps* body);
  int here() const { return static_cast<int>(lane_->code.size()); }
  Instruction& at(int index) { return lane_->code[static_cast<std::size_t>(index)]; }
  // A loop begins here: gives its place, to go back to.
  int loop();
  // Back to there, with the end of a round.
  void goRound(int top, bool takesTurn);
  // Whoever leaves the innermost loop with this jump comes to where it ends; where there is no
  // loop nothing is done.
  void leave(Instruction jump);
  void leaveLoop();  // the innermost loop ends here
  // Nothing more of this lane until it is started again.
  void endLane();
  // What jumps comes to the place that follows: nothing before it belongs to what stands there.
  void land(int jump);
  int newCounter();
  void lane(const Lane& lane);
  CompiledProgram take() { return std::move(out_); }

 private:
  CostTable costs_;
  std::uint64_t seed_;
  std::vector<std::string> digital_;
  CompiledProgram out_;
  CompiledLane* lane_ = nullptr;
  void operation(const Expr& e);
  void eitherWay(const Expr& e, bool whenTrue);

  int step_ = -1;
  int offset_ = 0;
  int landed_ = 0;                        // where a jump comes to
  std::vector<std::vector<int>> leaves_;  // per loop around, the jumps that leave it
};

}  // namespace ignavo
