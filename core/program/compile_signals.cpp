#include <algorithm>

#include "program/compiled.h"
#include "program/facts.h"

// What remembers something from turn to turn: signal operators in front of the expression that they
// stand in, lanes that keep something, tests that start a lane.
namespace ignavo {

int Compiler::newCell(ValueType type) {
  const std::string owner = step_ < 0 ? std::string() : out_.steps[static_cast<std::size_t>(step_)];
  int number = 0;
  for (const MemoryCell& cell : out_.memory)
    if (cell.of == MemoryCell::Of::state && cell.name == owner) ++number;
  out_.memory.push_back({MemoryCell::Of::state, owner, number, type, {}});
  return static_cast<int>(out_.memory.size()) - 1;
}

void Compiler::senses(const Expr* e) {
  if (!e || !ignavo::senses(*e)) return;
  for (const auto& [key, inner] : e->args) senses(&inner);
  const SignalKind* kind = e->shape == Expr::Shape::sig ? signalKind(e->text) : nullptr;
  if (kind && !kind->chooses) sense(*e);
}

// A signal operator whose own operands are known; its value is kept in a cell.
void Compiler::sense(const Expr& e) {
  const SignalKind& kind = *signalKind(e.text);
  const Expr* hertz = hertzOf(e);
  Instruction i;
  if (kind.waves && hertz && hertz->shape == Expr::Shape::number) {
    const Expr* duty = dutyOf(e);
    CompiledWave wave{waveSteps(hertz->number)};
    if (duty && duty->shape == Expr::Shape::number) wave.high = highPart(wave.steps, duty->number);
    out_.waves.push_back(wave);
    value(duty, ValueType::real);
    i.code = OpCode::wave;
    i.arg = static_cast<int>(out_.waves.size()) - 1;
  } else {
    using Is = SignalKind::Operand::Is;
    for (const SignalKind::Operand& operand : kind.operands) {
      const Expr* held = e.arg(operand.key);
      if (operand.is == Is::seconds)
        turns(held);
      else
        value(held, operand.is == Is::real    ? ValueType::real
                    : operand.is == Is::whole ? ValueType::whole
                                              : ValueType::truth);
    }
    i.code = OpCode::sense;
    i.arg = signalIndex(e.text);
    i.operands = static_cast<std::uint16_t>(kind.operands.size());
    for (int c = 0; c < kind.cells; ++c) {
      const int cell = newCell(ValueType::whole);
      if (c == 0) i.target = cell;
    }
    i.value = {static_cast<std::uint32_t>(out_.moments.size())};
    if (!kind.waves) until_[&e] = static_cast<int>(out_.moments.size());
    out_.moments.push_back(out_.memory.back());
  }
  i.keeps = sensed_[&e] = newCell(kind.gives);
  const int place = emit(i);
  if (!kind.waves) return;
  const auto workedOut = [&](const Expr* value) { return value && !isConstant(*value); };
  if (workedOut(hertz))
    at(place).cycles += target_.costs.waveHertz;
  else if (at(place).code == OpCode::sense)
    at(place).cycles += target_.costs.waveKnown;
  if (workedOut(dutyOf(e))) at(place).cycles += target_.costs.waveDuty;
}

void Compiler::turns(const Expr* seconds) {
  Instruction i;
  if (!seconds || seconds->shape == Expr::Shape::number) {
    i.code = OpCode::push;
    i.number = seconds ? turnsOf(seconds->number) : 0;
    i.value = Cell::of(static_cast<std::int32_t>(i.number));
    return void(emit(i));
  }
  const int from = here();
  value(seconds, ValueType::real);
  i.code = OpCode::turns;
  const int place = emit(i);
  if (isConstant(*seconds))
    for (int k = from; k <= place; ++k) at(k).cycles = 0;
}

int Compiler::afresh() {
  Instruction i;
  i.code = OpCode::afresh;
  i.arg = static_cast<int>(out_.memory.size());
  i.target = static_cast<int>(out_.moments.size());
  return emit(i);
}
void Compiler::afresh(int place) {
  Instruction& i = at(place);
  i.operands = static_cast<std::uint16_t>(static_cast<int>(out_.memory.size()) - i.arg);
  i.value = {static_cast<std::uint32_t>(static_cast<int>(out_.moments.size()) - i.target)};
  // Waves are found again where they are by now.
  const auto waves = std::count_if(code_->begin() + place, code_->end(),
                                   [](const Instruction& w) { return w.code == OpCode::wave; });
  i.cycles = target_.costs.waveAfresh * static_cast<int>(waves);
}

// What it is now is kept to be looked at.
void Compiler::show(CompiledSignal& signal, ValueType type) {
  Instruction store;
  store.code = OpCode::store;
  store.arg = signal.shown = newCell(type);
  store.stays = true;
  const int place = emit(store);
  at(place).cycles = 0;  // the chip has no need of it
}

// What each part of it is, for whoever looks.
void Compiler::parts(CompiledSignal& signal, const Expr* whole) {
  if (whole)
    forEachOperator(*whole, [&](const std::string& path, const Expr& e) {
      if (const auto it = sensed_.find(&e); it != sensed_.end())
        signal.operators.push_back({path, it->second, signalKind(e.text)->gives});
    });
  std::string path;
  for (const Expr* e = whole; e;) {
    CompiledSignal::Part part{path, {}, typeOf(*e, types_)};
    if (const auto it = until_.find(e); it != until_.end()) part.moment = it->second;
    code_ = &part.code;
    landed_ = 0;
    value(e, part.type);
    emit({});
    const bool thrown = std::any_of(part.code.begin(), part.code.end(),
                                    [](const Instruction& i) { return i.code == OpCode::random; });
    if (!thrown) signal.parts.insert(signal.parts.begin(), std::move(part));
    const ThreadEnd next = comesInto(*e);
    e = next.value;
    path += (path.empty() ? "" : "/") + next.path;
  }
}

// What a lane keeps, once a turn.
void Compiler::signal(const Lane& lane) {
  using Keeps = TriggerKind::Keeps;
  const Keeps keeps = triggerKind(lane.trigger.on)->keeps;
  const Expr* from = keptOf(lane.trigger);
  const Expr* name = lane.trigger.field(variableKey);
  const int cell = name ? cellOf(name->text) : -1;
  CompiledSignal& out = out_.signals.emplace_back();
  out.lane = lane.id;
  out.index = static_cast<int>(out_.lanes.size()) - 1;
  out.type = keeps == Keeps::pin     ? ValueType::truth
             : keeps == Keeps::level ? ValueType::real
             : cell >= 0             ? out_.memory[static_cast<std::size_t>(cell)].type
                                     : ValueType::whole;
  code_ = &out.code;
  landed_ = 0;
  senses(from);
  value(from, out.type);
  Instruction keep;
  show(out, out.type);
  keep.code = keeps == Keeps::pin     ? OpCode::setPin
              : keeps == Keeps::level ? OpCode::setLevel
                                      : OpCode::store;
  keep.arg = keeps != Keeps::variable ? pin(lane.trigger.pin) : cell >= 0 ? cell : out.shown;
  emit(keep);
  if (keeps != Keeps::variable && from && isConstant(*from)) costsAsWritten(here() - 1);
  emit({});
  parts(out, from);
}

// The test that starts a lane, once a turn.
void Compiler::test(const Lane& lane, int started) {
  CompiledSignal& out = out_.signals.emplace_back();
  out.lane = lane.id;
  out.index = static_cast<int>(out_.lanes.size()) - 1;
  code_ = &out.code;
  landed_ = 0;
  const Expr* so = startTestOf(lane.trigger);
  senses(so);
  truth(so);
  Instruction rise, start;
  show(out, ValueType::truth);
  rise.code = OpCode::sense;
  rise.arg = signalIndex("rise");
  rise.operands = 1;
  rise.target = newCell(ValueType::whole);
  rise.value = {static_cast<std::uint32_t>(out_.moments.size())};
  out_.moments.push_back(out_.memory.back());
  emit(rise);
  start.code = OpCode::start;
  start.arg = started;
  emit(start);
  emit({});
  parts(out, so);
}

}  // namespace ignavo
