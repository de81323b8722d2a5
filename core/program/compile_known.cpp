#include <algorithm>
#include <cmath>

#include "program/compiled.h"
#include "program/facts.h"
#include "program/words.h"

// What the compiler of the chip knows before the program runs, and so works out once and for all:
// then it costs nothing at run time. The cost of an instruction here depends on it, its meaning
// never does.
namespace ignavo {

// The text keeps what any step changes in memory, where it is looked at whenever it is asked for:
// of that no compiler knows anything.
void Compiler::noteChanges(const Steps& steps) {
  forEachStep(steps, [&](const Step& step) {
    if (const auto change = changeOf(step)) changed_.insert(change->name);
  });
}

// Is its value known when the text is compiled? The compiler of the chip works it out then.
bool Compiler::isConstant(const Expr& e) const {
  switch (e.shape) {
    case Expr::Shape::number:
    case Expr::Shape::truth:
    case Expr::Shape::text:
      return true;
    case Expr::Shape::get: {
      const Expr* name = e.arg(variableKey);
      const GetterKind* getter = getterKind(e.text);
      // An item of a list into which nothing is ever put.
      const Expr *list = e.arg(listKey), *index = e.arg("index");
      if (getter && getter->code == OpCode::item)
        return list && index && changed_.count(list->text) == 0 && isConstant(*index);
      return getter && (getter->counts ||
                        (getter->code == OpCode::load && name && changed_.count(name->text) == 0));
    }
    case Expr::Shape::op: {
      const OperatorKind* kind = operatorKind(e.text);
      if (kind && kind->realWorkedOut && operandType(e, types_) == ValueType::real) return false;
      const std::vector<const Expr*> operands = operandsOf(e);
      return std::all_of(operands.begin(), operands.end(),
                         [&](const Expr* operand) { return operand && isConstant(*operand); });
    }
    default:
      return false;
  }
}

bool Compiler::isNever(const Expr& times) {
  if (inTurns_ || !isConstant(times)) return false;
  constexpr double none = 0.5;  // what is below is rounded to it
  if (times.shape == Expr::Shape::number) return times.number < none;
  if (!ranges_) ranges_.emplace(program_);
  return ranges_->of(times).most < none;
}

int Compiler::branch(const Expr* test, Instruction jump) {
  jump.code = OpCode::branch;
  const int from = here();
  truth(test);
  const int place = emit(jump);
  if (!test || isConstant(*test))
    for (int k = from; k <= place; ++k) at(k).cycles = 0;
  return place;
}

void Compiler::costsAsWritten(int place) {
  Instruction written = at(place);
  written.plain = true;
  at(place).cycles = costOf(written);
}

int Compiler::costOf(const Instruction& i) const {
  // A truth is one byte of memory, a number four.
  if (i.code == OpCode::load || i.code == OpCode::store) {
    const MemoryCell& cell = out_.memory[static_cast<std::size_t>(i.arg)];
    const bool truth = cell.of == MemoryCell::Of::variable && cell.type == ValueType::truth;
    return cyclesOf(i, target_.costs) / (truth ? 4 : 1);
  }
  const auto& steady = target_.steady;
  if (i.code != OpCode::setLevel ||
      std::find(steady.begin(), steady.end(), out_.pins[static_cast<std::size_t>(i.arg)]) ==
          steady.end())
    return cyclesOf(i, target_.costs);
  // Without a timer it is a level: whether it is half or more.
  Instruction level;
  level.code = OpCode::setPin;
  level.plain = i.plain;
  const int compared = target_.costs.operation(operatorIndex("≥")).real;
  return cyclesOf(level, target_.costs) + (i.plain ? 0 : compared);
}

// Is it a random number of 2, 4, 8, … between two that are written out? Then its remainder is
// nothing to the chip.
bool Compiler::drawsOfPower(const Expr& random) {
  const std::vector<const Expr*> ends = operandsOf(random);
  if (ends.size() != 2 || !ends[0] || !ends[1] || ends[0]->shape != Expr::Shape::number ||
      ends[1]->shape != Expr::Shape::number)
    return false;
  const auto whole = [](const Expr* e) {
    return std::int64_t{converted(literal(e->number), typeOf(*e), ValueType::whole).whole()};
  };
  const std::int64_t many = std::abs(whole(ends[1]) - whole(ends[0])) + 1;
  return (many & (many - 1)) == 0;
}

}  // namespace ignavo
