#pragma once
#include <cstdint>
#include <map>
#include <optional>
#include <set>
#include <string>
#include <vector>

#include "program/costs.h"
#include "program/expressions.h"
#include "program/instruction.h"
#include "program/ranges.h"
#include "program/signals.h"
#include "program/turn_work.h"
#include "project/program_model.h"
#include "text/message.h"

namespace ignavo {

struct CompiledLane {
  std::string id;
  std::string trigger;
  // The edge of a pin that starts it, if one does; or every so many nanoseconds.
  int pin = -1;
  bool high = false;
  std::int64_t every = 0;
  int key = -1;  // or a key of the program's
  // What becomes of what starts it while it runs.
  enum class Again : std::uint8_t { ignore, restart, queue } again = Again::ignore;
  std::uint32_t dice = 1;  // what its random numbers begin with
  std::vector<Instruction> code;
  std::vector<int> counterOwner;  // step of each loop counter
};

// A place in the memory of a program.
struct MemoryCell {
  // What a step or lane remembers besides: `name` is its id.
  enum class Of : std::uint8_t { variable, list, state } of = Of::variable;
  std::string name;
  int item = 0;  // of a list, from 1
  ValueType type = ValueType::whole;
  Cell start;
};

// What is worked out once a turn: what a lane keeps, or the test that starts one.
struct CompiledSignal {
  std::string lane;  // id
  int index = -1;    // of that lane
  std::vector<Instruction> code;
  int shown = -1;  // the cell that holds its value, to be looked at
  ValueType type = ValueType::truth;
  // What stands along its thread (comesInto), from the left: worked out only to be looked at, from
  // what signal operators gave last. Where a random number is in it there is nothing to see.
  struct Part {
    std::string path;  // from the field of the sign on: "of/a"; empty: all of it
    std::vector<Instruction> code;
    ValueType type = ValueType::truth;
    int moment = -1;  // until when it stays so, or begins to be; -1: it knows none
  };
  std::vector<Part> parts;
  // Its signal operators (forEachOperator), and the cells that hold what they gave last.
  struct Operator {
    std::string path;
    int cell = -1;
    ValueType type = ValueType::truth;
  };
  std::vector<Operator> operators;
};

// A wave whose hertz are written out.
struct CompiledWave {
  WaveSteps steps;
  std::optional<std::uint32_t> high;  // of a duty that is written out
};

// Something that is said to the computer.
struct CompiledLine {
  bool note = false;
  int number = 1;                // among the steps that say something
  std::string step;              // id
  std::vector<ValueType> items;  // the last of a note: for how many seconds
};

// A program as the simulated processor runs it. Pins are indices into `pins`.
struct CompiledProgram {
  bool inTurns = false;
  bool usesLine = false;  // it owns the serial pins
  std::vector<CompiledLine> lines;
  std::vector<std::string> keys;  // that it listens to or asks for
  CostTable costs;
  std::vector<CompiledLane> lanes;
  std::vector<CompiledSignal> signals;  // in file order
  std::vector<CompiledWave> waves;
  std::vector<MemoryCell> moments;  // what signal operators remember: turns, by owner
  std::vector<std::string> steps;   // step ids, and lanes that do something once a turn
  std::vector<std::string> pins;
  std::vector<MemoryCell> memory;
  std::vector<std::string> texts;    // the first is empty
  std::vector<std::string> written;  // pins that any step writes
  std::vector<std::string> watched;  // pins that start a lane
  int pulsed = 0;                    // how many pins have tones or pulses
  TurnWork work;                     // of its turns
};

// What a program is compiled for.
struct CompileTarget {
  CostTable costs;
  std::uint64_t seed = 1;            // the project's
  std::vector<std::string> digital;  // pins that cannot measure: asked for a level they are read
  std::vector<std::string> steady;   // pins that cannot dim: they are high from half a level on
  bool pulses = true;                // is a timer left to make tones and pulses?
};
CompiledProgram compile(const Program& program, CompileTarget target = {});
ProgramPace paceOf(const CompiledProgram& program);

// Why a program does not run freely but in turns: the first reason. Nothing: it is plain.
std::optional<Message> whyInTurns(const Program& program);

// For the step kinds: what they may emit.
class Compiler {
 public:
  Compiler(const Program& program, CompileTarget target);

