#include "program/compiled.h"

#include <algorithm>

#include "program/facts.h"
#include "program/words.h"

namespace ignavo {

int Compiler::pin(const std::string& name) {
  const auto it = std::find(out_.pins.begin(), out_.pins.end(), name);
  if (it != out_.pins.end()) return static_cast<int>(it - out_.pins.begin());
  out_.pins.push_back(name);
  return static_cast<int>(out_.pins.size()) - 1;
}

int Compiler::emit(Instruction instruction) {
  if (factsOf(instruction.code).takes == 1 && instruction.code != OpCode::convert &&
      here() > landed_ && lane_->code.back().code == OpCode::push &&
      lane_->code.back().step == step_) {
    instruction.plain = true;
    instruction.number = lane_->code.back().number;
    lane_->code.pop_back();
    --offset_;
  }
  instruction.step = step_;
  instruction.offset = offset_++;
  instruction.cycles = cyclesOf(instruction, costs_);
  lane_->code.push_back(instruction);
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
  const int at = emit(jump);
  if (leaves_.empty())
    land(at);  // there is nothing to leave
  else
    leaves_.back().push_back(at);
}

void Compiler::leaveLoop() {
  for (const int jump : leaves_.back()) land(jump);
  leaves_.pop_back();
}

void Compiler::endLane() {
  Instruction i;
  const bool started = !lane_->code.empty() && lane_->code.front().code == OpCode::idle;
  i.code = started ? OpCode::jump : OpCode::end;
  i.endsStep = true;
  emit(i);
}

void Compiler::land(int jump) { at(jump).target = landed_ = here(); }

void Compiler::value(const Expr* e, ValueType wanted) {
  Instruction i;
  i.code = OpCode::push;
  if (!e) return void(emit(i));
  ValueType is = typeOf(*e);
  switch (e->shape) {
    case Expr::Shape::number:
    case Expr::Shape::truth:
    case Expr::Shape::text:
      if (e->shape == Expr::Shape::number) {
        i.number = e->number;  // as it is written: waits are read decimally
        i.value = converted(literal(e->number), is, wanted);
        if (wanted != is) i.number = number(i.value, wanted);
        if (wanted == ValueType::real) i.number = e->number;
      } else {
        const bool high =
            e->shape == Expr::Shape::truth ? e->truth : namedLevel(*e).value_or(false);
        i.value = converted(Cell::of(high), ValueType::truth, wanted);
        i.number = high ? 1 : 0;
      }
      return void(emit(i));
    case Expr::Shape::get:
      if (const GetterKind* getter = getterKind(e->text)) {
        i.code = getter->code;
        i.number = getter->full;
      }
      for (const Expr* operand : operandsOf(*e)) value(operand, ValueType::whole);
      if (factsOf(i.code).readsPin) i.arg = pin(pinRead(*e) ? *pinRead(*e) : std::string());
      i.measures = measures(*e) && pinRead(*e) &&
                   std::find(digital_.begin(), digital_.end(), *pinRead(*e)) == digital_.end();
      emit(i);
      break;
    case Expr::Shape::op:
      operation(*e);
      break;
    default:
      return void(emit(i));
  }
  if (is == wanted || is == ValueType::text) return;
  Instruction convert;
  convert.code = OpCode::convert;
  convert.arg = static_cast<int>(is);
  convert.target = static_cast<int>(wanted);
  emit(convert);
}

void Compiler::operation(const Expr& e) {
  const OperatorKind* kind = operatorKind(e.text);
  if (kind && kind->is == OperatorKind::Is::conjunction) return eitherWay(e, false);
  if (kind && kind->is == OperatorKind::Is::disjunction) return eitherWay(e, true);
  const ValueType type = operandType(e);
  for (const Expr* operand : operandsOf(e)) value(operand, type);
  Instruction i;
  i.code = OpCode::operate;
  i.arg = operatorIndex(e.text);
  i.reals = type == ValueType::real;
  i.operands = static_cast<std::uint8_t>(operandsOf(e).size());
  emit(i);
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
    if (kind->takesTurn && here() > first) at(first).takesTurn = true;
    step_ = outerStep;
    offset_ = outerOffset;
  }
}

int Compiler::newCounter() {
  lane_->counterOwner.push_back(step_);
  return static_cast<int>(lane_->counterOwner.size()) - 1;
}

void Compiler::lane(const Lane& lane) {
  out_.lanes.push_back({lane.id, lane.trigger.on, -1, false, diceOf(seed_, lane.id), {}, {}});
  lane_ = &out_.lanes.back();
  landed_ = 0;
  step_ = -1;
  offset_ = 0;
  const TriggerKind* trigger = triggerKind(lane.trigger.on);
  const bool started = trigger && trigger->edge != TriggerKind::Edge::none;
  if (started && !lane.steps.empty()) {
    lane_->pin = pin(lane.trigger.pin);
    lane_->high = trigger->edge == TriggerKind::Edge::rise;
    out_.watched.push_back(lane.trigger.pin);
    Instruction idle;
    idle.code = OpCode::idle;
    emit(idle);
  }
  steps(&lane.steps);
  Instruction last;
  if (trigger && (trigger->endless || started) && !lane.steps.empty()) {
    last.code = OpCode::jump;
    last.target = 0;
    last.endsStep = last.loopHead = true;
    last.takesTurn = trigger->endless && takeNoTurn(lane.steps);
  }
  emit(last);
}

CompiledProgram compile(const Program& program, const CostTable& costs, std::uint64_t seed,
                        std::vector<std::string> digital) {
  Compiler compiler(costs, seed, std::move(digital));
  for (const auto& lane : program.lanes) compiler.lane(*lane);
  CompiledProgram out = compiler.take();
  out.inTurns = whyInTurns(program).has_value();
  out.costs = costs;
  for (const PinUse& use : pinUses(program))
    if (!use.writers.empty()) out.written.push_back(use.pin);
  return out;
}

ProgramPace paceOf(const CompiledProgram& program) {
  return {program.inTurns, program.costs.hertz, program.costs.measures};
}

std::optional<Message> whyInTurns(const Program& program) {
  std::vector<const Lane*> lanes;
  for (const auto& lane : program.lanes)
    if (!lane->steps.empty()) lanes.push_back(&*lane);
  if (lanes.size() > 1) return stepSay("it has {} lanes", static_cast<int>(lanes.size()));
  for (const Lane* lane : lanes) {
    const TriggerKind* trigger = triggerKind(lane->trigger.on);
    if (!trigger || (!trigger->endless && !trigger->once))
      return stepSay("its lane is started by something");
  }
  return std::nullopt;
}

}  // namespace ignavo
