#include <QtTest>

#include "explain/looks.h"
#include "run/kernel.h"
#include "run/lamp_looks.h"
#include "run/trace_differences.h"
#include "support/build.h"
#include "support/named_circuits.h"
#include "support/runs.h"

using namespace ignavo;
using namespace ignavo::test;

namespace {

Bench lampOn(const std::string& pin) {
  return Bench(with(emptyProject(), "lamp", pin.c_str(), "led", "Red lamp"));
}
LampLook lookAfter(const Bench& bench, double seconds) {
  Kernel kernel(shared(bench));
  kernel.advance(static_cast<Nanoseconds>(seconds * 1e9));
  const Trace& trace = kernel.trace();
  for (int s = 0; s < static_cast<int>(trace.signals().size()); ++s)
    if (trace.signals()[static_cast<std::size_t>(s)].what == Signal::What::partAmps)
      return lampLook(trace, s, kernel.now());
  return {};
}
Trace traceOf(const QString& steps) {
  Bench bench = lampOn("D4").pullUp("D5");
  Kernel kernel(shared(bench.lane("Round and round", steps.toStdString() + "\nremark two pins")));
  kernel.advance(second);
  return kernel.trace();
}

}  // namespace

// How lamps look to whoever stands before them, and where two runs part.
class TestLampLooks : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  // A board's own lamp: too fast to see it is half lit, dimmed by hand less, read only dark.
  void aBoardsOwnLamp_data() {
    QTest::addColumn<QString>("steps");
    QTest::addColumn<double>("hand");  // percent; below 0: none
    QTest::addColumn<double>("light");
    QTest::addColumn<int>("looks");
    const auto row = [](const char* name, const char* steps, double hand, double light,
                        Looks looks) {
      QTest::newRow(name) << QString::fromUtf8(steps) << hand << light << static_cast<int>(looks);
    };
    row("lit", "set d13 high\nwait 1\n", -1, 1, Looks::lit);
    row("dark", "set d13 low\nwait 1\n", -1, 0, Looks::dark);
    row("too fast", "set d13 high\nset d13 low\n", -1, std::pow(1.0 / 3, 1 / 2.2), Looks::tooFast);
    row("by hand", "set d12 low\nwait 1\n", 25, std::pow(0.25, 1 / 2.2), Looks::lit);
    row("by hand, hardly", "set d12 low\nwait 1\n", 2, std::pow(0.02, 1 / 2.2), Looks::dim);
    row("read only", "if d13 is high\n  flip d12\nwait 0.1\n", -1, 0, Looks::dark);
    row("blinking", "flip d13\nwait 0.25\n", -1, -1, Looks::blinking);
  }
  void aBoardsOwnLamp() {
    QFETCH(QString, steps);
    QFETCH(double, hand);
    QFETCH(double, light);
    QFETCH(int, looks);
    Kernel kernel(shared(Bench().program(steps.toStdString())));
    if (hand >= 0) {
      Input in = at(0.1, Input::What::drivePin, "b1", "D13");
      in.value = hand;
      kernel.schedule(in);
    }
    kernel.advance(second);
    const Snapshot now = kernel.snapshot();
    QCOMPARE(now.boardLight.size(), std::size_t{1});
    if (light >= 0)
      QVERIFY2(std::abs(now.boardLight[0] - light) < 0.03,
               qPrintable(QString::number(now.boardLight[0])));
    const OutputLook look = outputLook({now, kernel.trace(), kernel.events()}, {-1, -1, 0});
    QCOMPARE(static_cast<int>(look.lamp.looks), looks);
  }

  void aLampLooksAsItDoes_data() {
    QTest::addColumn<QString>("steps");
    QTest::addColumn<QString>("pin");
    QTest::addColumn<int>("looks");
    QTest::addColumn<double>("perSecond");
    const auto row = [](const char* steps, const char* pin, Looks looks, double perSecond) {
      QTest::newRow(steps) << steps << pin << static_cast<int>(looks) << perSecond;
    };
    row("wait 1", "D4", Looks::dark, 0);
    row("set D4 low\nwait 1", "D4", Looks::dark, 0);
    row("set D4 high\nwait 1", "D4", Looks::lit, 0);
    row("dim D9 to 1 %\nwait 1", "D9", Looks::dim, 0);
    row("dim D9 to 60 %\nwait 1", "D9", Looks::lit, 0);
    row("flip D4\nwait 0.25", "D4", Looks::blinking, 2);
    // At any moment of it, a slow one as well.
    row("wait 0.3\nflip D4\nwait 0.2", "D4", Looks::blinking, 1);
    row("set D4 high\nwait 0.9\nset D4 low\nwait 1.1", "D4", Looks::blinking, 0.5);
    row("set D4 high\nwait 1\nset D4 low\nwait 4", "D4", Looks::dark, 0);
    row("flip D4\nwait 0.05", "D4", Looks::blinking, 10);
    row("flip D4\nwait 0.01", "D4", Looks::tooFast, 50);
    row("flip D4\nwait 0.0001", "D4", Looks::tooFast, 5000);
    row("set D4 high\nset D4 low", "D4", Looks::tooFast, 2'666'667);
    // A flash a second that is over for long.
    row("set D4 high\nwait 0.02\nset D4 low\nwait 30", "D4", Looks::dark, 0);
  }
  void aLampLooksAsItDoes() {
    QFETCH(QString, steps);
    QFETCH(QString, pin);
    QFETCH(int, looks);
    QFETCH(double, perSecond);
    const LampLook look =
        lookAfter(lampOn(pin.toStdString()).lane("Round and round", steps.toStdString()), 3);
    QCOMPARE(static_cast<int>(look.looks), looks);
    QVERIFY2(std::abs(look.perSecond - perSecond) <= 0.02 * perSecond + 0.01,
             qPrintable(QString::number(look.perSecond)));
    if (look.looks == Looks::tooFast) {
      const double every = 5e8 / perSecond;
      QVERIFY(std::abs(static_cast<double>(look.changesEvery) - every) < 0.03 * every + 1);
    }
  }
  // What it did before does not matter, nor what is no lamp at all.
  void onlyWhatItDoesNowCounts() {
    Bench bench = lampOn("D4");
    bench.lane("When power comes on",
               "repeat 300 times\n  flip D4\n  wait 0.001\nset D4 high\nwait 9");
    QCOMPARE(lookAfter(bench, 0.2).looks, Looks::tooFast);
    QCOMPARE(lookAfter(bench, 2).looks, Looks::lit);
    Kernel kernel(shared(bench));
    kernel.advance(second);
    QCOMPARE(lampLook(kernel.trace(), -1, second).looks, Looks::dark);
    QCOMPARE(lampLook(kernel.trace(), 999, second).looks, Looks::dark);
    QCOMPARE(lampLook(kernel.trace(), 0, 90 * second), lampLook(kernel.trace(), 0, second));
  }

  // "twenty-first" is 21st, and eleventh is 11th.
  void edgesAreCountedAsPeopleDo() {
    for (const auto& [edge, words] : {std::pair{1, "D4’s first edge"},
                                      {10, "D4’s tenth edge"},
                                      {11, "D4’s 11th edge"},
                                      {12, "D4’s 12th edge"},
                                      {21, "D4’s 21st edge"},
                                      {22, "D4’s 22nd edge"},
                                      {103, "D4’s 103rd edge"},
                                      {113, "D4’s 113th edge"}}) {
      TraceDifference d{"b1", "D4"};
      d.edge = edge;
      const QString said = QString::fromStdString(inWords(sentence(d)));
      QVERIFY2(said.startsWith(QString::fromUtf8(words) + " "), qPrintable(said));
    }
  }
  void differencesAreTold_data() {
    QTest::addColumn<QString>("before");
    QTest::addColumn<QString>("now");
    QTest::addColumn<QStringList>("told");
    QTest::newRow("the same") << "flip D4\nwait 0.5"
                              << "flip D4\nwait 0.5" << QStringList{};
    QTest::newRow("slower") << "flip D4\nwait 0.5"
                            << "flip D4\nwait 0.75"
                            << QStringList{"D4’s second edge is 250 ms later"};
    QTest::newRow("faster") << "flip D4\nwait 0.5"
                            << "flip D4\nwait 0.25"
                            << QStringList{"D4’s second edge is 250 ms earlier"};
    QTest::newRow("one less") << "flip D4\nwait 0.5\nflip D5\nwait 99"
                              << "flip D4\nwait 0.5\nwait 99\nset D5 low"
                              << QStringList{"D5 has no first edge any more; it was at 500 ms"};
    QTest::newRow("one more") << "flip D4\nwait 0.5\nwait 99"
                              << "flip D4\nwait 0.5\nflip D4\nwait 99"
                              << QStringList{"D4 has a second edge now, at 500 ms"};
    QTest::newRow("two pins, in the order in which they come")
        << "flip D5\nwait 0.3\nflip D4\nwait 0.3\nflip D5\nwait 0.1"
        << "flip D5\nwait 0.3\nwait 0.2\nflip D4\nwait 0.05\nflip D5\nwait 0.15"
        << QStringList{"D4’s first edge is 200 ms later", "D5’s second edge is 50 ms earlier"};
  }
  void differencesAreTold() {
    QFETCH(QString, before);
    QFETCH(QString, now);
    QFETCH(QStringList, told);
    const Trace a = traceOf(before), b = traceOf(now);
    QStringList words;
    for (const TraceDifference& d : traceDifferences(a, b))
      words << QString::fromStdString(inWords(sentence(d)));
    QCOMPARE(words, told);
    QVERIFY(traceDifferences(a, a).empty());
  }
};

QTEST_APPLESS_MAIN(TestLampLooks)
#include "tst_lamp_looks.moc"
