#include "run/turn_processor.h"

#include <algorithm>
#include <cassert>

#include "program/signals.h"
#include "project/indexing.h"
#include "run/device.h"

// A turn: what pins did since the one before is delivered to the lanes that it starts; then each
// ready lane goes on until it would begin a second step, sleeps or ends. All of it happens at the
// moment of the turn, but for measuring, which takes its time, and for what comes behind more than
// 60 microseconds of work.
//
// How many turns it is to the next is counted by the shares of what was done (turn_work.h). The
// cycles of all instructions, and those of interrupts within them, tell when the work is really
// done: where that is behind the beginning of the next turn, that begins late.
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
  // A tick of the clock falls into every fourth turn.
  beginning_ = program_->costs.turn + program_->costs.tick / 4 +
               program_->costs.watch * static_cast<std::int64_t>(watched_.size());
  for (const CompiledLane& lane : program_->lanes)
    if (lane.every > 0) beginning_ += program_->costs.every;
  if (!program_->lines.empty()) beginning_ += program_->costs.line;
  if (program_->work.counted) beginning_ += program_->costs.counting;
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
  turn_ = earliest_ = heard_ = late_ = turnFrom(moment);
  waiting_ = 0;
  signal_ = lane_ = -1;
  signals_.clear();
  tested_.clear();
  for (const CompiledSignal& signal : program_->signals) {
    Lane s;
    s.code = signal.code.data();
    s.list = &signal.code;
    s.index = signal.index;
    signals_.push_back(std::move(s));
    for (const Instruction& i : signal.code)
      if (i.code == OpCode::start) tested_.push_back({i.arg, signal.shown, false});
  }
  every_.clear();
  for (const CompiledLane& lane : program_->lanes) {
    const bool clocked = lane.every > 0;
    const Nanoseconds ago = moment - began_;
    every_.push_back(clocked ? began_ + (ago / lane.every + 1) * lane.every : never);
  }
  for (Watched& w : watched_) w.was = -1, w.since = 0;
  for (Lane& l : lanes_) l.wake = l.since = earliest_;
  struck_.assign(program_->keys.size(), 0);
}

Nanoseconds TurnProcessor::turnFrom(Nanoseconds moment) const {
  const Nanoseconds turns = (moment - began_ + turnNanoseconds - 1) / turnNanoseconds;
  return began_ + turns * turnNanoseconds;
}

Nanoseconds TurnProcessor::turnSeeing(Nanoseconds moment) const {
  return moment <= late_ ? earliest_ : turnFrom(moment);
}

Nanoseconds TurnProcessor::endOfWait(const Instruction& wait, double seconds,
                                     Nanoseconds since) const {
  const double turns = wait.plain ? turnsOf(seconds) : turnsOf(static_cast<float>(seconds));
  return since + static_cast<Nanoseconds>(turns) * turnNanoseconds;
}

// The next turn in which anything can happen.
void TurnProcessor::choose() {
  if (lane_ >= 0) return;
  next_ = signals_.empty() ? never : earliest_;
  const auto wanted = [&](Nanoseconds turn) { next_ = std::min(next_, std::max(turn, earliest_)); };
  for (const Nanoseconds every : every_)
    if (every != never) wanted(turnFrom(every));
  for (const Lane& l : lanes_)
    if (!l.over && !l.idle) wanted(l.wake);
  for (const std::uint8_t struck : struck_)
    if (struck != 0) wanted(heard_);
  for (const Watched& w : watched_) {
    if (w.was < 0)
      next_ = earliest_;  // there is nothing yet to compare with
    else if ((w.was != 0) != w.high)
      wanted(heard_);
  }
  // Whatever there is to do in it, the turn itself takes its time too.
  if (late_ > earliest_) next_ = earliest_;
  due_ = next_ == never ? never : std::max(next_, late_);
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
    heard_ = turnSeeing(now);
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
    shares_ += program_->work.start;
  } else if (again == Again::queue && l.queued < mostQueued) {
    ++l.queued;
  } else {
    ++l.missed;
    missed_.push_back(lane);
  }
}

