#include "avr/chips.h"

#include <algorithm>

namespace ignavo::avr {

namespace {

using Interrupt = Chip::Interrupt;
using Timer = Chip::Timer;

constexpr auto byCause = Interrupt::Cleared::byCause;
constexpr auto byService = Interrupt::Cleared::byService;

// Clock selects (tables 15-9, 16-5 and 18-9): those of an outer clock do not count.
constexpr std::array<std::uint16_t, 16> coarse = {0, 1, 8, 64, 256, 1024, 0, 0};
constexpr std::array<std::uint16_t, 16> fine = {0, 1, 8, 32, 64, 128, 256, 1024};
// ATtiny85, table 12-5.
constexpr std::array<std::uint16_t, 16> doubling = {0,   1,   2,   4,    8,    16,   32,   64,
                                                    128, 256, 512, 1024, 2048, 4096, 8192, 16384};

// Registers in the order of the row, and the pins of the first channels.
void measure(Chip::Converter& c, std::array<Address, 5> registers, const std::vector<int>& pins) {
  c.low = registers[0];
  c.high = registers[1];
  c.controlA = registers[2];
  c.controlB = registers[3];
  c.select = registers[4];
  c.pins.fill(-1);
  std::transform(pins.begin(), pins.end(), c.pins.begin(),
                 [](int pin) { return static_cast<std::int8_t>(pin); });
}

Chip mega() {
  constexpr int portB = 0, portC = 1, portD = 2;
  Chip c;
  c.name = "atmega328p";
  c.enhanced = true;
  c.flashWords = 0x4000;
  c.ramBegin = 0x100;
  c.ramEnd = 0x8FF;
  c.vectorWords = 2;
  c.ports = {{'B', 0x23, 0x24, 0x25}, {'C', 0x26, 0x27, 0x28, 0x7F}, {'D', 0x29, 0x2A, 0x2B}};
  // Table 12-6.
  c.interrupts = {{byService, 1, 0x3C, 0, 0x3D, 0, 0}, {byService, 2, 0x3C, 1, 0x3D, 1, 1},
                  {byService, 3, 0x3B, 0, 0x68, 0},    {byService, 4, 0x3B, 1, 0x68, 1},
                  {byService, 5, 0x3B, 2, 0x68, 2},    {byService, 6, 0x60, 7, 0x60, 6},
                  {byService, 7, 0x37, 1, 0x70, 1},    {byService, 8, 0x37, 2, 0x70, 2},
                  {byService, 9, 0x37, 0, 0x70, 0},    {byService, 10, 0x36, 5, 0x6F, 5},
                  {byService, 11, 0x36, 1, 0x6F, 1},   {byService, 12, 0x36, 2, 0x6F, 2},
                  {byService, 13, 0x36, 0, 0x6F, 0},   {byService, 14, 0x35, 1, 0x6E, 1},
                  {byService, 15, 0x35, 2, 0x6E, 2},   {byService, 16, 0x35, 0, 0x6E, 0},
                  {byCause, 18, 0xC0, 7, 0xC1, 7},     {byCause, 19, 0xC0, 5, 0xC1, 5},
                  {byService, 20, 0xC0, 6, 0xC1, 6},   {byService, 21, 0x7A, 4, 0x7A, 3}};
  c.timers = {{Timer::Kind::byte, 0x44, 0x45, 0x45, 0x46, 0x47, 0x48, 0, 0x35, 0, 1, 2, -1,
               pinAt(portD, 6), pinAt(portD, 5), -1, -1, 0, coarse},
              {Timer::Kind::word, 0x80, 0x81, 0x82, 0x84, 0x88, 0x8A, 0x86, 0x36, 0, 1, 2, 5,
               pinAt(portB, 1), pinAt(portB, 2), -1, -1, 0, coarse},
              {Timer::Kind::byte, 0xB0, 0xB1, 0xB1, 0xB2, 0xB3, 0xB4, 0, 0x37, 0, 1, 2, -1,
               pinAt(portB, 3), pinAt(portD, 3), -1, -1, 1, fine}};
  c.prescalers = {{0x01}, {0x02}};
  c.timerControl = 0x43;
  measure(c.converter, {0x78, 0x79, 0x7A, 0x7B, 0x7C},
          {pinAt(portC, 0), pinAt(portC, 1), pinAt(portC, 2), pinAt(portC, 3), pinAt(portC, 4),
           pinAt(portC, 5)});
  // Table 24-6: free, comparator, INT0, timer 0 match A, overflow, timer 1 match B, overflow,
  // capture.
  c.converter.triggers = {-1, -1, 0, 13, 15, 11, 12, 9};
  c.serial = {0xC0, 0xC1, 0xC2, 0xC4, 0xC5, 0xC6, pinAt(portD, 1), pinAt(portD, 0)};
  c.edges.singles = {{pinAt(portD, 2), 0x69, 0, 0x3C, 0, 0x3D, 0},
                     {pinAt(portD, 3), 0x69, 2, 0x3C, 1, 0x3D, 1}};
  c.edges.groups = {{portB, 0x6B, 0x3B, 0, 0x68, 0},
                    {portC, 0x6C, 0x3B, 1, 0x68, 1},
                    {portD, 0x6D, 0x3B, 2, 0x68, 2}};
  c.watchdog.control = 0x60;
  c.sleepControl = 0x53;
  c.sleepEnable = 0x01;
  c.pullControl = 0x55;
  c.pullsOff = 0x10;
  c.resetCauses = 0x54;
  return c;
}

Chip tiny() {
  constexpr int portB = 0;
  Chip c;
  c.name = "attiny85";
  c.flashWords = 0x1000;
  c.ramBegin = 0x60;
  c.ramEnd = 0x25F;
  c.wraps = true;
  c.ports = {{'B', 0x36, 0x37, 0x38, 0x3F}};
  // Table 9-1.
  c.interrupts = {{byService, 1, 0x5A, 6, 0x5B, 6, 0}, {byService, 2, 0x5A, 5, 0x5B, 5},
                  {byService, 3, 0x58, 6, 0x59, 6},    {byService, 4, 0x58, 2, 0x59, 2},
                  {byService, 5, 0x58, 1, 0x59, 1},    {byService, 8, 0x26, 4, 0x26, 3},
                  {byService, 9, 0x58, 5, 0x59, 5},    {byService, 10, 0x58, 4, 0x59, 4},
                  {byService, 11, 0x58, 3, 0x59, 3},   {byService, 12, 0x41, 7, 0x41, 6}};
  c.timers = {{Timer::Kind::byte, 0x4A, 0x53, 0x53, 0x52, 0x49, 0x48, 0, 0x58, 1, 4, 3, -1,
               pinAt(portB, 0), pinAt(portB, 1), -1, -1, 0, coarse},
              {Timer::Kind::tiny1, 0x50, 0x4C, 0x4C, 0x4F, 0x4E, 0x4B, 0x4D, 0x58, 2, 6, 5, -1,
               pinAt(portB, 1), pinAt(portB, 4), pinAt(portB, 0), pinAt(portB, 3), 1, doubling}};
  c.prescalers = {{0x01}, {0x02}};
  c.timerControl = 0x4C;
  measure(c.converter, {0x24, 0x25, 0x26, 0x23, 0x27},
          {pinAt(portB, 5), pinAt(portB, 2), pinAt(portB, 4), pinAt(portB, 3)});
  c.converter.grounded = 13;
  c.converter.bandgap = 12;
  // Table 17-6: free, comparator, INT0, timer 0 match A, overflow, match B, pins that change.
  c.converter.triggers = {-1, -1, 0, 7, 4, 8, 1, -1};
  c.edges.singles = {{pinAt(portB, 2), 0x55, 0, 0x5A, 6, 0x5B, 6}};
  c.edges.groups = {{portB, 0x35, 0x5A, 5, 0x5B, 5}};
  c.watchdog.control = 0x41;
  c.sleepControl = 0x55;
  c.sleepEnable = 0x20;
  c.pullControl = 0x55;
  c.pullsOff = 0x40;
  c.resetCauses = 0x54;
  return c;
}

}  // namespace

int Chip::portOf(char letter) const {
  for (std::size_t p = 0; p < ports.size(); ++p)
    if (ports[p].letter == letter) return static_cast<int>(p);
  return -1;
}

int Chip::pinNamed(const std::string& pin) const {
  if (pin.size() != 3 || pin[0] != 'P' || pin[2] < '0' || pin[2] > '7') return -1;
  const int port = portOf(pin[1]), bit = pin[2] - '0';
  if (port < 0 || (ports[static_cast<std::size_t>(port)].bits >> bit & 1) == 0) return -1;
  return pinAt(port, bit);
}

const Chip* chipNamed(const std::string& name) {
  static const std::vector<Chip> chips = {mega(), tiny()};
  for (const Chip& chip : chips)
    if (chip.name == name) return &chip;
  return nullptr;
}

}  // namespace ignavo::avr
