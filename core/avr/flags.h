#pragma once
#include <cstdint>

// The status register, and what sums, differences and shifts make of it: the formulas that the
// instruction set manual gives with each instruction. No conditions: this is what a chip does most.
namespace ignavo::avr {

// Bits of the status register.
constexpr std::uint8_t carry = 1, zero = 2, negative = 4, overflow = 8, sign = 16, half = 32,
                       transfer = 64, interrupts = 128;
constexpr std::uint8_t logicBits = zero | negative | overflow | sign;
constexpr std::uint8_t arithmeticBits = logicBits | carry | half;

inline std::uint8_t u8(unsigned v) { return static_cast<std::uint8_t>(v); }

// Zero, negative, and sign, which is negative xor overflow. `overflows`: 0 or 1.
inline unsigned outcome(unsigned result, unsigned overflows) {
  const unsigned n = result >> 7 & 1;
  return (result == 0 ? zero : 0U) | n << 2 | overflows << 3 | (n ^ overflows) << 4;
}
// Of a sum of two bytes, and of a difference; what goes beyond 8 bits is carry.
inline unsigned afterAdd(unsigned d, unsigned r, unsigned sum) {
  const unsigned v = (d ^ sum) & (r ^ sum);
  return outcome(sum & 255, v >> 7 & 1) | (sum >> 8 & 1) | ((d ^ r ^ sum) & 0x10) << 1;
}
inline unsigned afterSub(unsigned d, unsigned r, unsigned difference) {
  const unsigned v = (d ^ r) & (d ^ difference);
  return outcome(difference & 255, v >> 7 & 1) | (difference >> 8 & 1) |
         ((d ^ r ^ difference) & 0x10) << 1;
}
inline unsigned afterShift(unsigned before, unsigned result) {
  const unsigned c = before & 1, n = result >> 7 & 1;
  return outcome(result, n ^ c) | c;
}
inline unsigned afterWord(unsigned result, bool v, bool c) {
  const bool n = (result & 0x8000) != 0;
  return (result == 0 ? zero : 0U) | (n ? negative : 0U) | (v ? overflow : 0U) |
         (n != v ? sign : 0U) | (c ? carry : 0U);
}

}  // namespace ignavo::avr
