#include "avr/hex.h"

#include <algorithm>
#include <string_view>

// A record is a colon and pairs of hexadecimal digits: how many bytes of data, an address of two
// bytes, a kind, the data, and what makes the sum of all of them 0 modulo 256.
namespace ignavo::avr {

namespace {

constexpr std::uint8_t erased = 0xFF;

int digitOf(char c) {
  if (c >= '0' && c <= '9') return c - '0';
  if (c >= 'A' && c <= 'F') return c - 'A' + 10;
  if (c >= 'a' && c <= 'f') return c - 'a' + 10;
  return -1;
}

class HexReader {
 public:
  explicit HexReader(std::size_t flashBytes) : known_(flashBytes, false) {
    out_.bytes.reserve(flashBytes);
  }

  HexImage read(std::string_view text) {
    while (!text.empty() && out_.code == HexImage::Code::done && !ended_) {
      const std::size_t end = text.find('\n');
      std::string_view line = text.substr(0, end);
      text.remove_prefix(end == std::string_view::npos ? text.size() : end + 1);
      while (!line.empty() && (line.back() == '\r' || line.back() == ' ')) line.remove_suffix(1);
      ++out_.line;
      if (!line.empty()) record(line);
    }
    if (out_.code == HexImage::Code::done && !ended_) fail(HexImage::Code::noEnd);
    if (out_.code == HexImage::Code::done && out_.bytes.empty()) fail(HexImage::Code::empty);
    if (out_.code != HexImage::Code::done) out_.bytes.clear();
    return std::move(out_);
  }

 private:
  void fail(HexImage::Code code) { out_.code = code; }

  void record(std::string_view line) {
    using Code = HexImage::Code;
    if (line.front() != ':') return fail(Code::notARecord);
    line.remove_prefix(1);
    for (const char c : line)
      if (digitOf(c) < 0) return fail(Code::notARecord);
    constexpr std::size_t around = 5;  // count, address, kind, sum
    std::vector<std::uint8_t> b;
    for (std::size_t k = 0; k + 1 < line.size(); k += 2)
      b.push_back(static_cast<std::uint8_t>(digitOf(line[k]) << 4 | digitOf(line[k + 1])));
    if (line.size() % 2 != 0 || b.empty() || b.size() != b[0] + around) return fail(Code::cut);
    unsigned sum = 0;
    for (const std::uint8_t byte : b) sum += byte;
    if (sum % 256 != 0) return fail(Code::wrongSum);
    const auto word = [&](std::size_t k) {
      return static_cast<std::uint32_t>(b[k]) << 8 | b[k + 1];
    };
    constexpr std::size_t first = 4;  // byte of data
    switch (b[3]) {
      case 0:
        return data(base_ + word(1), &b[first], b[0]);
      case 1:
        ended_ = true;
        return;
      case 2:
      case 4:
        if (b[0] != 2) return fail(Code::cut);
        base_ = b[3] == 2 ? word(first) << 4 : word(first) << 16;
        return;
      case 3:
      case 5:
        return;  // where a program begins; here it always begins at 0
      default:
        return fail(Code::wrongKind);
    }
  }

  void data(std::uint32_t address, const std::uint8_t* bytes, std::size_t count) {
    for (std::size_t k = 0; k < count; ++k) {
      const std::size_t at = address + k;
      out_.address = static_cast<std::uint32_t>(at);
      if (at >= known_.size()) return fail(HexImage::Code::beyondFlash);
      if (out_.bytes.size() <= at) out_.bytes.resize(at + 1, erased);
      if (known_[at] && out_.bytes[at] != bytes[k]) return fail(HexImage::Code::twice);
      out_.bytes[at] = bytes[k];
      known_[at] = true;
    }
  }

  HexImage out_;
  std::vector<bool> known_;  // per byte: did a record say it?
  std::uint32_t base_ = 0;
  bool ended_ = false;
};

void append(std::string& out, unsigned byte) {
  constexpr char digits[] = "0123456789ABCDEF";
  out += digits[byte >> 4 & 15];
  out += digits[byte & 15];
}

}  // namespace

HexImage readHex(const std::string& text, std::size_t flashBytes) {
  return HexReader(flashBytes).read(text);
}

std::string hexOf(const std::vector<std::uint8_t>& bytes) {
  constexpr std::size_t perRecord = 16;
  std::string out;
  const auto record = [&](std::size_t address, unsigned kind, const std::uint8_t* data,
                          std::size_t count) {
    const auto n = static_cast<unsigned>(count), a = static_cast<unsigned>(address & 0xFFFF);
    unsigned sum = n + (a >> 8) + (a & 255) + kind;
    out += ':';
    append(out, n);
    append(out, a >> 8);
    append(out, a & 255);
    append(out, kind);
    for (std::size_t k = 0; k < count; ++k) {
      append(out, data[k]);
      sum += data[k];
    }
    append(out, (256 - sum % 256) % 256);
    out += '\n';
  };
  for (std::size_t at = 0; at < bytes.size(); at += perRecord) {
    if (at > 0 && at % 0x10000 == 0) {
      const std::uint8_t high[] = {static_cast<std::uint8_t>(at >> 24),
                                   static_cast<std::uint8_t>(at >> 16)};
      record(0, 4, high, 2);
    }
    record(at, 0, bytes.data() + at, std::min(perRecord, bytes.size() - at));
  }
  record(0, 1, nullptr, 0);
  return out;
}

}  // namespace ignavo::avr
