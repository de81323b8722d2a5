#pragma once
#include <string>
#include <vector>

namespace ignavo {

// A pattern of a phrase taken apart: "dim {pin} to {percent}" is a word, a field, a word, a field.
struct PhrasePiece {
  std::string text;  // words as they stand, or the key of the field
  bool field = false;
};
std::vector<PhrasePiece> piecesOf(const std::string& pattern);
// The pattern with its fields filled in.
template <typename Fill>
std::string filled(const std::string& pattern, Fill&& fill) {
  std::string out;
  for (const PhrasePiece& piece : piecesOf(pattern))
    out += piece.field ? fill(piece.text) : piece.text;
  return out;
}

}  // namespace ignavo
