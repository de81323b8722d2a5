#include "avr/machine.h"

#include <algorithm>
#include <cassert>
#include <utility>

#include "avr/roles.h"

// A chip goes on from event to event: what timers, converter and serial unit do next by themselves
// is known in advance, and until then nothing but instructions changes anything. Asleep, it is at
// the next event at once.
namespace ignavo::avr {

namespace {
constexpr std::uint8_t interruptBit = 0x80;
constexpr Cycle responseCycles = 4, wakingCycles = 4;  // 7.7.1; 4.8.1
}  // namespace

Machine::Machine(const Chip& chip, std::shared_ptr<const Flash> flash, std::int64_t hertz)
    : chip_(&chip),
      roles_(&rolesOf(chip)),
      flash_(std::move(flash)),
      hertz_(hertz),
      floor_(chip.ramBegin) {
  assert(chip.ramEnd < State::memoryBytes && chip.timers.size() <= state_.timers.size());
  state_.stack = chip.ramEnd;
}

void Machine::reset(Outside& outside) {
  outside_ = &outside;
  const Cycle now = state_.now;
  const auto drives = state_.drives;
  state_ = State();
  state_.now = now;
  state_.drives = drives;
  restart(0x01);  // PORF
  outside_ = nullptr;
}

// All registers as after a reset; memory stays (8; 8).
void Machine::restart(std::uint8_t cause) {
  const Cycle now = state_.now;
  for (Address a = ioBegin; a < chip_->ramBegin; ++a) reg(a) = 0;
  reg(chip_->resetCauses) = cause;
  state_.pc = 0;
  state_.status = 0;
  state_.stack = chip_->ramEnd;
  state_.asleep = state_.shielded = false;
  state_.upper = 0;
  for (TimerState& t : state_.timers) t = TimerState{.at = now};
  state_.prescalers.fill(now);
  state_.converter = {};
  state_.serial = {};
  state_.forced.fill(0);
  state_.forcedHigh.fill(0);
  state_.mayChange = -1;
  state_.barks = state_.fed = never;
  if (chip_->serial.data != 0) reg(chip_->serial.controlA) = 0x20;  // UDRE (20.11)
  if (chip_->serial.controlC != 0) reg(chip_->serial.controlC) = 0x06;
  for (int p = 0; p < static_cast<int>(chip_->ports.size()); ++p) {
    refreshPort(p, allPins, now);
    state_.levels[static_cast<std::size_t>(p)] =
        outside_->levels(p, chip_->ports[static_cast<std::size_t>(p)].bits, now);
  }
  constexpr std::uint8_t byWatchdog = 0x08;
  if (cause == byWatchdog) {
    reg(chip_->watchdog.control) = 0x08;  // it stays on (11.9.2)
    feedWatchdog(now);
  }
  pending_ = false;
  findDue();
}

Cycle Machine::nextTime() const {
  if (state_.fault.code != Fault::Code::none) return never;
  if (interrupts()) return state_.now + responseCycles + (state_.asleep ? wakingCycles : 0);
  if (state_.asleep) return std::max(std::min(due_, state_.barks), state_.now);
  // What comes by itself comes in the middle of an instruction as well, but for the watchdog.
  return std::min(nextEffect(), due_ < state_.barks ? due_ : never);
}

Cycle Machine::nextEffect() const { return state_.now + effectCycles(flash_->code()[state_.pc]); }

// A flag may have been taken back since.
bool Machine::interrupts() const {
  return pending_ && !state_.shielded && (state_.status & interruptBit) != 0 && isAnyDue();
}

bool Machine::isAnyDue() const {
  return std::any_of(chip_->interrupts.begin(), chip_->interrupts.end(),
                     [&](const Chip::Interrupt& i) { return isDue(i); });
}

// What wakes it takes its time from when it came, however far one looks at a time.
bool Machine::dozes() const { return state_.asleep && !interrupts(); }

void Machine::run(Outside& outside, Cycle last, bool watchesRounds) {
  outside_ = &outside;
  last_ = last;
  watchesRounds_ = watchesRounds;
  cameRound_ = false;
  while (state_.now <= last_ && state_.fault.code == Fault::Code::none) {
    happen();
    if (interrupts() || state_.asleep) {
      const Cycle next = nextTime();
      if (next > last_) {
        if (dozes()) sleepUntil(last_);
        break;
      }
      if (interrupts())
        interrupt();
      else
        sleepUntil(next);
      continue;
    }
    if (nextEffect() > last_) {
      beUnderWay(last_);
      break;
    }
    const bool shielded = std::exchange(state_.shielded, false);
    limit_ = shielded ? state_.now + 1 : std::min(due_, state_.barks);
    executing_ = true;
    execute();
    executing_ = false;
    due_ = std::min(due_, state_.barks);
    if (met_) {
      state_.shielded = state_.shielded || shielded;
      break;
    }
  }
  // A branch that is taken ends a cycle later than its beginning told.
  arrive(std::min(state_.now, last));
  outside_ = nullptr;
}

namespace {
// For whoever keeps to himself.
class Nobody final : public Outside {
 public:
  void drive(int, Drive, Cycle) override { assert(!"a pin is everybody's business"); }
  std::uint8_t levels(int, std::uint8_t, Cycle) override {
    assert(!"whoever asks may not keep to himself");
    return 0;
  }
  int measure(int, Cycle) override {
    assert(!"whoever measures may not keep to himself");
    return 0;
  }
  void sent(std::uint8_t, Cycle) override { assert(!"what is sent is everybody's business"); }
};
}  // namespace

void Machine::runAlone(Cycle last, bool watchesRounds) {
  Nobody nobody;
  alone_ = true;
  met_ = false;
  run(nobody, std::min(last, nextSeen() - 1), watchesRounds);
  alone_ = met_ = false;
}

// The converter's sample, a bit of the line, a reset; what a timer does that drives a pin. Where
// conversions begin by themselves, whatever comes first may begin one.
Cycle Machine::nextSeen() const {
  if (convertsByItself()) return std::min(due_, state_.barks);
  Cycle seen = std::min({state_.converter.samples, state_.serial.nextBit, state_.barks});
  for (std::size_t t = 0; t < chip_->timers.size(); ++t)
    if (drivesPin(t)) seen = std::min(seen, timerDue(t));
  return seen;
}

// In the middle of an instruction, which is carried out later: what comes by then comes, and
// interrupts only behind it.
void Machine::beUnderWay(Cycle at) {
  if (due_ > at) return;
  executing_ = true;
  arrive(at);
  executing_ = false;
  due_ = std::min(due_, state_.barks);
  state_.shielded = true;
}

void Machine::fail(Fault::Code code, std::uint32_t pc, std::uint32_t reached) {
  state_.fault = {code, pc * 2, flash_->wordAt(pc), reached, state_.now};
  limit_ = state_.now;
}

bool Machine::maySleep() const { return (reg(chip_->sleepControl) & chip_->sleepEnable) != 0; }

// ---- interrupts

bool Machine::isDue(const Chip::Interrupt& i) const {
  if (!bit(i.masks, i.mask)) return false;
  return bit(i.flags, i.flag) || (i.edge >= 0 && isLow(static_cast<std::size_t>(i.edge)));
}

// The first of those that may goes to its vector: what it interrupts is complete, and one
// instruction of it comes between any two.
void Machine::interrupt() {
  const auto due = std::find_if(chip_->interrupts.begin(), chip_->interrupts.end(),
                                [&](const Chip::Interrupt& i) { return isDue(i); });
  assert(due != chip_->interrupts.end());
  if (state_.asleep) state_.now += wakingCycles;
  state_.asleep = false;
  if (state_.stack < floor_ + 1 || state_.stack > chip_->ramEnd)
    return fail(
        state_.stack > chip_->ramEnd ? Fault::Code::stackOutside : Fault::Code::stackMeetsVariables,
        state_.pc, state_.stack);
  reg(state_.stack--) = static_cast<std::uint8_t>(state_.pc);
  reg(state_.stack--) = static_cast<std::uint8_t>(state_.pc >> 8);
  state_.status &= static_cast<std::uint8_t>(~interruptBit);
  if (due->cleared == Chip::Interrupt::Cleared::byService) {
    reg(due->flags) &= static_cast<std::uint8_t>(~(1U << due->flag));
  }
  // Served, the watchdog's interrupt becomes a reset the next time (11.9.2).
  const Chip::Watchdog& dog = chip_->watchdog;
  if (due->flags == dog.control && bit(dog.control, 3))
    reg(dog.control) &= static_cast<std::uint8_t>(~(1U << dog.interruptMask));
  state_.pc = static_cast<std::uint32_t>(due->vector * chip_->vectorWords);
  state_.now += responseCycles;
}

void Machine::watchPending() {
  pending_ = isAnyDue();
  if (pending_ && (state_.status & interruptBit) != 0) limit_ = 0;
}

// A flag comes up.
void Machine::raise(Address flags, int flag) {
  reg(flags) |= static_cast<std::uint8_t>(1U << flag);
  watchPending();
}

// ---- what happens by itself

void Machine::findDue() {
  due_ = std::min({state_.converter.samples, state_.converter.done, state_.serial.nextBit,
                   executing_ ? never : state_.barks});
  for (std::size_t t = 0; t < chip_->timers.size(); ++t) due_ = std::min(due_, timerDue(t));
  limit_ = std::min(limit_, due_);
}

void Machine::happen() { arrive(state_.now); }

// In the order of their moments.
void Machine::arrive(Cycle at) {
  while (due_ <= at) {
    const Cycle now = due_;
    if (state_.converter.samples <= now) sampleNow();
    if (state_.converter.done <= now) conversionDone();
    if (state_.serial.nextBit <= now) nextBit();
    for (std::size_t t = 0; t < chip_->timers.size(); ++t)
      if (timerDue(t) <= now) advanceTimer(t, now);
    if (state_.barks <= now && !executing_) bark();
    findDue();
  }
}

// ---- the watchdog

// It begins to count anew.
void Machine::feedWatchdog(Cycle at) {
  state_.fed = at;
  setWatchdog(at);
}

// Its own clock has 128 kHz; it barks after 2,048 ticks and more (table 11-2; 8-3). Its register
// says after how many, not since when: set to fewer than it has counted it barks at once.
void Machine::setWatchdog(Cycle at) {
  const std::uint8_t control = reg(chip_->watchdog.control);
  constexpr std::int64_t dogHertz = 128'000, ticks = 2048;
  const int longer = (control & 7) | (control >> 2 & 8);
  const bool on =
      (control & 0x08) != 0 || bit(chip_->watchdog.control, chip_->watchdog.interruptMask);
  if (!on) {
    state_.fed = state_.barks = never;
    return;
  }
  if (state_.fed == never) state_.fed = at;
  state_.barks = std::max(at, state_.fed + (ticks << std::min(longer, 9)) * hertz_ / dogHertz);
  limit_ = std::min(limit_, state_.barks);
}

void Machine::writeWatchdog(std::uint8_t value, Cycle at) {
  constexpr std::uint8_t change = 0x10, enable = 0x08, times = 0x27;
  constexpr Cycle window = 4;
  const Chip::Watchdog& dog = chip_->watchdog;
  std::uint8_t now = reg(dog.control);
  const auto flag = static_cast<std::uint8_t>(1U << dog.interruptFlag);
  const auto mask = static_cast<std::uint8_t>(1U << dog.interruptMask);
  if ((value & flag) != 0) now &= static_cast<std::uint8_t>(~flag);
  now = static_cast<std::uint8_t>((now & ~mask) | (value & mask));
  constexpr std::uint8_t byWatchdog = 0x08;
  if (at <= state_.mayChange && (value & change) == 0) {
    now = static_cast<std::uint8_t>((now & ~(enable | times)) | (value & (enable | times)));
    state_.mayChange = -1;
  } else if ((value & enable) != 0) {
    now |= enable;
  }
  if ((reg(chip_->resetCauses) & byWatchdog) != 0) now |= enable;
  if ((value & change) != 0 && (value & enable) != 0) state_.mayChange = at + window;
  reg(dog.control) = now;
  setWatchdog(at);
}

void Machine::bark() {
  const Chip::Watchdog& dog = chip_->watchdog;
  if (!bit(dog.control, dog.interruptMask)) return restart(0x08);
  feedWatchdog(state_.barks);
  raise(dog.control, dog.interruptFlag);
}

// ---- seen from outside

std::uint8_t Machine::memoryAt(Address address) const {
  if (address == statusRegister) return state_.status;
  if (address == stackLow) return static_cast<std::uint8_t>(state_.stack);
  if (address == stackHigh) return static_cast<std::uint8_t>(state_.stack >> 8);
  return address < State::memoryBytes ? state_.memory[address] : 0;
}

void Machine::shift(Cycle by) {
  const auto later = [&](Cycle& c) {
    if (c != never) c += by;
  };
  later(state_.now);
  for (TimerState& t : state_.timers) later(t.at);
  for (Cycle& p : state_.prescalers) later(p);
  later(state_.converter.enabled);
  later(state_.converter.samples);
  later(state_.converter.done);
  later(state_.serial.nextBit);
  later(state_.barks);
  later(state_.fed);
  if (state_.mayChange >= 0) later(state_.mayChange);
  later(due_);
}

// Timers and prescalers are brought up to now first, so that it does not matter when they were
// looked at last.
bool Machine::sameAs(const Machine& then, Cycle later) const {
  const auto settled = [](const Machine& m) {
    Machine out = m;
    out.limit_ = 0;
    for (std::size_t t = 0; t < out.chip_->timers.size(); ++t) out.advanceTimer(t, out.state_.now);
    for (std::size_t p = 0; p < out.state_.prescalers.size(); ++p) {
      constexpr Cycle longest = 16384;
      Cycle& cleared = out.state_.prescalers[p];
      cleared = out.state_.now - (out.state_.now - cleared) % longest;
    }
    if (out.state_.mayChange < out.state_.now) out.state_.mayChange = -1;
    return out;
  };
  const State &x = state_, &y = then.state_;
  if (x.pc != y.pc || x.status != y.status || x.stack != y.stack || x.asleep != y.asleep ||
      x.now - y.now != later || x.memory != y.memory || x.fault.code != Fault::Code::none)
    return false;
  Machine a = settled(*this), b = settled(then);
  b.shift(later);
  const State &s = a.state_, &t = b.state_;
  return s.upper == t.upper && s.shielded == t.shielded && s.timers == t.timers &&
         s.memory == t.memory && s.prescalers == t.prescalers && s.converter == t.converter &&
         s.serial == t.serial && s.forced == t.forced && s.forcedHigh == t.forcedHigh &&
         s.levels == t.levels && s.drives == t.drives && s.barks == t.barks && s.fed == t.fed &&
         s.mayChange == t.mayChange;
}

}  // namespace ignavo::avr
