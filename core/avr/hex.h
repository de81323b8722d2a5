#pragma once
#include <cstdint>
#include <string>
#include <vector>

namespace ignavo::avr {

// What a chip's flash is to hold, read from Intel HEX.
struct HexImage {
  enum class Code : std::uint8_t {
    done,
    notARecord,  // a line that does not begin with a colon, or holds other than hexadecimal digits
    cut,         // a record that is shorter, or longer, than it says
    wrongSum,
    wrongKind,    // a record of a kind that flash does not need
    beyondFlash,  // bytes that the chip has no room for
    twice,        // an address that holds two different bytes
    noEnd,        // the last record is missing: the file was cut
    empty
  };
  Code code = Code::done;
  int line = 0;                     // of what is wrong, from 1
  std::uint32_t address = 0;        // likewise, in bytes
  std::vector<std::uint8_t> bytes;  // from address 0; what no record says is 0xFF
};

// Records of data, end, segment and linear addresses (kinds 0 … 5); of begin addresses nothing is
// needed. `flashBytes`: that the chip has. Where something is wrong there are no bytes.
HexImage readHex(const std::string& text, std::size_t flashBytes);

// The same the other way: records of 16 bytes and the end.
std::string hexOf(const std::vector<std::uint8_t>& bytes);

}  // namespace ignavo::avr
