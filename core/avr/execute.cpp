#include "avr/execution.h"
#include "avr/roles.h"

// The instructions, one after the other, until a limit or until one of them lets something else
// have its say. What each does, to which flags, is in the instruction set manual under its name;
// cycles are those of the column AVRe+ (the ATtiny85's AVRe takes the same for what it has).
//
// An instruction reads registers of I/O when it begins and writes them when it ends.
namespace ignavo::avr {

namespace {

constexpr int regX = 26, regY = 28, regZ = 30;

}  // namespace

template <bool alone>
void Execution::run() {
  while (now_ < m_.limit_) {
    const Instruction& i = code_[pc_];
    if (now_ + i.cycles > m_.last_ && now_ + effectCycles(i) > m_.last_) break;
    if constexpr (alone)
      if (meetsOthers(i)) {
        m_.met_ = true;
        break;
      }
    const std::uint32_t at = pc_;
    if (!step(i)) {
      pc_ = at;
      break;
    }
    now_ += i.cycles;
  }
  give();
}

// What works on registers; the rest is handed on. False: it failed.
bool Execution::step(const Instruction& i) {
  std::uint8_t& d = memory_[i.d];
  switch (i.op) {
    case Op::add:
      d = u8(added(d, memory_[i.r], 0));
      break;
    case Op::adc:
      d = u8(added(d, memory_[i.r], status_ & carry));
      break;
    case Op::sub:
      d = u8(subtracted(d, memory_[i.r]));
      break;
    case Op::subi:
      d = u8(subtracted(d, static_cast<unsigned>(i.k)));
      break;
    case Op::sbc:
      d = u8(subtractedOn(d, memory_[i.r]));
      break;
    case Op::sbci:
      d = u8(subtractedOn(d, static_cast<unsigned>(i.k)));
      break;
    case Op::cp:
      subtracted(d, memory_[i.r]);
      break;
    case Op::cpi:
      subtracted(d, static_cast<unsigned>(i.k));
      break;
    case Op::cpc:
      subtractedOn(d, memory_[i.r]);
      break;
    case Op::and_:
      d = u8(d & memory_[i.r]);
      flags(logicBits, outcome(d, 0));
      break;
    case Op::andi:
      d = u8(d & static_cast<unsigned>(i.k));
      flags(logicBits, outcome(d, 0));
      break;
    case Op::or_:
      d = u8(d | memory_[i.r]);
      flags(logicBits, outcome(d, 0));
      break;
    case Op::ori:
      d = u8(d | static_cast<unsigned>(i.k));
      flags(logicBits, outcome(d, 0));
      break;
    case Op::eor:
      d = u8(d ^ memory_[i.r]);
      flags(logicBits, outcome(d, 0));
      break;
    case Op::com:
      d = u8(~static_cast<unsigned>(d));
      flags(logicBits | carry, outcome(d, 0) | carry);
      break;
    case Op::neg:
      d = u8(subtracted(0, d));
      break;
    case Op::inc:
      d = u8(d + 1U);
      flags(logicBits, outcome(d, d == 0x80 ? 1 : 0));
      break;
    case Op::dec:
      d = u8(d - 1U);
      flags(logicBits, outcome(d, d == 0x7F ? 1 : 0));
      break;
    case Op::swap:
      d = u8(static_cast<unsigned>(d) << 4 | d >> 4);
      break;
    case Op::asr: {
      const std::uint8_t a = d;
      d = u8((a & 0x80U) | a >> 1);
      flags(logicBits | carry, afterShift(a, d));
      break;
    }
    case Op::lsr: {
      const std::uint8_t a = d;
      d = u8(a >> 1U);
      flags(logicBits | carry, afterShift(a, d));
      break;
    }
    case Op::ror: {
      const std::uint8_t a = d;
      d = u8((status_ & carry ? 0x80U : 0U) | a >> 1);
      flags(logicBits | carry, afterShift(a, d));
      break;
    }
    case Op::adiw: {
      const unsigned a = word(i.d), v = (a + static_cast<unsigned>(i.k)) & 0xFFFF;
      setWord(i.d, v);
      flags(logicBits | carry, afterWord(v, (~a & v & 0x8000) != 0, (a & ~v & 0x8000) != 0));
      break;
    }
    case Op::sbiw: {
      const unsigned a = word(i.d), v = (a - static_cast<unsigned>(i.k)) & 0xFFFF;
      setWord(i.d, v);
      flags(logicBits | carry, afterWord(v, (a & ~v & 0x8000) != 0, (v & ~a & 0x8000) != 0));
      break;
    }
    case Op::mul: {
      const unsigned product = static_cast<unsigned>(d) * memory_[i.r];
      setWord(0, product);
      flags(carry | zero, product >> 15 | (product == 0 ? zero : 0U));
      break;
    }
    case Op::muls:
    case Op::mulsu:
    case Op::fmul:
    case Op::fmuls:
    case Op::fmulsu: {
      const bool bySigned = i.op != Op::fmul;
      const bool bothSigned = i.op == Op::muls || i.op == Op::fmuls;
      const int a = bySigned ? static_cast<std::int8_t>(d) : d;
      const int b = bothSigned ? static_cast<std::int8_t>(memory_[i.r]) : memory_[i.r];
      unsigned product = static_cast<unsigned>(a * b) & 0xFFFF;
      const bool c = (product & 0x8000) != 0;
      if (i.op == Op::fmul || i.op == Op::fmuls || i.op == Op::fmulsu)
        product = product << 1 & 0xFFFF;
      setWord(0, product);
      flags(carry | zero, (c ? carry : 0U) | (product == 0 ? zero : 0U));
      break;
    }
    case Op::mov:
      d = memory_[i.r];
      break;
    case Op::movw:
      setWord(i.d, word(i.r));
      break;
    case Op::ldi:
      d = u8(static_cast<unsigned>(i.k));
      break;
    case Op::bset:
    case Op::bclr: {
      const bool set = i.op == Op::bset;
      const auto mask = u8(1U << i.d);
      if (set && mask == interrupts && (status_ & interrupts) == 0) {
        // The instruction behind it comes before any interrupt.
        m_.state_.shielded = true;
        m_.limit_ = now_;
      }
      status_ = u8(set ? status_ | mask : status_ & ~mask);
      break;
    }
    case Op::bst:
      status_ = u8((status_ & ~transfer) | ((d >> i.r & 1U) != 0 ? transfer : 0U));
      break;
    case Op::bld:
      d = u8((status_ & transfer) != 0 ? d | 1U << i.r : d & ~(1U << i.r));
      break;
    case Op::nop:
    case Op::break_:
    case Op::spm:  // outside the boot section it does nothing (26.2)
      break;
    case Op::cpse:
      skip(d == memory_[i.r]);
      return true;
    case Op::sbrc:
      skip((d >> i.r & 1U) == 0);
      return true;
    case Op::sbrs:
      skip((d >> i.r & 1U) != 0);
      return true;
    case Op::brbs:
      if ((status_ >> i.d & 1U) == 0) break;
      if (!jump(static_cast<std::int64_t>(pc_) + 1 + i.k)) return false;
      ++now_;
      return true;
    case Op::brbc:
      if ((status_ >> i.d & 1U) != 0) break;
      if (!jump(static_cast<std::int64_t>(pc_) + 1 + i.k)) return false;
      ++now_;
      return true;
    case Op::countDown:
      countDown(i);
      return true;
    case Op::rjmp: {
      const std::uint32_t from = pc_;
      if (!jump(static_cast<std::int64_t>(pc_) + 1 + i.k)) return false;
      if (m_.watchesRounds_ && pc_ <= from) comeRound();
      return true;
    }
    default:
      return moves(i);
  }
  ++pc_;
  return true;
}

// What works on memory.
bool Execution::moves(const Instruction& i) {
  const auto indirect = [&](int pointer, int before, int behind) {
    const unsigned address = (word(pointer) + static_cast<unsigned>(before)) & 0xFFFF;
    if (before != 0 || behind != 0) setWord(pointer, address + static_cast<unsigned>(behind));
    return address;
  };
  const auto loaded = [&](unsigned address) {
    const std::uint8_t v = load(address);
    if (!failed_) memory_[i.d] = v;
  };
  const auto stored = [&](unsigned address, std::uint8_t v) { store(address, v, i.cycles); };
  const std::uint8_t d = memory_[i.d];
  switch (i.op) {
    case Op::ldX:
      loaded(word(regX));
      break;
    case Op::ldXplus:
      loaded(indirect(regX, 0, 1));
      break;
    case Op::ldXminus:
      loaded(indirect(regX, -1, 0));
      break;
    case Op::ldYplus:
      loaded(indirect(regY, 0, 1));
      break;
    case Op::ldYminus:
      loaded(indirect(regY, -1, 0));
      break;
    case Op::lddY:
      loaded((word(regY) + i.r) & 0xFFFF);
      break;
    case Op::ldZplus:
      loaded(indirect(regZ, 0, 1));
      break;
    case Op::ldZminus:
      loaded(indirect(regZ, -1, 0));
      break;
    case Op::lddZ:
      loaded((word(regZ) + i.r) & 0xFFFF);
      break;
    case Op::lds:
      loaded(static_cast<unsigned>(i.k));
      pc_ += 2;
      return !failed_;
    case Op::stX:
      stored(word(regX), d);
      break;
    case Op::stXplus:
      stored(indirect(regX, 0, 1), d);
      break;
    case Op::stXminus:
      stored(indirect(regX, -1, 0), d);
      break;
    case Op::stYplus:
      stored(indirect(regY, 0, 1), d);
      break;
    case Op::stYminus:
      stored(indirect(regY, -1, 0), d);
      break;
    case Op::stdY:
      stored((word(regY) + i.r) & 0xFFFF, d);
      break;
    case Op::stZplus:
      stored(indirect(regZ, 0, 1), d);
      break;
    case Op::stZminus:
      stored(indirect(regZ, -1, 0), d);
      break;
    case Op::stdZ:
      stored((word(regZ) + i.r) & 0xFFFF, d);
      break;
    case Op::sts:
      stored(static_cast<unsigned>(i.k), d);
      pc_ += 2;
      return !failed_;
    case Op::lpm0:
      memory_[0] = m_.flash_->byteAt(word(regZ));
      break;
    case Op::lpm:
      memory_[i.d] = m_.flash_->byteAt(word(regZ));
      break;
    case Op::lpmPlus:
      memory_[i.d] = m_.flash_->byteAt(indirect(regZ, 0, 1));
      break;
    case Op::in:
      m_.asked_ = i.r;
      loaded(static_cast<unsigned>(i.k));
      m_.asked_ = allPins;
      break;
    case Op::out:
      stored(static_cast<unsigned>(i.k), d);
      break;
    case Op::push:
      if (!push(d)) return false;
      break;
    case Op::pop: {
      const std::uint8_t v = pop();
      if (failed_) return false;
      memory_[i.d] = v;
      break;
    }
    default:
      return controls(i);
  }
  ++pc_;
  return !failed_;
}

// What works on bits of I/O, and where the program goes.
bool Execution::controls(const Instruction& i) {
  const auto io = static_cast<unsigned>(i.k);
  switch (i.op) {
    case Op::sbi:
    case Op::cbi: {
      const auto mask = u8(1U << i.r);
      give();
      m_.writeBit(static_cast<Address>(io), mask, i.op == Op::sbi, now_ + i.cycles);
      status_ = m_.state_.status;
      ++pc_;
      return true;
    }
    case Op::sbic:
    case Op::sbis: {
      give();
      const bool set = m_.readBit(static_cast<Address>(io), u8(1U << i.r), now_);
      skip(set == (i.op == Op::sbis));
      return true;
    }
    case Op::jmp: {
      const std::uint32_t from = pc_;
      if (!jump(i.k)) return false;
      if (m_.watchesRounds_ && pc_ <= from) comeRound();
      return true;
    }
    case Op::ijmp:
      return jump(word(regZ));
    case Op::rcall:
      return call(static_cast<std::int64_t>(pc_) + 1 + i.k, pc_ + 1);
    case Op::icall:
      return call(word(regZ), pc_ + 1);
    case Op::call:
      return call(i.k, pc_ + 2);
    case Op::ret:
    case Op::reti: {
      const unsigned high = pop();
      const unsigned low = failed_ ? 0U : pop();
      if (failed_ || !jump(high << 8 | low)) return false;
      if (i.op == Op::reti) {
        status_ |= interrupts;
        m_.state_.shielded = true;
        m_.limit_ = now_;
      }
      return true;
    }
    case Op::sleep:
      ++pc_;
      if (!m_.maySleep()) return true;
      m_.state_.asleep = true;
      m_.limit_ = now_;
      return true;
    case Op::wdr:
      ++pc_;
      m_.feedWatchdog(now_);
      m_.findDue();
      return true;
    default:
      fail(pc_ >= m_.chip_->flashWords ? Fault::Code::jumpOutside : Fault::Code::notAnInstruction,
           pc_ * 2);
      return false;
  }
}

// Does it ask, or may it change, anything outside?
bool Execution::meetsOthers(const Instruction& i) const {
  const std::optional<Reach> reach = reachOf(i);
  if (!reach || reach->address < ioBegin || reach->address >= ramBegin_) return false;
  const unsigned roles = m_.roles_->at[reach->address].roles;
  using Roles = Machine::Roles;
  if (!reach->writes) return (roles & Roles::pins) != 0;
  constexpr unsigned own =
      Roles::flags | Roles::masks | Roles::status | Roles::stack | Roles::edges;
  return (roles & ~own) != 0;
}

// Where it loads from or stores to.
std::optional<Execution::Reach> Execution::reachOf(const Instruction& i) const {
  // By a pointer: which, and how far it goes back first; in the order of the operations.
  struct Way {
    int pointer;
    unsigned back;
  };
  static constexpr Way ways[] = {{regX, 0}, {regX, 0}, {regX, 1}, {regY, 0}, {regY, 1},
                                 {regY, 0}, {regZ, 0}, {regZ, 1}, {regZ, 0}};
  const bool loads = i.op >= Op::ldX && i.op <= Op::lddZ;
  if (loads || (i.op >= Op::stX && i.op <= Op::stdZ)) {
    const Op first = loads ? Op::ldX : Op::stX;
    const Way way = ways[static_cast<std::size_t>(i.op) - static_cast<std::size_t>(first)];
    const bool displaced =
        i.op == Op::lddY || i.op == Op::lddZ || i.op == Op::stdY || i.op == Op::stdZ;
    return Reach{(word(way.pointer) - way.back + (displaced ? i.r : 0U)) & 0xFFFF, !loads};
  }
  const auto direct = static_cast<unsigned>(i.k);
  switch (i.op) {
    case Op::lds:
    case Op::in:
    case Op::sbic:
    case Op::sbis:
      return Reach{direct, false};
    case Op::sts:
    case Op::out:
    case Op::sbi:
    case Op::cbi:
      return Reach{direct, true};
    default:
      return std::nullopt;
  }
}

void Machine::execute() {
  if (alone_)
    Execution(*this).run<true>();
  else
    Execution(*this).run<false>();
}

}  // namespace ignavo::avr
