#include <QtTest>
#include <algorithm>
#include <bit>
#include <cmath>
#include <limits>

#include "make/c_text.h"
#include "parts/catalogue.h"
#include "program/turn_work.h"
#include "run/kernel.h"
#include "run/model.h"
#include "support/build.h"
#include "support/runs.h"
#include "support/traces.h"

using namespace ignavo;
using namespace ignavo::test;

namespace {

CompiledProgram compiled(const Project& p) {
  const BoardKind& tern = *catalogue().boardKind("tern");
  return compile(*p.programs[0], targetOf(tern, *p.programs[0], p.seed, {}));
}
constexpr Nanoseconds microsecond = 1'000;

}  // namespace

// What a turn has room for is counted.
class TestTurnWork : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void littleWorkIsNotCounted() {
    const Project p = Bench().lane("always", "flip D4\nwait 0.1").lane("always", "flip D5\n");
    const TurnWork work = compiled(p).work;
    QVERIFY(!work.counted);
    QVERIFY(work.turn > 0 && work.turn < 60);
    const std::string text = cText(p, "b1").text;
    QVERIFY(text.find("spent") == std::string::npos);
    QVERIFY(text.find("STEP flip_D4();") != std::string::npos);
  }
  // Two measurements are more than a turn has room for; the text has the same shares.
  void measuringIs() {
    const Project p = Bench()
                          .lane("always", "dim D3 to level of A0\n")
                          .lane("always", "dim D5 to level of A1\nwait 0.1")
                          .lane("always", "flip D4\n");
    const TurnWork work = compiled(p).work;
    QVERIFY(work.counted);
    const std::string& dims = p.programs[0]->lanes[0]->steps[0].id;
    QVERIFY2(work.of(dims) > 150 && work.of(dims) < 210,
             qPrintable(QString::number(work.of(dims))));
    const std::string text = cText(p, "b1").text;
    QVERIFY(text.find("STEP(" + std::to_string(work.of(dims)) + ") dim_D3(level_A0());") !=
            std::string::npos);
    QVERIFY(text.find("spent += " + std::to_string(work.turn) + ";") != std::string::npos);
    // Both dim in the first turn, so the second is left out.
    Kernel k(shared(p));
    k.advance(1'000 * microsecond);
    const std::vector<Edge> edges = pinEdges(k, "D4");
    QVERIFY(edges.size() > 1 && edges.size() < 4);
  }
  // Whatever is worked out beside it, what the clock starts does not drift, and is never more than
  // a few turns off.
  void nothingDrifts() {
    Bench bench;
    bench.name("variable x is 0.5");
    const Project p =
        bench.lane("always", "let x be x ÷ 3 + x ÷ 5 + x ÷ 7 + x ÷ 9 + x ÷ 11 + x ÷ 13 + 0.5\n")
            .lane("always", "let x be x × 3 + x × 5 - x ÷ 7 + x ÷ 9 + x ÷ 11 + x ÷ 13 + 0.5\n")
            .lane("every 0.01 s", "flip D4\n");
    QVERIFY(compiled(p).work.counted);
    Kernel k(shared(p));
    k.advance(2 * second);
    const std::vector<Edge> edges = pinEdges(k, "D4");
    QVERIFY2(edges.size() > 198, qPrintable(QString::number(edges.size())));
    for (std::size_t n = 0; n < edges.size(); ++n) {
      const Nanoseconds late = edges[n].at - static_cast<Nanoseconds>(n + 1) * 10 * second / 1000;
      QVERIFY2(late >= 0 && late < 1'300 * microsecond, qPrintable(QString::number(late)));
    }
  }
  // What makes turns knows the chip, not the program: all of it is folded, in one place.
  void theTextFoldsWhatMakesTurns() {
    const CText c = cText(
        Bench().lane("always", "flip D4\nwait 0.1").lane("each time D2 goes low", "flip D5\n"),
        "b1");
    QCOMPARE(c.machinery.size(), std::size_t(1));
    const auto lineOf = [&](const char* words) {
      const std::size_t at = c.text.find(words);
      return static_cast<int>(
                 std::count(c.text.begin(), c.text.begin() + static_cast<long>(at), '\n')) +
             1;
    };
    for (const char* words : {"static void next_turn(void)", "#define STEP", "static void start("})
      QVERIFY2(lineOf(words) <= c.machinery[0].last, words);
    QVERIFY(lineOf("/* Round and round */") > c.machinery[0].last);
  }
  // A wait that is worked out has a share of its own, as it begins with the step before it.
  void waitsThatAreWorkedOut() {
    Bench bench;
    bench.name("variable x is 0.5");
    const Project p = bench.lane("always", "flip D4\nwait x ÷ 100\n").lane("always", "wait 0.5\n");
    const CompiledProgram program = compiled(p);
    const Steps& steps = p.programs[0]->lanes[0]->steps;
    QVERIFY(program.work.of(steps[1].id) > 30);
    QCOMPARE(program.work.of(p.programs[0]->lanes[1]->steps[0].id), 0);
    int shares = 0;
    for (const Instruction& i : program.lanes[0].code) shares += i.share;
    QCOMPARE(shares, program.work.of(steps[0].id) + program.work.of(steps[1].id));
  }
  // The edges of tones leave less room; never none.
  void tonesTakeTheirShare() {
    const int edge = compiled(Bench().lane("always", "tone of 440 Hz on D5\nwait 1")).work.edge;
    QVERIFY(edge > 15 && edge < 30);
    QCOMPARE(loadOf({}, edge), 0);
    QCOMPARE(loadOf(toneTrain(1), edge), 0);
    int before = 0;
    for (float hertz = 20; hertz <= 10'000; hertz *= 1.3F) {
      const int load = loadOf(toneTrain(hertz), edge);
      QVERIFY(load >= before);
      // Two edges a round, 4000 turns a second.
      QVERIFY(std::abs(static_cast<float>(load) - hertz * 2 / 4000 * static_cast<float>(edge)) < 1);
      before = load;
    }
    QCOMPARE(turnRoom(0), turnMicroseconds);
    QCOMPARE(turnRoom(5 * turnMicroseconds), leastTurnRoom);
  }
  // What a number takes in a line grows with its digits, and with how far from 1 a float is.
  void numbersInLines() {
    QVERIFY(microsecondsOf(std::int32_t{-1000}) == 5 * microsecondsOf(std::int32_t{7}));
    QCOMPARE(microsecondsOf(0.0F), 0);
    QCOMPARE(microsecondsOf(std::numeric_limits<float>::infinity()), 0);
    QCOMPARE(microsecondsOf(std::numeric_limits<float>::quiet_NaN()), 0);
    QVERIFY(microsecondsOf(1e-30F) > microsecondsOf(0.5F));
    QVERIFY(microsecondsOf(1e30F) > microsecondsOf(1e9F));
    QCOMPARE(microsecondsOf(-0.5F), microsecondsOf(0.5F));
  }
  // What is counted is what it takes on the chip, and somewhat more: so lines are never counted
  // shorter than they are.
  void realsAreCountedLongEnough() {
    const CostTable costs;
    std::uint32_t seed = 1;
    for (int n = 0; n < 100'000; ++n) {
      seed = seed * 1664525U + 1013904223U;
      const float number = std::bit_cast<float>(seed);
      if (!std::isfinite(number) || number == 0) continue;
      const double takes = costs.saying(Cell::of(number), ValueType::real) / 16.0;
      QVERIFY2(microsecondsOf(number) >= takes && microsecondsOf(number) < 1.5 * takes + 60,
               qPrintable(QString("%1: %2 are counted, %3 taken")
                              .arg(double{number})
                              .arg(microsecondsOf(number))
                              .arg(takes)));
    }
  }
};

QTEST_GUILESS_MAIN(TestTurnWork)
#include "tst_turn_work.moc"
