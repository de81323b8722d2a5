#pragma once
#include <cctype>
#include <string>

// What everyone needs who reads what was typed.
namespace ignavo::typed {

inline bool isDigit(char c) { return c >= '0' && c <= '9'; }

inline std::string lower(std::string s) {
  for (char& c : s) c = static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
  return s;
}

inline std::string trimmed(const std::string& s) {
  const auto from = s.find_first_not_of(" \t\r");
  if (from == std::string::npos) return {};
  return s.substr(from, s.find_last_not_of(" \t\r") - from + 1);
}

// What stands in quotes, without them.
inline std::string unquoted(const std::string& text) {
  std::string out;
  for (std::size_t i = 1; i + 1 < text.size(); ++i) {
    if (text[i] == '\\' && i + 2 < text.size()) ++i;
    out += text[i];
  }
  return out;
}

}  // namespace ignavo::typed
