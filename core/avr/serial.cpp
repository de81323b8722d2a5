#include <algorithm>

#include "avr/machine.h"

// The serial unit (20), asynchronous: a start bit, the data, parity, stop bits; each lasts 16 × or
// 8 × (UBRR + 1) cycles. What comes in comes as whole bytes.
namespace ignavo::avr {

namespace {
enum A : std::uint8_t { received = 0x80, sentAll = 0x40, empty = 0x20, overrun = 0x08, twice = 2 };
enum B : std::uint8_t { hears = 0x10, sends = 0x08 };
}  // namespace

Cycle Machine::bitCycles() const {
  const Chip::Serial& row = chip_->serial;
  const int rate = (reg(row.rateHigh) & 15) << 8 | reg(row.rateLow);
  return Cycle{rate + 1} * ((reg(row.controlA) & twice) != 0 ? 8 : 16);
}

void Machine::writeSerial(Address address, std::uint8_t value, Cycle at) {
  const Chip::Serial& row = chip_->serial;
  SerialState& s = state_.serial;
  if (address == row.controlA) {
    const std::uint8_t held = reg(address) & static_cast<std::uint8_t>(~(twice | 1U));
    reg(address) = static_cast<std::uint8_t>((held & ~(value & sentAll)) | (value & (twice | 1U)));
  } else if (address == row.controlB) {
    reg(address) = value;
    if ((value & hears) == 0) {
      s.heardCount = 0;
      reg(row.controlA) &= static_cast<std::uint8_t>(~(received | overrun));
    }
    force(row.sends, (value & sends) != 0 || s.left > 0, s.high);
    refreshPort(row.sends / pinsPerPort, bitOf(row.sends), at);
  } else if (address == row.data && (reg(row.controlB) & sends) != 0) {
    reg(row.controlA) &= static_cast<std::uint8_t>(~sentAll);
    if (s.left == 0 && !s.full) {
      send(value, at);
    } else if ((reg(row.controlA) & empty) != 0) {
      s.waiting = value;
      s.full = true;
      reg(row.controlA) &= static_cast<std::uint8_t>(~empty);
    }
  }
}

// Into the shift register: the frame, lowest bit first.
void Machine::send(std::uint8_t byte, Cycle at) {
  const Chip::Serial& row = chip_->serial;
  SerialState& s = state_.serial;
  const std::uint8_t format = reg(row.controlC);
  const int bits = std::min(5 + (format >> 1 & 3), 8);
  const int parity = format >> 4 & 3, stops = (format >> 3 & 1) + 1;
  unsigned frame = byte & ((1U << bits) - 1);
  int length = bits;
  if (parity >= 2) {
    unsigned odd = parity == 3 ? 1 : 0;
    for (int b = 0; b < bits; ++b) odd ^= frame >> b & 1;
    frame |= odd << length++;
  }
  frame |= ((1U << stops) - 1) << length;
  length += stops;
  s.sending = byte;
  s.bits = static_cast<std::uint16_t>(frame);
  s.left = length + 1;  // and the end of the last
  s.high = false;       // the start bit
  s.nextBit = at + bitCycles();
  force(row.sends, true, false);
  refreshPort(row.sends / pinsPerPort, bitOf(row.sends), at);
}

void Machine::nextBit() {
  const Chip::Serial& row = chip_->serial;
  SerialState& s = state_.serial;
  const Cycle at = s.nextBit;
  if (--s.left > 0) {
    s.high = (s.bits & 1) != 0;
    s.bits >>= 1;
    s.nextBit = at + bitCycles();
    force(row.sends, true, s.high);
    return refreshPort(row.sends / pinsPerPort, bitOf(row.sends), at);
  }
  s.nextBit = never;
  const std::uint8_t byte = s.sending;
  if (s.full) {
    s.full = false;
    reg(row.controlA) |= empty;
    send(s.waiting, at);
    watchPending();
  } else {
    force(row.sends, (reg(row.controlB) & sends) != 0, true);
    refreshPort(row.sends / pinsPerPort, bitOf(row.sends), at);
    raise(row.controlA, 6);
  }
  outside_->sent(byte, at);
}

void Machine::receive(Outside& outside, std::uint8_t byte, Cycle at) {
  const Chip::Serial& row = chip_->serial;
  SerialState& s = state_.serial;
  if (row.data == 0 || (reg(row.controlB) & hears) == 0) return;
  outside_ = &outside;
  if (dozes() && at > state_.now) {
    arrive(at);
    state_.now = at;
  }
  if (s.heardCount < s.heard.size()) {
    s.heard[s.heardCount++] = byte;
    raise(row.controlA, 7);
  } else {
    reg(row.controlA) |= overrun;
  }
  outside_ = nullptr;
}

std::uint8_t Machine::readSerial() {
  SerialState& s = state_.serial;
  const std::uint8_t out = s.heard[0];
  if (s.heardCount > 0) {
    s.heard[0] = s.heard[1];
    if (--s.heardCount == 0)
      reg(chip_->serial.controlA) &= static_cast<std::uint8_t>(~(received | overrun));
  }
  watchPending();
  return out;
}

}  // namespace ignavo::avr
