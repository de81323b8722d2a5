#include <QtTest>
#include <random>

#include "run/kernel.h"
#include "support/build.h"
#include "support/moments.h"
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
};

QTEST_APPLESS_MAIN(TestJumps)
#include "tst_jumps.moc"
