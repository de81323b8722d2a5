#include "run/turn_processor.h"

#include <algorithm>
#include <cassert>
#include <cmath>

#include "project/indexing.h"
#include "run/device.h"

// A turn: what pins did since the one before is delivered to the lanes that it starts; then each
// ready lane goes on until it would begin a second step, sleeps or ends. All of it happens at the
// moment of the turn, but for measuring, which takes its time. The next turn is the first that
// begins when the work of this one is done: the cycles of all instructions are counted for that.
//
// A wait counts from the turn of the step before it, or from where the wait before it ended, so
// that nothing drifts, however long a turn took.
namespace ignavo {

TurnProcessor::TurnProcessor(std::shared_ptr<const CompiledProgram> program)
    : StepProcessor(std::move(program)) {
  for (const CompiledLane& lane : program_->lanes)
    if (lane.pin >= 0 && std::none_of(watched_.begin(), watched_.end(),
                                      [&](const Watched& w) { return w.pin == lane.pin; }))
      watched_.push_back({lane.pin, -1, false});
  for (const CompiledLane& lane : program_->lanes)
    for (const Instruction& i : lane.code) asksTime_ = asksTime_ || i.code == OpCode::seconds;
  StepProcessor::start(0);
}

std::unique_ptr<Processor> TurnProcessor::copy() const {
  return std::make_unique<TurnProcessor>(*this);
}

void TurnProcessor::adopt(const Processor& before, Nanoseconds now) {
  // The turns go on as they were.
  if (const auto* was = dynamic_cast<const TurnProcessor*>(&before))
    began_ = was->began_;
  else
    began_ = now;
  goesOn_ = true;
  StepProcessor::adopt(before, now);
  goesOn_ = false;
}

void TurnProcessor::begin(Nanoseconds moment) {
  if (!goesOn_) began_ = moment;
  earliest_ = heard_ = turnFrom(moment);
  lane_ = -1;
  for (Watched& w : watched_) w.was = -1;
  for (Lane& l : lanes_) l.wake = l.since = earliest_;
}

Nanoseconds TurnProcessor::turnFrom(Nanoseconds moment) const {
  const Nanoseconds turns = (moment - began_ + turnNanoseconds - 1) / turnNanoseconds;
  return began_ + turns * turnNanoseconds;
}

Nanoseconds TurnProcessor::endOfWait(const Instruction& wait, double seconds,
                                     Nanoseconds since) const {
  constexpr double most = 2147483647;  // turns: what the chip can count
  if (!(seconds > 0)) return since;
  const double turns = wait.plain
                           ? std::ceil(std::round(std::min(seconds, 9e8) * 1e9) /
                                       static_cast<double>(turnNanoseconds))
                           : static_cast<double>(std::ceil(static_cast<float>(seconds) * 4000.0F));
  return since + static_cast<Nanoseconds>(std::min(turns, most)) * turnNanoseconds;
}

// The next turn in which anything can happen.
void TurnProcessor::choose() {
  if (lane_ >= 0) return;
  due_ = never;
  for (const Lane& l : lanes_)
    if (!l.over && !l.idle) due_ = std::min(due_, std::max(l.wake, earliest_));
  for (const Watched& w : watched_) {
    if (w.was < 0)
      due_ = earliest_;  // there is nothing yet to compare with
    else if ((w.was != 0) != w.high)
      due_ = std::min(due_, std::max(heard_, earliest_));
  }
}

void TurnProcessor::startLane(Lane& l) {
  l.idle = false;
  l.pc = 1;
  l.waiting = -1;
  l.wake = l.since = turn_;
  l.stack.clear();
}

void TurnProcessor::beginTurn(PinAccess& pins) {
  turn_ = now_ = due_;
  lane_ = 0;
  worked_ = 0;
  cameRound_ = false;
  for (Watched& w : watched_) {
    if (w.was < 0) {
      w.high = pins.readPin(w.pin, now_);
    } else if ((w.was != 0) != w.high) {
      for (std::size_t i = 0; i < lanes_.size(); ++i) {
        const CompiledLane& code = program_->lanes[i];
        if (code.pin != w.pin || code.high != w.high) continue;
        if (lanes_[i].idle)
          startLane(lanes_[i]);
        else if (!lanes_[i].over)
          ++lanes_[i].missed;
      }
    }
    w.was = w.high ? 1 : 0;
  }
  for (Lane& l : lanes_) {
    l.stepped = false;
    if (isReady(l)) worked_ += program_->costs.step;
  }
}

void TurnProcessor::endTurn() {
  const Nanoseconds work = now_ - turn_ + worked_ * 1'000'000'000 / program_->costs.hertz;
  const Nanoseconds turns =
      std::max<Nanoseconds>(1, (work + turnNanoseconds - 1) / turnNanoseconds);
  earliest_ = turn_ + turns * turnNanoseconds;
  lane_ = -1;
  choose();
}

// What the next instruction of a lane waits for before it takes effect.
Nanoseconds TurnProcessor::delayOf(const Instruction& i) const {
  if (!i.measures) return 0;
  const CostTable& costs = program_->costs;
  return costs.samples + (measured_ ? 0 : costs.measuresFirst - costs.measures);
}

Processor::Executed TurnProcessor::execute(PinAccess& pins, Nanoseconds limit) {
  Executed done{due_};
  if (lane_ < 0) beginTurn(pins);
  for (; lane_ < static_cast<int>(lanes_.size()); ++lane_) {
    Lane& l = at(lanes_, lane_);
    while (isReady(l) && !(l.next().takesTurn && l.stepped)) {
      const Instruction& i = l.next();
      const Nanoseconds moment = now_ + delayOf(i);
      if (moment > done.at && moment > limit) {
        due_ = moment;
        return done;
      }
      done.at = moment;
      if (l.waiting >= 0) l.since = l.wake, l.waiting = -1;
      if (i.takesTurn) l.stepped = true, l.since = turn_;
      if (i.measures) now_ += measured_ ? program_->costs.measures : program_->costs.measuresFirst;
      worked_ += i.cycles;
      const bool out = perform(i, l, pins, moment);
      cameRound_ = cameRound_ || i.loopHead;
      done.step = i.endsStep || i.code == OpCode::end;
      if (done.step || out) {
        due_ = now_;
        return done;
      }
    }
  }
  done.atLoopHead = cameRound_;
  endTurn();
  return done;
}

void TurnProcessor::pinChanged(int pin, bool high, Nanoseconds now) {
  for (Watched& w : watched_)
    if (w.pin == pin) w.high = high;
  heard_ = turnFrom(now);
  choose();
}

bool TurnProcessor::sameAs(const Processor& then, Nanoseconds later) const {
  const auto& o = static_cast<const TurnProcessor&>(then);
  if (lane_ != o.lane_ || lane_ >= 0 || earliest_ - later != o.earliest_ ||
      measured_ != o.measured_ || memory_ != o.memory_ || asksTime_ ||
      !sameMoment(due_, o.due_, later))
    return false;
  for (std::size_t i = 0; i < watched_.size(); ++i)
    if (watched_[i].was != o.watched_[i].was || watched_[i].high != o.watched_[i].high)
      return false;
  for (std::size_t i = 0; i < lanes_.size(); ++i) {
    const Lane &a = lanes_[i], &b = o.lanes_[i];
    if (!a.sameAs(b)) return false;
    if (a.over || a.idle) continue;
    const bool sleeps = a.wake > earliest_, slept = b.wake > o.earliest_;
    if (sleeps != slept || (sleeps && a.wake - later != b.wake)) return false;
  }
  return true;
}

void TurnProcessor::jump(const Processor& then, Nanoseconds later, std::int64_t times) {
  const auto& o = static_cast<const TurnProcessor&>(then);
  StepProcessor::jump(times, o);
  const Nanoseconds by = later * times;
  turn_ += by;
  now_ += by;
  earliest_ += by;
  heard_ += by;
  for (Lane& l : lanes_) l.wake += by, l.since += by;
  choose();
}

}  // namespace ignavo