void TurnProcessor::beginTurn(PinAccess& pins) {
  leapt_ = leaps(turn_, next_);
  turn_ = next_;
  now_ = turnBegan_ = due_;
  turns_ = (turn_ - powerOn_) / turnNanoseconds;
  signal_ = lane_ = 0;
  worked_ = beginning_;
  // Those that have now are moved.
  if (waiting_ > 0)
    worked_ += std::int64_t{program_->costs.sayMoved} * (waiting_ - pins.lettersWaiting(turn_));
  shares_ = program_->work.turn;
  spared_ = 0;
  counted_ = false;
  cameRound_ = !signals_.empty();
  for (Watched& w : watched_) {
    // What another board does at this very moment it sees in its next turn, as a chip that looks
    // at its pins before either has done anything.
    const bool seen = w.since <= now_;
    if (w.was < 0 && seen) w.high = pins.readPin(w.pin, now_);
    if (!seen) {
      if (w.was < 0) w.was = w.high ? 0 : 1;
      continue;
    }
    if (w.was >= 0 && (w.was != 0) != w.high)
      for (std::size_t i = 0; i < lanes_.size(); ++i) {
        if (program_->lanes[i].pin != w.pin) continue;
        if (program_->lanes[i].high == w.high)
          came(static_cast<int>(i));
        else
          lanes_[i].ceased = now_;
      }
    w.was = w.high ? 1 : 0;
  }
  for (std::size_t i = 0; i < lanes_.size() && !struck_.empty(); ++i)
    if (const int key = program_->lanes[i].key; key >= 0 && at(struck_, key) != 0)
      came(static_cast<int>(i));
  std::fill(struck_.begin(), struck_.end(), std::uint8_t{0});
  for (std::size_t i = 0; i < lanes_.size(); ++i)
    if (every_[i] <= turn_) {
      const Nanoseconds every = program_->lanes[i].every, passed = (turn_ - every_[i]) / every;
      worked_ += program_->costs.comes + program_->costs.passedOver * passed;
      came(static_cast<int>(i));
      every_[i] += (passed + 1) * every;
    }
  for (Lane& l : lanes_) l.stepped = l.afresh = false;
  for (Lane& s : signals_) s.pc = 0, s.over = false;
}

// Of the tests that start lanes, worked out in this turn.
void TurnProcessor::noteWhatCeased() {
  for (Tested& test : tested_) {
    const bool so = at(memory_, test.cell).truth();
    if (test.was && !so) at(lanes_, test.lane).ceased = now_;
    test.was = so;
  }
}

// Edges of tones and letters on the line that fall into its work make it longer.
void TurnProcessor::endTurn(PinAccess& pins) {
  // What the clock starts comes again by itself.
  for (const int missed : missed_) {
    const CompiledLane& lane = at(program_->lanes, missed);
    Lane& l = at(lanes_, missed);
    if (lane.every == 0 && pins.missed(lane.id, l.ceased, now_)) ++l.bounced;
  }
  missed_.clear();
  worked_ -= spared_;
  const auto done = [&](std::int64_t cycles) { return now_ + program_->costs.nanoseconds(cycles); };
  // Each makes it longer, so that more may fall into it; each round adds fewer.
  const CostTable& costs = program_->costs;
  const bool says = !program_->lines.empty();
  std::int64_t more = 0;
  for (int round = 0; round < 8 && (says || program_->pulsed > 0); ++round) {
    const Nanoseconds until = done(worked_ + more);
    std::int64_t now = says ? costs.letter * pins.letters(turnBegan_, until) : 0;
    if (program_->pulsed > 0) now += costs.edgeOf(program_->pulsed) * pins.edges(turnBegan_, until);
    if (now == more) break;
    more = now;
  }
  late_ = done(worked_ + more);
  work_ += late_ - turnBegan_;
  std::int64_t turns = 1;
  if (program_->work.counted) {
    const int room = turnRoom(program_->pulsed > 0 ? pins.toneLoad(program_->work.edge) : 0);
    turns = std::max<std::int64_t>(1, (shares_ + room - 1) / room);
  }
  earliest_ = turn_ + turns * turnNanoseconds;
  if (says) waiting_ = pins.lettersWaiting(turn_);
  constexpr Nanoseconds latest = latestTurnMicroseconds * 1'000;
  if (late_ - earliest_ >= latest)
    earliest_ += ((late_ - earliest_ - latest) / turnNanoseconds + 1) * turnNanoseconds;
  signal_ = lane_ = -1;
  choose();
}

