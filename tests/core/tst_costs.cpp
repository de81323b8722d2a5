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
