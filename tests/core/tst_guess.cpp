#include <QtTest>

#include "explain/guess.h"
#include "run/kernel.h"
#include "support/build.h"
#include "support/named_circuits.h"
#include "support/runs.h"

using namespace ignavo;
using namespace ignavo::test;

// What was guessed of a lamp beside what it did, and what holds a net.
class TestGuess : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void outcomes_data() {
    QTest::addColumn<QString>("steps");
    QTest::addColumn<QString>("guessed");
    QTest::addColumn<double>("seconds");
    QTest::addColumn<QString>("said");
    const auto row = [](const char* steps, const char* guessed, double seconds, const char* said) {
      QTest::addRow("%s: %s after %.1f", steps, guessed, seconds)
          << steps << guessed << seconds << said;
    };
    const char* blink = "set d4 high\nwait 0.5\nset d4 low\nwait 0.5";
    row(blink, "lit", 6, "Guessed lit; Red lamp blinked, first dark at 500 ms");
    row(blink, "lit", 0.4, "");
    row(blink, "lit", 0.6, "Guessed lit; Red lamp blinked, first dark at 500 ms");
    row(blink, "dark", 0.1, "Guessed dark; Red lamp was lit");
    row(blink, "dark", 6, "Guessed dark; Red lamp blinked, first lit at power-on");
    row(blink, "blinking", 6, "Guessed blinking; Red lamp blinked");
    row(blink, "unsure", 6, "Red lamp blinked");
    row("set d4 high\nwait 9", "blinking", 4, "");
    row("set d4 high\nwait 9", "blinking", 5, "Guessed blinking; Red lamp was lit all the time");
    row("set d4 high\nwait 9", "lit", 5, "Guessed lit; Red lamp was lit");
    row("set d4 high\nwait 9", "unsure", 5, "Red lamp was lit all the time");
    row("set d4 low\nwait 9", "lit", 0.2, "Guessed lit; Red lamp stayed dark");
    row("set d4 low\nwait 9", "dark", 5, "Guessed dark; Red lamp stayed dark");
    row("set d4 low\nwait 9", "blinking", 5, "Guessed blinking; Red lamp stayed dark");
    // Only the first five seconds count.
    row("wait 5.5\nset d4 high\nwait 9", "dark", 8, "Guessed dark; Red lamp stayed dark");
    row("wait 2.25\nset d4 high\nwait 9", "dark", 8,
        "Guessed dark; Red lamp blinked, first lit at 2.25 s");
    // As the eye sees it.
    row("set d4 high\nset d4 low", "lit", 5, "Guessed lit; Red lamp was lit");
    row("set d4 high\nset d4 low\nwait 0.2", "dark", 5, "Guessed dark; Red lamp stayed dark");
  }
  void outcomes() {
    QFETCH(QString, steps);
    QFETCH(QString, guessed);
    QFETCH(double, seconds);
    QFETCH(QString, said);
    Bench bench(with(emptyProject(), "lamp", "D4", "led", "Red lamp"));
    Kernel kernel(shared(bench.program(steps.toStdString())));
    kernel.advance(static_cast<Nanoseconds>(seconds * 1e9));
    const Trace& trace = kernel.trace();
    int signal = -1;
    for (int s = 0; s < static_cast<int>(trace.signals().size()); ++s)
      if (trace.signals()[static_cast<std::size_t>(s)].what == Signal::What::partAmps) signal = s;
    const GuessOutcome o = guessOutcome(guessed.toStdString(), "Red lamp", trace, signal);
    QCOMPARE(QString::fromStdString(inWords(o.words)), said);
    QCOMPARE(o.known, !said.isEmpty());
  }
};

QTEST_GUILESS_MAIN(TestGuess)
#include "tst_guess.moc"