// When what is done next in this turn is done: the turn itself, as people count, as long as the
// work before it took a moment only.
Nanoseconds TurnProcessor::busyUntil(std::int64_t more, Nanoseconds moment) const {
  const Nanoseconds work = program_->costs.nanoseconds(worked_ + more);
  return work > moment ? now_ + work : now_;
}

// Pulses are counted from the turn on; to begin them is most of such a moment.
Nanoseconds TurnProcessor::momentFor(const Instruction& i) {
  constexpr Nanoseconds pulses = 85'000;
  return i.code == OpCode::tone || i.code == OpCode::turnServo ? pulses : aMoment;
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

// A tone of no pitch is no work: the pin goes low. A wave that was left behind is more.
std::int64_t TurnProcessor::cyclesNow(const Instruction& i, const Lane& l) const {
  const bool silent = i.code == OpCode::tone && !i.plain && !(l.stack.back().real() >= 1);
  const bool afresh = l.afresh || (i.takesTurn && l.owed > 0);  // counted as such
  const bool lost = i.code == OpCode::wave && leapt_ && !afresh;
  return silent ? program_->costs.train + program_->costs.silence
                : cyclesOf(i, l.stack, program_->costs) + keeping(i.code) +
                      (lost ? program_->costs.waveAfresh : 0);
}

// What the next instruction of a lane waits for before it takes effect.
Nanoseconds TurnProcessor::delayOf(const Instruction& i) const {
  if (!i.measures) return 0;
  const CostTable& costs = program_->costs;
  return costs.samples + (measured_ ? 0 : costs.measuresFirst - costs.measures);
}

// What it takes to begin a step, beside the step.
std::int64_t TurnProcessor::toBegin(const Instruction& i, const Lane& l) const {
  if (!i.takesTurn) return 0;
  return l.owed + (program_->work.counted ? program_->costs.countedStep : 0);
}

// Until the lane would begin a second step, sleeps or ends. True: the scheduler has its say first.
bool TurnProcessor::makeSteps(Lane& l, PinAccess& pins, Nanoseconds limit, Executed& done) {
  while (isReady(l) && !(l.next().takesTurn && l.stepped)) {
    const Instruction& i = l.next();
    // A pin changes when all of the work on it is done.
    const std::int64_t cycles = cyclesNow(i, l);
    const std::int64_t before = writesPin(i.code) ? cycles : 0;
    const std::int64_t begins = toBegin(i, l);
    const Nanoseconds moment = busyUntil(begins + before, momentFor(i)) + delayOf(i);
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
    worked_ += begins + (i.code == OpCode::afresh ? 0 : cycles);
    if (i.takesTurn) l.afresh = std::exchange(l.owed, 0) > 0;
    if (i.code == OpCode::afresh) l.owed = cycles;
    shares_ += i.share;
    changed_ = true;
    perform(i, l, pins, moment);
    if (i.code == OpCode::sayLine) worked_ += spoken_, shares_ += spokenShare_;
    const bool train = i.code == OpCode::tone || i.code == OpCode::turnServo;
    if (train && !changed_) spared_ += program_->costs.train;
    if (l.idle && l.queued > 0) {
      --l.queued;
      startLane(l, turn_ + turnNanoseconds);
    }
    cameRound_ = cameRound_ || i.loopHead;
    done.step = i.endsStep || i.code == OpCode::end;
    // Whoever only looks at a pin makes nothing due.
    if (done.step || (writesPin(i.code) && changed_) || i.measures || i.code == OpCode::sayLine) {
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
    noteWhatCeased();
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
    if (w.pin == pin) w.high = high, w.since = now;
  heard_ = turnSeeing(now);
  choose();
}

bool TurnProcessor::sameAs(const Processor& then, Nanoseconds later) const {
  const auto& o = static_cast<const TurnProcessor&>(then);
  if (lane_ != o.lane_ || lane_ >= 0 || earliest_ - later != o.earliest_ ||
      measured_ != o.measured_ || memory_ != o.memory_ || held_ != o.held_ ||
      struck_ != o.struck_ || asksTime_ || !sameMoment(due_, o.due_, later))
    return false;
  if (std::max<Nanoseconds>(0, late_ - earliest_) !=
          std::max<Nanoseconds>(0, o.late_ - o.earliest_) ||
      leaps(turn_, earliest_) != leaps(o.turn_, o.earliest_))
    return false;
  for (std::size_t i = 0; i < every_.size(); ++i)
    if (every_[i] != o.every_[i] && !sameMoment(every_[i], o.every_[i], later)) return false;
  for (std::size_t i = 0; i < moments_.size(); ++i) {
    if (moments_[i] == o.moments_[i]) continue;
    if (moments_[i] == untimed || o.moments_[i] == untimed) return false;
    if (moments_[i] - later / turnNanoseconds != o.moments_[i]) return false;
  }
  for (const CompiledWave& wave : program_->waves)
    if (phaseOf(wave.steps, later / turnNanoseconds) != 0 && levelEnds(wave, o.turns_) <= turns_)
      return false;
  for (std::size_t i = 0; i < watched_.size(); ++i)
    if (watched_[i].was != o.watched_[i].was || watched_[i].high != o.watched_[i].high)
      return false;
  for (std::size_t i = 0; i < lanes_.size(); ++i) {
    const Lane &a = lanes_[i], &b = o.lanes_[i];
    if (!a.sameAs(b)) return false;
    if (sleeps(a) != o.sleeps(b)) return false;
    if (sleeps(a) && a.wake != b.wake && a.wake - later != b.wake) return false;
  }
  return true;
}

// The turn since power-on in which a wave may be at its other level, after the one that it has
// then.
std::int64_t TurnProcessor::levelEnds(const CompiledWave& wave, std::int64_t turn) {
  return turn + (wave.high ? turnsAlike(wave.steps, *wave.high, turn) : 0);
}

// What a signal operator, a lane asleep or one that the clock starts waits for, while others go
// round; and a wave that stays at its level.
Nanoseconds TurnProcessor::standsUntil(const Processor& then) const {
  const auto& o = static_cast<const TurnProcessor&>(then);
  Nanoseconds first = never;
  for (std::size_t i = 0; i < every_.size(); ++i)
    if (every_[i] == o.every_[i]) first = std::min(first, every_[i]);
  for (std::size_t i = 0; i < moments_.size(); ++i)
    if (moments_[i] != untimed && moments_[i] == o.moments_[i])
      first = std::min(first, powerOn_ + moments_[i] * turnNanoseconds);
  for (std::size_t i = 0; i < lanes_.size(); ++i)
    if (sleeps(lanes_[i]) && lanes_[i].wake == o.lanes_[i].wake)
      first = std::min(first, lanes_[i].wake);
  const std::int64_t turns = (earliest_ - o.earliest_) / turnNanoseconds;
  for (const CompiledWave& wave : program_->waves)
    if (phaseOf(wave.steps, turns) != 0)
      first = std::min(first, powerOn_ + levelEnds(wave, turns_) * turnNanoseconds);
  return first;
}

void TurnProcessor::jump(const Processor& then, Nanoseconds later, std::int64_t times) {
  const auto& o = static_cast<const TurnProcessor&>(then);
  StepProcessor::jump(times, o, later);
  const Nanoseconds by = later * times;
  // Before anything is moved: what waits for a moment of its own keeps it.
  for (std::size_t i = 0; i < lanes_.size(); ++i) {
    if (sleeps(lanes_[i]) && lanes_[i].wake == o.lanes_[i].wake) continue;
    lanes_[i].wake += by;
    lanes_[i].since += by;
  }
  for (std::size_t i = 0; i < every_.size(); ++i)
    if (every_[i] != o.every_[i]) shift(every_[i], by);
  for (std::size_t i = 0; i < moments_.size(); ++i)
    if (moments_[i] != o.moments_[i]) moments_[i] += by / turnNanoseconds;
  turn_ += by;
  turns_ += by / turnNanoseconds;
  now_ += by;
  turnBegan_ += by;
  late_ += by;
  earliest_ += by;
  heard_ += by;
  choose();
}

}  // namespace ignavo
