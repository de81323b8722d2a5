#include "run/plain_processor.h"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "project/indexing.h"

// One instruction after the other, each complete when its cycles have passed. Time is counted in
// cycles of the chip; where those are not whole nanoseconds the rest is kept, so that nothing
// drifts. A wait is so many cycles more, after what it was worked out from.
namespace ignavo {

PlainProcessor::PlainProcessor(std::shared_ptr<const CompiledProgram> program)
    : StepProcessor(std::move(program)) {
  constexpr std::int64_t oneSecond = 1'000'000'000;
  const std::int64_t common = std::gcd(program_->costs.hertz, oneSecond);
  unitCycles_ = program_->costs.hertz / common;
  unitNanoseconds_ = oneSecond / common;
  for (const CompiledLane& lane : program_->lanes) {
    if (lane.code.size() > 1) break;
    ++only_;
  }
  start(0);
}

std::unique_ptr<Processor> PlainProcessor::copy() const {
  return std::make_unique<PlainProcessor>(*this);
}

void PlainProcessor::adopt(const Processor& before, Nanoseconds now) {
  const auto* same = dynamic_cast<const PlainProcessor*>(&before);
  if (same && same->program_ == program_)
    *this = *same;  // goes on as it stands
  else
    StepProcessor::adopt(before, now);
}

PlainProcessor::Moment PlainProcessor::after(Moment from, std::int64_t cycles) const {
  from.cycles += cycles;
  if (from.cycles < unitCycles_) return from;
  if (from.cycles == unitCycles_) return {from.at + unitNanoseconds_, 0};
  from.at += from.cycles / unitCycles_ * unitNanoseconds_;
  from.cycles %= unitCycles_;
  return from;
}

// A wait that is written out is exact; one that is worked out counts loops of four cycles.
std::int64_t PlainProcessor::cyclesOfWait(const Instruction& wait, double seconds) const {
  constexpr double longest = 9e8;  // in seconds; beyond that a wait is for ever
  if (!(seconds > 0)) return 0;
  const auto hertz = static_cast<double>(program_->costs.hertz);
  const double clipped = std::min(seconds, longest);
  if (wait.plain)
    return static_cast<std::int64_t>(std::ceil(std::round(clipped * 1e9) * hertz / 1e9));
  const double minutes = std::floor(clipped / 60);
  const auto loops = static_cast<float>(clipped - minutes * 60) * static_cast<float>(hertz / 4);
  return static_cast<std::int64_t>(minutes * 60 * hertz) + 4 * static_cast<std::int64_t>(loops);
}

Nanoseconds PlainProcessor::endOfWait(const Instruction& wait, double seconds,
                                      Nanoseconds since) const {
  return told(after({since, 0}, cyclesOfWait(wait, seconds)));
}

void PlainProcessor::choose() {
  due_ = never;
  if (only_ >= static_cast<int>(lanes_.size()) || at(lanes_, only_).over) return;
  Lane& l = at(lanes_, only_);
  if (l.waiting >= 0 && l.wake > told(free_)) free_ = {l.wake, 0};
  const Instruction& next = l.next();
  complete_ = after(free_, cyclesOf(next, l.stack, program_->costs));
  due_ = told(complete_);
  if (!next.measures) return;
  const CostTable& costs = program_->costs;
  const Nanoseconds more = measured_ ? 0 : costs.measuresFirst - costs.measures;
  due_ = told(free_) + costs.samples + more;
  complete_.at += costs.measures + more;
}

// Until one has reached out or completed the step, or the next would be complete too late.
Processor::Executed PlainProcessor::execute(PinAccess& pins, Nanoseconds limit) {
  Lane& l = at(lanes_, only_);
  Executed done;
  for (;;) {
    const Instruction& i = l.next();
    done.at = due_;
    if (l.waiting >= 0) pins.waits(false, due_);
    l.waiting = -1;
    l.since = told(complete_);
    const bool out = perform(i, l, pins, due_);
    if (i.code == OpCode::wait) pins.waits(true, done.at);
    free_ = i.code == OpCode::wait ? after(complete_, cyclesOfWait(i, seconds_)) : complete_;
    choose();
    done.atLoopHead = i.loopHead;
    done.step = i.endsStep || i.code == OpCode::end;
    if (done.step || out || due_ > limit) return done;
  }
}

bool PlainProcessor::sameAs(const Processor& then, Nanoseconds later) const {
  const auto& o = static_cast<const PlainProcessor&>(then);
  return free_.at - later == o.free_.at && free_.cycles == o.free_.cycles &&
         measured_ == o.measured_ && memory_ == o.memory_ &&
         std::equal(lanes_.begin(), lanes_.end(), o.lanes_.begin(),
                    [](const Lane& a, const Lane& b) { return a.sameAs(b); });
}

void PlainProcessor::jump(const Processor& then, Nanoseconds later, std::int64_t times) {
  StepProcessor::jump(times, static_cast<const PlainProcessor&>(then), later);
  free_.at += later * times;
  for (Lane& l : lanes_) l.wake += later * times, l.since += later * times;
  choose();
}

}  // namespace ignavo
