#include "program/compiled.h"

#include <algorithm>

#include "program/facts.h"

namespace ignavo {

int Compiler::pin(const std::string& name) {
  const auto it = std::find(out_.pins.begin(), out_.pins.end(), name);
  if (it != out_.pins.end()) return static_cast<int>(it - out_.pins.begin());
  out_.pins.push_back(name);
  return static_cast<int>(out_.pins.size()) - 1;
}

int Compiler::emit(Instruction instruction) {
  if (factsOf(instruction.code).takes == 1 && !lane_->code.empty() &&
      lane_->code.back().code == OpCode::push && lane_->code.back().step == step_) {
    instruction.plain = true;
    instruction.number = lane_->code.back().number;
    lane_->code.pop_back();
    --offset_;
  }
  instruction.step = step_;
  instruction.offset = offset_++;
  instruction.nanoseconds = costOf(instruction, costs_);
  lane_->code.push_back(instruction);
  return here() - 1;
}

void Compiler::value(const Expr* e) {
  Instruction i;
  i.code = OpCode::push;
  if (!e) return void(emit(i));
  switch (e->shape) {
    case Expr::Shape::number:
      i.number = e->number;
      break;
    case Expr::Shape::truth:
      i.number = e->truth ? 1 : 0;
      break;
    case Expr::Shape::text:
      i.number = namedLevel(*e).value_or(false) ? 1 : 0;
      break;
    case Expr::Shape::get:
      if (const GetterKind* getter = getterKind(e->text)) i.code = getter->code;
      i.arg = pin(pinRead(*e) ? *pinRead(*e) : std::string());
      break;
    case Expr::Shape::op: {
      const OperatorKind* k = operatorKind(e->text);
      value(operandOf(*e, 0));
      if (k && k->operands == 2) value(operandOf(*e, 1));
      i.code = OpCode::operate;
      i.arg = operatorIndex(e->text);
      break;
    }
    default:
      break;
  }
  emit(i);
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
    kind->compile(*this, step);
    step_ = outerStep;
    offset_ = outerOffset;
  }
}

int Compiler::newCounter() {
  lane_->counterOwner.push_back(step_);
  return static_cast<int>(lane_->counterOwner.size()) - 1;
}

void Compiler::lane(const Lane& lane) {
  out_.lanes.push_back({lane.id, lane.trigger.on, {}, {}});
  lane_ = &out_.lanes.back();
  step_ = -1;
  offset_ = 0;
  const TriggerKind* trigger = triggerKind(lane.trigger.on);
  const bool watches = trigger && trigger->edge != TriggerKind::Edge::none;
  if (watches && !lane.steps.empty()) {
    Instruction watch;
    watch.code = OpCode::watch;
    watch.arg = pin(lane.trigger.pin);
    watch.number = trigger->edge == TriggerKind::Edge::rise ? 1 : 0;
    watch.endsStep = true;
    emit(watch);
    out_.watched.push_back(lane.trigger.pin);
  }
  steps(&lane.steps);
  Instruction last;
  if (trigger && (trigger->endless || watches) && !lane.steps.empty()) {
    last.code = OpCode::jump;
    last.target = 0;
    last.endsStep = true;
    last.loopHead = true;
  }
  emit(last);
}

CompiledProgram compile(const Program& program, const CostTable& costs) {
  Compiler compiler(costs);
  for (const auto& lane : program.lanes) compiler.lane(*lane);
  CompiledProgram out = compiler.take();
  for (const PinUse& use : pinUses(program))
    if (!use.writers.empty()) out.written.push_back(use.pin);
  return out;
}

}  // namespace ignavo
