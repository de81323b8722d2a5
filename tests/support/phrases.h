#pragma once
#include "parts/catalogue.h"
#include "program/steps.h"

// Phrases as they are typed for the usual board.
namespace ignavo::test {

inline const Vocabulary& usualWords() {
  static const Vocabulary words{programPins(emptyProject(), emptyProject().boards.front().id)};
  return words;
}
inline ParsedExpr parseExpr(const std::string& typed) { return parseExpr(typed, usualWords()); }
inline ParsedStep parseStep(const std::string& typed) { return parseStep(typed, usualWords()); }
inline ParsedSteps parseSteps(const std::string& text) { return parseSteps(text, usualWords()); }
inline std::optional<Trigger> parseSign(const std::string& typed) {
  return parseSign(typed, usualWords());
}

}  // namespace ignavo::test
