#pragma once
#include <array>
#include <cstdint>
#include <memory>

#include "avr/chips.h"
#include "avr/flash.h"
#include "avr/outside.h"

namespace ignavo::avr {

// What a program did that a chip cannot do. It stands where it did it.
struct Fault {
  enum class Code : std::uint8_t {
    none,
    notAnInstruction,
    jumpOutside,          // beyond the end of flash
    stackMeetsVariables,  // a push or call below what the stack may take
    stackOutside,         // above the last byte of memory
    memoryOutside         // a load or store where there is no memory
  };
  Code code = Code::none;
  std::uint32_t address = 0;  // of the instruction, in bytes
  std::uint16_t word = 0;     // that instruction
  std::uint32_t reached = 0;  // what it reached for, in bytes
  Cycle at = 0;
  bool operator==(const Fault&) const = default;
};

// A timer (15, 16, 18; ATtiny85: 11, 12), as it stood at `at`.
struct TimerState {
  Cycle at = 0;
  std::uint16_t count = 0;
  bool down = false;
  bool written = false;                    // its count: the next tick matches nothing
  std::array<std::uint16_t, 2> compare{};  // in effect; a change may wait in the registers
  std::array<bool, 2> out{};               // the compare outputs
  bool operator==(const TimerState&) const = default;
};

// The converter (24; 17). Moments are `never` where nothing is under way.
struct ConverterState {
  Cycle enabled = never;  // since when its clock runs
  Cycle samples = never, done = never;
  bool first = true;  // the next conversion takes longer
  bool locked = false;
  std::uint16_t sample = 0, result = 0;
  bool operator==(const ConverterState&) const = default;
};

// The serial unit (20).
struct SerialState {
  Cycle nextBit = never;   // of what is being sent
  std::uint16_t bits = 0;  // that are still to come, lowest first
  int left = 0;
  bool high = true;  // the line
  std::uint8_t sending = 0;
  std::uint8_t waiting = 0;  // behind it
  bool full = false;
  std::array<std::uint8_t, 2> heard{};
  std::uint8_t heardCount = 0;
  bool operator==(const SerialState&) const = default;
};

// All that decides how a chip goes on: a value.
struct State {
  static constexpr std::size_t memoryBytes = 0x900;
  Cycle now = 0;
  std::uint32_t pc = 0;  // in words
  std::uint16_t stack = 0;
  std::uint8_t status = 0;
  std::uint8_t upper = 0;  // of a 16-bit register that is being written or read
  bool asleep = false;
  bool shielded = false;  // one more instruction comes before any interrupt
  std::array<std::uint8_t, memoryBytes> memory{};  // registers, I/O, RAM
  std::array<TimerState, 3> timers{};
  std::array<Cycle, 2> prescalers{};  // when they were cleared
  ConverterState converter;
  SerialState serial;
  std::array<std::uint8_t, 3> forced{}, forcedHigh{};  // pins that a unit drives, per port
  std::array<std::uint8_t, 3> levels{};                // as pins were told last
  std::array<Drive, 24> drives{};                      // as they were told last
  Cycle barks = never;                                 // the watchdog
  Cycle fed = never;                                   // when it began to count; never: it is off
  Cycle mayChange = -1;                                // until then it may be changed
  Fault fault;
};

// A chip that runs a program. The caller owns time: run() goes on to a moment. Copies go on
// independently. Not for several threads at once.
//
// Not modelled: clocks other than the one that is handed in, sleep modes deeper than idle (they are
// taken as idle), EEPROM, self-programming, two-wire and SPI units, comparator, counters clocked
// by pins, dead times; their registers are memory.
class Machine {
 public:
  Machine(const Chip& chip, std::shared_ptr<const Flash> flash, std::int64_t hertz);

  // Power comes on, or the reset pin was pulled: registers are as the data sheet says, memory too
  // (it is taken as 0), and pins are inputs. Time goes on.
  void reset(Outside& outside);

  // Does all that has taken effect by that cycle; nothing once there is a fault. Where rounds are
  // watched it stops behind each jump back: cameRound() says so.
  void run(Outside& outside, Cycle last, bool watchesRounds = false);
  bool cameRound() const { return cameRound_; }
  // Likewise, but only what is its own business: it stands before the first instruction, or before
  // the moment at which the first unit may, that asks or changes anything outside.
  void runAlone(Cycle last, bool watchesRounds = false);
  // For whoever is outside, while it runs: no further than the instruction that is being done.
  void stop() { last_ = limit_ = 0; }
  // When the next thing takes effect that it does by itself: an instruction, what a unit does, or
  // what it sleeps for; `never`.
  Cycle nextTime() const;

  // A pin rose or fell, at or after now().
  void pinChanged(Outside& outside, int pin, bool high, Cycle at);
  // Has its serial unit room for another byte?
  bool hasRoom() const { return state_.serial.heardCount < state_.serial.heard.size(); }
  // A byte came over the serial line, all of it.
  void receive(Outside& outside, std::uint8_t byte, Cycle at);

  // The lowest address that the stack may take: behind the variables.
  void keepStackAbove(Address floor) { floor_ = floor; }

