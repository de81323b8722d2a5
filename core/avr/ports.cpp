#include <bit>

#include "avr/machine.h"

// Ports (14; 10) and pins that interrupt (13; 9.2).
namespace ignavo::avr {

// What each pin does to what hangs on it; whoever is outside is told what changed.
void Machine::refreshPort(int port, unsigned bits, Cycle at) {
  const auto p = static_cast<std::size_t>(port);
  const Chip::Port& row = chip_->ports[p];
  const std::uint8_t direction = reg(row.direction), latch = reg(row.port);
  const bool pulls = (reg(chip_->pullControl) & chip_->pullsOff) == 0;
  for (bits &= row.bits; bits != 0; bits &= bits - 1) {
    const int b = std::countr_zero(bits);
    const auto mask = static_cast<std::uint8_t>(1U << b);
    const bool forced = (state_.forced[p] & mask) != 0;
    // The serial unit makes its pin an output; compare outputs leave that to the direction.
    const bool out = (direction & mask) != 0 || (forced && pinAt(port, b) == chip_->serial.sends);
    const bool high = ((forced ? state_.forcedHigh[p] : latch) & mask) != 0;
    const Drive now = out                            ? high ? Drive::high : Drive::low
                      : (latch & mask) != 0 && pulls ? Drive::pullUp
                                                     : Drive::input;
    Drive& was = state_.drives[static_cast<std::size_t>(pinAt(port, b))];
    if (was == now) continue;
    was = now;
    outside_->drive(pinAt(port, b), now, at);
  }
}

void Machine::force(int pin, bool forced, bool high) {
  const auto p = static_cast<std::size_t>(pin / pinsPerPort);
  const auto mask = static_cast<std::uint8_t>(1U << pin % pinsPerPort);
  const auto put = [&](std::uint8_t& to, bool on) {
    to = static_cast<std::uint8_t>(on ? to | mask : to & ~mask);
  };
  put(state_.forced[p], forced);
  put(state_.forcedHigh[p], high);
}

void Machine::pinChanged(Outside& outside, int pin, bool high, Cycle at) {
  const auto p = static_cast<std::size_t>(pin / pinsPerPort);
  const auto mask = static_cast<std::uint8_t>(1U << pin % pinsPerPort);
  if (((state_.levels[p] & mask) != 0) == high) return;
  Outside* const before = outside_;
  outside_ = &outside;
  state_.levels[p] = static_cast<std::uint8_t>(state_.levels[p] ^ mask);
  if (dozes() && at > state_.now) {
    arrive(at);
    state_.now = at;
  }
  // It comes into the middle of an instruction, not out of one.
  if (!state_.asleep && !executing_ && at > state_.now) state_.shielded = true;
  for (std::size_t k = 0; k < chip_->edges.singles.size(); ++k) {
    const Chip::Edges::Single& single = chip_->edges.singles[k];
    if (single.pin != pin) continue;
    const int sense = reg(single.control) >> single.shift & 3;  // table 13-1
    if (sense == 1 || (sense == 2 && !high) || (sense == 3 && high)) {
      reg(single.flags) |= static_cast<std::uint8_t>(1U << single.flag);
      triggerConversion(single.flags, single.flag, at);
    }
  }
  for (const Chip::Edges::Group& group : chip_->edges.groups)
    if (group.port == pin / pinsPerPort && (reg(group.chosen) & mask) != 0) {
      reg(group.flags) |= static_cast<std::uint8_t>(1U << group.flag);
      triggerConversion(group.flags, group.flag, at);
    }
  watchPending();
  outside_ = before;
}

// Where a low level interrupts there is no flag: it does as long as it is low (13.2.1).
bool Machine::isLow(std::size_t single) const {
  const Chip::Edges::Single& s = chip_->edges.singles[single];
  const auto port = static_cast<std::size_t>(s.pin / pinsPerPort);
  return (reg(s.control) >> s.shift & 3) == 0 &&
         (state_.levels[port] >> (s.pin % pinsPerPort) & 1) == 0;
}

}  // namespace ignavo::avr
