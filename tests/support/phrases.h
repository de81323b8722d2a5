#pragma once
#include <QtTest>
#include <initializer_list>
#include <utility>

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

// As typed, and the phrase that is meant.
using PhraseRows = std::initializer_list<std::pair<const char*, const char*>>;
inline void phraseRows(PhraseRows rows) {
  QTest::addColumn<QString>("typed");
  QTest::addColumn<QString>("phrase");
  for (const auto& [typed, phrase] : rows)
    QTest::newRow(typed) << QString::fromUtf8(typed) << QString::fromUtf8(phrase);
}

}  // namespace ignavo::test
