#pragma once
#include <array>
#include <cstdint>
#include <string>
#include <vector>

namespace ignavo::avr {

// Addresses are those of data memory: registers of I/O lie 0x20 above their I/O address.
using Address = std::uint16_t;

constexpr Address ioBegin = 0x20;
constexpr Address statusRegister = 0x5F, stackLow = 0x5D, stackHigh = 0x5E;

// A pin is told by the place of its port in Chip::ports and its bit.
constexpr int pinsPerPort = 8;
constexpr int pinAt(int port, int bit) { return port * pinsPerPort + bit; }
constexpr unsigned bitOf(int pin) { return 1U << pin % pinsPerPort; }
constexpr unsigned allPins = 0xFF;  // of a port

// What chips differ in, from their data sheets: ATmega328P (DS40002061B) and ATtiny85 (Atmel
// 2586Q). The numbers in comments are sections of these.
struct Chip {
  struct Port {  // 14 I/O ports; 10
    char letter = 'B';
    Address pin = 0, direction = 0, port = 0;
    std::uint8_t bits = 0xFF;  // that exist
  };
  // Something that may interrupt: a flag, and the bit that lets it. 12 Interrupts; 9.
  struct Interrupt {
    enum class Cleared : std::uint8_t { byService, byCause } cleared = Cleared::byService;
    int vector = 0;  // its number, from 0 for reset
    Address flags = 0;
    int flag = 0;  // bit
    Address masks = 0;
    int mask = 0;
    int edge = -1;  // of Edges::singles: it may also be that a level interrupts
  };
  // 15 Timer 0, 16 Timer 1, 18 Timer 2 of the ATmega328P; 11 Timer 0, 12 Timer 1 of the ATtiny85.
  struct Timer {
    enum class Kind : std::uint8_t {
      byte,   // 8 bits
      word,   // 16 bits, with a register for the upper byte, and a top of its own
      tiny1,  // 8 bits, the ATtiny85's timer 1: OCR1C is its top
    } kind = Kind::byte;
    Address controlA = 0, controlB = 0, force = 0;           // force: where FOCA and FOCB are
    Address count = 0, compareA = 0, compareB = 0, top = 0;  // top: ICR1, OCR1C; 0: none
    Address flags = 0;
    int overflow = 0, matchA = 0, matchB = 0, capture = -1;  // bits in `flags`
    int pinA = -1, pinB = -1;                                // compare outputs
    int notPinA = -1, notPinB = -1;                          // and inverted ones
    int prescaler = 0;                                       // which of Chip::prescalers
    std::array<std::uint16_t, 16> divides{};                 // per clock select; 0: stopped
  };
  // What clocks timers (17, 18.9; 11.7, 12.2.2): a counter that GTCCR clears and holds.
  struct Prescaler {
    std::uint8_t clears = 0;  // bit of GTCCR
  };
  struct Converter {  // 24; 17
    Address low = 0, high = 0, controlA = 0, controlB = 0, select = 0;
    std::uint8_t channels = 0x0F;             // bits of `select` that choose one
    int leftBit = 5;                          // of `select`: the result lies to the left
    std::array<std::int8_t, 16> pins{};       // per channel; −1: none
    std::int8_t grounded = 15, bandgap = 14;  // channels that measure those
    std::array<std::int8_t, 8> triggers{};    // flags that start it, by place in `interrupts`
  };
  struct Serial {  // 20
    Address controlA = 0, controlB = 0, controlC = 0, rateLow = 0, rateHigh = 0, data = 0;
    int sends = -1, hears = -1;  // pins
  };
  // 13.2; 9.3
  struct Edges {
    struct Single {
      int pin = -1;
      Address control = 0;
      int shift = 0;  // of its two bits
      Address flags = 0;
      int flag = 0;
      Address masks = 0;
      int mask = 0;
    };
    struct Group {
      int port = 0;
      Address chosen = 0;  // bits of the pins that count
      Address flags = 0;
      int flag = 0;
      Address enables = 0;
      int enable = 0;
    };
    std::vector<Single> singles;
    std::vector<Group> groups;
  };
  struct Watchdog {  // 11.9; 8.5
    Address control = 0;
    int interruptFlag = 7, interruptMask = 6;
  };

  std::string name;
  bool enhanced = false;  // AVRe+: multiplication, long jumps
  std::uint32_t flashWords = 0;
  Address ramBegin = 0, ramEnd = 0;  // the last byte of it
  int vectorWords = 1;
  bool wraps = false;  // relative jumps reach over the end of flash
  std::vector<Port> ports;
  std::vector<Interrupt> interrupts;  // by vector: the first goes first
  std::vector<Timer> timers;
  std::vector<Prescaler> prescalers;
  Address timerControl = 0;   // GTCCR
  std::uint8_t holds = 0x80;  // bit of it that holds the prescalers that are cleared
  Converter converter;
  Serial serial;  // data 0: it has none
  Edges edges;
  Watchdog watchdog;
  Address sleepControl = 0;
  std::uint8_t sleepEnable = 0;
  Address pullControl = 0;  // MCUCR
  std::uint8_t pullsOff = 0;
  Address resetCauses = 0;  // MCUSR

  std::uint32_t flashBytes() const { return flashWords * 2; }
  // The place of a port by its letter; -1: none. A pin by its name on the data sheet, "PD4".
  int portOf(char letter) const;
  int pinNamed(const std::string& name) const;
};

// By the compiler's name: "atmega328p", "attiny85"; nullptr: no such.
const Chip* chipNamed(const std::string& name);

}  // namespace ignavo::avr
