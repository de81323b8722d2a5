#include <algorithm>
#include <map>

#include "program/steps.h"
#include "project/indexing.h"
#include "run/step_processor.h"

// A program that was edited while it runs goes on where it was: memory, counts and lanes are taken
// over by what they are called, and a lane by the instruction that it stands at.
namespace ignavo {

namespace {

// What a place held, as the type that it has now. A text that is gone is the empty one.
Cell keptCell(const CompiledProgram& program, ValueType type, const CompiledProgram& old,
              ValueType was, Cell value) {
  if (type != ValueType::text || was != type) return converted(value, was, type);
  const auto& texts = program.texts;
  const auto it = std::find(texts.begin(), texts.end(), old.texts[value.bits]);
  return {it == texts.end() ? 0 : static_cast<std::uint32_t>(it - texts.begin())};
}
}  // namespace

void StepProcessor::adopt(const Processor& before, Nanoseconds now) {
  // Another kind of processor did something else.
  const auto* was = dynamic_cast<const StepProcessor*>(&before);
  if (!was) return start(now);
  const CompiledProgram& old = *was->program_;
  StepProcessor::start(now);
  measured_ = was->measured_;
  powerOn_ = was->powerOn_;
  for (std::size_t c = 0; c < memory_.size(); ++c)
    for (std::size_t d = 0; d < old.memory.size(); ++d)
      if (old.memory[d].of == program_->memory[c].of &&
          old.memory[d].name == program_->memory[c].name &&
          old.memory[d].item == program_->memory[c].item)
        memory_[c] =
            keptCell(*program_, program_->memory[c].type, old, old.memory[d].type, was->memory_[d]);
  // The steps of an own step come once for each lane that runs it.
  std::map<std::pair<std::string, int>, std::size_t> oldStep;
  std::map<std::string, std::size_t> oldLane;
  std::map<std::string, int> times;
  for (std::size_t i = 0; i < old.steps.size(); ++i)
    oldStep[{old.steps[i], times[old.steps[i]]++}] = i;
  times.clear();
  for (std::size_t i = 0; i < old.lanes.size(); ++i) oldLane[old.lanes[i].id] = i;
  for (std::size_t s = 0; s < program_->steps.size(); ++s)
    if (const auto it = oldStep.find({program_->steps[s], times[program_->steps[s]]++});
        it != oldStep.end()) {
      counts_[s] = was->counts_[it->second];
      lastRuns_[s] = was->lastRuns_[it->second];
      forks_[s] = was->forks_[it->second];
    }
  for (std::size_t k = 0; k < held_.size(); ++k)
    for (std::size_t d = 0; d < old.keys.size(); ++d)
      if (old.keys[d] == program_->keys[k]) held_[k] = was->held_[d];
  for (std::size_t m = 0; m < moments_.size(); ++m)
    for (std::size_t d = 0; d < old.moments.size(); ++d)
      if (old.moments[d].name == program_->moments[m].name &&
          old.moments[d].item == program_->moments[m].item)
        moments_[m] = was->moments_[d];
  for (std::size_t n = 0; n < program_->lanes.size(); ++n)
    if (const auto it = oldLane.find(program_->lanes[n].id); it != oldLane.end() && !lanes_[n].over)
      goOn(old, *was, n, it->second, now);
  choose();
}

// A lane that was there before goes on where it was, where that is still there.
void StepProcessor::goOn(const CompiledProgram& old, const StepProcessor& before, std::size_t n,
                         std::size_t o, Nanoseconds now) {
  const CompiledLane &code = program_->lanes[n], &oldCode = old.lanes[o];
  const Lane& was = before.lanes_[o];
  Lane& l = lanes_[n];
  if (was.over) {
    const TriggerKind* kind = triggerKind(code.trigger);
    l.over = kind && kind->once;
    return;
  }
  // The same instruction of the same step, or -1.
  const auto mapped = [&](int pc) {
    const Instruction& i = at(oldCode.code, pc);
    for (std::size_t k = 0; k < code.code.size(); ++k) {
      const Instruction& j = code.code[k];
      const bool sameStep =
          i.step < 0 ? j.step < 0
                     : j.step >= 0 && at(program_->steps, j.step) == at(old.steps, i.step);
      if (sameStep && i.code == j.code && i.offset == j.offset) return static_cast<int>(k);
    }
    return -1;
  };
  for (std::size_t c = 0; c < code.counterOwner.size(); ++c)
    for (std::size_t d = 0; d < oldCode.counterOwner.size(); ++d)
      if (at(program_->steps, code.counterOwner[c]) == at(old.steps, oldCode.counterOwner[d]))
        l.counters[c] = was.counters[d];
  l.missed = was.missed;
  l.bounced = was.bounced;
  l.ceased = was.ceased;
  l.dice = was.dice;
  if (was.idle || l.idle != (oldCode.code.front().code == OpCode::idle)) return;
  l.idle = false;
  for (const int pc : was.returns) {
    l.returns.push_back(mapped(pc));
    // It came from a place that is gone: the lane begins again.
    if (l.returns.back() < 0) return l.returns.clear();
  }
  if (was.lastStep >= 0)
    for (std::size_t s = 0; s < program_->steps.size(); ++s)
      if (program_->steps[s] == at(old.steps, was.lastStep)) l.lastStep = static_cast<int>(s);
  if (was.waiting >= 0) {
    if (const int wait = mapped(was.waiting); wait >= 0) return sleepOn(code, was, wait, l, now);
    return l.returns.clear();  // the wait is gone: the lane begins again
  }
  const int pc = mapped(was.pc);
  if (pc < 0) return l.returns.clear();
  l.pc = pc;
  // In the middle of an expression: begin that step again.
  if (!was.stack.empty())
    while (l.pc > 0 && at(code.code, l.pc).offset > 0) --l.pc;
}

// It sleeps in the same wait. A changed plain value counts at once, from when the wait began.
void StepProcessor::sleepOn(const CompiledLane& code, const Lane& was, int wait, Lane& l,
                            Nanoseconds now) {
  const Instruction& i = at(code.code, wait);
  l.pc = wait + 1;
  l.waiting = wait;
  l.since = was.since;
  l.wake = i.plain ? std::max(now, endOfWait(i, i.number, was.since)) : was.wake;
}

}  // namespace ignavo
