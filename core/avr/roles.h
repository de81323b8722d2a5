#pragma once
#include <array>

#include "avr/machine.h"

namespace ignavo::avr {

// What reading or writing a register of I/O does beside memory. Several at once where chips have
// put several things into one register.
struct Machine::Roles {
  enum Role : std::uint16_t {
    plain = 0,
    pins = 1,           // PINx
    port = 2,           // DDRx, PORTx
    flags = 4,          // cleared by writing ones
    masks = 8,          // of interrupts
    timer = 16,         // registers of a timer
    timerControl = 32,  // GTCCR
    converter = 64,
    serial = 128,
    watchdog = 256,
    status = 512,
    stack = 1024,
    pulls = 2048,  // MCUCR: all pull-ups off
    edges = 4096   // how pins interrupt
  };
  struct Entry {
    std::uint16_t roles = plain;
    std::uint8_t index = 0;  // which port, timer
  };
  std::array<Entry, 0x100> at{};
};

}  // namespace ignavo::avr
