#include <QtTest>
#include <fstream>
#include <random>

#include "format/bench_words.h"
#include "program/facts.h"
#include "program/phrases/reading.h"
#include "support/named_circuits.h"

using namespace ignavo;
using namespace ignavo::test;

namespace {

// Small circuits, each on a pin and called something.
struct Laid {
  const char *circuit, *pin, *part, *name;
};
Project benchWith(std::initializer_list<Laid> circuits) {
  Project p = emptyProject();
  p.breadboards.front().type = "full";
  for (const Laid& laid : circuits) p = with(p, laid.circuit, laid.pin, laid.part, laid.name);
  return p;
}

// The bench of phrases.txt.
Project landing() {
  Project p = benchWith({{"lamp", "D4", "led", "Red lamp"},
                         {"lamp", "D3", "led", "Green lamp"},
                         {"button", "D2", "button", "Call button"},
                         {"light", "A0", "light-sensor", "Light sensor"},
                         {"sounder", "D5", "piezo", "Bell"},
                         {"servo", "D9", "servo", "Arm"}});
  p = withName(p, "b1", *parseName("variable count is 0"));
  return withName(p, "b1", *parseName("list levels is 90, 70, 50, 30, 10"));
}
Vocabulary landingWords() {
  const Project p = landing();
  return benchWords(p, Nets(p, catalogue()), "b1");
}

std::string told(const Reading& reading) {
  if (reading.question) {
    std::string out = "? " + inWords(reading.question->problem);
    for (const std::string& choice : reading.question->choices) out += " | " + choice;
    return out;
  }
  if (reading.lane) return "lane " + signOf(*reading.lane);
  if (reading.named && reading.named->list) return textOf(*reading.named->list);
  if (reading.named && reading.named->variable) return textOf(*reading.named->variable);
  if (reading.otherwise) return "otherwise";
  std::string text = textOf(reading.steps), out;
  for (std::size_t at = 0; at < text.size();) {
    const std::size_t end = text.find('\n', at);
    std::string line = text.substr(at, end - at);
    const std::size_t indent = line.find_first_not_of(' ');
    out += (out.empty() ? "" : " / ") + std::string(indent / 2, '_') + line.substr(indent);
    at = end + 1;
  }
  return out;
}

}  // namespace

