#include "program/instruction.h"

#include <algorithm>
#include <cassert>
#include <cmath>

namespace ignavo {

namespace {

const Instruction& instruction(const std::vector<Instruction>& code, int at) {
  return code[static_cast<std::size_t>(at)];
}

}  // namespace

double turnsOf(double seconds) {
  constexpr double longest = 9e8;
  if (!(seconds > 0)) return 0;
  const double nanoseconds = std::round(std::min(seconds, longest) * 1e9);
  return std::min(std::ceil(nanoseconds / static_cast<double>(turnNanoseconds)), mostTurns);
}

std::int32_t turnsOf(float seconds) {
  const float turns = std::ceil(seconds * 4000.0F);
  if (!(turns > 0)) return 0;
  return turns < 2147483648.0F ? static_cast<std::int32_t>(turns) : 2147483647;
}

int takenBy(const Instruction& i) {
  if (i.plain) return 0;
  return i.code == OpCode::operate || i.code == OpCode::sense || i.code == OpCode::sayLine
             ? i.operands
             : factsOf(i.code).takes;
}

int givenBy(const Instruction& i) {
  return i.keeps >= 0 ? 0 : factsOf(i.code).gives + (i.stays ? 1 : 0);
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

std::optional<double> secondsOf(const std::vector<Instruction>& code, int at,
                                const ProgramPace& pace) {
  const Instruction& i = instruction(code, at);
  constexpr double turn = static_cast<double>(turnNanoseconds) * 1e-9;
  const double measuring = i.measures ? static_cast<double>(pace.measures) * 1e-9 : 0;
  if (factsOf(i.code).sleeps) {
    const auto sleep = sleepOf(code, at);
    return !sleep || !pace.inTurns ? sleep : std::max(0.0, *sleep - turn);
  }
  if (pace.inTurns) return (i.takesTurn ? turn : 0) + measuring;
  return static_cast<double>(i.cycles) / static_cast<double>(pace.hertz) + measuring;
}

LevelAfter levelAfter(const std::vector<Instruction>& code, int at) {
  switch (instruction(code, at).code) {
    case OpCode::flipPin:
      return LevelAfter::other;
    case OpCode::setLevel:
      // Of a share that is written out as nothing no moment is high.
      if (instruction(code, at).plain && instruction(code, at).number <= 0) return LevelAfter::low;
      return LevelAfter::wavers;
    case OpCode::tone:
    case OpCode::turnServo:
      return LevelAfter::wavers;
    case OpCode::silence:
      return LevelAfter::low;
    case OpCode::setPin:
      if (!instruction(code, at).plain) return LevelAfter::lowOrHigh;
      return instruction(code, at).number != 0 ? LevelAfter::high : LevelAfter::low;
    default:
      assert(!writesPin(instruction(code, at).code));
      return LevelAfter::stays;
  }
}

}  // namespace ignavo
