#pragma once
#include <cstdint>

namespace ignavo::avr {

// What an instruction does, named as in the instruction set manual (AVR Instruction Set Manual,
// DS40002198). Addressing modes that differ are different operations.
enum class Op : std::uint8_t {
  none,  // reserved: not an instruction of this chip
  add,
  adc,
  adiw,
  sub,
  subi,
  sbc,
  sbci,
  sbiw,
  and_,
  andi,
  or_,
  ori,
  eor,
  com,
  neg,
  inc,
  dec,
  swap,
  asr,
  lsr,
  ror,
  mul,
  muls,
  mulsu,
  fmul,
  fmuls,
  fmulsu,
  rjmp,
  ijmp,
  jmp,
  rcall,
  icall,
  call,
  ret,
  reti,
  cpse,
  cp,
  cpc,
  cpi,
  sbrc,
  sbrs,
  sbic,
  sbis,
  brbs,
  brbc,
  countDown,  // a brbc on Z that closes a loop which does nothing but count down
  mov,
  movw,
  ldi,
  ldX,
  ldXplus,
  ldXminus,
  ldYplus,
  ldYminus,
  lddY,
  ldZplus,
  ldZminus,
  lddZ,
  lds,
  stX,
  stXplus,
  stXminus,
  stYplus,
  stYminus,
  stdY,
  stZplus,
  stZminus,
  stdZ,
  sts,
  lpm0,
  lpm,
  lpmPlus,
  spm,
  in,
  out,
  push,
  pop,
  sbi,
  cbi,
  bset,
  bclr,
  bst,
  bld,
  break_,
  nop,
  sleep,
  wdr
};

// An instruction taken apart.
struct Instruction {
  Op op = Op::none;
  std::uint8_t d = 0;       // register, or bit of the status register
  std::uint8_t r = 0;       // second register, bit, or displacement
  std::uint8_t cycles = 1;  // that it takes at least (cyclesOf)
  // A constant, an address of data or I/O (as a data address), a branch's distance in words, or a
  // jump's goal as a word address.
  std::int32_t k = 0;
  bool operator==(const Instruction&) const = default;
};

// The cycles from its beginning to where what it does is done as far as others can tell: what reads
// memory or I/O reads at its beginning, all else takes effect at its end.
constexpr int effectCycles(const Instruction& i) {
  const bool reads = (i.op >= Op::ldX && i.op <= Op::lds) || i.op == Op::in || i.op == Op::sbic ||
                     i.op == Op::sbis;
  return reads ? 0 : i.cycles;
}

// From the word at an address and the one behind it. `enhanced`: the chip has multiplication, long
// jumps and calls (AVRe+); else AVRe (manual, appendix A).
Instruction decoded(std::uint16_t word, std::uint16_t following, bool enhanced);

// The words that it takes in flash.
constexpr int wordsOf(Op op) {
  return op == Op::jmp || op == Op::call || op == Op::lds || op == Op::sts ? 2 : 1;
}

// Its mnemonic, as the manual writes it, in small letters.
const char* mnemonicOf(Op op);

// The clock cycles that it takes at least (manual, per instruction, columns AVRe and AVRe+): skips
// take one more for each word that they skip, and branches that are taken one more.
int cyclesOf(Op op);

}  // namespace ignavo::avr
