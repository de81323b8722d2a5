#include <QtTest>

#include "format/bench_words.h"
#include "format/wiring_language.h"
#include "program/phrases/finding.h"
#include "run/find_when.h"
#include "run/kernel.h"
#include "run/trace_measure.h"
#include "support/runs.h"

using namespace ignavo;
using namespace ignavo::test;

// When a lamp came to be lit, asked by its name: as the eye sees it, whatever it hangs on.
class TestFindLamps : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void itIsFound_data() {
    QTest::addColumn<QString>("circuit");
    QTest::addColumn<QString>("asked");
    QTest::addColumn<double>("at");  // seconds; below 0: never
    const QString pin = "red led i9 i11\n220 c9 h9\nwire D5 a9\nwire j11 GND\n";
    const QString battery =
        "9v battery rp1 rn1\nred led i9 i11\n470 c9 h9\nbutton e18\nwire rp18 j18\nwire h20 a9\n"
        "wire j11 rn11\n";
    const QString longer = "Red lamp lit longer than 2 s", lit = "Red lamp lit";
    const auto row = [](const char* name, const QString& circuit, const QString& asked, double at) {
      QTest::newRow(name) << circuit << asked << at;
    };
    row("a pin", pin + "When power comes on:\n  wait 0.5\n  set d5 high\n", lit, 0.5);
    row("a pin, for long", pin + "When power comes on:\n  wait 0.5\n  set d5 high\n", longer, 2.5);
    row("dimmed", pin + "When power comes on:\n  wait 0.5\n  dim d5 to 30 %\n", longer, 2.5);
    row("too fast to see", pin + "Round and round:\n  set d5 high\n  set d5 low\n", longer, 2);
    row("blinking", pin + "Round and round:\n  set d5 high\n  wait 1\n  set d5 low\n  wait 1\n",
        longer, -1);
    row("blinking: dark",
        pin + "Round and round:\n  set d5 high\n  wait 1\n  set d5 low\n  wait 1\n",
        "Red lamp dark longer than 0.9 s", 1.92);
    row("lit while the pin is low",
        "red led i9 i11\n220 c9 h9\nwire 5V a9\nwire j11 D5\nWhen power comes on:\n  set d5 high\n"
        "  wait 1\n  set d5 low\n",
        lit, 1);
    row("no program, a battery and a button", battery, lit, 1.5);
    row("no program, for long", battery, longer, -1);
    row("beside a pin", pin + "When power comes on:\n  set d4 high\n  wait 0.5\n  set d5 high\n",
        "d4 high and red lamp lit", 0.5);
    row("both",
        pin +
            "green led i19 i21\n220 c19 h19\nwire D6 a19\nwire j21 GND2\n"
            "When power comes on:\n  set d5 high\n  wait 0.5\n  set d6 high\n",
        "red lamp and green lamp both lit", 0.5);
  }
  void itIsFound() {
    QFETCH(QString, circuit);
    QFETCH(QString, asked);
    QFETCH(double, at);
    const WiringText wired = readWiring(circuit.toStdString());
    QVERIFY2(wired.problems.empty(),
             wired.problems.empty() ? "" : inWords(wired.problems[0].what.message).c_str());
    Kernel kernel(shared(wired.project));
    kernel.schedule(ignavo::test::at(1.5, Input::What::press, "btn1"));
    kernel.schedule(ignavo::test::at(2.5, Input::What::release, "btn1"));
    kernel.advance(5 * second);
    const Nets nets(wired.project, catalogue());
    const ParsedExpr read = readFind(asked.toStdString(), findWords(wired.project, nets, "b1"));
    QVERIFY2(read.value.has_value(), inWords(read.problem).c_str());
    const FoundWhen found = findWhen(kernel.trace(), "b1", *read.value, -1);
    QVERIFY2(!found.problem, found.problem ? inWords(*found.problem).c_str() : "");
    QCOMPARE(found.at.has_value(), at >= 0);
    if (found.at)
      QVERIFY2(std::abs(inSeconds(*found.at) - at) < 0.004,
               qPrintable(QString::number(inSeconds(*found.at))));
  }
  // However many edges a lamp has, they are not all gone through before it can be given up.
  void itIsGivenUpAtOnce() {
    const WiringText wired = readWiring(
        "red led i9 i11\n220 c9 h9\nwire D5 a9\nwire j11 GND\n"
        "Round and round:\n  set d5 high\n  set d5 low\n");
    Kernel kernel(shared(wired.project));
    kernel.advance(5 * second);
    const Trace& trace = kernel.trace();
    const int lamp = trace.find(Signal::What::partAmps, "led1", {});
    QVERIFY(stretchOf(trace, lamp, 0, 5 * second).edges > 1'000'000);
    const Nets nets(wired.project, catalogue());
    const ParsedExpr dark = readFind("red lamp dark", findWords(wired.project, nets, "b1"));
    QVERIFY(dark.value);
    int asked = 0;
    const FoundWhen found =
        findWhen(trace, "b1", *dark.value, 1 * second, [&] { return ++asked > 3; });
    QCOMPARE(asked, 4);
    QVERIFY(!found.at);
    QCOMPARE(QString::fromStdString(inWords(*found.problem)), QStringLiteral("given up"));
    // All of it: it looks lit to the end.
    asked = 0;
    QVERIFY(!findWhen(trace, "b1", *dark.value, 1 * second, [&] { return ++asked < 0; }).at);
    QVERIFY(asked > 1000);
  }
};

QTEST_GUILESS_MAIN(TestFindLamps)
#include "tst_find_lamps.moc"
