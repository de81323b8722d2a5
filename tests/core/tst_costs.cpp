#include <QtTest>

#include "posix_runner.h"
#include "reference/cost_rows.h"

using namespace ignavo;
using namespace ignavo::test;

// The table of what steps cost is what they cost: each row is measured anew on the chip's core.
class TestCosts : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void theTableIsWhatIsMeasured_data() {
    QTest::addColumn<int>("row");
    const std::vector<CostRow> rows = costRows();
    for (std::size_t i = 0; i < rows.size(); ++i)
      QTest::addRow("%s%s%s", rows[i].name.c_str(), rows[i].op.empty() ? "" : " ",
                    rows[i].op.empty() ? ""
                    : rows[i].real     ? "of floats"
                                       : "of wholes")
          << static_cast<int>(i);
  }
  void theTableIsWhatIsMeasured() {
    QFETCH(int, row);
    static const std::vector<CostRow> rows = costRows();
    const CostRow& r = rows[static_cast<std::size_t>(row)];
    PosixRunner runner;
    const CostTable costs;
    const int held = CostBench::get(r, costs);
    const double measured = CostBench().measured(r, costs, runner);
    // Freely to the cycles that another arrangement takes; in turns all that stands around a step
    // is arranged otherwise with it.
    const double most = r.plain ? 2 : held < CostRow::least ? 30 : std::max(30.0, 0.1 * held);
    QVERIFY2(std::abs(measured - held) <= most,
             qPrintable(QString("measured %1, the table has %2").arg(measured).arg(held)));
  }
  // What is known before it runs is worked out by the compiler.
  void whatIsKnownCostsAsIfItWereWrittenOut() {
    const auto cycles = [](const char* step) {
      const Project p = Bench(emptyProject()).lane("Round and round", step);
      int sum = 0;
      for (const Instruction& i : compile(*p.programs[0]).lanes[0].code) sum += i.cycles;
      return sum;
    };
    QVERIFY(cycles("dim D3 to 50 %\n") > 0);
    QCOMPARE(cycles("dim D3 to 20 + 30\n"), cycles("dim D3 to 50 %\n"));
    QCOMPARE(cycles("tone of 400 + 40 on D5\n"), cycles("tone of 440 Hz on D5\n"));
    QCOMPARE(cycles("turn servo on D9 to 45 × 2\n"), cycles("turn servo on D9 to 90\n"));
    QVERIFY(cycles("tone of 400 + level of A0 on D5\n") > cycles("tone of 440 Hz on D5\n"));
  }
  // Of floats the values matter: with a zero it is soon done, a remainder goes bit by bit, and so
  // does a sum of what is large and what is small.
  void zerosAndRemaindersTakeTheirOwnTime_data() {
    QTest::addColumn<QString>("work");
    QTest::addColumn<QString>("x");
    QTest::addColumn<QString>("y");
    for (const char* work : {"x × y", "x ÷ y", "remainder of x ÷ y", "x + y", "x - y"})
      for (const auto& [x, y] : {std::pair{"0", "2.5"},
                                 {"2.5", "0"},
                                 {"2.5", "3.7"},
                                 {"700.3", "2.5"},
                                 {"-90.1", "2.5"},
                                 {"2.5", "2.4999"},
                                 {"0.001", "700.3"},
                                 {"0.001", "700000.3"},
                                 {"0.00000000001", "1.5"},
                                 {"1000000000.5", "0.3"}})
        QTest::addRow("%s: %s and %s", work, x, y) << QString::fromUtf8(work) << x << y;
  }
  void zerosAndRemaindersTakeTheirOwnTime() {
    QFETCH(QString, work);
    QFETCH(QString, x);
    QFETCH(QString, y);
    // Freely, so many cycles a round; what is never done keeps the compiler from knowing them.
    const auto round = [&](const QString& what) {
      const QString steps = "flip D8\nlet z be " + what +
                            "\nif z > 1000000000000\n  let x be 7.5\n  let y be 0.25\n  flip D9\n";
      CostRow::Program out;
      out.lanes = {{"Round and round", steps.toStdString()}};
      for (const QString& name :
           {"variable x is " + x, "variable y is " + y, QString("variable z is 0.5")})
        out.names.push_back(name.toStdString());
      return out;
    };
    PosixRunner runner;
    const CostTable costs;
    const CostBench bench;
    const double chip =
        bench.onChip(round(work), true, runner) - bench.onChip(round("x + 0.1"), true, runner);
    const double steps =
        bench.bySteps(round(work), true, costs) - bench.bySteps(round("x + 0.1"), true, costs);
    QVERIFY2(
        std::abs(chip - steps) < 60,
        qPrintable(
            QString("the chip takes %1 more than for a sum, the steps %2").arg(chip).arg(steps)));
  }
  // Numbers in a line are written by the chip digit by digit: what comes behind it in its turn
  // comes so much later.
  void numbersAreWrittenDigitByDigit_data() {
    QTest::addColumn<QString>("number");
    for (const char* number : {"7", "42", "-1000", "99999", "2147483647", "0.5", "1.5", "-0.3",
                               "0.002", "66.666", "123.456", "0.000123457", "8123456.5",
                               "1073741823.5", "2500000000000.5", "0.00000000000012"})
      QTest::addRow("%s", number) << number;
  }
  void numbersAreWrittenDigitByDigit() {
    QFETCH(QString, number);
    const bool whole = !number.contains('.');
    const auto program = [&](const std::string& item) {
      CostRow::Program out;
      out.lanes = {{"Every 0.4 s", "log " + item + "\n"},
                   {"Every 0.4 s", "flip D8\n"},
                   {"Every 100 s", "let v be 1\nlet x be 2.5\nlog x, v\n"}};
      out.names = {std::string(whole ? "variable v is " : "variable x is ") + number.toStdString(),
                   whole ? "variable x is 0.5" : "variable v is 5"};
      return out;
    };
    const CostRow::Program value = program(whole ? "v" : "x"),
                           text = program('"' + number.toStdString() + '"');
    PosixRunner runner;
    const double chip = CostBench::lastOnChip(value, runner) - CostBench::lastOnChip(text, runner),
                 steps = CostBench::lastBySteps(value) - CostBench::lastBySteps(text);
    QVERIFY2(
        std::abs(chip - steps) < 150 + 0.01 * chip,
        qPrintable(
            QString("the chip takes %1 more than for a text, the steps %2").arg(chip).arg(steps)));
  }
  // What the script would write is the file as it is.
  void theFileIsAsTheScriptWritesIt() {
    QFile file(QStringLiteral(SOURCE_DIR "/core/program/cost_rows.h"));
    QVERIFY(file.open(QIODevice::ReadOnly));
    const auto bare = [](const QString& text) { return text.simplified().remove(' '); };
    QCOMPARE(bare(QString::fromUtf8(file.readAll())),
             bare(QString::fromStdString(costRowsText(CostTable()))));
  }
};

QTEST_APPLESS_MAIN(TestCosts)
#include "tst_costs.moc"
