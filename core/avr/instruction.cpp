#include "avr/instruction.h"

#include <array>
#include <cstddef>

// Instructions are told apart by the bits that do not belong to an operand: one row each, with how
// its operands lie in the word. All 65,536 words are looked up once, and remembered by their row.
namespace ignavo::avr {

namespace {

// How operands lie in a word (manual, per instruction).
enum class Lies : std::uint8_t {
  nowhere,
  d5r5,   // ....  ..rd dddd rrrr
  d5,     // ....  ...d dddd ....
  d4k8,   // ....  KKKK dddd KKKK, registers 16 … 31
  d2k6,   // .... .... KKdd KKKK, registers 24, 26, 28, 30
  d4r4,   // .... .... dddd rrrr, registers 16 … 31
  d3r3,   // .... .... .ddd .rrr, registers 16 … 23
  pairs,  // .... .... dddd rrrr, register pairs
  k12,    // .... kkkk kkkk kkkk, signed
  k7s3,   // .... ..kk kkkk ksss, signed
  k22,    // .... ...k kkkk ...k and a word
  d5b3,   // .... ...d dddd .bbb
  a5b3,   // .... .... AAAA Abbb, I/O
  s3,     // .... .... .sss ....
  d5q6,   // ..q. qq.d dddd .qqq
  d5k16,  // .... ...d dddd .... and a word
  a6d5    // .... .AAd dddd AAAA, I/O
};

struct Row {
  Op op;
  const char* name;
  std::uint16_t mask, bits;
  Lies lies;
  std::uint8_t cycles;
  bool enhanced = false;  // only where multiplication and long jumps are
};

constexpr Row rows[] = {
    {Op::nop, "nop", 0xFFFF, 0x0000, Lies::nowhere, 1},
    {Op::movw, "movw", 0xFF00, 0x0100, Lies::pairs, 1},
    {Op::muls, "muls", 0xFF00, 0x0200, Lies::d4r4, 2, true},
    {Op::mulsu, "mulsu", 0xFF88, 0x0300, Lies::d3r3, 2, true},
    {Op::fmul, "fmul", 0xFF88, 0x0308, Lies::d3r3, 2, true},
    {Op::fmuls, "fmuls", 0xFF88, 0x0380, Lies::d3r3, 2, true},
    {Op::fmulsu, "fmulsu", 0xFF88, 0x0388, Lies::d3r3, 2, true},
    {Op::cpc, "cpc", 0xFC00, 0x0400, Lies::d5r5, 1},
    {Op::sbc, "sbc", 0xFC00, 0x0800, Lies::d5r5, 1},
    {Op::add, "add", 0xFC00, 0x0C00, Lies::d5r5, 1},
    {Op::cpse, "cpse", 0xFC00, 0x1000, Lies::d5r5, 1},
    {Op::cp, "cp", 0xFC00, 0x1400, Lies::d5r5, 1},
    {Op::sub, "sub", 0xFC00, 0x1800, Lies::d5r5, 1},
    {Op::adc, "adc", 0xFC00, 0x1C00, Lies::d5r5, 1},
    {Op::and_, "and", 0xFC00, 0x2000, Lies::d5r5, 1},
    {Op::eor, "eor", 0xFC00, 0x2400, Lies::d5r5, 1},
    {Op::or_, "or", 0xFC00, 0x2800, Lies::d5r5, 1},
    {Op::mov, "mov", 0xFC00, 0x2C00, Lies::d5r5, 1},
    {Op::cpi, "cpi", 0xF000, 0x3000, Lies::d4k8, 1},
    {Op::sbci, "sbci", 0xF000, 0x4000, Lies::d4k8, 1},
    {Op::subi, "subi", 0xF000, 0x5000, Lies::d4k8, 1},
    {Op::ori, "ori", 0xF000, 0x6000, Lies::d4k8, 1},
    {Op::andi, "andi", 0xF000, 0x7000, Lies::d4k8, 1},
    {Op::lddZ, "ldd", 0xD208, 0x8000, Lies::d5q6, 2},
    {Op::lddY, "ldd", 0xD208, 0x8008, Lies::d5q6, 2},
    {Op::stdZ, "std", 0xD208, 0x8200, Lies::d5q6, 2},
    {Op::stdY, "std", 0xD208, 0x8208, Lies::d5q6, 2},
    {Op::lds, "lds", 0xFE0F, 0x9000, Lies::d5k16, 2},
    {Op::ldZplus, "ld", 0xFE0F, 0x9001, Lies::d5, 2},
    {Op::ldZminus, "ld", 0xFE0F, 0x9002, Lies::d5, 2},
    {Op::lpm, "lpm", 0xFE0F, 0x9004, Lies::d5, 3},
    {Op::lpmPlus, "lpm", 0xFE0F, 0x9005, Lies::d5, 3},
    {Op::ldYplus, "ld", 0xFE0F, 0x9009, Lies::d5, 2},
    {Op::ldYminus, "ld", 0xFE0F, 0x900A, Lies::d5, 2},
    {Op::ldX, "ld", 0xFE0F, 0x900C, Lies::d5, 2},
    {Op::ldXplus, "ld", 0xFE0F, 0x900D, Lies::d5, 2},
    {Op::ldXminus, "ld", 0xFE0F, 0x900E, Lies::d5, 2},
    {Op::pop, "pop", 0xFE0F, 0x900F, Lies::d5, 2},
    {Op::sts, "sts", 0xFE0F, 0x9200, Lies::d5k16, 2},
    {Op::stZplus, "st", 0xFE0F, 0x9201, Lies::d5, 2},
    {Op::stZminus, "st", 0xFE0F, 0x9202, Lies::d5, 2},
    {Op::stYplus, "st", 0xFE0F, 0x9209, Lies::d5, 2},
    {Op::stYminus, "st", 0xFE0F, 0x920A, Lies::d5, 2},
    {Op::stX, "st", 0xFE0F, 0x920C, Lies::d5, 2},
    {Op::stXplus, "st", 0xFE0F, 0x920D, Lies::d5, 2},
    {Op::stXminus, "st", 0xFE0F, 0x920E, Lies::d5, 2},
    {Op::push, "push", 0xFE0F, 0x920F, Lies::d5, 2},
    {Op::com, "com", 0xFE0F, 0x9400, Lies::d5, 1},
    {Op::neg, "neg", 0xFE0F, 0x9401, Lies::d5, 1},
    {Op::swap, "swap", 0xFE0F, 0x9402, Lies::d5, 1},
    {Op::inc, "inc", 0xFE0F, 0x9403, Lies::d5, 1},
    {Op::asr, "asr", 0xFE0F, 0x9405, Lies::d5, 1},
    {Op::lsr, "lsr", 0xFE0F, 0x9406, Lies::d5, 1},
    {Op::ror, "ror", 0xFE0F, 0x9407, Lies::d5, 1},
    {Op::bset, "bset", 0xFF8F, 0x9408, Lies::s3, 1},
    {Op::bclr, "bclr", 0xFF8F, 0x9488, Lies::s3, 1},
    {Op::ijmp, "ijmp", 0xFFFF, 0x9409, Lies::nowhere, 2},
    {Op::icall, "icall", 0xFFFF, 0x9509, Lies::nowhere, 3},
    {Op::ret, "ret", 0xFFFF, 0x9508, Lies::nowhere, 4},
    {Op::reti, "reti", 0xFFFF, 0x9518, Lies::nowhere, 4},
    {Op::sleep, "sleep", 0xFFFF, 0x9588, Lies::nowhere, 1},
    {Op::break_, "break", 0xFFFF, 0x9598, Lies::nowhere, 1},
    {Op::wdr, "wdr", 0xFFFF, 0x95A8, Lies::nowhere, 1},
    {Op::lpm0, "lpm", 0xFFFF, 0x95C8, Lies::nowhere, 3},
    {Op::spm, "spm", 0xFFFF, 0x95E8, Lies::nowhere, 1},
    {Op::dec, "dec", 0xFE0F, 0x940A, Lies::d5, 1},
    {Op::jmp, "jmp", 0xFE0E, 0x940C, Lies::k22, 3, true},
    {Op::call, "call", 0xFE0E, 0x940E, Lies::k22, 4, true},
    {Op::adiw, "adiw", 0xFF00, 0x9600, Lies::d2k6, 2},
    {Op::sbiw, "sbiw", 0xFF00, 0x9700, Lies::d2k6, 2},
    {Op::cbi, "cbi", 0xFF00, 0x9800, Lies::a5b3, 2},
    {Op::sbic, "sbic", 0xFF00, 0x9900, Lies::a5b3, 1},
    {Op::sbi, "sbi", 0xFF00, 0x9A00, Lies::a5b3, 2},
    {Op::sbis, "sbis", 0xFF00, 0x9B00, Lies::a5b3, 1},
    {Op::mul, "mul", 0xFC00, 0x9C00, Lies::d5r5, 2, true},
    {Op::in, "in", 0xF800, 0xB000, Lies::a6d5, 1},
    {Op::out, "out", 0xF800, 0xB800, Lies::a6d5, 1},
    {Op::rjmp, "rjmp", 0xF000, 0xC000, Lies::k12, 2},
    {Op::rcall, "rcall", 0xF000, 0xD000, Lies::k12, 3},
    {Op::ldi, "ldi", 0xF000, 0xE000, Lies::d4k8, 1},
    {Op::brbs, "brbs", 0xFC00, 0xF000, Lies::k7s3, 1},
    {Op::brbc, "brbc", 0xFC00, 0xF400, Lies::k7s3, 1},
    {Op::bld, "bld", 0xFE08, 0xF800, Lies::d5b3, 1},
    {Op::bst, "bst", 0xFE08, 0xFA00, Lies::d5b3, 1},
    {Op::sbrc, "sbrc", 0xFE08, 0xFC00, Lies::d5b3, 1},
    {Op::sbrs, "sbrs", 0xFE08, 0xFE00, Lies::d5b3, 1},
};
constexpr std::uint8_t noRow = 0xFF;
constexpr std::size_t allWords = 0x10000;

const std::array<std::uint8_t, allWords>& rowOfWord() {
  static const std::array<std::uint8_t, allWords> table = [] {
    std::array<std::uint8_t, allWords> out{};
    out.fill(noRow);
    for (std::size_t word = 0; word < allWords; ++word)
      for (std::size_t row = 0; row < std::size(rows); ++row)
        if ((word & rows[row].mask) == rows[row].bits) {
          out[word] = static_cast<std::uint8_t>(row);
          break;
        }
    return out;
  }();
  return table;
}

constexpr int ioSpace = 0x20;  // of the I/O space, as a data address

int signedBits(int value, int bits) {
  return value < 1 << (bits - 1) ? value : value - (1 << bits);
}
std::uint8_t byte(int value) { return static_cast<std::uint8_t>(value); }

void readOperands(Lies lies, int w, int following, Instruction& i) {
  const int d5 = w >> 4 & 31, d4 = 16 + (w >> 4 & 15), low = w & 15;
  switch (lies) {
    case Lies::nowhere:
      break;
    case Lies::d5r5:
      i.d = byte(d5);
      i.r = byte((w >> 5 & 16) | low);
      break;
    case Lies::d5:
      i.d = byte(d5);
      break;
    case Lies::d4k8:
      i.d = byte(d4);
      i.k = (w >> 4 & 0xF0) | low;
      break;
    case Lies::d2k6:
      i.d = byte(24 + 2 * (w >> 4 & 3));
      i.k = (w >> 2 & 0x30) | low;
      break;
    case Lies::d4r4:
      i.d = byte(d4);
      i.r = byte(16 + low);
      break;
    case Lies::d3r3:
      i.d = byte(16 + (w >> 4 & 7));
      i.r = byte(16 + (w & 7));
      break;
    case Lies::pairs:
      i.d = byte(2 * (w >> 4 & 15));
      i.r = byte(2 * low);
      break;
    case Lies::k12:
      i.k = signedBits(w & 0xFFF, 12);
      break;
    case Lies::k7s3:
      i.d = byte(w & 7);
      i.k = signedBits(w >> 3 & 0x7F, 7);
      break;
    case Lies::k22:
      i.k = ((w >> 3 & 0x3E) | (w & 1)) << 16 | following;
      break;
    case Lies::d5b3:
      i.d = byte(d5);
      i.r = byte(w & 7);
      break;
    case Lies::a5b3:
      i.r = byte(w & 7);
      i.k = ioSpace + (w >> 3 & 31);
      break;
    case Lies::s3:
      i.d = byte(w >> 4 & 7);
      break;
    case Lies::d5q6:
      i.d = byte(d5);
      i.r = byte((w >> 8 & 0x20) | (w >> 7 & 0x18) | (w & 7));
      break;
    case Lies::d5k16:
      i.d = byte(d5);
      i.k = following;
      break;
    case Lies::a6d5:
      i.d = byte(d5);
      i.k = ioSpace + ((w >> 5 & 0x30) | low);
      break;
  }
}

// Rows by operation, for what is asked of one.
const Row* rowOf(Op op) {
  if (op == Op::countDown) op = Op::brbc;
  for (const Row& row : rows)
    if (row.op == op) return &row;
  return nullptr;
}

}  // namespace

Instruction decoded(std::uint16_t word, std::uint16_t following, bool enhanced) {
  Instruction out;
  const std::uint8_t at = rowOfWord()[word];
  if (at == noRow || (rows[at].enhanced && !enhanced)) return out;
  const Row& row = rows[at];
  out.op = row.op;
  out.cycles = row.cycles;
  readOperands(row.lies, word, following, out);
  return out;
}

const char* mnemonicOf(Op op) {
  const Row* row = rowOf(op);
  return row ? row->name : "";
}

int cyclesOf(Op op) {
  const Row* row = rowOf(op);
  return row ? row->cycles : 1;
}

}  // namespace ignavo::avr
