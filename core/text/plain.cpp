#include "text/plain.h"

#include <cstdint>

// UTF-8 after RFC 3629: decoded letter by letter, so that what is malformed is found, not passed
// on.
namespace ignavo {

namespace {

constexpr char32_t noLetter = 0xFFFD;

struct Letter {
  char32_t code = noLetter;
  std::size_t bytes = 1;
};

Letter letterAt(std::string_view text, std::size_t at) {
  const auto byte = [&](std::size_t i) {
    return i < text.size() ? static_cast<unsigned char>(text[i]) : 0u;
  };
  const unsigned first = byte(at);
  if (first < 0x80) return {first, 1};
  const std::size_t more = first >= 0xF0 ? 3 : first >= 0xE0 ? 2 : 1;
  if (first < 0xC2 || first > 0xF4) return {};
  char32_t code = first & (0x3Fu >> more);
  for (std::size_t i = 1; i <= more; ++i) {
    if ((byte(at + i) & 0xC0) != 0x80) return {};
    code = (code << 6) | (byte(at + i) & 0x3F);
  }
  constexpr char32_t least[] = {0, 0x80, 0x800, 0x10000};
  const bool surrogate = code >= 0xD800 && code <= 0xDFFF;
  if (code < least[more] || code > 0x10FFFF || surrogate) return {};
  return {code, more + 1};
}

bool isControl(char32_t c) {
  return c < 0x20 || (c >= 0x7F && c < 0xA0) || c == 0x2028 || c == 0x2029;
}
bool isInvisible(char32_t c) {
  return c == 0x61C || c == 0x200E || c == 0x200F || (c >= 0x202A && c <= 0x202E) ||
         (c >= 0x2066 && c <= 0x2069) || c == 0xFEFF || (c & 0xFFFE) == 0xFFFE ||
         (c >= 0xE0000 && c <= 0xE007F);
}

std::string plain(std::string_view text, bool keepLines) {
  std::string out;
  out.reserve(text.size());
  bool gap = false;  // the last letter was a space in place of a control character
  for (std::size_t i = 0; i < text.size();) {
    const Letter letter = letterAt(text, i);
    const std::string_view bytes = text.substr(i, letter.bytes);
    i += letter.bytes;
    if (keepLines && letter.code == '\n') {
      out += '\n';
      gap = false;
    } else if (isControl(letter.code)) {
      if (!gap && !out.empty()) out += ' ';
      gap = true;
    } else if (!isInvisible(letter.code)) {
      if (letter.code == noLetter)
        out += "\xEF\xBF\xBD";
      else
        out += bytes;
      gap = false;
    }
  }
  if (gap && !out.empty()) out.pop_back();
  return out;
}

}  // namespace

std::string plainLine(std::string_view text) { return plain(text, false); }
std::string plainText(std::string_view text) { return plain(text, true); }

std::size_t letterCount(std::string_view text) {
  std::size_t n = 0;
  for (std::size_t i = 0; i < text.size(); ++n) i += letterAt(text, i).bytes;
  return n;
}

std::string shortened(std::string_view text, std::size_t letters) {
  std::size_t at = 0, end = 0;
  for (std::size_t n = 0; at < text.size(); ++n) {
    if (n == letters) return std::string(text.substr(0, end)) + "…";
    if (n + 1 == letters) end = at;
    at += letterAt(text, at).bytes;
  }
  return std::string(text);
}

}  // namespace ignavo
