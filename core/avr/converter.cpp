#include <algorithm>

#include "avr/machine.h"

// The analog to digital converter (24; 17): 13 of its clocks a conversion, 25 the first time, and
// it samples 1.5 or 13.5 clocks after it began, at the next tick of its clock behind the write.
// Started by a flag it samples after 2 clocks and takes 13.5.
namespace ignavo::avr {

namespace {
constexpr std::uint8_t enable = 0x80, start = 0x40, automatic = 0x20;
constexpr int flagBit = 4;
Cycle clockDivide(std::uint8_t control) { return Cycle{1} << std::max(1, control & 7); }
}  // namespace

void Machine::writeConverter(Address address, std::uint8_t value, Cycle at) {
  const Chip::Converter& row = chip_->converter;
  ConverterState& c = state_.converter;
  if (address == row.low || address == row.high) return;  // read only
  if (address != row.controlA) {
    reg(address) = value;
    return;
  }
  const std::uint8_t before = reg(address);
  // The flag is cleared by a one.
  const bool flag = (before >> flagBit & 1) != 0 && (value >> flagBit & 1) == 0;
  reg(address) =
      static_cast<std::uint8_t>((value & ~(1U << flagBit)) | (flag ? 1U << flagBit : 0U));
  if ((value & enable) == 0) {
    c = {.locked = c.locked, .result = c.result};
    reg(address) &= static_cast<std::uint8_t>(~start);
    return;
  }
  if ((before & enable) == 0) c.enabled = at;
  const bool busy = c.done != never;
  if (busy)
    reg(address) |= start;
  else if ((value & start) != 0)
    convert(at);
}

// Begins at the tick of its clock that comes next.
void Machine::convert(Cycle at) {
  ConverterState& c = state_.converter;
  const Cycle n = clockDivide(reg(chip_->converter.controlA));
  const Cycle begins = c.enabled + ((at - c.enabled) / n + 1) * n;
  c.samples = begins + (c.first ? 27 * n / 2 : 3 * n / 2);
  c.done = begins + (c.first ? 25 * n : 13 * n);
  c.first = false;
  reg(chip_->converter.controlA) |= start;
}

// After each other, or when a flag comes up.
bool Machine::convertsByItself() const {
  const std::uint8_t control = reg(chip_->converter.controlA);
  return (control & enable) != 0 && (control & automatic) != 0;
}

void Machine::triggerConversion(Address flags, int flag, Cycle at) {
  const Chip::Converter& row = chip_->converter;
  const std::uint8_t control = reg(row.controlA);
  ConverterState& c = state_.converter;
  if ((control & enable) == 0 || (control & automatic) == 0 || c.done != never) return;
  const int trigger = row.triggers[reg(row.controlB) & 7];
  if (trigger < 0) return;
  const Chip::Interrupt& by = chip_->interrupts[static_cast<std::size_t>(trigger)];
  if (by.flags != flags || by.flag != flag) return;
  if (c.first) {
    convert(at);
  } else {
    const Cycle n = clockDivide(control);
    c.enabled = at;  // its clock begins anew (24.4)
    c.samples = at + 2 * n;
    c.done = at + 27 * n / 2;
    reg(row.controlA) |= start;
  }
  findDue();
}

void Machine::sampleNow() {
  const Chip::Converter& row = chip_->converter;
  ConverterState& c = state_.converter;
  const Cycle at = c.samples;
  c.samples = never;
  const std::uint8_t select = reg(row.select);
  const int channel = select & row.channels;
  const int pin = row.pins[static_cast<std::size_t>(channel)];
  // Of a supply of 5 V: the chip cannot know another.
  constexpr int supplyMillivolts = 5000, bandgapMillivolts = 1100, stages = 1024;
  const bool inner = chip_->serial.data != 0 ? select >> 6 == 3 : (select & 0xD0) == 0x80;
  int value = 0;
  if (channel == row.bandgap)
    value = bandgapMillivolts * stages / supplyMillivolts;
  else if (pin >= 0)
    value = outside_->measure(pin, at);
  if (inner) value = value * supplyMillivolts / bandgapMillivolts;
  c.sample = static_cast<std::uint16_t>(std::clamp(value, 0, stages - 1));
}

void Machine::conversionDone() {
  const Chip::Converter& row = chip_->converter;
  ConverterState& c = state_.converter;
  const Cycle at = c.done;
  c.done = never;
  if (!c.locked) c.result = c.sample;
  const std::uint8_t control = reg(row.controlA);
  const bool free = (control & automatic) != 0 && (reg(row.controlB) & 7) == 0;
  raise(row.controlA, flagBit);
  if (!free) {
    reg(row.controlA) &= static_cast<std::uint8_t>(~start);
    return;
  }
  const Cycle n = clockDivide(control);
  c.samples = at + 3 * n / 2;
  c.done = at + 13 * n;
}

}  // namespace ignavo::avr
