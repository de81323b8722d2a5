#include <QtTest>
#include <random>

#include "run/kernel.h"
#include "support/build.h"
#include "support/moments.h"
#include "support/named_circuits.h"
#include "support/runs.h"
#include "support/traces.h"

using namespace ignavo;
using namespace ignavo::test;

// Programs that are looked at once a turn, and wait for a moment of their own: that stands, while
// turn after turn is jumped over.
class TestJumps : public QObject {
  Q_OBJECT

 private Q_SLOTS:
  void wavesStayAsLongAsIsSaid() {
    std::mt19937 random(6);
    const auto within = [&](double least, double most) {
      return std::uniform_real_distribution<double>(least, most)(random);
    };
    int ended = 0;
    for (int round = 0; round < 20'000; ++round) {
      const WaveSteps wave = waveSteps(std::pow(10, within(-1, 3.2)));
      const std::uint32_t high = highPart(wave, round % 10 ? within(0, 100) : 100.0 * (round % 20));
      const auto turn = static_cast<std::int64_t>(random() % 1'000'000'000);
      const std::int64_t alike = turnsAlike(wave, high, turn);
      const auto level = [&](std::int64_t at) { return phaseOf(wave, at) < high; };
      QVERIFY(alike >= 1);
      for (std::int64_t k = 1; k < std::min<std::int64_t>(alike, 50); ++k)
        QCOMPARE(level(turn + k), level(turn));
      QCOMPARE(level(turn + alike - 1), level(turn));
      if (alike == 1 || alike > 1'000'000) continue;
      QVERIFY(level(turn + alike) != level(turn));
      ++ended;
    }
    QVERIFY(ended > 10'000);
  }
  void whatWaitsIsJumpedOver_data() {
    QTest::addColumn<QString>("sign");
    QTest::addColumn<QString>("steps");
    const auto row = [](const char* name, const char* sign, const char* steps = "") {
      QTest::newRow(name) << sign << steps;
    };
    row("held", "Keep D5 at D2 held for 3");
    row("at most every", "Keep D5 at flips on (D2 at most every 5)");
    row("a pulse", "Keep D5 at pulse of 4 on D2");
    row("a pulse begun again", "Keep D5 at pulse of 4 on D2 restarted");
    row("steady", "Keep D5 at D2 steady for 2.5");
    row("a tap", "Keep D5 at flips on (D2 tapped within 2)");
    row("a lane asleep", "always", "flip d5\nwait 7.1");
    row("the clock", "every 6.3", "flip d5\nwait 2\nflip d5");
    row("started by being held", "Each time D2 held for 3", "flip d5\nwait 4.5\nflip d5");
    row("a wave", "Keep D5 at wave of 0.4 Hz with 30 %");
    row("a wave that is counted", "Keep D5 at (count (wave of 0.7 Hz with 10 %) from 0 to 3) > 1");
    row("waiting until", "always", "wait until D2 held for 1.2\nflip d5\nwait 2.5");
  }
  void whatWaitsIsJumpedOver() {
    QFETCH(QString, sign);
    QFETCH(QString, steps);
    const auto project = shared(beacon()
                                    .button("btn1", 20)
                                    .wire("5V", "a20")
                                    .wire("D2", "a22")
                                    .resistor("r9", 10e3, "b22", "b28")
                                    .wire("GND", "a28")
                                    .lane("Keep D6 at D2", "")
                                    .lane(sign.toStdString(), steps.toStdString()));
    Kernel quick(project), plain(project);
    plain.allowSkipping(false);
    for (Kernel* k : {&quick, &plain}) {
      for (const double s : {1.0, 8.5, 9.2, 11.0}) k->schedule(at(s, Input::What::press, "btn1"));
      for (const double s : {5.0, 8.9, 10.7, 12.5})
        k->schedule(at(s, Input::What::release, "btn1"));
      k->advance(20 * second);
    }
    QVERIFY(edges(quick.trace()) == edges(plain.trace()));
    QVERIFY(edgesOf(plain, "b1", "D5").size() >= 2);
    const QString parts = difference(quick.snapshot(), plain.snapshot());
    QVERIFY2(parts.isEmpty(), qPrintable(parts));
    // Of 80,000 turns few are gone through: near a moment, and until it is plain that nothing
    // changes.
    QVERIFY2(quick.periodsSkipped() > 75'000, qPrintable(QString::number(quick.periodsSkipped())));
  }
  // Whatever else goes on meanwhile: rounds of one board are jumped over up to the next pulse,
  // edge, letter, or step of a part on its way.
  void roundsBesideOtherThings_data() {
    QTest::addColumn<unsigned>("seed");
    for (unsigned seed = 0; seed < 120; ++seed) QTest::addRow("%u", seed) << seed;
  }
  void roundsBesideOtherThings() {
    QFETCH(unsigned, seed);
    std::mt19937 random(seed * 7919 + 1);
    const auto one = [&](const std::vector<std::pair<const char*, const char*>>& of) {
      return of[random() % of.size()];
    };
    Bench bench;
    bench.button("btn1", 20)
        .wire("5V", "lp1")
        .wire("lp18", "a20")
        .wire("D2", "a22")
        .resistor("r9", 10e3, "b22", "b28");
    bench.wire("GND", "a28");
    // D7 charges what D8 and A0 look at.
    bench.resistor("r7", 4.7e3, "c14", "h14").wire("D7", "a14").wire("D8", "j14").wire("A0", "i14");
    bench.part("capacitor", "c1", {"g14", "g17"}).prop("c1", "farads", 1e-5);
    bench.wire("GND2", "j17");
    bench = Bench(with(bench, "sounder", "D5", "piezo", "Bell"));
    bench = Bench(with(bench, "servo", "D9", "servo", "Arm"));
    static const std::vector<std::pair<const char*, const char*>> others{
        {"Each time D2 is steady for 0.02", "turn servo on d9 to random from 0 to 180"},
        {"power", "turn servo on d9 to 40\nwait 0.3\nturn servo on d9 to 120"},
        {"Each time D2 goes high", "tone of 440 Hz on d5 for 0.2\nwait 0.1"},
        {"power", "wait 0.2\ntone of 3 Hz on d5"},
        {"Every 0.31", "flip d7"},
        {"power", "set level of d3 to 30 %"},
        {"Each time D8 goes high", "log \"full\"\nwait 0.05"},
        {"Every 0.7", "log \"so far\" seconds"}};
    static const std::vector<std::pair<const char*, const char*>> quiet{
        {"Keep D6 at D2 held for 0.3", ""},
        {"Keep D6 at flips on (D2 at most every 0.5)", ""},
        {"Keep D6 at D8", ""},
        {"Keep D4 at level of A0 > 40 %", ""},
        {"always", "wait until D2 is high\nflip d4\nwait 0.4"},
        {"Keep D6 at wave of 7 Hz with 30 %", ""},
        {"always", "if D8 is high\n  set d4 high\notherwise\n  set d4 low\nwait 0.09"}};
    std::string told;
    for (unsigned n = 0; n < 2 + random() % 3; ++n)
      for (const auto& [sign, steps] : {one(others), one(quiet)}) {
        told += std::string(sign) + "\n" + steps + "\n";
        bench.lane(sign, steps);
      }
    const auto project = shared(bench);
    Kernel quick(project), plain(project);
    plain.allowSkipping(false);
    double moment = 0;
    std::vector<Input> inputs;
    for (int n = 0; n < 8; ++n) {
      moment += 0.001 + static_cast<double>(random() % 700'000) * 1e-6;
      inputs.push_back(at(moment, n % 2 ? Input::What::release : Input::What::press, "btn1"));
    }
    for (Kernel* k : {&quick, &plain}) {
      for (const Input& input : inputs) k->schedule(input);
      k->advance(4 * second);
    }
    QVERIFY2(edges(quick.trace()) == edges(plain.trace()), told.c_str());
    const QString parts = difference(quick.snapshot(), plain.snapshot());
    QVERIFY2(parts.isEmpty(), qPrintable(parts + "\n" + QString::fromStdString(told)));
    QCOMPARE(quick.said().size(), plain.said().size());
    jumped_ += quick.periodsSkipped();
  }
  // Periods of timers, while the programs wait: of two boards whose timers begin at one moment or
  // not, of a pin held by hand, of tones and of pulses for a servo.
  void periodsOfTimers_data() {
    QTest::addColumn<unsigned>("seed");
    for (unsigned seed = 0; seed < 48; ++seed) QTest::addRow("%u", seed) << seed;
  }
  void periodsOfTimers() {
    QFETCH(unsigned, seed);
    std::mt19937 random(seed * 4231 + 5);
    Bench bench = beacon().board("b2");
    std::string told;
    for (const char* board : {"b1", "b2"})
      for (const char* pin : {"D4", "D3", "D11"}) {
        const auto percent = [&] { return std::to_string(random() % 101); };
        const auto wait = [&] {
          // Often whole periods, or what a period and the steps take together.
          const std::int64_t whole = 1'024'000 * (1 + static_cast<std::int64_t>(random() % 120));
          const std::int64_t off =
              random() % 2 ? 0 : static_cast<std::int64_t>(random() % 1'000'000);
          return "wait " + std::to_string(static_cast<double>(whole + off) * 1e-9) + "\n";
        };
        std::string steps;
        for (unsigned n = 0; n <= random() % 3; ++n) {
          steps += std::string("set level of ") + pin + " to " + percent() + " %\n" + wait();
          if (random() % 4 == 0) steps += std::string("flip ") + pin + "\n" + wait();
        }
        if (random() % 3 == 0) continue;
        const char* sign = random() % 3 ? "always" : "power";
        told += std::string(board) + " " + sign + "\n" + steps;
        bench.lane(sign, steps, board);
      }
    // Few timers beside these: what has periods of its own goes on by itself.
    static const char* const trains[] = {"tone of 440 Hz on d5\nwait 1.2\n",
                                         "tone of 987.8 Hz on d5 for 0.5\nwait 0.7\n",
                                         "turn servo on d9 to 30\nwait 1.5\n"};
    if (seed % 4 == 1) {
      const std::string train = trains[seed / 4 % 3];
      bench = Bench(beacon()).lane("always", train + (seed % 8 == 1 ? "flip d4\n" : ""));
      bench.board("b2");
      told = train;
    }
    const auto project = shared(bench);
    Kernel quick(project), plain(project);
    plain.allowSkipping(false);
    for (Kernel* k : {&quick, &plain}) {
      Input hand = at(0.0, Input::What::drivePin, "b2", "D12");
      if (seed % 3 == 0)
        for (int n = 1; n < 5; ++n) {
          hand.value = 20.0 * n;
          hand.at = Nanoseconds{1'024'000} * 2100 * n + (n % 2 ? 0 : 1'000 * seed);
          k->schedule(hand);
        }
      if (seed % 5 == 0) k->schedule(at(0.7, Input::What::reset, "b2"));
      k->advance(12 * second);
    }
    QVERIFY2(edges(quick.trace()) == edges(plain.trace()), told.c_str());
    const QString parts = difference(quick.snapshot(), plain.snapshot());
    QVERIFY2(parts.isEmpty(), qPrintable(parts + "\n" + QString::fromStdString(told)));
    if (seed % 4 == 1) QVERIFY2(quick.periodsSkipped() > 100, told.c_str());
    timed_ += quick.periodsSkipped();
  }
  void manyOfThemWereJumpedOver() {
    // Without it were a third.
    QVERIFY2(jumped_ > 150'000, qPrintable(QString::number(jumped_)));
    QVERIFY2(timed_ > 50'000, qPrintable(QString::number(timed_)));
  }

 private:
  std::int64_t jumped_ = 0, timed_ = 0;
};

QTEST_APPLESS_MAIN(TestJumps)
#include "tst_jumps.moc"