  Cycle now() const { return state_.now; }
  const Fault& fault() const { return state_.fault; }
  const Chip& chip() const { return *chip_; }
  const Flash& flash() const { return *flash_; }
  std::uint32_t counter() const { return state_.pc * 2; }  // in bytes
  Address stackPointer() const { return state_.stack; }
  bool asleep() const { return state_.asleep; }
  Cycle slept() const { return slept_; }         // of all cycles that it went through itself
  std::uint8_t memoryAt(Address address) const;  // as it stands; registers of I/O as written last
  const State& state() const { return state_; }
  std::int64_t hertz() const { return hertz_; }
  // For tests and for what is put into memory from outside.
  void poke(Address address, std::uint8_t value) { state_.memory[address] = value; }
  void jumpTo(std::uint32_t byteAddress) { state_.pc = byteAddress / 2; }

  // Is everything as in `then`, `later` after?
  bool sameAs(const Machine& then, Cycle later) const;
  // All times are `by` later.
  void shift(Cycle by);

 private:
  friend class Execution;
  struct Roles;  // of addresses: what reading or writing them does beside memory
  static const Roles& rolesOf(const Chip& chip);

  // ---- life
  void execute();
  void sleepUntil(Cycle at) {
    if (at <= state_.now) return;
    slept_ += at - state_.now;
    state_.now = at;
  }
  Cycle nextEffect() const;  // of the instruction that comes next
  Cycle nextSeen() const;    // of what units do by themselves, at the earliest
  void beUnderWay(Cycle at);
  bool interrupts() const;  // is one due that may?
  bool dozes() const;       // asleep, and nothing has come yet that wakes it
  void interrupt();
  void happen();  // all that is due by now
  void findDue();
  void watchPending();
  void fail(Fault::Code code, std::uint32_t pc, std::uint32_t reached);
  bool isDue(const Chip::Interrupt& interrupt) const;
  bool isAnyDue() const;
  bool maySleep() const;
  void raise(Address flags, int flag);
  void restart(std::uint8_t cause);

  // ---- registers of I/O, accessed at a moment within an instruction
  std::uint8_t readRegister(Address address, Cycle at);
  void writeRegister(Address address, std::uint8_t value, Cycle at);
  // One bit of the lower 32: pins and flags are asked, or written, alone (31; 21).
  bool readBit(Address address, std::uint8_t mask, Cycle at);
  void writeBit(Address address, std::uint8_t mask, bool set, Cycle at);
  void arrive(Cycle at);  // what is due before happens first
  std::uint8_t& reg(Address address) { return state_.memory[address]; }
  std::uint8_t reg(Address address) const { return state_.memory[address]; }
  bool bit(Address address, int n) const { return (state_.memory[address] >> n & 1) != 0; }

  // ---- ports
  // Of those pins of it.
  void refreshPort(int port, unsigned bits, Cycle at);
  void force(int pin, bool forced, bool high);

  // ---- timers
  struct TimerMode;
  TimerMode modeOf(std::size_t timer) const;
  Cycle divideOf(std::size_t timer) const;  // 0: it stands
  bool held(std::size_t timer) const;
  void advanceTimer(std::size_t timer, Cycle to);
  void tick(std::size_t timer, const TimerMode& mode, Cycle at);
  void match(std::size_t timer, int channel, const TimerMode& mode, bool down, Cycle at);
  void output(std::size_t timer, int channel, bool high, Cycle at);
  void connectOutputs(std::size_t timer, Cycle at);
  std::int64_t ticksToEvent(const TimerState& t, const TimerMode& mode, bool all) const;
  Cycle timerDue(std::size_t timer) const;
  bool drivesPin(std::size_t timer) const;
  std::uint16_t written(std::size_t timer, int channel) const;
  std::uint16_t topRegister(std::size_t timer) const;
  void takeCompare(std::size_t timer, const TimerMode& mode);
  void writeTimer(std::size_t timer, Address address, std::uint8_t value, Cycle at);
  std::uint8_t readTimer(std::size_t timer, Address address, Cycle at);
  void writeTimerControl(std::uint8_t value, Cycle at);

  // ---- converter
  void writeConverter(Address address, std::uint8_t value, Cycle at);
  void convert(Cycle at);
  bool convertsByItself() const;
  void sampleNow();
  void conversionDone();
  void triggerConversion(Address flags, int flag, Cycle at);

  // ---- serial unit
  Cycle bitCycles() const;
  void writeSerial(Address address, std::uint8_t value, Cycle at);
  std::uint8_t readSerial();
  void send(std::uint8_t byte, Cycle at);
  void nextBit();

  // ---- watchdog
  void writeWatchdog(std::uint8_t value, Cycle at);
  void feedWatchdog(Cycle at);
  void setWatchdog(Cycle at);
  void bark();

  // ---- pins that change
  bool isLow(std::size_t single) const;

  const Chip* chip_;
  const Roles* roles_;
  std::shared_ptr<const Flash> flash_;
  std::int64_t hertz_;
  Address floor_;
  State state_;
  // What follows from the state: worked out, never compared.
  Cycle due_ = never;     // the first thing that happens by itself
  bool pending_ = false;  // an interrupt may be
  Cycle slept_ = 0;
  Cycle limit_ = 0;           // execute() goes on to here
  Cycle last_ = 0;            // and begins nothing that is complete behind it
  unsigned asked_ = allPins;  // bits of a port that is read
  bool watchesRounds_ = false, cameRound_ = false;
  bool alone_ = false, met_ = false;  // it keeps to itself; and came to what it may not do then
  Outside* outside_ = nullptr;        // while it runs
  bool executing_ = false;            // an instruction: no reset comes into the middle of it
};

}  // namespace ignavo::avr
