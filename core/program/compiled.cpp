#include "program/compiled.h"

#include <algorithm>
#include <cmath>

#include "program/facts.h"
#include "program/own_steps.h"
#include "program/said.h"
#include "program/words.h"

namespace ignavo {

int Compiler::pin(const std::string& name) {
  const auto it = std::find(out_.pins.begin(), out_.pins.end(), name);
  if (it != out_.pins.end()) return static_cast<int>(it - out_.pins.begin());
  out_.pins.push_back(name);
  return static_cast<int>(out_.pins.size()) - 1;
}

Compiler::Compiler(const Program& program, CompileTarget target)
    : program_(program),
      types_(program),
      target_(std::move(target)),
      saying_(sayingSteps(program)),
      inTurns_(whyInTurns(program).has_value()) {
  for (const auto& lane : program.lanes) {
    if (!isOwn(*lane)) noteChanges(lane->steps);
    if (const Expr* kept = lane->trigger.field(variableKey)) changed_.insert(kept->text);
    for (const std::string& input : inputsOf(*lane)) changed_.insert(input);
  }
  for (const Lane* own : ownStepsRun(program)) noteChanges(own->steps);
  out_.keys = keysOf(program);
  out_.usesLine = !out_.keys.empty() || !saying_.empty();
  out_.texts = {std::string()};
  using Of = MemoryCell::Of;
  for (const Variable& v : program.variables) {
    const ValueType type = types_.variable(v.name), is = typeOf(v.start);
    Cell start;
    if (type == ValueType::text)
      start = {static_cast<std::uint32_t>(is == type ? text(v.start.text) : 0)};
    else if (is == ValueType::truth)
      start = converted(Cell::of(v.start.truth), is, type);
    else if (is != ValueType::text)
      start = converted(literal(v.start.number), is, type);
    out_.memory.push_back({Of::variable, v.name, 0, type, start});
  }
  for (const NumberList& l : program.lists) {
    const ValueType type = types_.list(l.name);
    for (std::size_t i = 0; i < l.items.size(); ++i)
      out_.memory.push_back({Of::list, l.name, static_cast<int>(i) + 1, type,
                             converted(literal(l.items[i]), typeOf(Expr::of(l.items[i])), type)});
  }
}

int Compiler::cellOf(const std::string& variable) const {
  // Inputs hide what is outside.
  for (const OwnCode& code : own_)
    if (code.own == within_)
      if (const auto it = code.inputs.find(variable); it != code.inputs.end()) return it->second;
  for (std::size_t i = 0; i < out_.memory.size(); ++i)
    if (out_.memory[i].of == MemoryCell::Of::variable && out_.memory[i].name == variable)
      return static_cast<int>(i);
  return -1;
}

Compiler::Items Compiler::itemsOf(const std::string& list) const {
  Items out;
  for (std::size_t i = 0; i < out_.memory.size(); ++i) {
    if (out_.memory[i].of != MemoryCell::Of::list || out_.memory[i].name != list) continue;
    if (out.first < 0) out.first = static_cast<int>(i);
    ++out.count;
  }
  return out;
}
bool Compiler::hasItems(const std::string& list) const { return itemsOf(list).count > 0; }

int Compiler::text(const std::string& wanted) {
  const auto it = std::find(out_.texts.begin(), out_.texts.end(), wanted);
  if (it != out_.texts.end()) return static_cast<int>(it - out_.texts.begin());
  out_.texts.push_back(wanted);
  return static_cast<int>(out_.texts.size()) - 1;
}

void Compiler::nothing() {
  Instruction i;
  i.code = OpCode::jump;
  i.endsStep = true;
  land(emit(i));
}

void Compiler::store(const std::string& variable) {
  Instruction i;
  i.code = OpCode::store;
  i.arg = cellOf(variable);
  i.endsStep = true;
  emit(i);
}

void Compiler::sum(const std::string& variable, const Expr* by) {
  const ValueType type = types_.variable(variable);
  Instruction i;
  i.code = OpCode::load;
  i.arg = cellOf(variable);
  emit(i);
  value(by, type);
  Instruction plus;
  plus.code = OpCode::operate;
  plus.arg = operatorIndex("+");
  plus.reals = type == ValueType::real;
  plus.operands = 2;
  emit(plus);
  store(variable);
}

void Compiler::storeItem(const std::string& list) {
  Instruction i;
  i.code = OpCode::storeItem;
  i.arg = itemsOf(list).first;
  i.operands = itemsOf(list).count;
  i.endsStep = true;
  const bool known = code_->back().code == OpCode::push;
  const int place = emit(i);
  if (known) at(place).cycles = target_.costs.store;
}

int Compiler::emit(Instruction instruction) {
  if (factsOf(instruction.code).takes == 1 && instruction.code != OpCode::convert &&
      !instruction.stays && here() > landed_ && code_->back().code == OpCode::push &&
      code_->back().step == step_) {
    instruction.plain = true;
    instruction.number = code_->back().number;
    instruction.value = code_->back().value;
    code_->pop_back();
    --offset_;
  }
  instruction.step = step_;
  instruction.offset = offset_++;
  instruction.cycles = costOf(instruction);
  code_->push_back(instruction);
  return here() - 1;
}

int Compiler::loop() {
  leaves_.emplace_back();
  return landed_ = here();
}

void Compiler::goRound(int top, bool takesTurn) {
  Instruction back;
  back.code = OpCode::jump;
  back.target = top;
  back.endsStep = back.loopHead = true;
  back.takesTurn = takesTurn;
  emit(back);
}

void Compiler::leave(Instruction jump) {
  if (leaves_.empty()) return nothing();  // there is nothing to leave
  leaves_.back().push_back(emit(jump));
}

void Compiler::leaveLoop() {
  for (const int jump : leaves_.back()) land(jump);
  leaves_.pop_back();
}

void Compiler::endLane() {
  Instruction i;
  const bool started = !code_->empty() && code_->front().code == OpCode::idle;
  i.code = started ? OpCode::jump : OpCode::end;
  i.endsStep = true;
  emit(i);
}

void Compiler::land(int jump) { at(jump).target = landed_ = here(); }

void Compiler::value(const Expr* e, ValueType wanted) {
  Instruction i;
  i.code = OpCode::push;
  if (!e) return void(emit(i));
  const auto known = sensed_.find(e);
  const ValueType is = typeOf(*e, types_);
  switch (e->shape) {
    case Expr::Shape::number:
    case Expr::Shape::truth:
    case Expr::Shape::text:
      if (e->shape == Expr::Shape::number) {
        i.number = e->number;  // as it is written: waits are read decimally
        i.value = converted(literal(e->number), is, wanted);
        if (wanted != is) i.number = number(i.value, wanted);
        if (wanted == ValueType::real) i.number = e->number;
      } else if (wanted == ValueType::text) {
        i.value = {static_cast<std::uint32_t>(is == wanted ? text(e->text) : 0)};
      } else {
        const bool high =
            e->shape == Expr::Shape::truth ? e->truth : namedLevel(*e).value_or(false);
        i.value = converted(Cell::of(high), ValueType::truth, wanted);
        i.number = high ? 1 : 0;
      }
      return void(emit(i));
    case Expr::Shape::get: {
      const GetterKind* getter = getterKind(e->text);
      if (getter) {
        i.code = getter->code;
        i.number = getter->full;
      }
      if (getter && getter->counts) {
        const Expr* list = e->arg(listKey);
        const Expr count = Expr::of(double{list ? itemsOf(list->text).count : 0.0});
        return value(&count, wanted);
      }
      if (!held(*e, i)) return value(nullptr, wanted);
      const int from = here();
      for (const Expr* operand : operandsOf(*e)) value(operand, ValueType::whole);
      if (i.code == OpCode::readKey) {
        const Expr* key = e->arg(keyKey);
        const auto it = std::find(out_.keys.begin(), out_.keys.end(), key ? key->text : "");
        if (it == out_.keys.end()) return value(nullptr, wanted);
        i.arg = static_cast<int>(it - out_.keys.begin());
      }
      if (factsOf(i.code).readsPin) i.arg = pin(pinRead(*e) ? *pinRead(*e) : std::string());
      i.measures = measures(*e) && pinRead(*e) &&
                   std::find(target_.digital.begin(), target_.digital.end(), *pinRead(*e)) ==
                       target_.digital.end();
      const int place = emit(i);
      if ((i.code == OpCode::load || i.code == OpCode::item) && isConstant(*e)) {
        for (int k = from; k < place; ++k) at(k).cycles = 0;
        at(place).cycles = target_.costs.constant;
      }
      if (i.code == OpCode::random && drawsOfPower(*e))
        at(place).cycles = target_.costs.randomOfPower;
      break;
    }
    case Expr::Shape::op: {
      const int from = here();
      operation(*e);
      if (isConstant(*e))
        for (int k = from; k < here(); ++k) at(k).cycles = 0;
      break;
    }
    case Expr::Shape::sig:
      if (known != sensed_.end()) {
        i.code = OpCode::load;
        i.arg = known->second;
        emit(i);
      } else if (const SignalKind* kind = signalKind(e->text); kind && kind->chooses) {
        choice(*e, is);
      } else {
        return void(emit(i));  // nobody asks it from turn to turn here
      }
      break;
    default:
      return void(emit(i));
  }
  if (is == wanted) return;
  Instruction convert;
  convert.code = OpCode::convert;
  convert.arg = static_cast<int>(is);
  convert.target = static_cast<int>(wanted);
  const int place = emit(convert);
  if (isConstant(*e)) at(place).cycles = 0;
}

void Compiler::choice(const Expr& e, ValueType type) {
  Instruction fork, jump;
  fork.code = OpCode::branch;
  jump.code = OpCode::jump;
  truth(e.arg("if"));
  const int no = emit(fork);
  value(e.arg("then"), type);
  const int skip = emit(jump);
  land(no);
  value(e.arg("else"), type);
  land(skip);
}

// The cells that an expression asks for; false: there are none, and it gives 0.
bool Compiler::held(const Expr& e, Instruction& i) {
  const auto named = [&](const char* key) {
    const Expr* name = e.arg(key);
    return name ? name->text : std::string();
  };
  if (i.code == OpCode::load) return (i.arg = cellOf(named(variableKey))) >= 0;
  if (i.code != OpCode::item) return true;
  const Items items = itemsOf(named(listKey));
  i.arg = items.first;
  i.operands = items.count;
  return items.count > 0;
}

void Compiler::operation(const Expr& e) {
  const OperatorKind* kind = operatorKind(e.text);
  if (kind && kind->is == OperatorKind::Is::conjunction) return eitherWay(e, false);
  if (kind && kind->is == OperatorKind::Is::disjunction) return eitherWay(e, true);
  const ValueType type = operandType(e, types_);
  const std::vector<const Expr*> operands = operandsOf(e);
  const int from = here();
  for (const Expr* operand : operands) value(operand, type);
  Instruction i;
  i.code = OpCode::operate;
  i.arg = operatorIndex(e.text);
  i.reals = type == ValueType::real;
  i.operands = static_cast<std::uint8_t>(operands.size());
  const int place = emit(i);
  // "D2 is high" is simply what the pin reads.
  if (const auto test = pinTest(e)) {
    at(place - 1).cycles = 0;
    at(place).cycles = test->high ? 0 : target_.costs.operation(operatorIndex("not")).whole;
  }
  // Told from one place to a range: whatever it is, it is where that begins.
  if (e.text == "map" && operands.size() > 2 && operands[1] && operands[2] &&
      operands[1]->shape == Expr::Shape::number && *operands[1] == *operands[2])
    at(place).cycles = target_.costs.constant;
  // No compiler knows what it gives, but what it is given.
  if (kind && kind->realWorkedOut && i.reals &&
      std::all_of(operands.begin(), operands.end(),
                  [&](const Expr* operand) { return operand && isConstant(*operand); })) {
    for (int k = from; k < place; ++k) at(k).cycles = 0;
    at(place).cycles -= target_.costs.remainderKnown;
  }
}

// "and" and "or" look at the second only where the first leaves it open.
void Compiler::eitherWay(const Expr& e, bool whenTrue) {
  Instruction fork, jump, known;
  fork.code = OpCode::branch;
  jump.code = OpCode::jump;
  known.code = OpCode::push;
  known.value = Cell::of(whenTrue);
  known.number = whenTrue ? 1 : 0;
  truth(operandOf(e, 0));
  const int open = emit(fork);
  if (whenTrue)
    emit(known);
  else
    truth(operandOf(e, 1));
  const int skip = emit(jump);
  land(open);
  if (whenTrue)
    truth(operandOf(e, 1));
  else
    emit(known);
  land(skip);
}

void Compiler::steps(const Steps* body) {
  if (!body) return;
  for (const Step& step : *body) {
    const StepKind* kind = stepKind(step.kind);
    if (!kind) continue;
    const int outerStep = step_, outerOffset = offset_;
    step_ = static_cast<int>(out_.steps.size());
    offset_ = 0;
    out_.steps.push_back(step.id);
    const int first = here();
    kind->compile(*this, step);
    if (kind->takesTurn && !kind->looksAgain && here() > first) at(first).takesTurn = true;
    step_ = outerStep;
    offset_ = outerOffset;
  }
}

int Compiler::newCounter() {
  lane_->counterOwner.push_back(step_);
  return static_cast<int>(lane_->counterOwner.size()) - 1;
}

void Compiler::lane(const Lane& lane) {
  own_.clear();
  within_ = nullptr;
  out_.lanes.emplace_back();
  lane_ = &out_.lanes.back();
  lane_->id = lane.id;
  lane_->trigger = lane.trigger.on;
  lane_->dice = diceOf(target_.seed, lane.id);
  const int index = static_cast<int>(out_.lanes.size()) - 1;
  const TriggerKind* trigger = triggerKind(lane.trigger.on);
  // A lane that does something once a turn is what its instructions belong to.
  const auto once = [&](auto&& write) {
    step_ = static_cast<int>(out_.steps.size());
    offset_ = 0;
    out_.steps.push_back(lane.id);
    write();
  };
  if (trigger && trigger->keeps != TriggerKind::Keeps::nothing) once([&] { signal(lane); });
  const bool started = trigger && trigger->startsAgain() && !lane.steps.empty();
  if (started && startTestOf(lane.trigger)) once([&] { test(lane, index); });
  code_ = &lane_->code;
  landed_ = 0;
  step_ = -1;
  offset_ = 0;
  if (started) {
    lane_->again = againOf(lane.trigger).is;
    if (trigger->edge != TriggerKind::Edge::none) {
      lane_->pin = pin(lane.trigger.pin);
      lane_->high = trigger->edge == TriggerKind::Edge::rise;
      out_.watched.push_back(lane.trigger.pin);
    } else if (const Expr* key = lane.trigger.field(keyKey)) {
      const auto it = std::find(out_.keys.begin(), out_.keys.end(), key->text);
      if (it != out_.keys.end()) lane_->key = static_cast<int>(it - out_.keys.begin());
    } else if (const auto seconds = startEveryOf(lane.trigger)) {
      lane_->every = std::max<std::int64_t>(1, std::llround(std::min(*seconds, 9e8) * 1e9));
    }
    Instruction idle;
    idle.code = OpCode::idle;
    emit(idle);
  }
  if (!isKept(lane.trigger)) steps(&lane.steps);
  Instruction last;
  if ((trigger && trigger->endless && !lane.steps.empty()) || started) {
    last.code = OpCode::jump;
    last.target = 0;
    last.endsStep = last.loopHead = true;
    last.takesTurn = trigger->endless && takeNoTurn(lane.steps);
  }
  emit(last);
  ownSteps();
}

CompiledProgram compile(const Program& program, CompileTarget target) {
  const CostTable costs = target.costs;
  Compiler compiler(program, std::move(target));
  for (const auto& lane : program.lanes)
    if (!isOwn(*lane)) compiler.lane(*lane);
  CompiledProgram out = compiler.take();
  out.inTurns = whyInTurns(program).has_value();
  out.costs = costs;
  for (const PinUse& use : pinUses(program))
    if (!use.writers.empty()) out.written.push_back(use.pin);
  std::set<int> pulsed;
  for (const CompiledLane& lane : out.lanes)
    for (const Instruction& i : lane.code)
      if (i.code == OpCode::tone || i.code == OpCode::turnServo) pulsed.insert(i.arg);
  out.pulsed = static_cast<int>(pulsed.size());
  countWork(out);
  return out;
}

ProgramPace paceOf(const CompiledProgram& program) {
  return {program.inTurns, program.costs.hertz, program.costs.measures};
}

std::optional<Message> whyInTurns(const Program& program) {
  std::vector<const Lane*> lanes;
  for (const auto& lane : program.lanes) {
    if (isKept(lane->trigger)) return stepSay("a lane keeps something at a value");
    if (!lane->steps.empty() && !isOwn(*lane)) lanes.push_back(&*lane);
  }
  if (lanes.size() > 1) return stepSay("it has {} lanes", static_cast<int>(lanes.size()));
  for (const Lane* lane : lanes) {
    const TriggerKind* trigger = triggerKind(lane->trigger.on);
    if (!trigger || (!trigger->endless && !trigger->once))
      return stepSay("its lane is started by something");
    const char* needs = "";
    forEachStep(lane->steps, [&](const Step& s) {
      const StepKind* kind = stepKind(s.kind);
      if (kind && *kind->inTurns && !*needs) needs = kind->inTurns;
    });
    if (*needs) return stepSay(needs);
    bool clock = false;
    forEachStep(lane->steps, [&](const Step& s) {
      for (const auto& [key, value] : s.fields) clock = clock || needsTurns(value);
    });
    if (clock) return stepSay("it asks for the time");
    bool remembers = false;
    forEachStep(lane->steps, [&](const Step& s) {
      for (const auto& [key, value] : s.fields) remembers = remembers || senses(value);
    });
    if (remembers) return stepSay("it waits for a signal");
  }
  return std::nullopt;
}

}  // namespace ignavo
