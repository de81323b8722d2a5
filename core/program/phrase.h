#pragma once
#include <string>
#include <vector>

namespace ignavo {

// A pattern of a phrase taken apart: "dim {pin} to {percent}" is a word, a field, a word, a field.
// What stands in square brackets may be left out, fields and words together.
struct PhrasePiece {
  std::string text;  // words as they stand, or the key of the field
  bool field = false;
  bool optional = false;
};
const std::vector<PhrasePiece>& piecesOf(const std::string& pattern);
// The pattern with its fields filled in. What may be left out is, where `fill` gives nothing for
// its field.
template <typename Fill>
std::string filled(const std::string& pattern, Fill&& fill) {
  std::string out, words;
  for (const PhrasePiece& piece : piecesOf(pattern)) {
    if (!piece.optional) {
      out += piece.field ? fill(piece.text) : piece.text;
    } else if (!piece.field) {
      words = piece.text;
    } else if (const std::string text = fill(piece.text); !text.empty()) {
      out += words + text;
    }
  }
  return out;
}

}  // namespace ignavo
