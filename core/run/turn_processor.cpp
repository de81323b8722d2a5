#include "run/turn_processor.h"

#include <algorithm>
#include <cassert>

#include "program/signals.h"
#include "project/indexing.h"
#include "run/device.h"

// A turn: what pins did since the one before is delivered to the lanes that it starts; then each
// ready lane goes on until it would begin a second step, sleeps or ends. All of it happens at the
// moment of the turn, but for measuring, which takes its time, and for what comes behind more than
// 85 microseconds of work. The next turn is the first that begins when the work of this one is
// done: the cycles of all instructions are counted for that, and those of interrupts within it.
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
  const auto asks = [](const std::vector<Instruction>& code) {
    return std::any_of(code.begin(), code.end(),
                       [](const Instruction& i) { return i.code == OpCode::seconds; });
  };
  for (const CompiledLane& lane : program_->lanes) asksTime_ = asksTime_ || asks(lane.code);
  for (const CompiledSignal& signal : program_->signals) asksTime_ = asksTime_ || asks(signal.code);
  beginning_ =
      program_->costs.turn + program_->costs.watch * static_cast<std::int64_t>(watched_.size());
  for (const CompiledLane& lane : program_->lanes)
    if (lane.every > 0) beginning_ += program_->costs.every;
  if (!program_->lines.empty()) beginning_ += program_->costs.line;
  StepProcessor::start(0);
}

std::unique_ptr<Processor> TurnProcessor::copy() const {
  return std::make_unique<TurnProcessor>(*this);
}

void TurnProcessor::adopt(const Processor& before, Nanoseconds now) {
  // The same program goes on as it stands.
  if (const auto* same = dynamic_cast<const TurnProcessor*>(&before);
      same && same->program_ == program_) {
    *this = *same;
    return;
  }
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
  signal_ = lane_ = -1;
  signals_.clear();
  for (const CompiledSignal& signal : program_->signals) {
    Lane s;
    s.code = signal.code.data();
    s.list = &signal.code;
    s.index = signal.index;
    signals_.push_back(std::move(s));
  }
  next_.clear();
  for (const CompiledLane& lane : program_->lanes) {
    const bool clocked = lane.every > 0;
    const Nanoseconds ago = moment - began_;
    next_.push_back(clocked ? began_ + (ago / lane.every + 1) * lane.every : never);
  }
  for (Watched& w : watched_) w.was = -1;
  for (Lane& l : lanes_) l.wake = l.since = earliest_;
  struck_.assign(program_->keys.size(), 0);
}

Nanoseconds TurnProcessor::turnFrom(Nanoseconds moment) const {
  const Nanoseconds turns = (moment - began_ + turnNanoseconds - 1) / turnNanoseconds;
  return began_ + turns * turnNanoseconds;
}

Nanoseconds TurnProcessor::endOfWait(const Instruction& wait, double seconds,
                                     Nanoseconds since) const {
  const double turns = wait.plain ? turnsOf(seconds) : turnsOf(static_cast<float>(seconds));
  return since + static_cast<Nanoseconds>(turns) * turnNanoseconds;
}

// The next turn in which anything can happen.
void TurnProcessor::choose() {
  if (lane_ >= 0) return;
  due_ = signals_.empty() ? never : earliest_;
  for (const Nanoseconds next : next_)
    if (next != never) due_ = std::min(due_, std::max(turnFrom(next), earliest_));
  for (const Lane& l : lanes_)
    if (!l.over && !l.idle) due_ = std::min(due_, std::max(l.wake, earliest_));
  for (const std::uint8_t struck : struck_)
    if (struck != 0) due_ = std::min(due_, std::max(heard_, earliest_));
  for (const Watched& w : watched_) {
    if (w.was < 0)
      due_ = earliest_;  // there is nothing yet to compare with
    else if ((w.was != 0) != w.high)
      due_ = std::min(due_, std::max(heard_, earliest_));
  }
}

void TurnProcessor::startLane(Lane& l, Nanoseconds turn) {
  l.idle = false;
  l.pc = 1;
  l.waiting = -1;
  l.wake = l.since = turn;
  l.stack.clear();
  l.returns.clear();
}

void TurnProcessor::keyChanged(const std::string& key, bool down, Nanoseconds now) {
  for (std::size_t k = 0; k < held_.size(); ++k) {
    if (program_->keys[k] != key || (held_[k] != 0) == down) continue;
    held_[k] = down ? 1 : 0;
    if (down) struck_[k] = 1;
    heard_ = turnFrom(now);
  }
  choose();
}

