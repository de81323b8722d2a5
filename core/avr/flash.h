#pragma once
#include <array>
#include <cstdint>
#include <memory>
#include <vector>

#include "avr/chips.h"
#include "avr/instruction.h"

namespace ignavo::avr {

// What a chip's flash holds, and its instructions taken apart once. Does not change; several
// machines, and all copies of one, share it.
class Flash {
 public:
  // Bytes from address 0; what lies behind them is erased (0xFF).
  Flash(const Chip& chip, const std::vector<std::uint8_t>& bytes);

  std::uint8_t byteAt(std::uint32_t address) const {
    const std::uint16_t word = words_[address / 2 % words_.size()];
    return static_cast<std::uint8_t>(address % 2 != 0 ? word >> 8 : word);
  }
  std::uint16_t wordAt(std::uint32_t address) const { return words_[address % words_.size()]; }
  // Does a call stand right in front of that word, so that it may return there?
  bool isCallBefore(std::uint32_t word) const;
  // By word address; behind the last there are some that are none.
  const Instruction* code() const { return code_.data(); }

  // A loop that does nothing but count registers down to zero: how they do it, lowest byte first.
  struct CountDown {
    std::array<std::uint8_t, 4> registers{};
    int bytes = 0;
    int cycles = 0;  // of a round whose branch is taken
  };
  // Of a countDown instruction, by its `r`.
  const CountDown& countDown(std::uint8_t index) const { return countDowns_[index]; }

 private:
  void findCountDowns();
  static std::uint8_t bitsUsed(const Instruction* read);

  std::vector<std::uint16_t> words_;
  std::vector<Instruction> code_;
  std::vector<CountDown> countDowns_;
};

}  // namespace ignavo::avr
