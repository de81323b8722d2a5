#include "run/step_processor.h"

#include <algorithm>
#include <cassert>
#include <cmath>
#include <map>

#include "program/steps.h"
#include "project/indexing.h"

// The steps of a program, one after the other. A step is a few instructions; the processor stays
// with a lane until its step is complete, then the next ready lane has its turn. A lane that waits
// or watches a pin sleeps until then.
namespace ignavo {

namespace {

Nanoseconds fromSeconds(double seconds) {
  constexpr double longest = 9e9;  // in seconds; beyond that a wait is for ever
  if (!(seconds > 0)) return 0;
  return seconds >= longest ? never / 2 : static_cast<Nanoseconds>(std::llround(seconds * 1e9));
}

Cell popped(std::vector<Cell>& stack) {
  const Cell v = stack.back();
  stack.pop_back();
  return v;
}

// What an instruction takes that takes one value.
bool truthTaken(const Instruction& i, std::vector<Cell>& stack) {
  return i.plain ? i.number != 0 : popped(stack).truth();
}
std::int32_t wholeTaken(const Instruction& i, std::vector<Cell>& stack) {
  return i.plain ? static_cast<std::int32_t>(i.number) : popped(stack).whole();
}
double realTaken(const Instruction& i, std::vector<Cell>& stack) {
  return i.plain ? i.number : static_cast<double>(popped(stack).real());
}

// What is said of instructions is what they do.
[[maybe_unused]] bool keepsItsFacts(const std::vector<Instruction>& code, int from, int to,
                                    std::size_t held, std::size_t holds) {
  const Instruction& i = at(code, from);
  const Successors next = successorsOf(code, from);
  return static_cast<int>(holds) - static_cast<int>(held) == factsOf(i.code).gives - takenBy(i) &&
         (next.count == 0 || std::find(next.begin(), next.end(), to) != next.end());
}
}  // namespace

StepProcessor::StepProcessor(std::shared_ptr<const CompiledProgram> program)
    : program_(std::move(program)) {
  start(0);
}

std::unique_ptr<Processor> StepProcessor::copy() const {
  return std::make_unique<StepProcessor>(*this);
}

void StepProcessor::start(Nanoseconds begin) {
  lanes_.clear();
  for (const CompiledLane& lane : program_->lanes) {
    Lane l;
    l.code = lane.code.data();
    l.dice = lane.dice;
    l.wake = l.stepBegan = begin;
    l.over = lane.code.size() == 1 && lane.code[0].code == OpCode::end;
    l.counters.assign(lane.counterOwner.size(), 0);
    lanes_.push_back(std::move(l));
  }
  counts_.assign(program_->steps.size(), 0);
  forks_.assign(program_->steps.size(), -1);
  faults_.clear();
  free_ = begin;
  current_ = -1;
  previous_ = static_cast<int>(lanes_.size()) - 1;
  choose();
}

// The lane in the middle of a step, else the next ready one after the last;
// when none is ready, the processor rests until the first wakes.
void StepProcessor::choose() {
  next_ = current_;
  begins_ = free_;
  if (current_ < 0 && lanes_.size() == 1) {
    const Lane& only = lanes_.front();
    if (!only.over && only.wake != never) {
      begins_ = std::max(free_, only.wake);
      next_ = 0;
    }
  } else if (current_ < 0) {
    Nanoseconds earliest = never;
    for (const Lane& l : lanes_)
      if (!l.over) earliest = std::min(earliest, l.wake);
    if (earliest != never) {
      begins_ = std::max(free_, earliest);
      const int n = static_cast<int>(lanes_.size());
      int i = previous_;
      do i = i + 1 < n ? i + 1 : 0;
      while (at(lanes_, i).over || at(lanes_, i).wake > begins_);
      next_ = i;
    }
  }
  due_ = next_ < 0 ? never : begins_ + next(at(lanes_, next_)).nanoseconds;
}

void StepProcessor::report(NumberFault what, int step, Nanoseconds now) {
  if (std::none_of(faults_.begin(), faults_.end(),
                   [&](const Fault& f) { return f.what == what && f.step == step; }))
    faults_.push_back({what, step, now});
}

// What an instruction does, complete now. True when it asks or changes anything outside.
inline bool StepProcessor::perform(const Instruction& i, Lane& l, PinAccess& pins) {
  const Nanoseconds now = free_;
  int following = l.pc + 1;
  switch (i.code) {
    case OpCode::push:
      l.stack.push_back(i.value);
      break;
    case OpCode::readPin:
      l.stack.push_back(Cell::of(pins.readPin(i.arg, now)));
      break;
    case OpCode::operate: {
      const OperatorKind& op = at(operatorKinds(), i.arg);
      const auto first = l.stack.end() - takenBy(i);
      NumberFault fault = NumberFault::none;
      const Cell value = (i.reals ? op.real : op.whole)(&*first, fault);
      if (fault != NumberFault::none) report(fault, i.step, now);
      l.stack.erase(first, l.stack.end());
      l.stack.push_back(value);
      break;
    }
    case OpCode::random: {
      const std::int32_t to = popped(l.stack).whole(), from = popped(l.stack).whole();
      l.stack.push_back(Cell::of(thrown(l.dice, from, to)));
      break;
    }
    case OpCode::convert:
      l.stack.back() = converted(l.stack.back(), static_cast<ValueType>(i.arg),
                                 static_cast<ValueType>(i.target));
      break;
    case OpCode::readLevel:
      l.stack.push_back(
          Cell::of(static_cast<float>(pins.readLevel(i.arg, now) * i.number / PinAccess::stages)));
      break;
    case OpCode::setPin:
      pins.setPin(i.arg, truthTaken(i, l.stack), now);
      break;
    case OpCode::flipPin:
      pins.flipPin(i.arg, now);
      break;
    case OpCode::setLevel:
      pins.setLevel(i.arg, realTaken(i, l.stack), now);
      break;
    case OpCode::watch:
      l.watching = true;
      l.wake = never;
      break;
    case OpCode::wait:
      l.wake = std::max(now, l.stepBegan + fromSeconds(realTaken(i, l.stack)));
      l.waiting = l.pc;
      break;
    case OpCode::jump:
      following = i.target;
      break;
    case OpCode::branch: {
      const bool yes = truthTaken(i, l.stack);
      if (i.isFork) at(forks_, i.step) = yes ? 1 : 0;
      if (!yes) following = i.target;
      break;
    }
    case OpCode::countStart:
      at(l.counters, i.arg) = std::max(wholeTaken(i, l.stack), 0);
      break;
    case OpCode::countTurn:
      if (at(l.counters, i.arg) <= 0)
        following = i.target;
      else
        --at(l.counters, i.arg);
      break;
    case OpCode::end:
      l.over = true;
      break;
  }
  l.pc = following;
  return factsOf(i.code).reachesOut();
}

// One instruction after the other, until one has reached out or completed the step, or the next
// would be complete too late.
Processor::Executed StepProcessor::execute(PinAccess& pins, Nanoseconds limit) {
  assert(next_ >= 0);
  Lane& l = at(lanes_, next_);
  if (current_ < 0) {
    current_ = next_;
    l.stepBegan = begins_;
    l.waiting = -1;
  }
  Executed done{due_};
  for (;;) {
    const Instruction& i = next(l);
    free_ = done.at;
    [[maybe_unused]] const int from = l.pc;
    [[maybe_unused]] const std::size_t held = l.stack.size();
    const bool out = perform(i, l, pins);
    assert(keepsItsFacts(program_->lanes[static_cast<std::size_t>(&l - lanes_.data())].code, from,
                         l.pc, held, l.stack.size()));
    if (i.step >= 0) {
      l.lastStep = i.step;
      if (i.endsStep) ++at(counts_, i.step);
    }
    done.atLoopHead = i.loopHead;
    done.step = i.endsStep || i.code == OpCode::end;
    if (done.step) {
      previous_ = current_;
      current_ = -1;
    }
    if (done.step || out) break;
    const Nanoseconds complete = free_ + next(l).nanoseconds;
    if (complete > limit) break;
    done.at = complete;
  }
  choose();
  return done;
}

void StepProcessor::pinChanged(int pin, bool high, Nanoseconds now) {
  for (std::size_t i = 0; i < lanes_.size(); ++i) {
    Lane& l = lanes_[i];
    const std::vector<Instruction>& code = program_->lanes[i].code;
    const Instruction& watch = code.front();
    if (watch.code != OpCode::watch || watch.arg != pin || (watch.number != 0) != high) continue;
    if (l.watching) {
      l.watching = false;
      l.wake = now;
    } else if (l.pc != 0) {
      ++l.missed;
    }
  }
  choose();
}

bool StepProcessor::sameAs(const Processor& then, Nanoseconds later) const {
  const auto& o = static_cast<const StepProcessor&>(then);
  if (current_ != o.current_ || previous_ != o.previous_ || free_ - later != o.free_) return false;
  for (std::size_t i = 0; i < lanes_.size(); ++i) {
    const Lane &a = lanes_[i], &b = o.lanes_[i];
    if (a.over != b.over) return false;
    if (a.over) continue;
    // A lane that is ready stays ready; only a future wake is part of the state.
    const bool readyA = a.wake <= free_, readyB = b.wake <= o.free_;
    if (a.pc != b.pc || a.waiting != b.waiting || a.watching != b.watching || readyA != readyB)
      return false;
    if (!readyA && !a.watching && a.wake - later != b.wake) return false;
    if (a.counters != b.counters || a.stack != b.stack || a.dice != b.dice) return false;
  }
  return true;
}

void StepProcessor::jump(const Processor& then, Nanoseconds later, std::int64_t times) {
  const auto& o = static_cast<const StepProcessor&>(then);
  const Nanoseconds by = later * times;
  free_ += by;
  for (std::size_t i = 0; i < lanes_.size(); ++i) {
    Lane& l = lanes_[i];
    if (!l.watching) l.wake += by;
    l.stepBegan += by;
    l.missed += (l.missed - o.lanes_[i].missed) * times;
  }
  for (std::size_t s = 0; s < counts_.size(); ++s)
    counts_[s] += (counts_[s] - o.counts_[s]) * times;
  choose();
}

void StepProcessor::show(Nanoseconds now, bool running, ProcessorView& out) const {
  for (std::size_t i = 0; i < lanes_.size(); ++i) {
    const Lane& lane = lanes_[i];
    LaneView view;
    view.id = program_->lanes[i].id;
    view.over = lane.over;
    view.missed = lane.missed;
    if (running && !lane.over && !lane.watching && lane.lastStep >= 0) {
      view.step = at(program_->steps, lane.lastStep);
      if (lane.waiting >= 0) view.waitLeft = std::max<Nanoseconds>(0, lane.wake - now);
    }
    out.lanes.push_back(std::move(view));
  }
  for (const Fault& f : faults_)
    out.faults.push_back({f.what == NumberFault::wrapped ? ProgramFault::What::wrapped
                                                         : ProgramFault::What::dividedByZero,
                          f.at,
                          f.step < 0 ? std::string() : at(program_->steps, f.step),
                          {}});
  for (std::size_t s = 0; s < counts_.size(); ++s) {
    out.stepCounts[program_->steps[s]] = counts_[s];
    if (forks_[s] >= 0) out.forks[program_->steps[s]] = forks_[s] == 1;
  }
}

void StepProcessor::adopt(const Processor& before, Nanoseconds now) {
  // Another kind of processor did something else.
  const auto* was = dynamic_cast<const StepProcessor*>(&before);
  if (!was) return start(now);
  const CompiledProgram& old = *was->program_;
  now = std::max(was->free_, now);
  start(now);
  std::map<std::string, std::size_t> oldStep, oldLane;
  for (std::size_t i = 0; i < old.steps.size(); ++i) oldStep[old.steps[i]] = i;
  for (std::size_t i = 0; i < old.lanes.size(); ++i) oldLane[old.lanes[i].id] = i;
  for (std::size_t s = 0; s < program_->steps.size(); ++s)
    if (const auto it = oldStep.find(program_->steps[s]); it != oldStep.end()) {
      counts_[s] = was->counts_[it->second];
      forks_[s] = was->forks_[it->second];
    }
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
  l.dice = was.dice;
  if (was.watching) {
    const Instruction &next = code.code.front(), &then = oldCode.code.front();
    l.watching = next.code == OpCode::watch && next.number == then.number &&
                 at(program_->pins, next.arg) == at(old.pins, then.arg);
    if (l.watching) l.pc = 1, l.wake = never;
    return;
  }
  if (was.lastStep >= 0)
    for (std::size_t s = 0; s < program_->steps.size(); ++s)
      if (program_->steps[s] == at(old.steps, was.lastStep)) l.lastStep = static_cast<int>(s);
  if (was.waiting >= 0) {
    if (const int wait = mapped(was.waiting); wait >= 0) sleepOn(code, was, wait, l, now);
    return;  // else the wait is gone: the lane begins again
  }
  const int pc = mapped(was.pc);
  if (pc < 0) return;
  l.pc = pc;
  l.wake = was.wake;
  // In the middle of an expression: begin that step again.
  if (before.current_ == static_cast<int>(o) && !was.stack.empty())
    while (l.pc > 0 && at(code.code, l.pc).offset > 0) --l.pc;
}

// It sleeps in the same wait. A changed plain value counts at once, from when the wait began.
void StepProcessor::sleepOn(const CompiledLane& code, const Lane& was, int wait, Lane& l,
                            Nanoseconds now) const {
  l.pc = wait + 1;
  l.waiting = wait;
  l.stepBegan = was.stepBegan;
  l.wake = was.wake;
  if (at(code.code, wait).plain)
    l.wake = std::max(now, was.stepBegan + fromSeconds(at(code.code, wait).number));
}

}  // namespace ignavo
