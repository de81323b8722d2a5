#include "run/step_processor.h"

#include <algorithm>
#include <cassert>
#include <limits>

#include "program/said.h"
#include "program/signals.h"
#include "program/steps.h"
#include "project/indexing.h"
#include "run/plain_processor.h"
#include "run/turn_processor.h"

namespace ignavo {

namespace {

constexpr std::int32_t neverAsked = std::numeric_limits<std::int32_t>::min();

Cell popped(std::vector<Cell>& stack) {
  const Cell v = stack.back();
  stack.pop_back();
  return v;
}

// The uppermost so many values, and one in their place.
const Cell* top(const std::vector<Cell>& stack, int count) {
  return stack.data() + stack.size() - static_cast<std::size_t>(count);
}
void replaceTop(std::vector<Cell>& stack, int count, Cell value) {
  if (count == 0) return stack.push_back(value);
  stack.resize(stack.size() - static_cast<std::size_t>(count) + 1);
  stack.back() = value;
}

// What an instruction takes that takes one value.
bool truthTaken(const Instruction& i, std::vector<Cell>& stack) {
  return i.plain ? i.number != 0 : popped(stack).truth();
}
std::int32_t wholeTaken(const Instruction& i, std::vector<Cell>& stack) {
  return i.plain ? static_cast<std::int32_t>(i.number) : popped(stack).whole();
}

// What is said of instructions is what they do.
[[maybe_unused]] bool keepsItsFacts(const std::vector<Instruction>& code, int from, int to,
                                    std::size_t held, std::size_t holds) {
  const Instruction& i = at(code, from);
  const Successors next = successorsOf(code, from);
  return static_cast<int>(holds) - static_cast<int>(held) == givenBy(i) - takenBy(i) &&
         (next.count == 0 || std::find(next.begin(), next.end(), to) != next.end());
}

}  // namespace

double StepProcessor::realTaken(const Instruction& i, Lane& lane) {
  return i.plain ? i.number : static_cast<double>(popped(lane.stack).real());
}

void StepProcessor::start(Nanoseconds moment) {
  lanes_.clear();
  for (const CompiledLane& lane : program_->lanes) {
    Lane l;
    l.code = lane.code.data();
    l.list = &lane.code;
    l.index = static_cast<int>(lanes_.size());
    l.dice = lane.dice;
    l.wake = l.since = moment;
    l.over = lane.code.size() == 1 && lane.code[0].code == OpCode::end;
    l.idle = lane.code[0].code == OpCode::idle;
    l.counters.assign(lane.counterOwner.size(), 0);
    lanes_.push_back(std::move(l));
  }
  memory_.clear();
  for (const MemoryCell& cell : program_->memory) memory_.push_back(cell.start);
  asked_.assign(memory_.size(), neverAsked);
  moments_.assign(program_->moments.size(), untimed);
  held_.assign(program_->keys.size(), 0);
  turns_ = 0;
  powerOn_ = moment;
  counts_.assign(program_->steps.size(), 0);
  lastRuns_.assign(program_->steps.size(), 0);
  forks_.assign(program_->steps.size(), -1);
  faults_.clear();
  measured_ = false;
  begin(moment);
  choose();
}

void StepProcessor::report(NumberFault what, int step, Nanoseconds now) {
  if (std::none_of(faults_.begin(), faults_.end(),
                   [&](const Fault& f) { return f.what == what && f.step == step; }))
    faults_.push_back({what, step, now});
}

// From the beginning of a list: where an item stands, the nearest end where there is none.
int StepProcessor::place(const Instruction& i, std::int32_t position, Nanoseconds now) {
  if (position < 1 || position > i.operands) report(NumberFault::outside, i.step, now);
  return std::clamp<std::int32_t>(position, 1, i.operands) - 1;
}

bool StepProcessor::say(const Instruction& i, Lane& l, PinAccess& pins, Nanoseconds now) {
  const CompiledLine& line = at(program_->lines, i.arg);
  SaidLine out;
  out.at = now;
  out.step = line.step;
  out.note = line.note;
  out.number = line.number;
  const CostTable& costs = program_->costs;
  const auto first = l.stack.end() - i.operands;
  spoken_ = costs.digits(static_cast<std::uint32_t>(line.number));
  spokenShare_ = microsecondsOf(line.number);
  for (std::size_t k = 0; k < line.items.size(); ++k) {
    const Cell value = first[static_cast<std::ptrdiff_t>(k)];
    spoken_ += costs.saying(value, line.items[k]);
    spokenShare_ += line.items[k] == ValueType::real    ? microsecondsOf(value.real())
                    : line.items[k] == ValueType::whole ? microsecondsOf(value.whole())
                                                        : 0;
    if (line.note && k + 1 == line.items.size()) {
      out.seconds = value.real();
      continue;
    }
    if (k > 0) out.text += ' ';
    out.text += written(value, line.items[k], program_->texts);
  }
  out.text = firstLetters(out.text, lineLetters);
  const auto letters =
      static_cast<std::int64_t>(wireLine(out.note, out.number, out.seconds, out.text).size());
  spoken_ += costs.sayLetter * letters;
  spokenShare_ += microsecondsOfLetter * letters;
  l.stack.erase(first, l.stack.end());
  const std::int64_t before = costs.say + spoken_ - costs.sayMoved * letters;
  constexpr Nanoseconds microsecond = 1'000;
  const PinAccess::SayingTime time{
      turn_, turn_ + (shares_ - program_->work.turn + spokenShare_) * microsecond,
      now + costs.nanoseconds(before)};
  const int taken = pins.say(out, time, now);
  if (taken == PinAccess::refused) {
    spoken_ = spokenShare_ = 0;
    return false;
  }
  // What has to wait for room is put into the buffer later.
  spoken_ -= costs.sayMoved * (letters - taken);
  return true;
}

// What a signal operator gives.
void StepProcessor::give(const Instruction& i, Lane& l, Cell value) {
  if (i.keeps >= 0)
    at(memory_, i.keeps) = value;
  else
    l.stack.push_back(value);
}

bool StepProcessor::perform(const Instruction& i, Lane& l, PinAccess& pins, Nanoseconds now) {
  int following = l.pc + 1;
  [[maybe_unused]] const int stood = l.pc;
  [[maybe_unused]] const std::size_t held = l.stack.size();
  switch (i.code) {
    case OpCode::push:
      l.stack.push_back(i.value);
      break;
    case OpCode::readPin:
      l.stack.push_back(Cell::of(pins.readPin(i.arg, now)));
      break;
    case OpCode::operate: {
      static const std::vector<OperatorKind>& kinds = operatorKinds();
      const OperatorKind& op = at(kinds, i.arg);
      NumberFault fault = NumberFault::none;
      const Cell value = (i.reals ? op.real : op.whole)(top(l.stack, i.operands), fault);
      if (fault != NumberFault::none) report(fault, i.step, now);
      replaceTop(l.stack, i.operands, value);
      break;
    }
    case OpCode::load:
      l.stack.push_back(at(memory_, i.arg));
      break;
    case OpCode::store:
      at(memory_, i.arg) = i.plain ? i.value : l.stack.back();
      if (!i.plain && !i.stays) l.stack.pop_back();
      if (pins.wantsStores) pins.stored(i.arg, at(memory_, i.arg), now);
      break;
    case OpCode::item: {
      const std::int32_t position = at(asked_, i.arg) = wholeTaken(i, l.stack);
      l.stack.push_back(at(memory_, i.arg + place(i, position, now)));
      break;
    }
    case OpCode::storeItem: {
      const std::int32_t position = popped(l.stack).whole();
      at(memory_, i.arg + place(i, position, now)) = popped(l.stack);
      break;
    }
    case OpCode::seconds:
      l.stack.push_back(Cell::of(static_cast<float>(turns_) / 4000.0F));
      break;
    case OpCode::sense: {
      const SenseState state{&at(memory_, i.target), &moments_[i.value.bits]};
      static const std::vector<SignalKind>& kinds = signalKinds();
      const Cell value = at(kinds, i.arg).sense(state, top(l.stack, i.operands), turns_);
      l.stack.resize(l.stack.size() - i.operands);
      give(i, l, value);
      if (i.keeps >= 0 && pins.wantsStores) pins.stored(i.keeps, value, now);
      break;
    }
    case OpCode::wave: {
      const CompiledWave& wave = at(program_->waves, i.arg);
      const std::uint32_t phase = phaseOf(wave.steps, turns_);
      const float rounds = static_cast<float>(wave.steps.round) / 100.0F;
      const float duty = i.plain ? i.value.real() : popped(l.stack).real();
      give(i, l,
           Cell::of(wave.high ? phase < *wave.high : static_cast<float>(phase) < duty * rounds));
      if (i.keeps >= 0 && pins.wantsStores) pins.stored(i.keeps, at(memory_, i.keeps), now);
      break;
    }
    case OpCode::turns:
      l.stack.push_back(Cell::of(turnsOf(popped(l.stack).real())));
      break;
    case OpCode::afresh:
      std::fill_n(memory_.begin() + i.arg, i.operands, Cell{});
      std::fill_n(moments_.begin() + i.target, i.value.bits, untimed);
      break;
    case OpCode::start:
      if (truthTaken(i, l.stack)) came(i.arg);
      break;
    case OpCode::random: {
      const std::int32_t to = popped(l.stack).whole(), from = popped(l.stack).whole();
      l.stack.push_back(Cell::of(thrown(at(lanes_, l.index).dice, from, to)));
      break;
    }
    case OpCode::convert:
      l.stack.back() = converted(l.stack.back(), static_cast<ValueType>(i.arg),
                                 static_cast<ValueType>(i.target));
      break;
    case OpCode::readLevel:
      measured_ = measured_ || i.measures;
      l.stack.push_back(
          Cell::of(static_cast<float>(pins.readLevel(i.arg, now) * i.number / PinAccess::stages)));
      break;
    case OpCode::setPin:
      changed_ = pins.setPin(i.arg, truthTaken(i, l.stack), now);
      break;
    case OpCode::flipPin:
      pins.flipPin(i.arg, now);
      break;
    case OpCode::setLevel:
      pins.setLevel(i.arg, realTaken(i, l), now);
      break;
    case OpCode::tone:
      changed_ = pins.sound(i.arg, static_cast<float>(realTaken(i, l)), turn_, now);
      break;
    case OpCode::silence:
      pins.silence(i.arg, now);
      break;
    case OpCode::turnServo:
      changed_ = pins.turnServo(i.arg, static_cast<float>(realTaken(i, l)), turn_, now);
      break;
    case OpCode::sayLine:
      if (!say(i, l, pins, now)) following = i.target;
      break;
    case OpCode::lineSent:
      if (pins.saying(turn_, now)) {
        following = l.pc;
        l.wake = turn_ + 1;  // looks again in the next turn
      } else {
        l.since = turn_;
      }
      break;
    case OpCode::readKey:
      l.stack.push_back(Cell::of(at(held_, i.arg) != 0));
      break;
    case OpCode::call:
      l.returns.push_back(following);
      following = i.target;
      break;
    case OpCode::back:
      following = l.returns.back();
      l.returns.pop_back();
      break;
    case OpCode::idle:
      l.idle = true;
      l.returns.clear();
      following = l.pc;
      break;
    case OpCode::wait:
      l.waiting = l.pc;
      seconds_ = realTaken(i, l);
      l.wake = endOfWait(i, seconds_, l.since);
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
  assert(i.code == OpCode::idle || i.code == OpCode::back || i.code == OpCode::sayLine ||
         i.code == OpCode::lineSent || keepsItsFacts(*l.list, stood, l.pc, held, l.stack.size()));
  if (pins.wantsSteps) tellStep(i, l, pins, now);
  if (i.step >= 0) {
    l.lastStep = i.step;
    if (i.endsStep && following != stood) {
      ++at(counts_, i.step);
      at(lastRuns_, i.step) = now;
    }
  }
  return factsOf(i.code).reachesOut();
}

// Of the lanes; what is worked out once a turn is no step.
void StepProcessor::tellStep(const Instruction& i, const Lane& l, PinAccess& pins,
                             Nanoseconds now) const {
  const std::ptrdiff_t lane = &l - lanes_.data();
  if (lane < 0 || lane >= static_cast<std::ptrdiff_t>(lanes_.size())) return;
  if (l.idle || l.over) return pins.stepped(static_cast<int>(lane), -1, now);
  if (i.step >= 0) pins.stepped(static_cast<int>(lane), i.step, now);
}

void StepProcessor::jump(std::int64_t times, const StepProcessor& then, Nanoseconds later) {
  for (std::size_t i = 0; i < lanes_.size(); ++i) {
    const Lane& was = then.lanes_[i];
    lanes_[i].missed += (lanes_[i].missed - was.missed) * times;
    lanes_[i].bounced += (lanes_[i].bounced - was.bounced) * times;
    if (lanes_[i].ceased != was.ceased) lanes_[i].ceased += later * times;
  }
  for (std::size_t s = 0; s < counts_.size(); ++s) {
    if (counts_[s] == then.counts_[s]) continue;
    counts_[s] += (counts_[s] - then.counts_[s]) * times;
    lastRuns_[s] += later * times;
  }
}

bool StepProcessor::cameTo(const Lane& lane, int step, Nanoseconds since) const {
  if (step < 0) return false;
  if (at(counts_, step) > 0 && at(lastRuns_, step) >= since) return true;
  return !lane.over && !lane.idle && lane.lastStep == step && lane.waiting < 0;
}

// What is worked out once a turn, and what starts lanes, looks all the time.
std::optional<bool> StepProcessor::lookedAt(int pin, Nanoseconds since) const {
  const auto reads = [&](const Instruction& i) { return factsOf(i.code).readsPin && i.arg == pin; };
  for (const CompiledSignal& signal : program_->signals)
    if (std::any_of(signal.code.begin(), signal.code.end(), reads)) return true;
  for (const std::string& watched : program_->watched)
    if (watched == at(program_->pins, pin)) return true;
  std::optional<bool> out;
  for (const Lane& lane : lanes_)
    for (const Instruction& i : *lane.list)
      if (reads(i)) out = out.value_or(false) || cameTo(lane, i.step, since);
  return out;
}

// Straight on to its end: nothing in there takes time. On a copy, so that nothing comes of it.
Cell StepProcessor::valueOf(const CompiledSignal::Part& part, PinAccess& pins, Nanoseconds now) {
  Lane lane;
  lane.code = part.code.data();
  lane.list = &part.code;
  while (lane.next().code != OpCode::end) perform(lane.next(), lane, pins, now);
  return lane.stack.empty() ? Cell{} : lane.stack.back();
}

void StepProcessor::show(PinAccess& pins, Nanoseconds now, bool running, ProcessorView& out) const {
  std::unique_ptr<Processor> looking;
  for (std::size_t i = 0; i < lanes_.size(); ++i) {
    const Lane& lane = lanes_[i];
    LaneView view;
    view.id = program_->lanes[i].id;
    view.over = lane.over;
    view.missed = lane.missed;
    view.bounced = lane.bounced;
    if (running && !lane.over && !lane.idle && lane.lastStep >= 0) {
      view.step = at(program_->steps, lane.lastStep);
      if (lane.waiting >= 0) view.waitLeft = std::max<Nanoseconds>(0, lane.wake - now);
    }
    for (const CompiledSignal& signal : program_->signals)
      if (signal.lane == view.id) {
        view.value = LaneView::Value{signal.type, number(at(memory_, signal.shown), signal.type)};
        if (!running) continue;
        if (!looking) looking = copy();
        for (const CompiledSignal::Part& part : signal.parts) {
          const Cell value = static_cast<StepProcessor&>(*looking).valueOf(part, pins, now);
          std::optional<Nanoseconds> left;
          if (part.moment >= 0 && at(moments_, part.moment) != untimed)
            left = std::max<Nanoseconds>(0, at(moments_, part.moment) - turns_) * turnNanoseconds;
          view.parts.push_back({part.path, {part.type, number(value, part.type)}, left});
        }
      }
    out.lanes.push_back(std::move(view));
  }
  for (const Fault& f : faults_)
    out.faults.push_back(
        {f.what, f.at, f.step < 0 ? std::string() : at(program_->steps, f.step), {}});
  for (std::size_t c = 0; c < memory_.size(); ++c) {
    const MemoryCell& cell = program_->memory[c];
    VariableView view{{}, cell.name, cell.item, cell.type, number(memory_[c], cell.type), {}};
    if (cell.of == MemoryCell::Of::state) continue;
    if (cell.type == ValueType::text) view.text = program_->texts[memory_[c].bits];
    out.variables.push_back(std::move(view));
    if (asked_[c] != neverAsked) out.reads.push_back({{}, cell.name, asked_[c]});
  }
  for (std::size_t s = 0; s < counts_.size(); ++s) {
    out.stepCounts[program_->steps[s]] += counts_[s];
    if (counts_[s] > 0) {
      Nanoseconds& last = out.lastRuns[program_->steps[s]];
      last = std::max(last, lastRuns_[s]);
    }
    if (forks_[s] >= 0) out.forks[program_->steps[s]] = forks_[s] == 1;
  }
}

std::unique_ptr<Processor> stepProcessor(std::shared_ptr<const CompiledProgram> program) {
  if (program->inTurns) return std::make_unique<TurnProcessor>(std::move(program));
  return std::make_unique<PlainProcessor>(std::move(program));
}

}  // namespace ignavo