void TurnProcessor::came(int lane) {
  using Again = CompiledLane::Again;
  constexpr int mostQueued = 8;
  Lane& l = at(lanes_, lane);
  const Again again = at(program_->lanes, lane).again;
  if (l.over) return;
  if (l.idle || again == Again::restart) {
    startLane(l, turn_);
    worked_ += program_->costs.starts;
  } else if (again == Again::queue && l.queued < mostQueued) {
    ++l.queued;
  } else {
    ++l.missed;
    missed_.push_back(lane);
  }
}

void TurnProcessor::beginTurn(PinAccess& pins) {
  turn_ = now_ = turnAt_ = due_;
  turns_ = (turn_ - powerOn_) / turnNanoseconds;
  signal_ = lane_ = 0;
  worked_ = beginning_;
  spared_ = 0;
  counted_ = false;
  cameRound_ = !signals_.empty();
  for (Watched& w : watched_) {
    if (w.was < 0)
      w.high = pins.readPin(w.pin, now_);
    else if ((w.was != 0) != w.high)
      for (std::size_t i = 0; i < lanes_.size(); ++i)
        if (program_->lanes[i].pin == w.pin && program_->lanes[i].high == w.high)
          came(static_cast<int>(i));
    w.was = w.high ? 1 : 0;
  }
  for (std::size_t i = 0; i < lanes_.size() && !struck_.empty(); ++i)
    if (const int key = program_->lanes[i].key; key >= 0 && at(struck_, key) != 0)
      came(static_cast<int>(i));
  std::fill(struck_.begin(), struck_.end(), std::uint8_t{0});
  for (std::size_t i = 0; i < lanes_.size(); ++i)
    if (next_[i] <= turn_) {
      worked_ += program_->costs.comes;
      came(static_cast<int>(i));
      const Nanoseconds every = program_->lanes[i].every;
      next_[i] += ((turn_ - next_[i]) / every + 1) * every;
    }
  for (Lane& l : lanes_) l.stepped = false;
  for (Lane& s : signals_) s.pc = 0, s.over = false;
}

// Edges of tones and letters on the line that fall into its work make it longer.
void TurnProcessor::endTurn(PinAccess& pins) {
  // What the clock starts comes again by itself.
  for (const int lane : missed_)
    if (at(program_->lanes, lane).every == 0) pins.missed(at(program_->lanes, lane).id, now_);
  missed_.clear();
  worked_ -= spared_;
  const auto took = [&](std::int64_t cycles) {
    return now_ - turn_ + cycles * 1'000'000'000 / program_->costs.hertz;
  };
  // Each makes it longer, so that more may fall into it; each round adds fewer.
  const CostTable& costs = program_->costs;
  const bool says = !program_->lines.empty();
  std::int64_t more = 0;
  for (int round = 0; round < 8 && (says || program_->pulsed > 0); ++round) {
    const Nanoseconds until = turn_ + took(worked_ + more);
    std::int64_t now = says ? costs.letter * pins.letters(turn_, until) : 0;
    if (program_->pulsed > 0) now += costs.edgeOf(program_->pulsed) * pins.edges(turn_, until);
    if (now == more) break;
    more = now;
  }
  worked_ += more;
  const auto turnsFor = [&](std::int64_t cycles) {
    return (took(cycles) + turnNanoseconds - 1) / turnNanoseconds;
  };
  const auto ticks = [&](Nanoseconds until) {
    return (until - began_) / CostTable::tickNanoseconds;
  };
  const std::int64_t met = ticks(turn_ + took(worked_)) - ticks(turn_);
  if (turnsFor(worked_) != turnsFor(worked_ + costs.tick * (met + 1))) tickMattered_ = turn_;
  worked_ += costs.tick * met;
  work_ += took(worked_);
  const Nanoseconds turns = turnsFor(worked_);
  earliest_ = turn_ + std::max<Nanoseconds>(1, turns) * turnNanoseconds;
  signal_ = lane_ = -1;
  choose();
}

// When what is done next in this turn is done: the turn itself, as people count, as long as the
// work before it took a moment only.
Nanoseconds TurnProcessor::busyUntil(std::int64_t more) const {
  constexpr Nanoseconds aMoment = 85'000;
  const Nanoseconds work = (worked_ + more) * 1'000'000'000 / program_->costs.hertz;
  return work > aMoment ? now_ + work : now_;
}

// What a lane notes down to go on with in a later turn.
std::int64_t TurnProcessor::keeping(OpCode code) const {
  switch (code) {
    case OpCode::wait:
      return program_->costs.waitBegun;
    case OpCode::countTurn:
      return program_->costs.countTurnKept;
    default:
      return 0;
  }
}