  int pin(const std::string& name);
  // Appends it; a plain number that was pushed for it alone becomes part of it. Gives its place.
  int emit(Instruction instruction);
  // Puts it onto the stack as that type; an absent value counts as 0.
  void value(const Expr* e, ValueType wanted);
  void truth(const Expr* e) { value(e, ValueType::truth); }
  // Goes on elsewhere where it is not so: gives the place of what jumps there. Where it is known
  // beforehand the chip has no branch.
  int branch(const Expr* test, Instruction jump);
  bool isConstant(const Expr& e) const;
  // Is it known beforehand that this count is none? Freely the chip has no loop then.
  bool isNever(const Expr& times);
  // What was worked out for that instruction is known beforehand: it costs as if it were written
  // out.
  void costsAsWritten(int place);
  int costOf(const Instruction& instruction) const;
  void steps(const Steps* body);
  int here() const { return static_cast<int>(code_->size()); }
  Instruction& at(int index) { return (*code_)[static_cast<std::size_t>(index)]; }
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
  // Works out, first of all, the signal operators in an expression that is worked out next.
  void senses(const Expr* e);
  // They forget what they knew: gives the place of what makes them, to be completed behind them.
  int afresh();
  void afresh(int place);
  // A step that does nothing takes its turn all the same.
  void nothing();
  const Types& types() const { return types_; }
  bool makesPulses() const { return target_.pulses; }
  bool hasVariable(const std::string& name) const { return cellOf(name) >= 0; }
  bool hasItems(const std::string& list) const;
  void store(const std::string& variable);                // what is on the stack
  void sum(const std::string& variable, const Expr* by);  // and into it again
  void storeItem(const std::string& list);                // a value, its position above it
  void run(const Step& step);                             // an own step
  void say(const Step& step);
  void lane(const Lane& lane);
  CompiledProgram take() { return std::move(out_); }

 private:
  int cellOf(const std::string& variable) const;
  // Of a list: its first cell, and how many.
  struct Items {
    int first = -1;
    std::uint8_t count = 0;
  };
  Items itemsOf(const std::string& list) const;
  int text(const std::string& text);

  const Program& program_;
  Types types_;
  CompileTarget target_;
  std::vector<std::string> saying_;  // ids of the steps that say something
  bool inTurns_ = false;
  std::optional<Ranges> ranges_;   // where asked for
  std::set<std::string> changed_;  // variables that something changes, and inputs
  void noteChanges(const Steps& steps);
  static bool drawsOfPower(const Expr& random);
  // Own steps that the lane runs: where they begin, once they are written, and who jumps there.
  struct OwnCode {
    const Lane* own;
    int begins = -1;
    std::vector<int> calls;
    std::map<std::string, int> inputs;  // cells
  };
  std::vector<OwnCode> own_;
  const Lane* within_ = nullptr;  // the own step that is written
  CompiledProgram out_;
  CompiledLane* lane_ = nullptr;
  std::vector<Instruction>* code_ = nullptr;  // that is written
  std::map<const Expr*, int> sensed_;         // where the value of a signal operator is
  std::map<const Expr*, int> until_;          // and its moment
  void operation(const Expr& e);
  int input(const Lane& own, const std::string& name);
  void ownSteps();
  void sense(const Expr& e);
  void choice(const Expr& e, ValueType type);
  void turns(const Expr* seconds);
  int newCell(ValueType type);
  void signal(const Lane& lane);
  void show(CompiledSignal& signal, ValueType type);
  void parts(CompiledSignal& signal, const Expr* whole);
  void test(const Lane& lane, int started);
  bool held(const Expr& e, Instruction& i);
  void eitherWay(const Expr& e, bool whenTrue);

  int step_ = -1;
  int offset_ = 0;
  int landed_ = 0;                        // where a jump comes to
  std::vector<std::vector<int>> leaves_;  // per loop around, the jumps that leave it
};

}  // namespace ignavo
