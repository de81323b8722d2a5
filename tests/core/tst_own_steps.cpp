#include <QtTest>
#include <cmath>
#include <cstdio>
#include <limits>
#include <random>

#include "check/finding.h"
#include "format/project_file.h"
#include "format/wiring_language.h"
#include "make/c_text.h"
#include "program/facts.h"
#include "program/said.h"
#include "run/model.h"
#include "support/build.h"
#include "support/phrase_rows.h"
#include "support/runs.h"
#include "support/traces.h"

using namespace ignavo;
using namespace ignavo::test;

namespace {

Bench ringing() {
  return Bench().lane("Own step ring with times, pause",
                      "repeat times times\n  flip d4\n  wait pause");
}
std::vector<std::string> problems(const Project& p) {
  std::vector<std::string> out;
  for (const StepProblem& problem :
       stepProblems(*p.programs[0], pinAbilities(*catalogue().boardKind("tern"))))
    out.push_back(problem.step + ": " + inWords(sentence(problem)));
  return out;
}
std::vector<std::string> said(const Bench& bench, double seconds, std::vector<Input> inputs = {}) {
  Kernel k(shared(bench));
  for (Input& in : inputs) k.schedule(std::move(in));
  k.advance(static_cast<Nanoseconds>(seconds * 1e9));
  std::vector<std::string> out;
  for (const SaidLine& line : k.said()) out.push_back((line.note ? "N " : "L ") + line.text);
  return out;
}
Input keyAt(double seconds, const char* name, bool down) {
  return at(seconds, down ? Input::What::keyDown : Input::What::keyUp, {}, name);
}

}  // namespace

