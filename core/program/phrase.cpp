#include "program/phrase.h"

#include <unordered_map>

namespace ignavo {

namespace {

std::vector<PhrasePiece> takenApart(const std::string& pattern) {
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

}  // namespace

// There are only as many patterns as rows: each thread takes each apart once.
const std::vector<PhrasePiece>& piecesOf(const std::string& pattern) {
  thread_local std::unordered_map<std::string, std::vector<PhrasePiece>> known;
  const auto [it, fresh] = known.try_emplace(pattern);
  if (fresh) it->second = takenApart(pattern);
  return it->second;
}

}  // namespace ignavo
