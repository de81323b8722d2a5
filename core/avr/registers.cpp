#include <array>

#include "avr/machine.h"
#include "avr/roles.h"

// What reading and writing registers of I/O does: by a table of each chip, made from its row.
namespace ignavo::avr {

const Machine::Roles& Machine::rolesOf(const Chip& chip) {
  const auto made = [](const Chip& c) {
    Roles out;
    const auto give = [&](Address address, std::uint16_t role, std::size_t index = 0) {
      if (address == 0) return;
      out.at[address].roles |= role;
      if (role == Roles::pins || role == Roles::port || role == Roles::timer)
        out.at[address].index = static_cast<std::uint8_t>(index);
    };
    for (std::size_t p = 0; p < c.ports.size(); ++p) {
      give(c.ports[p].pin, Roles::pins, p);
      give(c.ports[p].direction, Roles::port, p);
      give(c.ports[p].port, Roles::port, p);
    }
    for (const Chip::Interrupt& i : c.interrupts) {
      const bool own = i.flags == c.converter.controlA || i.flags == c.watchdog.control ||
                       i.flags == c.serial.controlA;
      if (!own) give(i.flags, Roles::flags);
      give(i.masks, Roles::masks);
    }
    for (std::size_t t = 0; t < c.timers.size(); ++t) {
      const Chip::Timer& timer = c.timers[t];
      const bool wide = timer.kind == Chip::Timer::Kind::word;
      for (const Address a : {timer.controlA, timer.controlB, timer.force, timer.count,
                              timer.compareA, timer.compareB, timer.top}) {
        give(a, Roles::timer, t);
        if (wide && a >= timer.count && a != 0) give(static_cast<Address>(a + 1), Roles::timer, t);
      }
      give(timer.flags, Roles::flags);
    }
    give(c.timerControl, Roles::timerControl);
    for (const Address a : {c.converter.low, c.converter.high, c.converter.controlA,
                            c.converter.controlB, c.converter.select})
      give(a, Roles::converter);
    if (c.serial.data != 0)
      for (const Address a : {c.serial.controlA, c.serial.controlB, c.serial.data})
        give(a, Roles::serial);
    give(c.watchdog.control, Roles::watchdog);
    give(statusRegister, Roles::status);
    give(stackLow, Roles::stack);
    give(stackHigh, Roles::stack);
    give(c.pullControl, Roles::pulls);
    for (const Chip::Edges::Single& single : c.edges.singles) give(single.control, Roles::edges);
    return out;
  };
  static const Roles mega = made(*chipNamed("atmega328p")), tiny = made(*chipNamed("attiny85"));
  return &chip == chipNamed("attiny85") ? tiny : mega;
}

std::uint8_t Machine::readRegister(Address address, Cycle at) {
  const Roles::Entry entry = roles_->at[address];
  if (entry.roles == Roles::plain || entry.roles == Roles::masks) return reg(address);
  arrive(at);
  if ((entry.roles & Roles::pins) != 0)
    return outside_->levels(entry.index,
                            static_cast<std::uint8_t>(chip_->ports[entry.index].bits & asked_), at);
  if ((entry.roles & Roles::status) != 0) return state_.status;
  if ((entry.roles & Roles::stack) != 0)
    return static_cast<std::uint8_t>(address == stackLow ? state_.stack : state_.stack >> 8);
  if ((entry.roles & Roles::flags) != 0)
    for (std::size_t t = 0; t < chip_->timers.size(); ++t) advanceTimer(t, at);
  if ((entry.roles & Roles::timer) != 0) return readTimer(entry.index, address, at);
  if ((entry.roles & Roles::serial) != 0 && address == chip_->serial.data) return readSerial();
  if (address == chip_->converter.low) state_.converter.locked = true;
  if (address == chip_->converter.low || address == chip_->converter.high) {
    const bool left = bit(chip_->converter.select, chip_->converter.leftBit);
    const unsigned result = state_.converter.result << (left ? 6 : 0);
    if (address == chip_->converter.high) {
      state_.converter.locked = false;
      return static_cast<std::uint8_t>(result >> 8);
    }
    return static_cast<std::uint8_t>(result);
  }
  return reg(address);
}

void Machine::writeRegister(Address address, std::uint8_t value, Cycle at) {
  const Roles::Entry entry = roles_->at[address];
  if (entry.roles == Roles::plain) {
    reg(address) = value;
    return;
  }
  arrive(at);
  if ((entry.roles & Roles::status) != 0) {
    const bool lets = (value & ~state_.status & 0x80) != 0;
    state_.status = value;
    if (lets) {
      state_.shielded = true;
      limit_ = 0;
    }
    return;
  }
  if ((entry.roles & Roles::stack) != 0) {
    state_.stack =
        static_cast<std::uint16_t>(address == stackLow ? (state_.stack & 0xFF00) | value
                                                       : (state_.stack & 0x00FF) | value << 8);
    return;
  }
  if ((entry.roles & Roles::pins) != 0) {  // 14.2.2: toggles
    const Address port = chip_->ports[entry.index].port;
    reg(port) = static_cast<std::uint8_t>(reg(port) ^ (value & chip_->ports[entry.index].bits));
    return refreshPort(entry.index, value, at);
  }
  if ((entry.roles & Roles::port) != 0) {
    const unsigned changed = reg(address) ^ value;
    reg(address) = static_cast<std::uint8_t>(value & chip_->ports[entry.index].bits);
    return refreshPort(entry.index, changed, at);
  }
  if ((entry.roles & (Roles::timer | Roles::timerControl | Roles::flags)) != 0)
    for (std::size_t t = 0; t < chip_->timers.size(); ++t) advanceTimer(t, at);
  if ((entry.roles & Roles::flags) != 0) {
    reg(address) &= static_cast<std::uint8_t>(~value);
  } else if ((entry.roles & Roles::timer) != 0) {
    writeTimer(entry.index, address, value, at);
  } else if ((entry.roles &
              (Roles::converter | Roles::serial | Roles::watchdog | Roles::timerControl)) == 0) {
    reg(address) = value;
  }
  if ((entry.roles & Roles::timerControl) != 0) writeTimerControl(value, at);
  if ((entry.roles & Roles::converter) != 0) writeConverter(address, value, at);
  if ((entry.roles & Roles::serial) != 0) writeSerial(address, value, at);
  if ((entry.roles & Roles::watchdog) != 0) writeWatchdog(value, at);
  if ((entry.roles & Roles::pulls) != 0)
    for (int p = 0; p < static_cast<int>(chip_->ports.size()); ++p) refreshPort(p, allPins, at);
  watchPending();
  findDue();
}

bool Machine::readBit(Address address, std::uint8_t mask, Cycle at) {
  const Roles::Entry entry = roles_->at[address];
  if ((entry.roles & Roles::pins) == 0) return (readRegister(address, at) & mask) != 0;
  arrive(at);
  return (outside_->levels(entry.index, mask, at) & mask) != 0;
}

void Machine::writeBit(Address address, std::uint8_t mask, bool set, Cycle at) {
  const std::uint16_t roles = roles_->at[address].roles;
  if ((roles & (Roles::pins | Roles::flags)) != 0) {
    if (set) writeRegister(address, mask, at);
    return;
  }
  const std::uint8_t now = (roles & Roles::port) != 0 ? reg(address) : readRegister(address, at);
  writeRegister(address, static_cast<std::uint8_t>(set ? now | mask : now & ~mask), at);
}

}  // namespace ignavo::avr
