#include <QtTest>
#include <cmath>
#include <random>

#include "program/pace.h"
#include "program/steps.h"
#include "reference/step_walker.h"
#include "support/build.h"

using namespace ignavo;
using namespace ignavo::test;

namespace {

constexpr double eyeSeconds = 0.020;  // the check asks what is replaced within this

// One lane that sets, flips and waits; forks are taken as a test on D2 or a sum asks.
std::string laneText(std::mt19937& random, int depth = 0) {
  const std::string in(static_cast<std::size_t>(depth) * 2, ' ');
  const auto pick = [&](const std::vector<std::string>& from) {
    return from[random() % from.size()];
  };
  std::string text;
  for (unsigned i = 0, n = 1 + random() % 4; i < n; ++i) switch (random() % (depth < 2 ? 8 : 5)) {
      case 0:
      case 1:
        text += in + "set " + pick({"D4", "D5"}) + pick({" high\n", " low\n"});
        break;
      case 2:
        text += in + "flip " + pick({"D4", "D5"}) + "\n";
        break;
      case 3:
      case 4:
        text += in + "wait " + pick({"0.001", "0.004", "0.019", "0.05", "0.3"}) + "\n";
        break;
      case 5:
        text += in + "if D2 is high\n" + laneText(random, depth + 1);
        if (random() % 2) text += in + "otherwise\n" + laneText(random, depth + 1);
        break;
      case 6:
        text += in + "repeat " + pick({"1", "2", "3"}) + " times\n" + laneText(random, depth + 1);
        break;
      default:
        text += in + "if D4 and not D5\n" + laneText(random, depth + 1);
    }
  return text;
}

struct Ran {
  Project project;
  std::string text;
  StepWalker walker;
};
Ran ran(unsigned seed) {
  std::mt19937 random(seed);
  const std::string text = laneText(random) + "wait 0.001\n";
  const Project p = Bench().program(text);
  std::vector<StepWalker::Event> presses;
  Nanoseconds when = 0;
  for (bool down = true; when < second; down = !down) {
    when += 1'000'001 + 2 * static_cast<Nanoseconds>(random() % 150'000'000);
    presses.push_back({when, "D2", down});
  }
  StepWalker walker(*p.programs[0], presses);
  walker.walk(second);
  return {p, text, std::move(walker)};
}
CompiledProgram compiled(const Project& p) { return compile(*p.programs[0], {}); }

}  // namespace

// What is said of a program's pace without running it must hold whenever it runs.
class TestPace : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void levelsCalledBriefAreReplacedEachTime() {
    int told = 0, seen = 0;
    for (unsigned seed = 0; seed < 3000; ++seed) {
      const Ran r = ran(seed);
      const auto& given = r.walker.given();
      for (const BriefLevel& b : briefLevels(compiled(r.project), eyeSeconds)) {
        ++told;
        QVERIFY(b.seconds < eyeSeconds);
        for (std::size_t i = 0; i < given.size(); ++i) {
          if (given[i].step != b.step) continue;
          QCOMPARE(given[i].pin, b.pin);
          if (b.high) QCOMPARE(given[i].high, *b.high);
          std::size_t k = i + 1;
          while (k < given.size() && (given[k].pin != b.pin || given[k].high == given[i].high)) ++k;
          if (k == given.size()) continue;  // the time was up before
          ++seen;
          const double stood = static_cast<double>(given[k].at - given[i].at) * 1e-9;
          QVERIFY2(stood <= b.seconds + 1e-9,
                   qPrintable(QString("%1 stood for %2 s, %3 s were claimed\n%4")
                                  .arg(QString::fromStdString(b.pin))
                                  .arg(stood)
                                  .arg(b.seconds)
                                  .arg(QString::fromStdString(r.text))));
        }
      }
    }
    QVERIFY2(told > 500 && seen > 5000, qPrintable(QString("%1 %2").arg(told).arg(seen)));
  }
  void noPinIsFasterThanItsShortestPeriod() {
    int pins = 0;
    double closest = HUGE_VAL;
    for (unsigned seed = 0; seed < 3000; ++seed) {
      Ran r = ran(seed);
      const CompiledProgram program = compiled(r.project);
      for (const char* pin : {"D4", "D5"}) {
        const double shortest = shortestPeriodSeconds(program, pin);
        Nanoseconds risen = -1;
        for (const StepWalker::Edge& e : r.walker.edges(pin)) {
          if (!e.high) continue;
          if (risen >= 0) {
            const double period = static_cast<double>(e.at - risen) * 1e-9;
            // A wait counts from its step's beginning, which may take in what came before.
            QVERIFY2(period >= shortest - 1e-9,
                     qPrintable(QString("%1: %2 s, but %3 s was the shortest\n%4")
                                    .arg(pin)
                                    .arg(period)
                                    .arg(shortest)
                                    .arg(QString::fromStdString(r.text))));
            closest = std::min(closest, period / shortest);
            ++pins;
          }
          risen = e.at;
        }
      }
    }
    QVERIFY(pins > 5000);
    QVERIFY2(closest < 1.01, qPrintable(QString::number(closest)));  // it is no mere lower bound
  }
  void whatNeverComesBackHasNoPeriod_data() {
    QTest::addColumn<QString>("text");
    QTest::addColumn<double>("seconds");
    QTest::newRow("on for ever") << "set d4 high\nwait 1\n" << HUGE_VAL;
    QTest::newRow("another pin") << "set d5 high\nwait 1\nset d5 low\nwait 1\n" << HUGE_VAL;
    QTest::newRow("blink") << "set d4 high\nwait .5\nset d4 low\nwait .25\n" << 0.75;
    QTest::newRow("dimmed") << "dim d9 to 30 %\nset d4 high\nwait 1\nset d4 low\nwait 1\n" << 2.0;
    // A wait that is worked out may be none: nothing is claimed of it.
    QTest::newRow("worked out") << "set d4 high\nwait 1 + 1\nset d4 low\nwait .25\n" << 0.25;
    QTest::newRow("fork") << "set d4 high\nif d2\n  wait 1\nset d4 low\nwait .25\n" << 0.25;
    QTest::newRow("flip") << "flip d4\nwait .1\n" << 0.2;
  }
  void whatNeverComesBackHasNoPeriod() {
    QFETCH(QString, text);
    QFETCH(double, seconds);
    const double got = shortestPeriodSeconds(compiled(Bench().program(text.toStdString())), "D4");
    QVERIFY2(got == seconds || std::abs(got - seconds) < 1e-4, qPrintable(QString::number(got)));
  }
  void twoLanesMayMeetAtAnyMoment() {
    const Project p =
        Bench().lane("always", "set d4 high\nwait 1").lane("always", "set d4 low\nwait 1");
    QCOMPARE(shortestPeriodSeconds(compiled(p), "D4"), 0.0);
    QVERIFY(briefLevels(compiled(p), eyeSeconds).empty());
  }
};

QTEST_GUILESS_MAIN(TestPace)
#include "tst_pace.moc"
