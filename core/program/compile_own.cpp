#include <algorithm>

#include "program/compiled.h"
#include "program/facts.h"
#include "program/own_steps.h"

// Own steps, and what is said to the computer. The steps of an own step stand once in the code of
// each lane that runs it, behind the lane's own; as none can come back to itself, one place for
// each of its inputs is enough.
namespace ignavo {

int Compiler::input(const Lane& own, const std::string& name) {
  for (OwnCode& code : own_) {
    if (code.own != &own) continue;
    const auto [it, fresh] = code.inputs.emplace(name, 0);
    if (fresh) {
      out_.memory.push_back({MemoryCell::Of::state,
                             lane_->id + " " + own.id + " " + name,
                             0,
                             types_.input(ownName(own), name),
                             {}});
      it->second = static_cast<int>(out_.memory.size()) - 1;
    }
    return it->second;
  }
  return -1;
}

void Compiler::run(const Step& step) {
  const Lane* own = ownRun(program_, step);
  if (!own || (within_ && comesBack(program_, *within_, *own))) return nothing();
  if (std::none_of(own_.begin(), own_.end(), [&](const OwnCode& c) { return c.own == own; }))
    own_.push_back({own, -1, {}, {}});
  for (const std::string& name : inputsOf(*own)) {
    value(givenTo(step, name), types_.input(ownName(*own), name));
    Instruction store;
    store.code = OpCode::store;
    store.arg = input(*own, name);
    emit(store);
  }
  Instruction call;
  call.code = OpCode::call;
  call.endsStep = true;
  const int at = emit(call);
  landed_ = here();  // it comes back there
  for (OwnCode& code : own_)
    if (code.own == own) code.calls.push_back(at);
}

void Compiler::ownSteps() {
  // Those that are run from within others come behind them.
  for (std::size_t i = 0; i < own_.size(); ++i) {
    const Lane& own = *own_[i].own;
    within_ = &own;
    for (const std::string& name : inputsOf(own)) (void)input(own, name);
    const Types outside = types_;
    types_ = outside.within(ownName(own));
    leaves_.clear();
    step_ = -1;
    offset_ = 0;
    own_[i].begins = landed_ = here();
    steps(&own.steps);
    types_ = outside;
    Instruction back;
    back.code = OpCode::back;
    step_ = -1;
    offset_ = static_cast<int>(i);
    emit(back);
  }
  within_ = nullptr;
  for (const OwnCode& code : own_)
    for (const int call : code.calls) at(call).target = code.begins;
}

void Compiler::say(const Step& step) {
  CompiledLine line;
  line.note = saysNote(step);
  line.step = step.id;
  line.number =
      static_cast<int>(std::find(saying_.begin(), saying_.end(), step.id) - saying_.begin()) + 1;
  const int top = loop();
  for (const Expr* item : saidBy(step)) {
    const bool words = item->shape == Expr::Shape::text;
    line.items.push_back(words ? ValueType::text : typeOf(*item, types_));
    if (words) {  // also where they are the name of a level
      Instruction push;
      push.code = OpCode::push;
      push.value = {static_cast<std::uint32_t>(text(item->text))};
      emit(push);
    } else {
      value(item, line.items.back());
    }
  }
  if (line.note) {
    line.items.push_back(ValueType::real);
    value(noteSecondsOf(step), ValueType::real);
  }
  Instruction say, said;
  say.code = OpCode::sayLine;
  say.arg = static_cast<int>(out_.lines.size());
  say.operands = static_cast<std::uint16_t>(line.items.size());
  say.target = top;
  const int place = emit(say);
  at(place).cycles = target_.costs.say;
  out_.lines.push_back(std::move(line));
  said.code = OpCode::lineSent;
  said.endsStep = true;
  emit(said);
  leaveLoop();
  at(top).takesTurn = true;
}

}  // namespace ignavo
