#include "program/costs.h"

#include <string_view>

#include "program/expressions.h"

namespace ignavo {

namespace {

struct OperatorCost {
  std::string_view name;
  int whole, real;
};
constexpr OperatorCost operatorCosts[] = {
    {"or", 2, 2},    {"and", 2, 2},     {"not", 1, 1},   {"=", 5, 45},        {"≠", 5, 45},
    {"<", 5, 45},    {"≤", 5, 45},      {">", 5, 45},    {"≥", 5, 45},        {"+", 4, 110},
    {"-", 4, 110},   {"*", 45, 150},    {"/", 480, 480}, {"mod", 620, 900},   {"min", 12, 55},
    {"max", 12, 55}, {"round", 1, 220}, {"abs", 6, 4},   {"map", 1000, 1000},
};

}  // namespace

std::pair<int, int> CostTable::operation(int op) const {
  const std::string& name = operatorKinds()[static_cast<std::size_t>(op)].name;
  for (const OperatorCost& cost : operatorCosts)
    if (cost.name == name) return {cost.whole, cost.real};
  return {0, 0};
}

int CostTable::saying(const std::vector<ValueType>& items) const {
  int out = say;
  for (const ValueType type : items)
    out += type == ValueType::real ? sayReal : type == ValueType::whole ? sayWhole : sayText;
  return out;
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
    case OpCode::storeItem:
      return costs.item;
    case OpCode::seconds:
      return costs.convert + 480;
    case OpCode::sense:
      return costs.sense + (i.keeps >= 0 ? costs.store : 0);
    case OpCode::wave:
      return costs.wave + (i.keeps >= 0 ? costs.store : 0);
    case OpCode::turns:
      return costs.convert + 300;
    case OpCode::afresh:
      return 4 * i.operands;
    case OpCode::start:
      return 0;
    case OpCode::random:
      return costs.random;
    case OpCode::operate: {
      const auto [whole, real] = costs.operation(i.arg);
      return i.reals ? real : whole;
    }
    case OpCode::convert:
      return i.arg == static_cast<int>(ValueType::real) ||
                     i.target == static_cast<int>(ValueType::real)
                 ? costs.convert
                 : 0;
    case OpCode::setPin:
      return i.plain ? costs.setPin : costs.setPinTo;
    case OpCode::flipPin:
      return costs.flipPin;
    case OpCode::setLevel:
      return i.plain ? costs.setLevel : costs.setLevelTo;
    case OpCode::tone:
      return costs.sound;
    case OpCode::silence:
      return costs.silence;
    case OpCode::turnServo:
      return costs.turnServo;
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

}  // namespace ignavo
