#include <QtTest>
#include <cmath>
#include <limits>

#include "format/project_file.h"
#include "make/c_text.h"
#include "program/facts.h"
#include "program/pulses.h"
#include "run/devices/arm.h"
#include "support/build.h"
#include "support/phrase_rows.h"
#include "support/runs.h"
#include "support/traces.h"

using namespace ignavo;
using namespace ignavo::test;

namespace {

Bench bell(const std::string& steps, const std::string& sign = "power") {
  return Bench()
      .part("piezo", "piezo1", {"c12", "c15"})
      .wire("D5", "a12")
      .wire("a15", "GND")
      .lane(sign, steps);
}
Bench gate(const std::string& steps, const std::string& sign = "power") {
  return Bench()
      .part("servo", "arm1", {"c12", "c13", "c14"})
      .wire("D9", "a12")
      .wire("5V", "a13")
      .wire("GND", "a14")
      .lane(sign, steps);
}

std::vector<Edge> edges(const Bench& bench, Nanoseconds until, const std::string& pin) {
  Kernel k(shared(bench));
  k.advance(until);
  return pinEdges(k, pin);
}
// How long each pulse is high.
std::vector<Nanoseconds> widths(const std::vector<Edge>& edges) {
  std::vector<Nanoseconds> out;
  for (std::size_t i = 0; i + 1 < edges.size(); ++i)
    if (edges[i].value != 0) out.push_back(edges[i + 1].at - edges[i].at);
  return out;
}
constexpr Nanoseconds millisecond = 1'000'000;

}  // namespace

