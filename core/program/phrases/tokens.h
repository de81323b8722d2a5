#pragma once
#include <optional>
#include <string>
#include <vector>

#include "program/phrases/lexicon.h"
#include "program/vocabulary.h"

// What was typed, as what its words speak of: names of pins, parts and variables before words of
// the lexicon, the longest first; a word that is one slip away from a known one is taken as that.
namespace ignavo::phrases {

struct Token {
  Concept is = Concept::unknown;
  std::string text;                 // as it stands there
  std::size_t at = 0, length = 0;   // bytes of what was typed
  double value = 0;                 // of a number
  bool exact = true;                // a number in digits
  std::string name;                 // of a variable, list or own step
  std::vector<std::string> pins;    // that could be meant
  std::optional<PinPart::Is> sort;  // where only a sort of part was said
  bool several = false;             // "lamps": all of them
  bool mended = false;              // one of its words was a slip
};

// A slip that was mended.
struct Mended {
  std::size_t at = 0, length = 0;
  std::string word;  // what it was taken as
};

struct Tokens {
  std::string typed;  // also what stands behind them and says nothing
  std::vector<Token> all;
  std::vector<Mended> mended;
};
// Without mending every word is taken as it stands: what is near to a known one may be a new name.
Tokens tokensOf(const std::string& typed, const Vocabulary& words, bool mends = true);

// How many letters were left out, put in, changed or swapped with their neighbour; at most `most`,
// else more than that.
int slipsBetween(const std::string& a, const std::string& b, int most);

}  // namespace ignavo::phrases
