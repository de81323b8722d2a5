#include "program/instruction.h"

#include <algorithm>
#include <cassert>

namespace ignavo {

namespace {

const Instruction& instruction(const std::vector<Instruction>& code, int at) {
  return code[static_cast<std::size_t>(at)];
}

}  // namespace

int takenBy(const Instruction& i) {
  if (i.plain) return 0;
  return i.code == OpCode::operate ? i.operands : factsOf(i.code).takes;
}

std::int64_t costOf(const Instruction& i, const CostTable& costs) {
  switch (i.code) {
    case OpCode::readPin:
    case OpCode::watch:
      return costs.readPin;
    case OpCode::readLevel:
      return costs.readLevel;
    case OpCode::random:
    case OpCode::operate:
      return costs.arithmetic;
    case OpCode::setPin:
    case OpCode::flipPin:
      return costs.setPin;
    case OpCode::setLevel:
      return costs.setLevel;
    case OpCode::wait:
    case OpCode::branch:
      return costs.branch;
    case OpCode::countStart:
    case OpCode::countTurn:
      return costs.loopTurn;
    case OpCode::jump:  // back to a loop's head; others are part of what they belong to
      return i.loopHead ? costs.loopTurn : 0;
    case OpCode::push:
    case OpCode::convert:
    case OpCode::end:
      return 0;
  }
  return 0;
}

Successors successorsOf(const std::vector<Instruction>& code, int at) {
  const Instruction& i = instruction(code, at);
  const InstructionFacts& f = factsOf(i.code);
  Successors out;
  if (f.goesOn) out.to[out.count++] = at + 1;
  if (f.jumps) out.to[out.count++] = i.target;
  return out;
}

std::optional<double> sleepOf(const std::vector<Instruction>& code, int at) {
  const Instruction& i = instruction(code, at);
  if (!factsOf(i.code).sleeps) return 0;
  return i.plain ? std::optional<double>(std::max(i.number, 0.0)) : std::nullopt;
}

LevelAfter levelAfter(const std::vector<Instruction>& code, int at) {
  switch (instruction(code, at).code) {
    case OpCode::flipPin:
      return LevelAfter::other;
    case OpCode::setLevel:
      return LevelAfter::dimmed;
    case OpCode::setPin:
      if (!instruction(code, at).plain) return LevelAfter::lowOrHigh;
      return instruction(code, at).number != 0 ? LevelAfter::high : LevelAfter::low;
    default:
      assert(!writesPin(instruction(code, at).code));
      return LevelAfter::stays;
  }
}

}  // namespace ignavo
