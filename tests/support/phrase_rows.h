#pragma once
#include <QtTest>
#include <initializer_list>
#include <utility>

// Rows of a table of phrases.
namespace ignavo::test {

// As typed, and the phrase that is meant.
using PhraseRows = std::initializer_list<std::pair<const char*, const char*>>;
inline void phraseRows(PhraseRows rows) {
  QTest::addColumn<QString>("typed");
  QTest::addColumn<QString>("phrase");
  for (const auto& [typed, phrase] : rows)
    QTest::newRow(typed) << QString::fromUtf8(typed) << QString::fromUtf8(phrase);
}

}  // namespace ignavo::test