// What people type, and what it must be taken as. phrases.txt has them, as they type them.
class TestPhrases : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void initTestCase() { words_ = landingWords(); }
  // Where several parts are of a sort, a whole name is one of them, and what is asked keeps the
  // rest of what was typed.
  void onACrowdedBench_data() {
    QTest::addColumn<QString>("typed");
    QTest::addColumn<QString>("wanted");
    const std::vector<std::pair<const char*, const char*>> rows = {
        {"if light sensor > 50", "if level of A0 > 50"},
        {"dim d9 to knob", "dim D9 to level of A1"},
        {"red lamp on", "set D4 high"},
        {"red lamp 2 on", "set D3 high"},
        {"log knob", "log level of A1"},
        {"log knob, light sensor", "log level of A1, level of A0"},
        {"if button is pressed", "if D2 is high"},
        {"if sensor > 50",
         "? Which one: A0 · Light sensor and A1 · Knob? | "
         "if level of A0 > 50 | if level of A1 > 50"},
        {"dim d9 to sensor",
         "? Which one: A0 · Light sensor and A1 · Knob? | "
         "dim D9 to level of A0 | dim D9 to level of A1"},
        {"red on for 2 s",
         "? Which one: D3 · Red lamp 2 and D4 · Red lamp? | D3 on for 2 s | D4 on for 2 s"},
        {"if lamp is on then flip d11",
         "? Which one: D3 · Red lamp 2 and D4 · Red lamp? | if D3 is on then flip d11 | "
         "if D4 is on then flip d11"},
        {"led on", "? Which one: D3 · Red lamp 2 and D4 · Red lamp? | set D3 high | set D4 high"}};
    for (const auto& [typed, wanted] : rows) QTest::addRow("%s", typed) << typed << wanted;
  }
  void onACrowdedBench() {
    QFETCH(QString, typed);
    QFETCH(QString, wanted);
    const Project p = benchWith({{"lamp", "D4", "led", "Red lamp"},
                                 {"lamp", "D3", "led", "Red lamp 2"},
                                 {"button", "D2", "button", "Button"},
                                 {"button", "D7", "button", "Button 2"},
                                 {"light", "A0", "light-sensor", "Light sensor"},
                                 {"knob", "A1", "pot", "Knob"}});
    const Vocabulary words = benchWords(p, Nets(p, catalogue()), "b1");
    const std::string said = told(readPhrase(typed.toStdString(), words));
    QCOMPARE(QString::fromStdString(said), wanted);
    // Each choice is read in one way.
    if (const Reading read = readPhrase(typed.toStdString(), words); read.question)
      for (const std::string& choice : read.question->choices)
        QVERIFY2(!readPhrase(choice, words).question, choice.c_str());
  }
  void asTyped_data() {
    QTest::addColumn<QString>("typed");
    QTest::addColumn<QString>("wanted");
    std::ifstream file(SOURCE_DIR "/tests/core/phrases.txt");
    std::string line;
    int count = 0;
    for (int number = 1; std::getline(file, line); ++number) {
      const std::size_t arrow = line.find(" -> ");
      const bool note = line.starts_with("# ") && arrow == std::string::npos;
      if (line.empty() || note || arrow == std::string::npos || line.starts_with("# typed"))
        continue;
      const QString typed = QString::fromStdString(line.substr(0, arrow));
      QTest::addRow("%d: %s", number, qPrintable(typed))
          << typed << QString::fromStdString(line.substr(arrow + 4));
      ++count;
    }
    QVERIFY(count >= 200);
  }
  void asTyped() {
    QFETCH(QString, typed);
    QFETCH(QString, wanted);
    const Reading reading = readPhrase(typed.toStdString(), words_);
    const std::string got = told(reading);
    if (!wanted.startsWith('?')) {
      QCOMPARE(QString::fromStdString(got), wanted);
      return;
    }
    QVERIFY2(reading.question, got.c_str());
    const QStringList pieces = wanted.mid(1).split(" | ");
    QVERIFY2(QString::fromStdString(got).contains(pieces[0].trimmed()), got.c_str());
    for (qsizetype i = 1; i < pieces.size(); ++i)
      QVERIFY2(std::count(reading.question->choices.begin(), reading.question->choices.end(),
                          pieces[i].toStdString()) == 1,
               got.c_str());
    QVERIFY(reading.question->at <= typed.toStdString().size());
    // What is offered can be read, strictly, so that choosing it ends the asking.
    for (const std::string& choice : reading.question->choices)
      QVERIFY2(parseStep(choice, words_).step || parseSign(choice, words_) ||
                   readPhrase(choice, words_).steps.size(),
               choice.c_str());
  }

  void valuesAreReadAsForgivingly() {
    const auto told = [&](const char* typed, bool condition) {
      const ParsedExpr read = readValue(typed, condition, words_);
      return read.value ? phraseOf(*read.value) : "? " + inWords(read.problem);
    };
    QCOMPARE(told("A0 > 50 % and not call button", true),
             std::string("(level of A0 > 50) and (D2 is low)"));
    QCOMPARE(told("buton pressed", true), std::string("D2 is high"));
    QCOMPARE(told("3 + 4", false), std::string("3 + 4"));
    QCOMPARE(told("half", false), std::string("0.5"));
    QCOMPARE(told("count * 2", false), std::string("count × 2"));
    QVERIFY(told("lamp on", true).starts_with("? Which one"));
    QVERIFY(told("harbour", true).starts_with("? “harbour”"));
    QVERIFY(told("", true).starts_with("? "));
  }
  // Whatever is typed comes to an end, and what is read can be written and read again.
  void anythingEndsAndIsReadAgain() {
    std::mt19937 random(11);
    std::vector<std::string> pool;
    for (const phrases::Entry& e : phrases::lexicon()) pool.push_back(e.words);
    for (const char* more :
         {"d2",     "d3",  "d4", "a0", "red lamp", "call button", "bell", "arm", "count",
          "levels", "(",   ")",  "[",  "]",        ",",           ";",    "\"",  "+",
          "-",      "*",   "/",  "=",  "==",       "0",           "1",    "50",  "1000",
          "2.5",    "0,5", "%",  "s",  "ms",       "ü",           "×"})
      pool.push_back(more);
    int understood = 0;
    Vocabulary made = words_;
    made.variables.push_back("brightness");  // of a group
    for (int n = 0; n < 4000; ++n) {
      std::string typed;
      for (unsigned i = 0, words = 1 + static_cast<unsigned>(random() % 7); i < words; ++i)
        typed += (i ? " " : "") + pool[random() % pool.size()];
      const Reading read = readPhrase(typed, words_);
      if (read.question) {
        QVERIFY2(!inWords(read.question->problem).empty(), typed.c_str());
        QVERIFY2(read.question->at <= typed.size(), typed.c_str());
        continue;
      }
      ++understood;
      const std::string text = textOf(read.steps);
      const ParsedSteps again = parseSteps(text, made);
      QVERIFY2(again.badLine == 0 && textOf(again.steps) == text, typed.c_str());
    }
    QVERIFY2(understood > 100, qPrintable(QString::number(understood)));
    // Single signs and letters, in any order.
    const std::string signs =
        " /#*.;:!,()[]{}<>=+-%&|\"'\\0123456789abcdxyz\xC3\xBC\xE2\x80\x9C\n\t";
    for (int n = 0; n < 1500; ++n) {
      std::string typed;
      for (unsigned i = 0, letters = static_cast<unsigned>(random() % 12); i < letters; ++i)
        typed += signs[random() % signs.size()];
      const Reading read = readPhrase(typed, words_);
      QVERIFY(!read.question || !inWords(read.question->problem).empty());
      (void)readValue(typed, n % 2, words_);
      (void)offersFor(typed, words_, 6);
    }
    // Long and deep.
    std::string deep = "if ";
    for (int i = 0; i < 3000; ++i) deep += "(";
    QVERIFY(readPhrase(deep, words_).question);
    std::string nots = "if";
    for (int i = 0; i < 3000; ++i) nots += " not";
    QVERIFY(readPhrase(nots + " d2", words_).question);
    for (const char* again : {"- ", "variable ", "item ", "random ", "each time ", "( ", "not ",
                              "if ", "3 times ", "d4 "}) {
      std::string many = "count = ";
      for (int i = 0; i < 20000; ++i) many += again;
      QVERIFY2(readPhrase(many, words_).question, again);
      QVERIFY2(!readValue(many.substr(8), true, words_).value, again);
    }
  }

  // A variable that is called as an operator begins does not hide it, nor the other way round.
  void namesDoNotHideOperators() {
    for (const char* name : {"count", "wave", "pulse", "rise", "flips", "choose", "random",
                             "smaller", "length", "seconds"}) {
      Vocabulary words = words_;
      words.variables.push_back(name);
      const std::vector<Expr> values = {
          Expr::readVariable(name),
          *parseExpr("count (D2 is high) from 1 to 5", words_).value,
          *parseExpr("wave of 2 Hz with 50", words_).value,
          *parseExpr("pulse of 2 s on (D2 is high)", words_).value,
          *parseExpr("rise of (D2 is high)", words_).value,
          *parseExpr("flips on (D2 is high)", words_).value,
          *parseExpr("choose 70 if (D2 is high) else 0", words_).value,
          *parseExpr("random from 1 to 6", words_).value,
          *parseExpr("smaller of 1 and 2", words_).value,
      };
      for (const Expr& value : values)
        for (const std::string& sum :
             {phraseOf(value), "(" + phraseOf(value) + ") + 1", "1 + (" + phraseOf(value) + ")"}) {
          const ParsedExpr read = parseExpr(sum, words);
          QVERIFY2(read.value, (sum + " beside " + name).c_str());
          QCOMPARE(phraseOf(*read.value), phraseOf(*parseExpr(phraseOf(*read.value), words).value));
          if (sum == phraseOf(value)) QVERIFY2(*read.value == value, sum.c_str());
        }
    }
  }

  // Operators as they are typed on a thread, without what they are done to.
  void operatorsAreDoneToWhatIsThere() {
    const Expr pin = pinIs("D2", true), level = Expr::readLevel("A0");
    const struct {
      const char* typed;
      const Expr* onto;
      bool condition;
      const char* phrase;  // empty: none
    } rows[] = {
        {"flips", &pin, true, "flips on (D2 is high)"},
        {"held for 3 s", &pin, true, "(D2 is high) held for 3 s"},
        {"at most every 0.2 s", &pin, true, "(D2 is high) at most every 0.2 s"},
        {"pulse of 2 s", &pin, true, "pulse of 2 s on (D2 is high)"},
        {"not", &pin, true, "not (D2 is high)"},
        {"> 50", &level, true, "level of A0 > 50"},
        {"choose 70 if so else 0", &pin, false, "choose 70 if (D2 is high) else 0"},
        {"count from 1 to 5", &pin, false, "count (D2 is high) from 1 to 5"},
        {"map from 0 … 100 to 0 … 50", &level, false, "map level of A0 from 0 … 100 to 0 … 50"},
        {"sings", &pin, true, ""},
        {"", &pin, true, ""},
    };
    for (const auto& row : rows) {
      const ParsedExpr read = readOperator(row.typed, *row.onto, row.condition, words_);
      QVERIFY2(read.value.has_value() == (*row.phrase != 0), row.typed);
      if (!read.value) {
        QVERIFY(!read.problem.empty());
        continue;
      }
      const ParsedExpr whole = readValue(row.phrase, row.condition, words_);
      QVERIFY2(whole.value, row.phrase);
      QVERIFY2(*read.value == *whole.value, phraseOf(*read.value).c_str());
    }
  }

 private:
  Vocabulary words_;
};

QTEST_GUILESS_MAIN(TestPhrases)
#include "tst_phrases.moc"
