#include "program/phrase.h"

namespace ignavo {

std::vector<PhrasePiece> piecesOf(const std::string& pattern) {
  std::vector<PhrasePiece> out;
  for (std::size_t i = 0; i < pattern.size();) {
    const std::size_t open = pattern.find('{', i);
    if (open > i)
      out.push_back({pattern.substr(i, open == std::string::npos ? open : open - i), false});
    if (open == std::string::npos) break;
    const std::size_t close = pattern.find('}', open);
    out.push_back({pattern.substr(open + 1, close - open - 1), true});
    i = close + 1;
  }
  return out;
}

}  // namespace ignavo
