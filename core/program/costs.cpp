#include "program/costs.h"

#include <algorithm>
#include <bit>
#include <cassert>
#include <cmath>
#include <cstdlib>
#include <string_view>

#include "program/expressions.h"

namespace ignavo {

std::size_t CostTable::operationNamed(const std::string& name) {
  std::size_t i = 0;
  while (i < std::size(measured::operators) && name != measured::operators[i].name) ++i;
  return i;
}

CostTable::Operation CostTable::operation(int op) const {
  const std::size_t i = operationNamed(operatorKinds()[static_cast<std::size_t>(op)].name);
  return i < operations.size() ? operations[i] : Operation{};
}

namespace {

int digitsOf(std::uint32_t number) {
  int digits = 1;
  for (; number >= 10; number /= 10) ++digits;
  return digits;
}

// What the chip does to write a float with six digits (make/c_said.cpp): the same loops, counted.
int cyclesOfReal(float value, const CostTable& costs) {
  const auto bits = std::bit_cast<std::uint32_t>(value);
  int exponent = static_cast<int>(bits >> 23 & 0xFF);
  std::uint64_t m = bits & 0x7FFFFF;
  if (exponent == 0xFF || (exponent == 0 && m == 0)) return costs.sayNothing;
  if (exponent > 0)
    m |= 0x800000;
  else
    exponent = 1;
  constexpr int bias = 150;
  int cycles = costs.sayReal;
  const auto tenth = [&] {
    cycles += costs.sayTenth + costs.sayTenthByte * ((static_cast<int>(std::bit_width(m)) + 7) / 8);
    m /= 10;
    cycles += costs.sayTenthBit * std::popcount(m);
  };
  for (exponent -= bias; exponent > 0; --exponent) {
    if (m >= std::uint64_t{1} << 60) tenth();
    m *= 2, cycles += costs.sayDouble;
  }
  for (; exponent < 0; ++exponent) {
    while (m < std::uint64_t{1} << 57) m *= 10, cycles += costs.sayTenfold;
    m /= 2, cycles += costs.sayHalf;
  }
  while (m >= 10'000'000) tenth();
  for (; m < 1'000'000; m *= 10) cycles += costs.sayTenfold;
  auto six = static_cast<std::uint32_t>((m + 5) / 10);
  if (six == 1'000'000) six = 100'000;
  for (; six % 10 == 0; six /= 10) cycles += costs.sayZero;
  return cycles + costs.digits(six) + costs.sayPlaced * digitsOf(six);
}

// Of an operator with two floats, whose mean is known.
using ByValue = int (*)(float a, float b, int mean, const CostTable& costs);

int productOf(float a, float b, int mean, const CostTable& costs) {
  return a == 0 || b == 0 ? costs.timesZero : mean;
}

int quotientOf(float a, float b, int mean, const CostTable& costs) {
  return b == 0 ? costs.byZero : a == 0 ? costs.zeroDivided : mean;
}

int remainderOf(float a, float b, int mean, const CostTable& costs) {
  if (b == 0) return costs.byZero;
  if (a == 0) return mean - costs.remainderOfZero;
  if (!std::isfinite(a) || !std::isfinite(b)) return mean;
  int cycles = mean;
  if (std::abs(a) >= std::abs(b))
    cycles += costs.remainderLarger + costs.remainderBit * (std::ilogb(a) - std::ilogb(b));
  const float rest = std::fmod(a, b);
  if (rest == 0) return cycles;
  if (std::abs(rest) < std::abs(b) && std::abs(a) >= std::abs(b))
    cycles += costs.sumShift * (std::ilogb(b) - std::ilogb(rest));
  return cycles + (std::signbit(a) != std::signbit(b) ? costs.remainderTurned : 0);
}

// As the library does it: the exponents, then the fractions.
int sumOf(float a, float b, int mean, const CostTable& costs) {
  const float sum = a + b;
  if (!std::isfinite(a) || !std::isfinite(b) || !std::isfinite(sum)) return mean;
  int cycles = mean - costs.sumLess;
  if (std::abs(a) < std::abs(b)) {
    cycles += costs.sumPlaces;
    std::swap(a, b);
  }
  if (b == 0) return cycles;
  if (sum == 0) return mean - costs.sumGone;
  constexpr int most = 31;
  const int apart = std::ilogb(a) - std::ilogb(b);
  if (apart > most) return cycles + costs.sumLess - costs.sumAlone;
  cycles += costs.sumBit * apart - costs.sumByte * (apart / 8);
  const int moved = std::ilogb(sum) - std::ilogb(a);
  return cycles + (moved > 0 ? costs.sumCarry : costs.sumShift * -moved);
}

int differenceOf(float a, float b, int mean, const CostTable& costs) {
  return sumOf(a, -b, mean, costs);
}

int toFloat(std::int32_t value, int mean, const CostTable& costs) {
  if (value == 0) return mean - costs.convertZero;
  const std::int64_t size = std::abs(std::int64_t{value});
  constexpr int fraction = 24;
  const int highest = static_cast<int>(std::bit_width(static_cast<std::uint64_t>(size))) - 1;
  const int cycles =
      mean + (highest >= fraction ? costs.convertRight * (highest - fraction) - costs.convertLarge
                                  : costs.convertMore - costs.convertBit * (highest % 8));
  return cycles + (value < 0 ? costs.convertSign : 0);
}

// By operator; null: its mean is good enough.
ByValue byValueOf(int op) {
  static const std::vector<ByValue> all = [] {
    std::vector<ByValue> out;
    for (const OperatorKind& kind : operatorKinds())
      out.push_back(kind.name == "+"     ? sumOf
                    : kind.name == "-"   ? differenceOf
                    : kind.name == "*"   ? productOf
                    : kind.name == "/"   ? quotientOf
                    : kind.name == "mod" ? remainderOf
                                         : ByValue(nullptr));
    return out;
  }();
  return all[static_cast<std::size_t>(op)];
}

}  // namespace

int CostTable::saying(Cell value, ValueType type) const {
  if (type == ValueType::real) return cyclesOfReal(value.real(), *this);
  if (type != ValueType::whole) return 0;
  return sayWhole + digits(static_cast<std::uint32_t>(std::abs(std::int64_t{value.whole()})));
}

int CostTable::digits(std::uint32_t number) const {
  const int count = digitsOf(number);
  return sayDigit * count + sayBehind * count * (count + 1) / 2;
}

int cyclesOf(const Instruction& i, const CostTable& costs) {
  switch (i.code) {
    case OpCode::push:
      return costs.constant;
    case OpCode::readPin:
      return costs.readPin;
    case OpCode::readLevel:
      return i.measures ? costs.readLevel : costs.readPin;
    case OpCode::load:
      return costs.load;
    case OpCode::store:
      return costs.store + (i.plain ? costs.constant : 0) + (i.stays ? costs.load : 0);
    case OpCode::item:
      return i.plain ? costs.load : costs.item;
    case OpCode::storeItem:
      return costs.item;
    case OpCode::seconds:
      return costs.seconds;
    case OpCode::sense:
      return costs.sense + (i.keeps >= 0 ? costs.store : 0);
    case OpCode::wave:
      return costs.wave + (i.keeps >= 0 ? costs.store : 0);
    case OpCode::turns:
      return costs.wait;
    case OpCode::afresh:
      return 0;
    case OpCode::start:
      return 0;
    case OpCode::random:
      return costs.random;
    case OpCode::operate: {
      const auto [whole, real] = costs.operation(i.arg);
      return i.reals ? real : whole;
    }
    case OpCode::convert:
      if (i.target == static_cast<int>(ValueType::real)) return costs.convert;
      if (i.arg != static_cast<int>(ValueType::real)) return 0;
      return i.target == static_cast<int>(ValueType::whole) ? costs.round : costs.convert;
    case OpCode::setPin:
      return i.plain ? costs.setPin : costs.setPinTo;
    case OpCode::flipPin:
      return costs.flipPin;
    case OpCode::setLevel:
      return i.plain ? costs.setLevel : costs.setLevelTo;
    case OpCode::tone:
      return i.plain ? costs.sound : costs.soundTo;
    case OpCode::silence:
      return costs.silence;
    case OpCode::turnServo:
      return i.plain ? costs.turnServo : costs.turnServoTo;
    case OpCode::sayLine:  // what it says is known to whoever makes it
    case OpCode::lineSent:
      return 0;
    case OpCode::readKey:
      return costs.readKey;
    case OpCode::call:
      return costs.call;
    case OpCode::back:
      return costs.back;
    case OpCode::wait:
      return i.plain ? 0 : costs.wait;
    case OpCode::branch:
      return costs.branch;
    case OpCode::countStart:
      return costs.countStart;
    case OpCode::countTurn:
      return costs.countTurn;
    case OpCode::jump:  // back to where a loop begins; others are part of what they belong to
      return i.loopHead ? costs.jump : 0;
    case OpCode::idle:
    case OpCode::end:
      return 0;
  }
  return 0;
}

int cyclesOf(const Instruction& i, const std::vector<Cell>& stack, const CostTable& costs) {
  // What is known beforehand costs nothing, whatever it is.
  if (i.cycles == 0) return 0;
  if (i.code == OpCode::convert && i.target == static_cast<int>(ValueType::real)) {
    assert(!stack.empty());
    return toFloat(stack.back().whole(), i.cycles, costs);
  }
  const ByValue byValue = i.code == OpCode::operate && i.reals ? byValueOf(i.arg) : nullptr;
  if (!byValue) return i.cycles;
  assert(stack.size() >= 2);
  return byValue(stack[stack.size() - 2].real(), stack.back().real(), i.cycles, costs);
}

}  // namespace ignavo