class TestPulses : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void phrasesGoBothWays_data() {
    phraseRows({
        {"tone of 440 Hz on d5 for 0.2 s", "tone of 440 Hz on D5 for 0.2 s"},
        {"Tone of 440 on d5", "tone of 440 Hz on D5 until told"},
        {"tone 440 hz on d5 for 200 ms", "tone of 440 Hz on D5 for 0.2 s"},
        {"play 880 on d5 until told", "tone of 880 Hz on D5 until told"},
        {"tone of level of A0 × 10 on d5 for 0.1", "tone of level of A0 × 10 on D5 for 0.1 s"},
        {"silence d5", "silence D5"},
        {"turn servo on d9 to 90°", "turn servo on D9 to 90 °"},
        {"turn servo on d9 to 90 degrees", "turn servo on D9 to 90 °"},
        {"servo d9 45 deg", "turn servo on D9 to 45 °"},
        {"turn servo on d9 to level of A0 × 1.8", "turn servo on D9 to level of A0 × 1.8"},
    });
  }
  void phrasesGoBothWays() {
    QFETCH(QString, typed);
    QFETCH(QString, phrase);
    const Vocabulary words(programPins(Bench(), "b1"));
    const ParsedStep read = parseStep(typed.toStdString(), words);
    QVERIFY2(read.step, inWords(read.problem).c_str());
    QCOMPARE(QString::fromStdString(phraseOf(*read.step)), phrase);
    const ParsedStep again = parseStep(phrase.toStdString(), words);
    QVERIFY2(again.step, inWords(again.problem).c_str());
    QVERIFY(*again.step == *read.step);
    // And the file keeps it.
    Project p = bell(typed.toStdString());
    const ReadResult opened = readProject(writeProject(p));
    QVERIFY(opened.sound());
    QVERIFY(opened.project == p);
  }

  void aToneKeepsItsPitch_data() {
    QTest::addColumn<double>("hertz");
    for (const double hertz : {1.0, 33.3, 440.0, 523.25, 2'000.0, 9'999.0, 10'000.0})
      QTest::addRow("%g Hz", hertz) << hertz;
  }
  void aToneKeepsItsPitch() {
    QFETCH(double, hertz);
    const auto all = edges(bell("tone of " + std::to_string(hertz) + " on d5"), 3 * second, "D5");
    QVERIFY(all.size() > 3);
    QCOMPARE(all.front().at, Nanoseconds(0));
    const auto halves = static_cast<double>(all.size() - 1);
    const double seconds = static_cast<double>(all.back().at) * 1e-9;
    // Half a period is told to the 64th part of a microsecond.
    const double worst = 4e-6 + seconds * 2e-4;
    QVERIFY2(std::abs(seconds - halves / 2 / hertz) < worst, qPrintable(QString::number(seconds)));
    for (std::size_t i = 0; i + 1 < all.size(); ++i) {
      QVERIFY(std::abs(static_cast<double>(all[i + 1].at - all[i].at) * 1e-9 - 0.5 / hertz) <
              1e-8 + 1e-4 / hertz);
    }
  }
  void aToneWithATimeHoldsItsLane() {
    const auto all = edges(bell("tone of 500 on d5 for 0.05\nset d13 high"), second, "D5");
    QCOMPARE(all.size(), std::size_t(50));
    QCOMPARE(all.back().at, 49 * millisecond);
    QCOMPARE(all.back().value, 0.0F);
    const auto after = edges(bell("tone of 500 on d5 for 0.05\nset d13 high"), second, "D13");
    QCOMPARE(after.size(), std::size_t(1));
    QCOMPARE(after.front().at, 50 * millisecond);
  }
  void withoutATimeItSoundsOn_data() {
    QTest::addColumn<QString>("ends");
    for (const char* ends : {"silence d5", "set d5 low", "tone of 1 - 1 on d5", "flip d5",
                             "tone of 0 ÷ 0 on d5", "dim d5 to 0 %"})
      QTest::newRow(ends) << ends;
  }
  void withoutATimeItSoundsOn() {
    QFETCH(QString, ends);
    const auto all = edges(
        bell("tone of 1000 on d5\nwait 0.01025\n" + ends.toStdString() + "\nwait 1"), second, "D5");
    QCOMPARE(all.size(), std::size_t(22));
    QCOMPARE(all.back().value, 0.0F);
    QCOMPARE(all.back().at, 10'250'000);  // in the middle of a pulse
  }
  void setHighItStaysHigh() {
    const auto all = edges(bell("tone of 1000 on d5\nwait 0.0105\nset d5 high"), second, "D5");
    QCOMPARE(all.back().value, 1.0F);
    QVERIFY(all.back().at <= 10'500'000);
  }
  void theSameToneGoesOnAsItIs() {
    const auto once = edges(bell("tone of 440 on d5\nwait 2"), second, "D5");
    const auto again = edges(bell("tone of 440 on d5", "always"), second, "D5");
    QVERIFY(once == again);
  }
  void anotherToneGoesOnFromTheLastEdge() {
    const auto all =
        edges(bell("tone of 100 on d5\nwait 0.007\ntone of 250 on d5\nwait 1"), second, "D5");
    // High from 0 to 5 ms; then low, at 7 ms for 2 ms already.
    QCOMPARE(all[1].at, 5 * millisecond);
    QCOMPARE(all[2].at, 7 * millisecond);
    QCOMPARE(all[3].at - all[2].at, 2 * millisecond);
  }
  void whatIsHeardIsTheTone() {
    Kernel k(shared(bell("tone of 523.25 on d5")));
    k.advance(second / 2);
    double hertz = 0;
    for (const Motion& m : k.snapshot().motion) hertz = std::max(hertz, m.hertz);
    QVERIFY2(std::abs(hertz - 523.25) < 3, qPrintable(QString::number(hertz)));
  }
  void aResetEndsIt() {
    Kernel k(shared(bell("wait 0.1\ntone of 1000 on d5")));
    Input in;
    in.at = second;
    in.what = Input::What::reset;
    in.id = "b1";
    k.schedule(in);
    k.advance(second + 50 * millisecond);
    const auto all = pinEdges(k, "D5");
    QVERIFY(all.back().at <= second);
    QCOMPARE(all.back().value, 0.0F);
  }
  void stepsThatAreEditedLeaveItSounding() {
    Kernel k(shared(bell("tone of 1000 on d5\nwait 10")));
    k.advance(second);
    Input in;
    in.at = second;
    in.what = Input::What::project;
    in.project = shared(bell("tone of 1000 on d5\nwait 12"));
    k.schedule(in);
    k.advance(2 * second);
    QVERIFY(pinEdges(k, "D5").size() > 1900);
  }
  void longTonesAreWhatTheyWouldBeStepByStep() {
    const Bench bench =
        bell("tone of 333 on d5 for 0.1\nwait 0.0305\ntone of 200 on d5 for 0.05", "always");
    Kernel quick(shared(bench)), slow(shared(bench));
    quick.advance(20 * second);
    for (Nanoseconds t = 0; t < 20 * second; t += 777'777) slow.advance(t);
    slow.advance(20 * second);
    QVERIFY(pinEdges(quick, "D5") == pinEdges(slow, "D5"));
    QVERIFY(pinEdges(quick, "D5").size() > 8000);
  }

  void aServoGetsPulsesForItsAngle_data() {
    QTest::addColumn<QString>("degrees");
    QTest::addColumn<qlonglong>("width");
    QTest::newRow("0") << "0" << 1'000'000LL;
    QTest::newRow("90") << "90" << 1'500'000LL;
    QTest::newRow("180") << "180" << 2'000'000LL;
    QTest::newRow("45") << "45" << 1'250'000LL;
    QTest::newRow("beyond") << "170 + 100" << 2'000'000LL;
    QTest::newRow("below") << "0 - 20" << 1'000'000LL;
    QTest::newRow("none") << "0 ÷ 0" << 1'000'000LL;
  }
  void aServoGetsPulsesForItsAngle() {
    QFETCH(QString, degrees);
    QFETCH(qlonglong, width);
    const auto all = edges(gate("turn servo on d9 to " + degrees.toStdString()), second - 1, "D9");
    QCOMPARE(all.size(), std::size_t(100));
    // What is worked out begins between two ticks, and is rounded to 256ths of them.
    for (const Nanoseconds w : widths(all)) QVERIFY(std::abs(w - width) < 16);
    for (std::size_t i = 0; i + 2 < all.size(); ++i)
      QVERIFY(std::abs(all[i + 2].at - all[i].at - 20 * millisecond) < 16);
  }
  void anotherAngleCountsFromTheNextPulse() {
    const auto all = edges(
        gate("turn servo on d9 to 0\nwait 0.0405\nturn servo on d9 to 180\nwait 1"), second, "D9");
    const auto w = widths(all);
    QCOMPARE(w[2], 1 * millisecond);  // it was on its way
    QCOMPARE(w[3], 2 * millisecond);
    QCOMPARE(all[6].at, 60 * millisecond);
  }
  void theArmGoesThere() {
    Kernel k(shared(gate("turn servo on d9 to 135\nwait 2\nturn servo on d9 to 45\nwait 9")));
    const auto angle = [&] {
      double out = -1;
      for (const Motion& m : k.snapshot().motion) out = std::max(out, m.degrees);
      return out;
    };
    k.advance(2 * second);
    QVERIFY2(std::abs(angle() - 135) < 1, qPrintable(QString::number(angle())));
    k.advance(4 * second);
    QVERIFY2(std::abs(angle() - 45) < 1, qPrintable(QString::number(angle())));
  }
  void aToneInPlaceOfPulses() {
    const auto all =
        edges(gate("turn servo on d9 to 0\nwait 0.0005\ntone of 100 on d9\nwait 1"), second, "D9");
    QCOMPARE(all[1].at, 5'500'000);  // it was high already; from then on it is a tone
  }

  void whereEveryTimerDimsNoneIsLeft() {
    const Bench bench = bell("dim d9 to 50 %\ndim d3 to 50 %\ntone of 440 on d5\nwait 1");
    const Project p = bench;
    const auto problems =
        stepProblems(*p.programs[0], pinAbilities(*catalogue().boardKind("tern")));
    QCOMPARE(problems.size(), std::size_t(1));
    QVERIFY(problems.front().code == StepProblem::Code::noTimer);
    QCOMPARE(problems.front().value, std::string("D9"));
    QVERIFY(inWords(sentence(problems.front())).find("D9") != std::string::npos);
    QVERIFY(edges(bench, second, "D5").empty());
    QVERIFY(cText(p, "b1").text.find("no timer is left") != std::string::npos);
    // One pair less, and it sounds: another timer makes the edges.
    const Project freed = bell("dim d9 to 50 %\ndim d6 to 50 %\ntone of 440 on d5\nwait 1");
    QVERIFY(stepProblems(*freed.programs[0], pinAbilities(*catalogue().boardKind("tern"))).empty());
    QVERIFY(cText(freed, "b1").text.find("TIMER2_COMPB_vect") != std::string::npos);
  }
  void programsWithThemRunInTurns() {
    for (const char* step : {"tone of 440 on d5", "silence d5", "turn servo on d9 to 90"}) {
      const Project p = Bench().program(std::string(step) + "\nwait 1");
      const auto why = whyInTurns(*p.programs[0]);
      QVERIFY2(why, step);
    }
  }
  void trainsAreWorkedOutAlikeEverywhere() {
    QVERIFY(toneTrain(std::numeric_limits<float>::quiet_NaN()).period == 0);
    QVERIFY(toneTrain(0.999F).period == 0);
    QVERIFY(toneTrain(std::numeric_limits<float>::infinity()) == toneTrain(10'000));
    QCOMPARE(toneTrain(1).width, 32'000'000U);
    QCOMPARE(servoTrain(std::numeric_limits<float>::quiet_NaN()).width, 250U * 256);
  }
};

QTEST_GUILESS_MAIN(TestPulses)
#include "tst_pulses.moc"
