#include "program/phrase.h"

namespace ignavo {

std::vector<PhrasePiece> piecesOf(const std::string& pattern) {
  std::vector<PhrasePiece> out;
  std::string text;
  bool optional = false;
  const auto flush = [&](bool field) {
    if (!text.empty()) out.push_back({text, field, optional});
    text.clear();
  };
  for (const char c : pattern) {
    switch (c) {
      case '{':
      case '[':
        flush(false);
        optional = optional || c == '[';
        break;
      case '}':
        flush(true);
        break;
      case ']':
        flush(false);
        optional = false;
        break;
      default:
        text += c;
    }
  }
  flush(false);
  return out;
}

}  // namespace ignavo
