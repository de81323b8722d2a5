#include <QtTest>
#include <random>

#include "program/groups.h"
#include "program/signals.h"
#include "program/steps.h"
#include "support/phrases.h"

using namespace ignavo;
using namespace ignavo::test;

class TestProgram : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  // An operator, where what comes into it stands elsewhere.
  void operatorsAreCalledShortly_data() {
    QTest::addColumn<QString>("called");
    const auto row = [](const char* whole, const char* called) { QTest::newRow(whole) << called; };
    row("rise of D2", "rise");
    row("flips on (D2 held for 3 s)", "flips");
    row("(rise of D2) at most every 0.2 s", "at most every 0.2 s");
    row("D2 held for 3 s", "held for 3 s");
    row("D2 tapped within 0.5 s", "tapped within 0.5 s");
    row("D2 steady for 0.02 s", "steady for 0.02 s");
    row("count D2 from 1 to 5 reset by D3", "count from 1 to 5 reset by D3");
    row("wave of 1 Hz with 50 %", "wave of 1 Hz with 50 %");
    row("pulse of 0.5 s on D2 restarted", "pulse of 0.5 s restarted");
    row("pulse of 0.5 s on D2", "pulse of 0.5 s");
  }
  void operatorsAreCalledShortly() {
    QFETCH(QString, called);
    const ParsedExpr read = parseExpr(QTest::currentDataTag(), Vocabulary({"D2", "D3"}));
    QVERIFY2(read.value, inWords(read.problem).c_str());
    QCOMPARE(QString::fromStdString(operatorPhrase(*read.value)), called);
  }
  void loopsAreLeftAndLanesEnded() {
    const Vocabulary pins({"D2", "D4", "A0"});
    const auto phrase = [&](const char* typed) {
      const ParsedStep read = parseStep(typed, pins);
      return read.step ? phraseOf(*read.step) : inWords(read.problem);
    };
    QCOMPARE(phrase("while d2 high"), std::string("as long as D2 is high"));
    QCOMPARE(phrase("as long as A0 < 40"), std::string("as long as level of A0 < 40"));
    QCOMPARE(phrase("wait until d2"), std::string("wait until D2 is high"));
    QCOMPARE(phrase("Wait until volts at a0 > 2.5"), std::string("wait until volts at A0 > 2.5"));
    QCOMPARE(phrase("wait 2"), std::string("wait 2 s"));
    for (const char* typed : {"leave", "leave the loop", "break", "LEAVE THE LOOP"})
      QCOMPARE(phrase(typed), std::string("leave the loop"));
    for (const char* typed : {"end", "end this lane", "stop"})
      QCOMPARE(phrase(typed), std::string("end this lane"));
    QCOMPARE(phrase("keep going"), std::string("keep going round"));
    QCOMPARE(phrase("leave the boat"), std::string("“the boat” is not expected here."));
  }
  void remarksAreForPeople() {
    const Project p = Bench().program("remark The ferry is in: set d4 high?\nset d4 high");
    const Steps& steps = p.programs[0]->lanes[0]->steps;
    QCOMPARE(phraseOf(steps[0]), std::string("remark The ferry is in: set d4 high?"));
    QVERIFY(pinUses(*p.programs[0]).size() == 1);
    QVERIFY(!parseStep("remark", {}).step);
    // It takes no time.
    const CompiledProgram with = compile(*p.programs[0], {});
    const Project plain = Bench().program("set d4 high");
    QCOMPARE(with.lanes[0].code.size(), compile(*plain.programs[0], {}).lanes[0].code.size());
  }
  void whatIsNeverReachedIsMarked() {
    const auto problems = [](const char* steps) {
      const Project p = Bench().program(steps);
      std::string out;
      for (const StepProblem& problem :
           stepProblems(*p.programs[0], {{"D2", false, false}, {"D4", false, false}}))
        out += phraseOf(*p.step(problem.step)) + ": " + inWords(sentence(problem)) + "\n";
      return out;
    };
    QCOMPARE(problems("keep going round\n  if d2\n    leave the loop\nflip d4"), std::string());
    QCOMPARE(problems("keep going round\n  repeat 2 times\n    leave the loop\nflip d4"),
             std::string("flip D4: Never reached: the loop above goes on for ever.\n"));
    QCOMPARE(problems("repeat 2 times\n  leave the loop\n  flip d4"),
             std::string("flip D4: Never reached: the step above leaves the loop.\n"));
    QCOMPARE(problems("end this lane\nflip d4"),
             std::string("flip D4: Never reached: the step above ends the lane.\n"));
    QCOMPARE(
        problems("if d2\n  leave the loop\nflip d4"),
        std::string("leave the loop: This step stands in no loop: there is nothing to leave.\n"));
  }
  // What can be read two ways is asked, never guessed; what is no number is none.
  void whatCanBeReadTwoWaysIsAsked() {
    const auto asks = [](const char* typed, const char* words) {
      const ParsedStep p = parseStep(typed);
      return !p.step && inWords(p.problem).find(words) != std::string::npos;
    };
    QVERIFY(asks("wait 1000", "1000 seconds, or 1000 milliseconds"));
    QVERIFY(asks("set d3 to 50", "High, or 50 %"));
    QVERIFY(asks("if a0 > 512", "50 %"));
    for (const char* plain : {"wait 1000 ms", "wait 1000 s", "wait 1000 seconds", "wait 99",
                              "set d3 to 1", "dim d3 to 50 %", "if a0 > 50"})
      QVERIFY2(parseStep(plain).step.has_value(), plain);
    for (const char* none :
         {"wait nan", "wait inf", "wait -nan", "wait infinity", "wait 1e999", "if nan > 1"})
      QVERIFY2(!parseStep(none).step.has_value(), none);
  }
  // However deep it is nested: a sentence, long before the stack.
  void depthIsLimitedInWords() {
    const auto many = [](const std::string& what, int n, const std::string& end) {
      std::string out = "if ";
      for (int i = 0; i < n; ++i) out += what;
      return out + end;
    };
    for (const std::string& typed :
         {many("not ", 200'000, "d2"), many("(", 200'000, "d2"), many("not (", 100'000, "d2"),
          "wait 1" + many(" + 1", 5000, "").substr(3)}) {
      const ParsedStep p = parseStep(typed);
      QVERIFY(!p.step && !p.problem.empty());
      QVERIFY(inWords(p.problem).size() < 300);
    }
    QVERIFY(parseStep(many("not ", 40, "d2")).step.has_value());
    std::string lines;
    for (int i = 0; i < 200; ++i)
      lines += std::string(static_cast<std::size_t>(i) * 2, ' ') + "if d2\n";
    QVERIFY(parseSteps(lines).badLine > 0);
  }
  void phrasesAreForgiving_data() {
    QTest::addColumn<QString>("typed");
    QTest::addColumn<QString>("phrase");
    const std::pair<const char*, const char*> rows[] = {
        {"set d4 high", "set D4 high"},
        {"SET pin d13 to LOW", "set D13 low"},
        {"turn d4 on", "set D4 high"},
        {"switch D4 off", "set D4 low"},
        {"set d4 d2", "set D4 D2"},
        {"set d4 to not d2", "set D4 not D2"},
        {"wait .25", "wait 0.25 s"},
        {"wait 250 ms", "wait 0.25 s"},
        {"wait 2 seconds", "wait 2 s"},
        {"wait 1.5s", "wait 1.5 s"},
        {"if d2 high", "if D2 is high"},
        {"if d2", "if D2 is high"},
        {"when d2 is low", "if D2 is low"},
        {"if not d2 is high", "if not (D2 is high)"},
        {"if d2 and d3", "if D2 and D3"},
        {"if 3 + 4 × 2 > 10", "if (3 + (4 × 2)) > 10"},
        {"if 1 <= 2", "if 1 ≤ 2"},
        {"repeat 5", "repeat 5 times"},
        {"repeat 5 times", "repeat 5 times"},
        {"keep going round", "keep going round"},
        {"forever", "keep going round"},
        {"  wait   1  ", "wait 1 s"},
    };
    for (const auto& [typed, phrase] : rows)
      QTest::newRow(typed) << QString::fromUtf8(typed) << QString::fromUtf8(phrase);
  }
  void phrasesAreForgiving() {
    QFETCH(QString, typed);
    QFETCH(QString, phrase);
    const ParsedStep parsed = parseStep(typed.toStdString());
    QVERIFY2(parsed.step, inWords(parsed.problem).c_str());
    QCOMPARE(QString::fromStdString(phraseOf(*parsed.step)), phrase);
    // The canonical phrase reads back as the same step.
    const ParsedStep again = parseStep(phrase.toStdString());
    QVERIFY2(again.step, inWords(again.problem).c_str());
    QVERIFY(*again.step == *parsed.step);
  }
  void wrongPhrasesSayWhy() {
    for (const char* bad : {"", "set", "set d4", "set lamp high", "wait", "wait long", "wait -1",
                            "wait 1e9", "if", "if )", "if (d2", "if d2 is", "repeat x", "jump 3",
                            "set d4 high high", "keep going home"}) {
      const ParsedStep parsed = parseStep(bad);
      QVERIFY2(!parsed.step, bad);
      QVERIFY2(!parsed.problem.empty(), bad);
    }
    QCOMPARE(inWords(parseStep("set lamp high").problem),
             std::string("“lamp” is not a pin. Pins are called D2, D12 and so on."));
  }
  void textGoesBothWays() {
    std::mt19937 random(1);
    const std::function<Steps(int)> make = [&](int depth) {
      Steps steps;
      const int n = 1 + static_cast<int>(random() % 3);
      for (int i = 0; i < n; ++i) {
        const StepKind& kind = *stepKinds()[random() % stepKinds().size()];
        Step s = newStep(kind);
        if (Expr* pin = s.field("pin")) *pin = Expr::of("D" + std::to_string(random() % 12 + 2));
        if (Expr* seconds = s.field("seconds"))
          *seconds = Expr::of(static_cast<double>(random() % 1000) / 1000);
        for (auto& [key, body] : s.bodies)
          if (depth < 3 && (key != "else" || random() % 2)) body = make(depth + 1);
        if (Steps* then = s.body("then"); then && then->empty())
          then->push_back(*parseStep("wait 1").step);
        if (Steps* inner = s.body("steps"); inner && inner->empty())
          inner->push_back(*parseStep("wait 1").step);
        steps.push_back(std::move(s));
      }
      return steps;
    };
    for (int i = 0; i < 500; ++i) {
      const Steps steps = make(0);
      const ParsedSteps back = parseSteps(textOf(steps));
      QVERIFY2(back.badLine == 0, (inWords(back.problem) + "\n" + textOf(steps)).c_str());
      QVERIFY2(back.steps == steps, textOf(steps).c_str());
    }
    QCOMPARE(parseSteps("set d4 high\njump").badLine, 2);
    QCOMPARE(parseSteps("otherwise").badLine, 1);
    QCOMPARE(parseSteps("wait 1\n  wait 2").badLine, 2);
  }
  void completionsBeginAsTyped() {
    const auto offers = completions("set d4", Vocabulary({"D2", "D4"}));
    QCOMPARE(offers, (std::vector<std::string>{"set D4 high", "set D4 low"}));
    for (const std::string& c : completions("", Vocabulary({"D4"})))
      QVERIFY2(parseStep(c).step || parseGroup(c, Vocabulary({"D4"})), c.c_str());
  }
  void compiledCostsAndJumps() {
    Program program;
    Lane lane;
    lane.id = "l1";
    lane.steps =
        parseSteps("if d2 high\n  set d4 high\notherwise\n  set d4 low\nrepeat 2 times\n  wait 1\n")
            .steps;
    program.lanes.emplace_back(lane);
    const CompiledProgram c = compile(program, {});
    QCOMPARE(c.lanes.size(), std::size_t(1));
    QCOMPARE(c.written, std::vector<std::string>{"D4"});
    for (const Instruction& i : c.lanes[0].code)
      QVERIFY(i.target >= 0 && i.target < static_cast<int>(c.lanes[0].code.size()));
    QVERIFY(c.lanes[0].code.back().loopHead);
    // No way round costs nothing: the processor could never come out of it.
    for (const char* text : {"keep going round", "repeat 3 times", "if d2 high"}) {
      Program empty;
      Lane l;
      l.steps = parseSteps(text).steps;
      empty.lanes.emplace_back(l);
      std::int64_t cost = 0;
      const CompiledProgram compiled = compile(empty, {});
      for (const Instruction& i : compiled.lanes[0].code) cost += i.cycles;
      QVERIFY(cost > 0);
    }
  }
  void problemsMarkTheStep() {
    Program program;
    Lane lane;
    lane.steps = parseSteps("keep going round\n  wait 1\nset d4 high\n").steps;
    lane.steps[0].id = "a", lane.steps[1].id = "b";
    lane.steps[1].setField("pin", Expr::of(std::string()));
    program.lanes.emplace_back(lane);
    const auto problems = stepProblems(program, {{"D4"}});
    QCOMPARE(problems.size(), std::size_t(2));
    QCOMPARE(problems[0].code, StepProblem::Code::unreachable);
    QCOMPARE(problems[1].code, StepProblem::Code::pinMissing);
    QCOMPARE(problems[1].step, std::string("b"));
  }
  void allOfALongTestIsForgotten() {
    // More than 255 places: 60 counts, each with what it remembers and its value.
    std::string test = "(count d2 from 1 to 3) > 1";
    for (int i = 0; i < 5; ++i) test = "(" + test + ") and (" + test + ")";
    test += " and (" + test + ") and (" + test + ")";
    const Project p = beacon().program("wait until " + test + "\nwait 1");
    const CompiledProgram compiled = compile(*p.programs[0]);
    std::size_t places = 0;
    for (const MemoryCell& cell : compiled.memory) places += cell.of == MemoryCell::Of::state;
    QVERIFY(places > 255);
    QCOMPARE(compiled.lanes[0].code[0].code, OpCode::afresh);
    QCOMPARE(std::size_t{compiled.lanes[0].code[0].operands}, places);
  }
  void everyKindIsComplete() {
    Vocabulary words = usualWords();
    words.variables = {"berth"};
    words.lists = {"levels"};
    words.own = {{"ring", {"times"}}};
    for (const StepKind* k : stepKinds()) {
      QVERIFY(k->compile && k->writeC && !k->help.empty() && !k->example.empty());
      QVERIFY2(parseStep(k->example, words).step, k->example.c_str());
      QCOMPARE(parseStep(k->example, words).step->kind, k->kind);
    }
  }
};

QTEST_GUILESS_MAIN(TestProgram)
#include "tst_program.moc"
