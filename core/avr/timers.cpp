#include <algorithm>

#include "avr/machine.h"
#include "avr/roles.h"

// Timers count only when someone looks: what lies between is worked out. A timer goes from event to
// event (its count leaves a compare value, or comes to an end of its range); what happens there
// happens at the tick that leaves the value (figures 15-8 … 15-11). Where nothing depends on single
// events, whole ranges are passed over.
//
// Ticks come when the prescaler's count is a multiple of the divisor; timers share it.
namespace ignavo::avr {

// When a compare value takes effect.
enum class Takes : std::uint8_t { atOnce, atTop, atBottom };

namespace {

using Kind = Chip::Timer::Kind;

enum class Top : std::uint8_t { max, bits8, bits9, bits10, compareA, topRegister };
enum class Slope : std::uint8_t { up, upAndDown };

struct ModeRow {
  Slope slope = Slope::up;
  Top top = Top::max;
  Takes takes = Takes::atOnce;
  bool pulses = false;  // its outputs are set at one end and cleared by a match
};
// Tables 15-8 and 18-8; 11-5.
constexpr ModeRow byteModes[] = {
    {},
    {Slope::upAndDown, Top::bits8, Takes::atTop, true},
    {Slope::up, Top::compareA},
    {Slope::up, Top::bits8, Takes::atBottom, true},
    {},
    {Slope::upAndDown, Top::compareA, Takes::atTop, true},
    {},
    {Slope::up, Top::compareA, Takes::atBottom, true},
};
// Table 16-4.
constexpr ModeRow wordModes[] = {
    {},
    {Slope::upAndDown, Top::bits8, Takes::atTop, true},
    {Slope::upAndDown, Top::bits9, Takes::atTop, true},
    {Slope::upAndDown, Top::bits10, Takes::atTop, true},
    {Slope::up, Top::compareA},
    {Slope::up, Top::bits8, Takes::atBottom, true},
    {Slope::up, Top::bits9, Takes::atBottom, true},
    {Slope::up, Top::bits10, Takes::atBottom, true},
    {Slope::upAndDown, Top::topRegister, Takes::atBottom, true},
    {Slope::upAndDown, Top::compareA, Takes::atBottom, true},
    {Slope::upAndDown, Top::topRegister, Takes::atTop, true},
    {Slope::upAndDown, Top::compareA, Takes::atTop, true},
    {Slope::up, Top::topRegister},
    {},
    {Slope::up, Top::topRegister, Takes::atBottom, true},
    {Slope::up, Top::compareA, Takes::atBottom, true},
};

constexpr std::uint8_t holdsPrescalers = 0x80;  // TSM

}  // namespace

struct Machine::TimerMode {
  bool upAndDown = false;
  std::uint16_t top = 0xFF, max = 0xFF;
  Takes takes = Takes::atOnce;
  bool captures = false;         // its top is the capture register
  std::array<bool, 2> pulses{};  // per output
  std::array<int, 2> does{};     // compare output mode: 0 nothing, 1 toggle, 2 clear, 3 set
  std::array<bool, 2> counts{};  // does a match matter to anyone?
  bool ends = false;             // does an end of the range?
};

Machine::TimerMode Machine::modeOf(std::size_t timer) const {
  const Chip::Timer& row = chip_->timers[timer];
  const TimerState& t = state_.timers[timer];
  const std::uint8_t a = reg(row.controlA), b = reg(row.controlB);
  TimerMode mode;
  if (row.kind == Kind::tiny1) {
    // 12.3: TCCR1 and GTCCR.
    const bool pulseA = (a & 0x40) != 0, pulseB = (b & 0x40) != 0, clears = (a & 0x80) != 0;
    mode.pulses = {pulseA, pulseB};
    mode.does = {a >> 4 & 3, b >> 4 & 3};
    mode.top = pulseA || pulseB || clears ? reg(row.top) : std::uint16_t{0xFF};
    mode.takes = pulseA || pulseB ? Takes::atBottom : Takes::atOnce;
  } else {
    const bool wide = row.kind == Kind::word;
    const int number = wide ? (b >> 1 & 12) | (a & 3) : (b >> 1 & 4) | (a & 3);
    const ModeRow& m = wide ? wordModes[number] : byteModes[number];
    mode.max = wide ? 0xFFFF : 0xFF;
    mode.upAndDown = m.slope == Slope::upAndDown;
    mode.takes = m.takes;
    mode.pulses = {m.pulses, m.pulses};
    mode.does = {a >> 6 & 3, a >> 4 & 3};
    mode.captures = m.top == Top::topRegister;
    switch (m.top) {
      case Top::max:
        mode.top = mode.max;
        break;
      case Top::bits8:
        mode.top = 0xFF;
        break;
      case Top::bits9:
        mode.top = 0x1FF;
        break;
      case Top::bits10:
        mode.top = 0x3FF;
        break;
      case Top::compareA:
        mode.top = t.compare[0];
        break;
      case Top::topRegister:
        mode.top = topRegister(timer);
        break;
    }
    // Toggling while it makes pulses: only output A, and only where A or the capture register is
    // the top (tables 15-3, 15-4, 16-2, 16-3).
    const bool mayToggle = m.top == Top::compareA || (m.top == Top::topRegister && !mode.upAndDown);
    if (m.pulses && mode.does[1] == 1) mode.does[1] = 0;
    if (m.pulses && mode.does[0] == 1 && !mayToggle) mode.does[0] = 0;
  }
  const auto heard = [&](int flag) {
    return flag >= 0 && std::any_of(chip_->interrupts.begin(), chip_->interrupts.end(),
                                    [&](const Chip::Interrupt& i) {
                                      return i.flags == row.flags && i.flag == flag &&
                                             bit(i.masks, i.mask);
                                    });
  };
  const bool starts = (reg(chip_->converter.controlA) & 0xA0) == 0xA0;  // a conversion
  mode.counts = {heard(row.matchA) || mode.does[0] != 0 || starts,
                 heard(row.matchB) || mode.does[1] != 0 || starts};
  mode.ends = mode.counts[0] || mode.counts[1] || heard(row.overflow) || heard(row.capture);
  return mode;
}

std::uint16_t Machine::topRegister(std::size_t timer) const {
  const Chip::Timer& row = chip_->timers[timer];
  return static_cast<std::uint16_t>(reg(row.top) | reg(static_cast<Address>(row.top + 1)) << 8);
}

// A compare value as it was written last.
std::uint16_t Machine::written(std::size_t timer, int channel) const {
  const Chip::Timer& row = chip_->timers[timer];
  const Address at = channel == 0 ? row.compareA : row.compareB;
  if (row.kind != Kind::word) return reg(at);
  return static_cast<std::uint16_t>(reg(at) | reg(static_cast<Address>(at + 1)) << 8);
}

void Machine::takeCompare(std::size_t timer, const TimerMode&) {
  state_.timers[timer].compare = {written(timer, 0), written(timer, 1)};
}

Cycle Machine::divideOf(std::size_t timer) const {
  const Chip::Timer& row = chip_->timers[timer];
  const int select = row.kind == Kind::tiny1 ? reg(row.controlA) & 15 : reg(row.controlB) & 7;
  return row.divides[static_cast<std::size_t>(select)];
}

bool Machine::held(std::size_t timer) const {
  const std::uint8_t control = reg(chip_->timerControl);
  const Chip::Prescaler& by =
      chip_->prescalers[static_cast<std::size_t>(chip_->timers[timer].prescaler)];
  return (control & holdsPrescalers) != 0 && (control & by.clears) != 0;
}

// Ticks until something happens: the one that leaves a compare value, the end, or the beginning of
// the range. `all`: also what matters to nobody but the flags.
std::int64_t Machine::ticksToEvent(const TimerState& t, const TimerMode& mode, bool all) const {
  const std::int64_t count = t.count, top = mode.top, max = mode.max;
  std::int64_t soonest = INT64_MAX;
  const auto sooner = [&](std::int64_t ticks) { soonest = std::min(soonest, ticks); };
  if (!mode.upAndDown) {
    sooner((count <= top ? top : max) - count + 1);
    for (std::size_t c = 0; c < 2; ++c)
      if ((all || mode.counts[c]) && t.compare[c] >= count) sooner(t.compare[c] - count + 1);
    return soonest;
  }
  sooner(t.down ? std::max<std::int64_t>(count, 1) : std::max<std::int64_t>(top - count, 1));
  for (std::size_t c = 0; c < 2; ++c) {
    if (!all && !mode.counts[c]) continue;
    const std::int64_t value = t.compare[c];
    if (t.down ? value <= count : value >= count) sooner(std::abs(value - count) + 1);
  }
  return soonest;
}

Cycle Machine::timerDue(std::size_t timer) const {
  const Cycle divide = divideOf(timer);
  if (divide == 0 || held(timer)) return never;
  const TimerMode mode = modeOf(timer);
  if (!mode.ends) return never;
  const TimerState& t = state_.timers[timer];
  const Cycle cleared = state_.prescalers[static_cast<std::size_t>(chip_->timers[timer].prescaler)];
  const Cycle passed = (t.at - cleared) / divide;
  return cleared + (passed + ticksToEvent(t, mode, false)) * divide;
}

bool Machine::drivesPin(std::size_t timer) const {
  const TimerMode mode = modeOf(timer);
  return mode.does[0] != 0 || mode.does[1] != 0;
}

// Lets it count up to a moment.
void Machine::advanceTimer(std::size_t timer, Cycle to) {
  TimerState& t = state_.timers[timer];
  if (to <= t.at) return;
  const Cycle divide = divideOf(timer);
  const Cycle cleared = state_.prescalers[static_cast<std::size_t>(chip_->timers[timer].prescaler)];
  if (divide == 0 || held(timer)) {
    t.at = to;
    return;
  }
  const Cycle before = (t.at - cleared) / divide;
  std::int64_t left = (to - cleared) / divide - before;
  Cycle ticks = before;
  bool flags = false;
  while (left > 0) {
    const TimerMode mode = modeOf(timer);
    // Where nobody is told, all that can come up has after two ranges.
    const std::int64_t range =
        std::max<std::int64_t>(1, mode.upAndDown ? 2 * std::int64_t{mode.top} : mode.top + 1);
    const bool inside = t.count <= mode.top && !t.written;
    if (!mode.ends && flags && inside && left > 2 * range) {
      const std::int64_t whole = (left / range - 1) * range;
      left -= whole;
      ticks += whole;
    }
    const std::int64_t next = t.written ? 1 : ticksToEvent(t, mode, true);
    const std::int64_t plain = std::min(next - 1, left);
    t.count = static_cast<std::uint16_t>(t.down ? t.count - plain : t.count + plain);
    left -= plain;
    ticks += plain;
    if (left == 0) break;
    --left;
    ++ticks;
    t.at = cleared + ticks * divide;
    const bool ended = t.count == 0 || t.count >= mode.top;
    tick(timer, mode, t.at);
    flags = flags || ended;
  }
  t.at = to;
}

// One tick at which something happens.
void Machine::tick(std::size_t timer, const TimerMode& mode, Cycle at) {
  const Chip::Timer& row = chip_->timers[timer];
  TimerState& t = state_.timers[timer];
  const std::uint16_t count = t.count;
  const bool blocked = t.written;
  t.written = false;
  const auto raised = [&](int flag) {
    if (flag < 0) return;
    raise(row.flags, flag);
    triggerConversion(row.flags, flag, at);
  };
  // Where the range ends at the same tick, what happens there counts.
  const bool ends = !mode.upAndDown && (count == mode.top || count == mode.max);
  if (!blocked)
    for (int c = 0; c < 2; ++c)
      if (t.compare[static_cast<std::size_t>(c)] == count) {
        const auto n = static_cast<std::size_t>(c);
        if (!ends || !mode.pulses[n] || mode.does[n] == 1)
          match(timer, c, mode, t.down || (mode.upAndDown && count == mode.top), at);
        raised(c == 0 ? row.matchA : row.matchB);
      }
  if (!mode.upAndDown) {
    const bool atTop = count == mode.top, atMax = count == mode.max;
    t.count = atTop || atMax ? std::uint16_t{0} : static_cast<std::uint16_t>(count + 1);
    if (t.count != 0) return;
    if (atTop && mode.captures) raised(row.capture);
    const bool pulses = mode.pulses[0] || mode.pulses[1];
    if (atMax || pulses) raised(row.overflow);
    if (mode.takes == Takes::atBottom) takeCompare(timer, mode);
    for (int c = 0; c < 2; ++c) {
      const auto n = static_cast<std::size_t>(c);
      if (mode.pulses[n] && (mode.does[n] >= 2 || (row.kind == Kind::tiny1 && mode.does[n] == 1)))
        output(timer, c, mode.does[n] != 3, at);
    }
    return;
  }
  if (t.down) {
    t.count = count > 0 ? static_cast<std::uint16_t>(count - 1) : std::uint16_t{0};
    if (t.count > 0) return;
    t.down = false;
    raised(row.overflow);
    if (mode.takes == Takes::atBottom) takeCompare(timer, mode);
    return;
  }
  if (count >= mode.top) {
    t.down = true;
    t.count = mode.top > 0 ? static_cast<std::uint16_t>(mode.top - 1) : std::uint16_t{0};
    if (t.count == 0) t.down = false, raised(row.overflow);
    return;
  }
  t.count = static_cast<std::uint16_t>(count + 1);
  if (t.count < mode.top) return;
  t.down = true;
  if (mode.captures) raised(row.capture);
  if (mode.takes == Takes::atTop) takeCompare(timer, mode);
}

// What a match does to an output (tables 15-2 … 15-7, 16-1 … 16-3, 12-1 … 12-3).
void Machine::match(std::size_t timer, int channel, const TimerMode& mode, bool down, Cycle at) {
  const auto n = static_cast<std::size_t>(channel);
  const bool now = state_.timers[timer].out[n];
  switch (mode.does[n]) {
    case 0:
      return;
    case 1:
      if (chip_->timers[timer].kind == Kind::tiny1 && mode.pulses[n])
        return output(timer, channel, false, at);
      return output(timer, channel, !now, at);
    default: {
      const bool sets = mode.does[n] == 3;
      return output(timer, channel, mode.upAndDown && down ? !sets : sets, at);
    }
  }
}

void Machine::output(std::size_t timer, int channel, bool high, Cycle at) {
  const auto n = static_cast<std::size_t>(channel);
  if (state_.timers[timer].out[n] == high) return;
  state_.timers[timer].out[n] = high;
  connectOutputs(timer, at);
}

// Pins that compare outputs drive.
void Machine::connectOutputs(std::size_t timer, Cycle at) {
  const Chip::Timer& row = chip_->timers[timer];
  const TimerMode mode = modeOf(timer);
  const TimerState& t = state_.timers[timer];
  const auto join = [&](int pin, bool joined, bool high) {
    if (pin < 0) return;
    force(pin, joined, high);
    if (outside_) refreshPort(pin / pinsPerPort, bitOf(pin), at);
  };
  // OC1A of the ATtiny85 and OC0B of its timer 0 are one pin: who is joined drives it.
  const auto taken = [&](int pin) {
    for (std::size_t other = 0; other < chip_->timers.size(); ++other) {
      if (other == timer) continue;
      const TimerMode m = modeOf(other);
      const Chip::Timer& r = chip_->timers[other];
      if ((r.pinA == pin && m.does[0] != 0) || (r.pinB == pin && m.does[1] != 0)) return true;
    }
    return false;
  };
  for (std::size_t c = 0; c < 2; ++c) {
    const int pin = c == 0 ? row.pinA : row.pinB, opposite = c == 0 ? row.notPinA : row.notPinB;
    if (mode.does[c] != 0 || !taken(pin)) join(pin, mode.does[c] != 0, t.out[c]);
    const bool both = opposite >= 0 && mode.pulses[c] && mode.does[c] == 1;
    if (opposite >= 0 && (both || !taken(opposite))) join(opposite, both, !t.out[c]);
  }
}

// ---- registers

std::uint8_t Machine::readTimer(std::size_t timer, Address address, Cycle at) {
  const Chip::Timer& row = chip_->timers[timer];
  if (address == row.count) {
    advanceTimer(timer, at);
    const std::uint16_t count = state_.timers[timer].count;
    state_.upper = static_cast<std::uint8_t>(count >> 8);
    return static_cast<std::uint8_t>(count);
  }
  if (row.kind != Kind::word) return reg(address);
  // The upper byte is held while the lower is read (16.3).
  if (address == row.count + 1) return state_.upper;
  if (address == row.top) state_.upper = reg(static_cast<Address>(row.top + 1));
  if (address == row.top + 1) return state_.upper;
  return reg(address);
}

// The timer stands at `at` already.
void Machine::writeTimer(std::size_t timer, Address address, std::uint8_t value, Cycle at) {
  const Chip::Timer& row = chip_->timers[timer];
  TimerState& t = state_.timers[timer];
  const bool wide = row.kind == Kind::word;
  const auto isUpper = [&](Address low) { return wide && address == low + 1; };
  if (isUpper(row.count) || isUpper(row.compareA) || isUpper(row.compareB) ||
      (row.top != 0 && isUpper(row.top))) {
    state_.upper = value;
    return;
  }
  if (address == row.count) {
    t.count = static_cast<std::uint16_t>(wide ? state_.upper << 8 | value : value);
    t.written = true;
    return;
  }
  if (wide && (address == row.compareA || address == row.compareB || address == row.top))
    reg(static_cast<Address>(address + 1)) = state_.upper;
  constexpr std::uint8_t forceA = 0x80, forceB = 0x40, tinyForceA = 0x04, tinyForceB = 0x08;
  const bool forces = address == row.force;
  std::uint8_t stored = value;
  if (forces)
    stored &= static_cast<std::uint8_t>(row.kind == Kind::tiny1 ? ~(tinyForceA | tinyForceB)
                                                                : ~(forceA | forceB));
  reg(address) = stored;
  const TimerMode mode = modeOf(timer);
  if (mode.takes == Takes::atOnce) takeCompare(timer, mode);
  if (!mode.upAndDown) t.down = false;
  if (forces)
    for (int c = 0; c < 2; ++c) {
      const bool tiny = row.kind == Kind::tiny1;
      const std::uint8_t strobe =
          c == 0 ? (tiny ? tinyForceA : forceA) : (tiny ? tinyForceB : forceB);
      if ((value & strobe) != 0 && !mode.pulses[static_cast<std::size_t>(c)])
        match(timer, c, mode, false, at);
    }
  connectOutputs(timer, at);
}

// GTCCR: prescalers are cleared, and held as long as TSM says so (17.1).
void Machine::writeTimerControl(std::uint8_t value, Cycle at) {
  std::uint8_t kept = value;
  for (std::size_t p = 0; p < chip_->prescalers.size(); ++p) {
    const std::uint8_t clears = chip_->prescalers[p].clears;
    const bool was = (reg(chip_->timerControl) & holdsPrescalers) != 0 &&
                     (reg(chip_->timerControl) & clears) != 0;
    if ((value & clears) != 0 || was) state_.prescalers[p] = at;
    if ((value & holdsPrescalers) == 0) kept &= static_cast<std::uint8_t>(~clears);
  }
  constexpr std::uint8_t tinyStrobes = 0x0C;
  if (chip_->timers.size() == 2) kept &= static_cast<std::uint8_t>(~tinyStrobes);
  reg(chip_->timerControl) = kept;
}

}  // namespace ignavo::avr
