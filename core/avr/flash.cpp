#include "avr/flash.h"

#include <algorithm>
#include <optional>

// Delay functions count registers down: "dec r24; brne", "sbiw r24, 1; brne", "subi r18, 1; sbci
// r24, 0; sbci r25, 0; brne", with no-operations to fill up. Such a loop is known by its branch,
// and the machine jumps over whole rounds of it.
namespace ignavo::avr {

namespace {

constexpr std::size_t behindEnd = 4;  // instructions that are none: a skip may land there
constexpr std::uint8_t zeroBit = 1;   // of the status register

// What the instructions from `first` up to the branch at `last` count down; nothing where they do
// anything else.
std::optional<Flash::CountDown> countedDown(const Instruction* first, const Instruction* last) {
  Flash::CountDown out;
  bool wholeWord = false;
  for (const Instruction* i = first; i != last; ++i) {
    out.cycles += i->cycles;
    const bool nothing = i->op == Op::nop || (i->op == Op::rjmp && i->k == 0);
    if (nothing) continue;
    const bool begins = out.bytes == 0;
    const bool byte = begins && ((i->op == Op::dec) || (i->op == Op::subi && i->k == 1));
    const bool carries = !begins && !wholeWord && i->op == Op::sbci && i->k == 0 && out.bytes < 4;
    if (byte || carries) {
      if (begins) wholeWord = i->op == Op::dec;  // which does not carry
      out.registers[static_cast<std::size_t>(out.bytes++)] = i->d;
    } else if (begins && i->op == Op::sbiw && i->k == 1) {
      wholeWord = true;
      out.registers[0] = i->d;
      out.registers[1] = static_cast<std::uint8_t>(i->d + 1);
      out.bytes = 2;
    } else {
      return std::nullopt;
    }
  }
  if (out.bytes == 0) return std::nullopt;
  for (int k = 0; k < out.bytes; ++k)
    for (int j = 0; j < k; ++j)
      if (out.registers[static_cast<std::size_t>(k)] == out.registers[static_cast<std::size_t>(j)])
        return std::nullopt;
  out.cycles += last->cycles + 1;
  return out;
}

}  // namespace

Flash::Flash(const Chip& chip, const std::vector<std::uint8_t>& bytes)
    : words_(chip.flashWords, 0xFFFF), code_(chip.flashWords + behindEnd) {
  const std::size_t count = std::min<std::size_t>(bytes.size(), chip.flashBytes());
  for (std::size_t k = 0; k < count; ++k) {
    std::uint16_t& word = words_[k / 2];
    word = static_cast<std::uint16_t>(k % 2 != 0 ? (word & 0x00FF) | bytes[k] << 8
                                                 : (word & 0xFF00) | bytes[k]);
  }
  for (std::size_t k = 0; k < words_.size(); ++k)
    code_[k] = decoded(words_[k], words_[(k + 1) % words_.size()], chip.enhanced);
  findCountDowns();
  for (std::size_t k = 0; k < words_.size(); ++k)
    if (code_[k].op == Op::in) code_[k].r = bitsUsed(&code_[k]);
}

// Which bits of what an `in` reads does the program look at? It follows the register through what
// moves or drops bits, as far as a few instructions go: "in r24, 9; bst r24, 2" asks for one.
std::uint8_t Flash::bitsUsed(const Instruction* read) {
  constexpr int farthest = 8;
  std::array<int, 8> from{0, 1, 2, 3, 4, 5, 6, 7};  // which bit of the port each is; −1: none
  unsigned used = 0;
  const auto alive = [&] {
    for (const int bit : from)
      if (bit >= 0) used |= 1U << bit;
    return static_cast<std::uint8_t>(used);
  };
  const auto use = [&](int bit) {
    if (from[static_cast<std::size_t>(bit)] >= 0) used |= 1U << from[static_cast<std::size_t>(bit)];
  };
  const std::uint8_t d = read->d;
  for (const Instruction* i = read + 1; i <= read + farthest; ++i) {
    const bool own = i->d == d;
    switch (i->op) {
      case Op::andi:
        if (own)
          for (std::size_t b = 0; b < from.size(); ++b)
            if ((i->k >> b & 1) == 0) from[b] = -1;
        break;
      case Op::swap:
        if (own) std::rotate(from.begin(), from.begin() + 4, from.end());
        break;
      case Op::lsr:
        if (!own) break;
        use(0);  // into carry
        std::rotate(from.begin(), from.begin() + 1, from.end());
        from.back() = -1;
        break;
      case Op::bst:
        if (own) use(i->r);
        break;
      case Op::ldi:
        if (own) return static_cast<std::uint8_t>(used);
        break;
      case Op::eor:  // clr
        if (own && i->r == d) return static_cast<std::uint8_t>(used);
        return alive();
      case Op::nop:
        break;
      default:
        return alive();
    }
  }
  return alive();
}

void Flash::findCountDowns() {
  constexpr int longest = 12;  // words of a body
  constexpr std::size_t most = 256;
  for (std::size_t at = 0; at < words_.size() && countDowns_.size() < most; ++at) {
    Instruction& branch = code_[at];
    if (branch.op != Op::brbc || branch.d != zeroBit || branch.k >= -1 || branch.k < -longest)
      continue;
    const auto back = static_cast<std::size_t>(-(branch.k + 1));
    if (back > at) continue;
    const Instruction* last = &branch;
    if (const auto loop = countedDown(last - back, last)) {
      branch.op = Op::countDown;
      branch.r = static_cast<std::uint8_t>(countDowns_.size());
      countDowns_.push_back(*loop);
    }
  }
}

bool Flash::isCallBefore(std::uint32_t word) const {
  constexpr std::uint16_t indirect = 0x9509;
  if (word < 1 || word >= words_.size()) return false;
  const std::uint16_t before = words_[word - 1];
  const bool relative = (before & 0xF000) == 0xD000;
  const bool absolute = word >= 2 && (words_[word - 2] & 0xFE0E) == 0x940E;
  return relative || absolute || before == indirect;
}

}  // namespace ignavo::avr
