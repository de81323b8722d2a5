#pragma once
#include <algorithm>
#include <optional>

#include "avr/flags.h"
#include "avr/machine.h"

// For execute.cpp alone: what a stretch of instructions holds, and how they reach memory, I/O, the
// stack and each other.
#define inlined [[gnu::always_inline]] inline

namespace ignavo::avr {

// One stretch of execution. What it needs most is held here: all of it is compiled into one
// function, so that the compiler can keep that in registers.
class Execution {
 public:
  explicit Execution(Machine& m)
      : m_(m),
        memory_(m.state_.memory.data()),
        code_(m.flash_->code()),
        pc_(m.state_.pc),
        now_(m.state_.now),
        status_(m.state_.status),
        ramBegin_(m.chip_->ramBegin),
        ramEnd_(m.chip_->ramEnd) {}

  // Alone: no further than to what asks or changes anything outside.
  template <bool alone>
  inlined void run();

 private:
  inlined unsigned word(int n) const {
    return memory_[n] | static_cast<unsigned>(memory_[n + 1]) << 8;
  }
  inlined void setWord(int n, unsigned v) {
    memory_[n] = u8(v);
    memory_[n + 1] = u8(v >> 8);
  }
  inlined void flags(unsigned which, unsigned v) { status_ = u8((status_ & ~which) | v); }

  // Sums and differences of two bytes, with their flags.
  inlined unsigned added(unsigned a, unsigned b, unsigned c) {
    const unsigned sum = a + b + c;
    flags(arithmeticBits, afterAdd(a, b, sum));
    return sum;
  }
  inlined unsigned subtracted(unsigned a, unsigned b) {
    const unsigned difference = a - b;
    flags(arithmeticBits, afterSub(a, b, difference));
    return difference;
  }
  // With the carry of what came before; zero only stays so.
  inlined unsigned subtractedOn(unsigned a, unsigned b) {
    const unsigned difference = a - b - (status_ & carry);
    flags(arithmeticBits, afterSub(a, b, difference) & (status_ | ~static_cast<unsigned>(zero)));
    return difference;
  }

  // What others may look at or change meanwhile.
  inlined void give() {
    m_.state_.pc = pc_;
    m_.state_.now = now_;
    m_.state_.status = status_;
  }
  inlined void fail(Fault::Code code, unsigned reached) {
    give();
    m_.fail(code, pc_, reached);
    failed_ = true;
  }

  inlined std::uint8_t load(unsigned address);
  inlined void store(unsigned address, std::uint8_t value, int cycles);
  inlined bool push(std::uint8_t value);
  inlined std::uint8_t pop();
  inlined std::uint8_t readIo(unsigned address);
  inlined void writeIo(unsigned address, std::uint8_t value, int cycles);
  inlined bool jump(std::int64_t to);
  inlined bool call(std::int64_t to, unsigned from);
  inlined void skip(bool so);
  inlined void comeRound() {
    m_.cameRound_ = true;
    m_.stop();
  }
  inlined void countDown(const Instruction& i);
  inlined bool step(const Instruction& i);
  inlined bool moves(const Instruction& i);
  inlined bool controls(const Instruction& i);
  bool meetsOthers(const Instruction& i) const;
  struct Reach {
    unsigned address;
    bool writes;
  };
  std::optional<Reach> reachOf(const Instruction& i) const;

  Machine& m_;
  std::uint8_t* memory_;
  const Instruction* code_;
  std::uint32_t pc_;
  Cycle now_;
  std::uint8_t status_;
  Address ramBegin_, ramEnd_;
  bool failed_ = false;
};

inlined std::uint8_t Execution::readIo(unsigned address) {
  give();
  const std::uint8_t value = m_.readRegister(static_cast<Address>(address), now_);
  status_ = m_.state_.status;
  return value;
}

inlined void Execution::writeIo(unsigned address, std::uint8_t value, int cycles) {
  give();
  m_.writeRegister(static_cast<Address>(address), value, now_ + cycles);
  status_ = m_.state_.status;
}

inlined std::uint8_t Execution::load(unsigned address) {
  if (address >= ramBegin_ && address <= ramEnd_) return memory_[address];
  if (address < ioBegin) return memory_[address];
  if (address < ramBegin_) return readIo(address);
  fail(Fault::Code::memoryOutside, address);
  return 0;
}

inlined void Execution::store(unsigned address, std::uint8_t value, int cycles) {
  if (address >= ramBegin_ && address <= ramEnd_)
    memory_[address] = value;
  else if (address < ioBegin)
    memory_[address] = value;
  else if (address < ramBegin_)
    writeIo(address, value, cycles);
  else
    fail(Fault::Code::memoryOutside, address);
}

inlined bool Execution::push(std::uint8_t value) {
  std::uint16_t& stack = m_.state_.stack;
  if (stack < m_.floor_ || stack > ramEnd_) {
    fail(stack < m_.floor_ ? Fault::Code::stackMeetsVariables : Fault::Code::stackOutside, stack);
    return false;
  }
  memory_[stack--] = value;
  return true;
}

inlined std::uint8_t Execution::pop() {
  std::uint16_t& stack = m_.state_.stack;
  if (stack >= ramEnd_ || stack + 1 < ramBegin_) {
    fail(Fault::Code::stackOutside, stack + 1U);
    return 0;
  }
  return memory_[++stack];
}

// To a word address.
inlined bool Execution::jump(std::int64_t to) {
  const auto words = static_cast<std::int64_t>(m_.chip_->flashWords);
  if (m_.chip_->wraps) to = (to % words + words) % words;
  if (to < 0 || to >= words) {
    fail(Fault::Code::jumpOutside, static_cast<unsigned>(to * 2));
    return false;
  }
  pc_ = static_cast<std::uint32_t>(to);
  return true;
}

inlined bool Execution::call(std::int64_t to, unsigned from) {
  const std::uint16_t stack = m_.state_.stack;
  const std::uint32_t pc = pc_;
  if (!push(u8(from)) || !push(u8(from >> 8))) return false;
  if (jump(to)) return true;
  m_.state_.stack = stack;
  pc_ = pc;
  return false;
}

// The instruction behind the next one, where something is so.
inlined void Execution::skip(bool so) {
  ++pc_;
  if (!so) return;
  const int words = wordsOf(code_[pc_].op);
  pc_ += static_cast<std::uint32_t>(words);
  now_ += words;
}

// The branch of a loop that counts down: whole rounds are jumped over as long as nothing is due,
// but for the last, which leaves the flags as they are.
inlined void Execution::countDown(const Instruction& i) {
  if ((status_ & zero) != 0) {
    ++pc_;
    return;
  }
  ++now_;
  pc_ = static_cast<std::uint32_t>(static_cast<std::int64_t>(pc_) + 1 + i.k);
  const Flash::CountDown& loop = m_.flash_->countDown(i.r);
  const Cycle end = std::min(m_.limit_, m_.last_);
  const std::int64_t fit = (end - now_ - i.cycles) / loop.cycles - 1;
  if (fit <= 0) return;
  std::int64_t left = 0;
  for (int k = loop.bytes; k-- > 0;)
    left = left << 8 | memory_[loop.registers[static_cast<std::size_t>(k)]];
  const std::int64_t rounds = std::min(fit, left - 1);
  if (rounds <= 0) return;
  left -= rounds;
  for (int k = 0; k < loop.bytes; ++k, left >>= 8)
    memory_[loop.registers[static_cast<std::size_t>(k)]] = u8(static_cast<unsigned>(left & 255));
  now_ += rounds * loop.cycles;
}

}  // namespace ignavo::avr

#undef inlined
