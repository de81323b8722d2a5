#include "run/processor.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <map>

#include "program/expressions.h"
#include "project/indexing.h"

namespace ignavo {

namespace {

Nanoseconds fromSeconds(double seconds) {
  constexpr double longest = 9e9;  // in seconds; beyond that a wait is for ever
  if (!(seconds > 0)) return 0;
  return seconds >= longest ? never / 2 : static_cast<Nanoseconds>(std::llround(seconds * 1e9));
}

double pop(LaneState& lane) {
  const double v = lane.stack.back();
  lane.stack.pop_back();
  return v;
}
}  // namespace

void Processor::start(const CompiledProgram& program, Nanoseconds begin) {
  program_ = std::make_shared<const CompiledProgram>(program);
  lanes_.clear();
  for (const CompiledLane& lane : program_->lanes) {
    LaneState s;
    s.wake = s.stepBegan = begin;
    s.over = lane.code.size() == 1 && lane.code[0].code == OpCode::end;
    s.counters.assign(lane.counterOwner.size(), 0);
    lanes_.push_back(std::move(s));
  }
  lastStep_.assign(lanes_.size(), -1);
  counts_.assign(program_->steps.size(), 0);
  forks_.assign(program_->steps.size(), -1);
  free_ = begin;
  current_ = -1;
  previous_ = static_cast<int>(lanes_.size()) - 1;
}

// The lane in the middle of a step, else the next ready one after the last;
// when none is ready, the processor rests until the first wakes.
Processor::Choice Processor::choose() const {
  if (current_ >= 0) return {current_, free_};
  const int n = static_cast<int>(lanes_.size());
  Nanoseconds earliest = never;
  for (const LaneState& l : lanes_)
    if (!l.over) earliest = std::min(earliest, l.wake);
  if (earliest == never) return {};
  const Nanoseconds now = std::max(free_, earliest);
  for (int k = 1; k <= n; ++k) {
    const int i = (previous_ + k) % n;
    if (!at(lanes_, i).over && at(lanes_, i).wake <= now) return {i, now};
  }
  return {};
}

Nanoseconds Processor::nextTime() const {
  const Choice c = choose();
  if (c.lane < 0) return never;
  return c.start + at(at(program_->lanes, c.lane).code, at(lanes_, c.lane).pc).nanoseconds;
}

bool Processor::execute(PinAccess& pins) {
  const Choice c = choose();
  if (c.lane < 0) return false;
  LaneState& l = at(lanes_, c.lane);
  if (current_ < 0) {
    current_ = c.lane;
    l.stepBegan = c.start;
    l.waiting = -1;
  }
  free_ = c.start;
  const Instruction& i = at(at(program_->lanes, current_).code, l.pc);
  const Nanoseconds now = free_ + i.nanoseconds;
  free_ = now;
  int next = l.pc + 1;
  switch (i.code) {
    case OpCode::push:
      l.stack.push_back(i.number);
      break;
    case OpCode::readPin:
      l.stack.push_back(pins.readPin(i.arg, now) ? 1 : 0);
      break;
    case OpCode::operate: {
      const OperatorKind& op = at(operatorKinds(), i.arg);
      const double b = op.operands == 2 ? pop(l) : 0;
      const double a = pop(l);
      l.stack.push_back(op.evaluate(a, b));
      break;
    }
    case OpCode::readLevel:
      l.stack.push_back(pins.readLevel(i.arg, now));
      break;
    case OpCode::setPin:
      pins.setPin(i.arg, pop(l) != 0, now);
      break;
    case OpCode::flipPin:
      pins.flipPin(i.arg, now);
      break;
    case OpCode::setLevel:
      pins.setLevel(i.arg, pop(l), now);
      break;
    case OpCode::watch:
      l.watching = true;
      l.wake = never;
      break;
    case OpCode::wait:
      l.wake = std::max(now, l.stepBegan + fromSeconds(pop(l)));
      l.waiting = l.pc;
      break;
    case OpCode::jump:
      next = i.target;
      break;
    case OpCode::branch: {
      const bool yes = pop(l) != 0;
      if (i.step >= 0) at(forks_, i.step) = yes ? 1 : 0;
      if (!yes) next = i.target;
      break;
    }
    case OpCode::countStart: {
      const double times = std::clamp(std::round(pop(l)), 0.0, 1e15);
      at(l.counters, i.arg) = static_cast<std::int64_t>(times);
      break;
    }
    case OpCode::countTurn:
      if (at(l.counters, i.arg) <= 0)
        next = i.target;
      else
        --at(l.counters, i.arg);
      break;
    case OpCode::end:
      l.over = true;
      break;
  }
  if (i.step >= 0) {
    at(lastStep_, current_) = i.step;
    if (i.endsStep) ++at(counts_, i.step);
  }
  l.pc = next;
  const bool top = i.laneTop;
  if (i.endsStep || i.code == OpCode::end) {
    previous_ = current_;
    current_ = -1;
  }
  return top;
}

void Processor::pinChanged(int pin, bool high, Nanoseconds now) {
  for (std::size_t i = 0; i < lanes_.size(); ++i) {
    LaneState& l = lanes_[i];
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
}

int Processor::stepOf(std::size_t lane) const {
  if (lane >= lanes_.size() || lanes_[lane].over || lanes_[lane].watching) return -1;
  return lastStep_[lane];
}

bool Processor::sameAs(const Processor& o, Nanoseconds shift) const {
  if (current_ != o.current_ || previous_ != o.previous_ || free_ - shift != o.free_) return false;
  for (std::size_t i = 0; i < lanes_.size(); ++i) {
    const LaneState &a = lanes_[i], &b = o.lanes_[i];
    if (a.over != b.over) return false;
    if (a.over) continue;
    // A lane that is ready stays ready; only a future wake is part of the state.
    const bool readyA = a.wake <= free_, readyB = b.wake <= o.free_;
    if (a.pc != b.pc || a.waiting != b.waiting || a.watching != b.watching || readyA != readyB)
      return false;
    if (!readyA && !a.watching && a.wake - shift != b.wake) return false;
    if (a.counters != b.counters || a.stack != b.stack) return false;
  }
  return true;
}

void Processor::shiftBy(Nanoseconds shift) {
  free_ += shift;
  for (LaneState& l : lanes_) {
    if (!l.watching) l.wake += shift;
    l.stepBegan += shift;
  }
}

void Processor::adopt(const CompiledProgram& program, Nanoseconds at_) {
  const std::shared_ptr<const CompiledProgram> held = program_;
  const CompiledProgram& old = *held;
  const std::vector<LaneState> oldLanes = lanes_;
  const auto oldCounts = counts_;
  const auto oldForks = forks_;
  const auto oldLast = lastStep_;
  const int oldCurrent = current_;
  const Nanoseconds now = std::max(free_, at_);
  start(program, now);

  std::map<std::string, int> oldStep, oldLane;
  for (std::size_t i = 0; i < old.steps.size(); ++i) oldStep[old.steps[i]] = static_cast<int>(i);
  for (std::size_t i = 0; i < old.lanes.size(); ++i) oldLane[old.lanes[i].id] = static_cast<int>(i);
  for (std::size_t s = 0; s < program_->steps.size(); ++s)
    if (const auto it = oldStep.find(program_->steps[s]); it != oldStep.end()) {
      counts_[s] = at(oldCounts, it->second);
      forks_[s] = at(oldForks, it->second);
    }

  for (std::size_t n = 0; n < program_->lanes.size(); ++n) {
    const CompiledLane& lane = program_->lanes[n];
    const auto found = oldLane.find(lane.id);
    if (found == oldLane.end() || lanes_[n].over) continue;
    const LaneState& was = at(oldLanes, found->second);
    const CompiledLane& oldCode = at(old.lanes, found->second);
    if (was.over) {
      lanes_[n].over = lane.trigger == "power";
      continue;
    }
    // The same instruction of the same step, or -1.
    const auto mapped = [&](int pc) {
      const Instruction& i = at(oldCode.code, pc);
      for (std::size_t k = 0; k < lane.code.size(); ++k) {
        const Instruction& j = lane.code[k];
        const bool sameStep =
            i.step < 0 ? j.step < 0
                       : j.step >= 0 && at(program_->steps, j.step) == at(old.steps, i.step);
        if (sameStep && i.code == j.code && i.offset == j.offset) return static_cast<int>(k);
      }
      return -1;
    };
    LaneState& l = lanes_[n];
    for (std::size_t c = 0; c < lane.counterOwner.size(); ++c)
      for (std::size_t d = 0; d < oldCode.counterOwner.size(); ++d)
        if (at(program_->steps, lane.counterOwner[c]) == at(old.steps, oldCode.counterOwner[d]))
          l.counters[c] = was.counters[d];
    l.missed = was.missed;
    if (was.watching) {
      const Instruction &next = lane.code.front(), &then = oldCode.code.front();
      l.watching = next.code == OpCode::watch && next.number == then.number &&
                   at(program_->pins, next.arg) == at(old.pins, then.arg);
      if (l.watching) l.pc = 1, l.wake = never;
      continue;
    }
    const auto last = at(oldLast, found->second);
    if (last >= 0)
      for (std::size_t s = 0; s < program_->steps.size(); ++s)
        if (program_->steps[s] == at(old.steps, last)) lastStep_[n] = static_cast<int>(s);
    if (was.waiting >= 0) {
      const int wait = mapped(was.waiting);
      if (wait < 0) continue;  // the wait is gone: the lane begins again
      l.pc = wait + 1;
      l.waiting = wait;
      l.stepBegan = was.stepBegan;
      l.wake = was.wake;
      // A changed plain value counts at once, from when the wait began.
      if (wait > 0 && at(lane.code, wait - 1).code == OpCode::push)
        l.wake = std::max(now, was.stepBegan + fromSeconds(at(lane.code, wait - 1).number));
      continue;
    }
    const bool middle = oldCurrent == found->second;
    const int pc = mapped(was.pc);
    if (pc < 0) continue;
    l.pc = pc;
    l.wake = was.wake;
    if (middle && !was.stack.empty()) {
      // In the middle of an expression: begin that step again.
      while (l.pc > 0 && at(lane.code, l.pc).offset > 0) --l.pc;
    }
  }
}

}  // namespace ignavo