// A tone of no pitch is no work: the pin goes low.
std::int64_t TurnProcessor::cyclesNow(const Instruction& i, const Lane& l) const {
  const bool silent = i.code == OpCode::tone && !i.plain && !(l.stack.back().real() >= 1);
  return silent ? program_->costs.train + program_->costs.silence
                : cyclesOf(i, l.stack, program_->costs) + keeping(i.code);
}

// What the next instruction of a lane waits for before it takes effect.
Nanoseconds TurnProcessor::delayOf(const Instruction& i) const {
  if (!i.measures) return 0;
  const CostTable& costs = program_->costs;
  return costs.samples + (measured_ ? 0 : costs.measuresFirst - costs.measures);
}

// Until the lane would begin a second step, sleeps or ends. True: the scheduler has its say first.
bool TurnProcessor::makeSteps(Lane& l, PinAccess& pins, Nanoseconds limit, Executed& done) {
  while (isReady(l) && !(l.next().takesTurn && l.stepped)) {
    const Instruction& i = l.next();
    // A pin changes when all of the work on it is done.
    const std::int64_t cycles = cyclesNow(i, l);
    const std::int64_t before = writesPin(i.code) ? cycles : 0;
    const Nanoseconds moment = busyUntil(before) + delayOf(i);
    if (moment > done.at) {
      if (moment > limit) {
        due_ = moment;
        return true;
      }
      done.at = moment;
    }
    if (l.waiting >= 0) l.since = l.wake, l.waiting = -1;
    if (i.takesTurn) l.stepped = true, l.since = turn_;
    if (i.measures) now_ += measured_ ? program_->costs.measures : program_->costs.measuresFirst;
    worked_ += cycles;
    changed_ = true;
    perform(i, l, pins, moment);
    if (i.code == OpCode::sayLine) worked_ += spoken_;
    const bool train = i.code == OpCode::tone || i.code == OpCode::turnServo;
    if (train && !changed_) spared_ += program_->costs.train;
    if (l.idle && l.queued > 0) {
      --l.queued;
      startLane(l, turn_ + turnNanoseconds);
    }
    cameRound_ = cameRound_ || i.loopHead;
    done.step = i.endsStep || i.code == OpCode::end;
    // Whoever only looks at a pin makes nothing due.
    if (done.step || (writesPin(i.code) && changed_) || i.measures) {
      due_ = busyUntil();
      return true;
    }
  }
  return false;
}

Processor::Executed TurnProcessor::execute(PinAccess& pins, Nanoseconds limit) {
  Executed done{due_};
  if (lane_ < 0) beginTurn(pins);
  for (; signal_ < static_cast<int>(signals_.size()); ++signal_)
    if (makeSteps(at(signals_, signal_), pins, limit, done)) return done;
  if (!counted_) {
    // Who is ready is known when all that may be started has been.
    counted_ = true;
    const CostTable& costs = program_->costs;
    for (const Lane& l : lanes_)
      worked_ += isReady(l) ? costs.step : l.over || l.idle ? costs.idle : costs.waiting;
  }
  for (; lane_ < static_cast<int>(lanes_.size()); ++lane_)
    if (makeSteps(at(lanes_, lane_), pins, limit, done)) return done;
  done.atLoopHead = cameRound_;
  endTurn(pins);
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
      measured_ != o.measured_ || memory_ != o.memory_ || held_ != o.held_ ||
      struck_ != o.struck_ || asksTime_ || !sameMoment(due_, o.due_, later))
    return false;
  // Where a tick of the clock may make a turn longer, it has to come again as well.
  if (tickMattered_ >= o.turn_ && later % CostTable::tickNanoseconds != 0) return false;
  for (std::size_t i = 0; i < next_.size(); ++i)
    if (!sameMoment(next_[i], o.next_[i], later)) return false;
  for (std::size_t i = 0; i < moments_.size(); ++i) {
    const bool timed = moments_[i] != untimed;
    if (timed != (o.moments_[i] != untimed)) return false;
    if (timed && moments_[i] - later / turnNanoseconds != o.moments_[i]) return false;
  }
  for (const CompiledWave& wave : program_->waves)
    if (phaseOf(wave.steps, later / turnNanoseconds) != 0) return false;
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
  StepProcessor::jump(times, o, later);
  const Nanoseconds by = later * times;
  turn_ += by;
  now_ += by;
  if (tickMattered_ >= o.turn_) tickMattered_ += by;
  earliest_ += by;
  heard_ += by;
  for (Nanoseconds& next : next_) shift(next, by);
  for (std::int64_t& moment : moments_)
    if (moment != untimed) moment += by / turnNanoseconds;
  for (Lane& l : lanes_) l.wake += by, l.since += by;
  choose();
}

}  // namespace ignavo