class TestOwnSteps : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void phrasesGoBothWays_data() {
    phraseRows({
        {"run ring with times 3, pause 0.5", "run ring with times 3, pause 0.5"},
        {"run ring with pause 0.5, times 3", "run ring with times 3, pause 0.5"},
        {"ring 3, 0.5", "run ring with times 3, pause 0.5"},
        {"RING times = 2 + 1, pause = level of A0 ÷ 100",
         "run ring with times 2 + 1, pause level of A0 ÷ 100"},
        {"run ring", "run ring with times 0, pause 0"},
        {"run \"ring\" with times (smaller of 1 and 2)",
         "run ring with times smaller of 1 and 2, pause 0"},
        {"post \"in the berth\" for 2 s", "post \"in the berth\" for 2 s"},
        {"post in the berth", "post \"in the berth\" until the next"},
        {"note tally for 500 ms", "post tally for 0.5 s"},
        {"post \"wait for me\" until the next", "post \"wait for me\" until the next"},
        {"log \"berth\", tally + 1, d2", "log \"berth\", tally + 1, D2"},
        {"write \"a, b\", \"c\"", "log \"a, b\", \"c\""},
        {"log high", "log \"high\""},
    });
  }
  void phrasesGoBothWays() {
    QFETCH(QString, typed);
    QFETCH(QString, phrase);
    const Project p = ringing().name("variable tally is 0").get();
    const Vocabulary words = wordsOf(p, "b1");
    const ParsedStep read = parseStep(typed.toStdString(), words);
    QVERIFY2(read.step, inWords(read.problem).c_str());
    QCOMPARE(QString::fromStdString(phraseOf(*read.step)), phrase);
    const ParsedStep again = parseStep(phrase.toStdString(), words);
    QVERIFY2(again.step, inWords(again.problem).c_str());
    QVERIFY(*again.step == *read.step);
    const Project with = ringing().name("variable tally is 0").lane("always", typed.toStdString());
    const ReadResult file = readProject(writeProject(with));
    QVERIFY(file.sound());
    QVERIFY(file.project == with);
    const WiringText text = readWiring(writeWiring(with));
    QVERIFY2(text.problems.empty(), writeWiring(with).c_str());
    QVERIFY(text.project.programs[0]->lanes.size() == with.programs[0]->lanes.size());
  }
  void whatCannotBeReadIsSaid_data() {
    QTest::addColumn<QString>("typed");
    QTest::addColumn<QString>("word");
    const std::pair<const char*, const char*> rows[] = {
        {"run bell", "bell"}, {"ring 1, 2, 3", "3"}, {"run ring with loudness 3", "loudness"},
        {"post", "words"},    {"log", "words"},      {"run", "own step"},
    };
    for (const auto& [typed, word] : rows) QTest::newRow(typed) << typed << word;
  }
  void whatCannotBeReadIsSaid() {
    QFETCH(QString, typed);
    QFETCH(QString, word);
    const ParsedStep read = parseStep(typed.toStdString(), wordsOf(ringing(), "b1"));
    QVERIFY(!read.step);
    QVERIFY2(inWords(read.problem).find(word.toStdString()) != std::string::npos,
             inWords(read.problem).c_str());
  }
  void signsGoBothWays_data() {
    QTest::addColumn<QString>("sign");
    for (const char* sign :
         {"Own step ring", "Own step ring with times", "When key space is struck",
          "Own step \"signal twice\" with pause, \"how often\"",
          "When key a is struck, starting over"})
      QTest::newRow(sign) << sign;
  }
  void signsGoBothWays() {
    QFETCH(QString, sign);
    const auto read = parseSign(sign.toLower().replace("own step", "own Step").toStdString(), {});
    QVERIFY(read);
    QCOMPARE(QString::fromStdString(signOf(*read)).toLower(), sign.toLower());
    Project p = Bench().lane(sign.toStdString(), "wait 1");
    const ReadResult file = readProject(writeProject(p));
    QVERIFY(file.sound());
    QVERIFY(file.project == p);
  }

  void itRunsAsIfItsStepsStoodThere() {
    Kernel k(shared(ringing().lane("power", "ring 2, 0.1\nset d13 high\nring 1, 0.05")));
    k.advance(second);
    QCOMPARE(edgesOf(k, "b1"), (std::vector<int>{1, 101, 201}));
  }
  void eachLaneHasItsOwnInputs() {
    Kernel k(shared(Bench()
                        .lane("Own step blink with first, pause",
                              "if first\n  flip d4\notherwise\n  flip d5\nwait pause")
                        .lane("always", "blink true, 0.1")
                        .lane("always", "blink false, 0.3")));
    k.advance(second);
    QVERIFY(edgesOf(k, "b1", "D4").size() >= 9);
    QCOMPARE(edgesOf(k, "b1", "D5").size(), std::size_t(4));
  }
  void inputsHideVariables() {
    Kernel k(shared(Bench()
                        .name("variable pause is 5")
                        .lane("Own step rest with pause", "wait pause\nlet pause be 7\nflip d4")
                        .lane("power", "rest 0.1\nwait 0.1\nflip d4")));
    k.advance(second);
    QCOMPARE(edgesOf(k, "b1"), (std::vector<int>{100, 200}));
    for (const VariableView& v : k.snapshot().variables) QCOMPARE(v.number, 5.0);
  }
  void endInAnOwnStepEndsTheLane() {
    Kernel k(shared(
        Bench().lane("Own step stop", "end this lane").lane("always", "flip d4\nwait 0.1\nstop")));
    k.advance(second);
    QCOMPARE(edgesOf(k, "b1").size(), std::size_t(1));
    // One that is started goes on with the next start.
    Kernel again(shared(Bench()
                            .lane("Own step stop", "flip d4\nend this lane")
                            .lane("When key a is struck", "stop\nflip d4")));
    for (int i = 1; i < 4; ++i) {
      again.schedule(keyAt(0.2 * i, "a", true));
      again.schedule(keyAt(0.2 * i + 0.1, "a", false));
    }
    again.advance(second);
    QCOMPARE(edgesOf(again, "b1").size(), std::size_t(3));
  }
  void noneRunsItself() {
    const Project p = Bench()
                          .lane("Own step tick", "flip d4")
                          .lane("Own step tock", "flip d5\ntick")
                          .lane("power", "tock");
    Project round = p;
    Step back = *parseStep("tock", wordsOf(p, "b1")).step;
    std::string tick;
    for (const auto& lane : p.programs[0]->lanes)
      if (ownName(*lane) == "tick") tick = lane->id;
    round = edits::assignIds(edits::insertSteps(round, {tick, {}, {}, 1}, {back}));
    const std::vector<std::string> told = problems(round);
    QCOMPARE(told.size(), std::size_t(2));  // both ways round
    QVERIFY2(told[0].find("cannot run itself") != std::string::npos, told[0].c_str());
    Kernel k(shared(round));
    k.advance(second);
    QCOMPARE(edgesOf(k, "b1", "D5").size(), std::size_t(1));
    QVERIFY(cText(round, "b1").text.find("no such own step") != std::string::npos);
    (void)check(round);
    (void)unfolded(*round.programs[0]);
  }
  void whatIsGivenMustBeAsked() {
    Project p = ringing().lane("power", "ring 2, 0.1");
    QVERIFY(problems(p).empty());
    std::string text = writeProject(p);
    const std::size_t at = text.find("\"pause\": 0.1");
    QVERIFY(at != std::string::npos);
    text.replace(at, 7, "\"pose\"");
    const std::vector<std::string> told = problems(readProject(text).project);
    QCOMPARE(told.size(), std::size_t(1));
    QVERIFY2(told[0].find("no input called pose") != std::string::npos, told[0].c_str());
    text.erase(text.find("\"pose\": 0.1") - 2, 13);
    const std::vector<std::string> less = problems(readProject(text).project);
    QCOMPARE(less.size(), std::size_t(1));
    QVERIFY2(less[0].find("Nothing is given for pause: it is 0.") != std::string::npos,
             less[0].c_str());
  }
  void manyOfManyAreNotLookedAtForEver() {
    // Each runs the one before twice: a million steps if they were written out.
    Bench bench;
    bench.lane("Own step o0", "flip d4");
    for (int i = 1; i < 22; ++i) {
      const std::string before = "o" + std::to_string(i - 1);
      bench.lane("Own step o" + std::to_string(i), before + "\n" + before);
    }
    bench.lane("always", "o21");
    const Project p = bench;
    QVERIFY(!unfolded(*p.programs[0]).whole);
    (void)check(p);  // comes to an end
    Kernel k(shared(p));
    k.advance(second);
    QVERIFY(edgesOf(k, "b1").size() > 500);
    QVERIFY(cText(p, "b1").text.size() < 60'000);
  }
  void anotherNameIsAnotherNameEverywhere() {
    Project p = ringing().lane("power", "ring 2, 0.1");
    std::string own;
    for (const auto& lane : p.programs[0]->lanes)
      if (isOwn(*lane)) own = lane->id;
    p = withSign(p, own, *parseSign("Own step chime with often, rest", {}));
    const std::string text = writeWiring(p);
    QVERIFY2(text.find("run chime with often 2, rest 0.1") != std::string::npos, text.c_str());
    QVERIFY2(text.find("repeat often times") != std::string::npos, text.c_str());
    p = withSign(p, own, *parseSign("Own step chime with often, rest, loud", {}));
    QVERIFY(writeWiring(p).find("often 2, rest 0.1, loud 0") != std::string::npos);
    QVERIFY(problems(p).empty());
  }
  void theCheckSeesThroughThem() {
    // A lamp that only an own step switches: neither unused nor never on.
    const auto rulesOf = [](const Bench& bench) {
      std::set<std::string> out;
      for (const Finding& f : check(bench).findings) out.insert(f.rule);
      return out;
    };
    QVERIFY(rulesOf(beacon()
                        .lane("Own step light with how", "set d4 how\nwait 0.5")
                        .lane("always", "light true\nlight false"))
                .empty());
    // Too fast to be seen, in what it is given.
    QVERIFY(rulesOf(beacon()
                        .lane("Own step light with how, long", "set d4 how\nwait long")
                        .lane("always", "light true, 0.001\nlight false, 0.001"))
                .contains("too-fast"));
    // Two lanes that run the same own step set the same pin.
    QVERIFY(rulesOf(beacon()
                        .lane("Own step swap", "flip d4\nwait 0.5")
                        .lane("always", "swap")
                        .lane("always", "swap"))
                .contains("two-writers"));
    QVERIFY(!rulesOf(beacon().lane("Own step swap", "flip d4\nwait 0.5").lane("always", "swap"))
                 .contains("two-writers"));
  }
  void mendsLeaveInputsInTheirPlaces() {
    // The mend of the gap is known for what this run gives, not for what others would give.
    const Bench gap = beacon()
                          .part("pot", "pot1", {"e20", "e21", "e22"})
                          .wire("5V", "d20")
                          .wire("A0", "d21")
                          .wire("GND2", "d22")
                          .lane("Own step watch with border",
                                "if level of A0 > border\n  set d4 high\n"
                                "if level of A0 < border\n  set d4 low\nwait 0.1")
                          .lane("always", "watch 50");
    const CheckResult result = check(gap);
    QVERIFY(std::any_of(result.findings.begin(), result.findings.end(),
                        [](const Finding& f) { return f.rule == "threshold-gap"; }));
    const auto borders = [](const Project& p) {
      const std::string text = writeWiring(p);
      int count = 0;
      for (std::size_t at = text.find("border"); at != std::string::npos;
           at = text.find("border", at + 1))
        ++count;
      return count;
    };
    for (const Finding& f : result.findings)
      for (const Remedy& r : f.remedies) {
        QVERIFY2(borders(r.after) == borders(gap), inWords(r.title).c_str());
        QVERIFY2(readProject(writeProject(r.after)).sound(), inWords(r.title).c_str());
      }
  }
  void badFilesAreTold_data() {
    QTest::addColumn<QString>("own");
    QTest::addColumn<QString>("place");
    QTest::newRow("no name") << R"([{"inputs":[],"steps":[]}])"
                             << "own[0].name";
    QTest::newRow("twice") << R"([{"name":"a","steps":[]},{"name":"a","steps":[]}])"
                           << "own[1].name";
    QTest::newRow("inputs") << R"([{"name":"a","inputs":"b","steps":[]}])"
                            << "own[0].inputs";
    QTest::newRow("input twice") << R"([{"name":"a","inputs":["b","b"],"steps":[]}])"
                                 << "own[0].inputs[1]";
    QTest::newRow("given") << R"([{"name":"a","steps":[{"do":"call","step":"a","inputs":[1]}]}])"
                           << "steps[0].inputs";
    QTest::newRow("items") << R"([{"name":"a","steps":[{"do":"log","items":3}]}])"
                           << "steps[0].items";
    QTest::newRow("key")
        << R"([{"name":"a","steps":[{"do":"set","pin":"D4","to":{"get":"key","key":"hyper"}}]}])"
        << "steps[0].to.key";
  }
  void badFilesAreTold() {
    QFETCH(QString, own);
    QFETCH(QString, place);
    const std::string text =
        R"({"format":"ignavo-project","version":1,"boards":[{"id":"b1","type":"tern","at":[2,3]}],)"
        R"("programs":[{"board":"b1","lanes":[],"own":)" +
        own.toStdString() + "}]}";
    const ReadResult read = readProject(text);
    QVERIFY(read.readable);
    QVERIFY(!read.problems.empty());
    QVERIFY2(read.problems[0].path.find(place.toStdString()) != std::string::npos,
             read.problems[0].path.c_str());
    QVERIFY(readProject(writeProject(read.project)).sound());
  }

  // ---- what is said

  void valuesAreWritten_data() {
    QTest::addColumn<double>("value");
    QTest::addColumn<QString>("text");
    const std::pair<double, const char*> rows[] = {{0.1, "0.1"},
                                                   {0.5, "0.5"},
                                                   {-2.25, "-2.25"},
                                                   {1.0 / 3, "0.333333"},
                                                   {1e6, "1e+06"},
                                                   {999999.5, "1e+06"},
                                                   {123456.7, "123457"},
                                                   {0.0001, "0.0001"},
                                                   {0.00002, "2e-05"},
                                                   {1.17549e-38, "1.17549e-38"},
                                                   {3.40282e38, "3.40282e+38"},
                                                   {1e-45, "1.4013e-45"}};
    for (const auto& [value, text] : rows) QTest::newRow(text) << value << text;
  }
  void valuesAreWritten() {
    QFETCH(double, value);
    QFETCH(QString, text);
    QCOMPARE(QString::fromStdString(written(static_cast<float>(value))), text);
  }
  void anyFloatIsWrittenAsItsSixDigits() {
    std::mt19937 random(7);
    int differ = 0;
    for (int i = 0; i < 200'000; ++i) {
      const auto bits = static_cast<std::uint32_t>(random());
      float value = 0;
      std::memcpy(&value, &bits, sizeof value);
      if (!std::isfinite(value) || value == 0) continue;
      char text[40];
      std::snprintf(text, sizeof text, "%.6g", static_cast<double>(value));
      if (written(value) == text) continue;
      // Only of two that are equally near it may be the other.
      const double size = std::abs(static_cast<double>(value));
      const double last = std::pow(10.0, std::floor(std::log10(size)) - 5);
      const double rest = std::fmod(size, last) / last;
      QVERIFY2(std::abs(rest - 0.5) < 1e-6, text);
      ++differ;
    }
    QVERIFY2(differ < 1'000, qPrintable(QString::number(differ)));
    QCOMPARE(written(std::numeric_limits<float>::quiet_NaN()), std::string("nan"));
    QCOMPARE(written(-std::numeric_limits<float>::infinity()), std::string("-inf"));
    QCOMPARE(written(-0.0F), std::string("0"));
  }
  void itemsAreJoined() {
    QCOMPARE(said(Bench()
                      .name("variable count is 3")
                      .name("variable word is \"out\"")
                      .lane("power",
                            "log \"berth\", count, 0.1 + 0.2, count > 2, word, count ÷ 4\n"
                            "post word for 2"),
                  1),
             (std::vector<std::string>{"L berth 3 0.3 true out 0.75", "N out"}));
  }
  void linesAreCutAtSixtyLetters() {
    const std::string many(61, 'x');
    QCOMPARE(said(Bench().lane("power", "log \"" + many + "\""), 1).front(),
             "L " + std::string(60, 'x'));
    std::string umlauts;
    for (int i = 0; i < 70; ++i) umlauts += "ü";
    QCOMPARE(said(Bench().lane("power", "post \"" + umlauts + "\""), 1).front().size(),
             std::size_t(2 + 120));
  }
  void aFullLineHoldsItsLane() {
    // 20 letters take 5.2 ms; asked for every turn, they go at the pace of the line.
    const auto lines = said(Bench().lane("always", "log \"seventeen letters\""), 1);
    QVERIFY2(lines.size() > 185 && lines.size() < 200, qPrintable(QString::number(lines.size())));
    // What does not talk goes on.
    Kernel k(shared(
        Bench().lane("always", "log \"seventeen letters\"").lane("always", "flip d4\nwait 0.1")));
    k.advance(second);
    QVERIFY(edgesOf(k, "b1").size() >= 10);
  }
  void theLineIsHighButForItsLetters() {
    Bench bench = Bench().resistor("r1", 1000, "c9", "h9").led("led1", "i9", "i11");
    bench.wire("D1", "a9").wire("j11", "GND").lane("power", "wait 0.1\nlog \"U\"\nwait 9");
    Kernel k(shared(bench));
    k.advance(second);
    const std::vector<Edge> edges = pinEdges(k, "D1");
    // "L1 U" and its end are five letters, 1.3 ms.
    QVERIFY(edges.size() > 10);
    QVERIFY(k.lookBack(second / 20).levels != k.lookBack(edges.front().at + 1).levels);
    QCOMPARE(edges.front().value, 0.0F);  // it was high: a letter begins low
    QCOMPARE(edges.back().value, 1.0F);
    QVERIFY(edges.back().at - edges[0].at < 5 * 260'000);
    for (const Edge& edge : edges) QCOMPARE((edge.at - edges[0].at) % 26'000, Nanoseconds(0));
  }
  void hostileTextsStayInTheirStrings() {
    Step log = newStep(*stepKind("post"));
    log.setField("text",
                 Expr::of(std::string("*/ \" ?\?/ %n \\ \xE2\x80\xAE") + std::string(200, 'q')));
    Project p = Bench().lane("Every 1", "log \"x\"");
    p = edits::assignIds(edits::insertSteps(p, {p.programs[0]->lanes[0]->id, {}, {}, 0}, {log}));
    const std::string c = cText(p, "b1").text;
    QVERIFY(c.find("?\?/") == std::string::npos);
    QVERIFY(c.find("\\042") != std::string::npos);
  }

  // ---- keys

  void keysStartLanes() {
    Kernel k(shared(Bench().lane("When key space is struck", "flip d4")));
    for (const auto& [when, down] :
         {std::pair(0.1, true), std::pair(0.2, false), std::pair(0.3, true), std::pair(0.35, true)})
      k.schedule(keyAt(when, "space", down));
    k.schedule(keyAt(0.4, "a", true));
    k.advance(second);
    QCOMPARE(edgesOf(k, "b1"), (std::vector<int>{100, 300}));  // held, it is not struck again
  }
  void keysAreAskedFor() {
    Kernel k(shared(Bench().lane("always", "set d4 (key a held)\nwait 0.01")));
    k.schedule(keyAt(0.105, "a", true));
    k.schedule(keyAt(0.205, "a", false));
    k.advance(second);
    QCOMPARE(edgesOf(k, "b1").size(), std::size_t(2));
  }
  void keysInSignals() {
    Kernel k(shared(Bench().lane("Keep D4 at flips on (key a held)", "")));
    k.schedule(keyAt(0.1, "a", true));
    k.schedule(keyAt(0.2, "a", false));
    k.schedule(keyAt(0.3, "a", true));
    k.advance(second);
    QCOMPARE(edgesOf(k, "b1"), (std::vector<int>{100, 300}));
  }
  void programsThatTalkRunInTurns() {
    for (const char* step : {"log \"x\"", "post \"x\"", "set d4 (key a held)"}) {
      const Project p = Bench().program(std::string(step) + "\nwait 1");
      QVERIFY2(whyInTurns(*p.programs[0]), step);
    }
  }
  void aReplayIsTheSame() {
    const Bench bench =
        ringing().lane("When key space is struck", "ring 3, 0.05\nlog \"rung\", seconds");
    Kernel once(shared(bench)), steps(shared(bench));
    for (Kernel* k : {&once, &steps})
      for (int i = 1; i < 9; ++i) {
        k->schedule(keyAt(0.3 * i, "space", true));
        k->schedule(keyAt(0.3 * i + 0.1, "space", false));
      }
    once.advance(3 * second);
    for (Nanoseconds t = 0; t <= 3 * second; t += 333'333) steps.advance(t);
    steps.advance(3 * second);
    QVERIFY(once.said() == steps.said());
    QVERIFY(edgesOf(once, "b1") == edgesOf(steps, "b1"));
    QVERIFY(!once.said().empty());
    const Snapshot past = once.lookBack(second);
    Kernel fresh(shared(bench));
    for (int i = 1; i < 4; ++i) {
      fresh.schedule(keyAt(0.3 * i, "space", true));
      fresh.schedule(keyAt(0.3 * i + 0.1, "space", false));
    }
    fresh.advance(second);
    QVERIFY(past.levels == fresh.snapshot().levels);
  }
  // What was chosen goes below, and one step that runs it stands in its place.
  void stepsBecomeAnOwnStep() {
    const Project p =
        Bench().program("set d4 high\nrepeat 2 times\n  wait 0.1\n  leave\nflip d3\nset d4 low\n");
    const Steps& steps = p.programs[0]->lanes[0]->steps;
    OwnStepMade made = makeOwnStep(p, {steps[2].id, steps[1].id});
    QVERIFY(!made.call.empty());
    const auto& lanes = made.project.programs[0]->lanes;
    QCOMPARE(textOf(lanes[0]->steps), std::string("set D4 high\nrun ring\nset D4 low\n"));
    QCOMPARE(textOf(lanes[1]->steps),
             std::string("repeat 2 times\n  wait 0.1 s\n  leave the loop\nflip D3\n"));
    QCOMPARE(lanes[1]->id, made.lane);
    QVERIFY(made.project.step(made.call) == &lanes[0]->steps[1]);
    // A second one gets another name.
    made = makeOwnStep(made.project, {made.call});
    QVERIFY2(made.problem.empty(), made.problem.text.c_str());
    QCOMPARE(QString::fromStdString(textOf(made.project.programs[0]->lanes[0]->steps)),
             QString("set D4 high\nrun \"ring 2\"\nset D4 low\n"));
    // Not those that lie apart, nor what leaves the loop around it, nor nothing.
    for (const std::vector<std::string>& ids : std::vector<std::vector<std::string>>{
             {steps[0].id, steps[2].id}, {steps[1].body("steps")->at(1).id}, {}}) {
      const OwnStepMade none = makeOwnStep(p, ids);
      QVERIFY(none.call.empty() && !none.problem.empty() && none.project == p);
    }
  }
};

QTEST_GUILESS_MAIN(TestOwnSteps)
#include "tst_own_steps.moc"
