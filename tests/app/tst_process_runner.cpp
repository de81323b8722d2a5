#include <QElapsedTimer>
#include <QtTest>

#include "build/process_runner.h"
#include "support/window.h"

using namespace ignavo;

// The window's way of running other programs keeps what core/make/program_runner.h promises.
class TestProcessRunner : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void linesComeAsTheyArePrinted() {
    app::ProcessRunner runner;
    std::vector<std::string> lines;
    const auto line = [&](const std::string& l) { lines.push_back(l); };
    const Ran ran =
        runner.run({"sh", "-c", "echo one; echo two >&2; printf three; exit 3"}, line, {});
    QVERIFY(ran.started && !ran.cancelled);
    QCOMPARE(ran.exit, 3);
    QVERIFY(lines == (std::vector<std::string>{"one", "two", "three"}));
    QVERIFY(!runner.run({"no-such-program-anywhere"}, line, {}).started);
  }
  void cancellingEndsWhatWasStarted() {
    app::ProcessRunner runner;
    std::string child;
    const Ran ran = runner.run(
        {"sh", "-c", "sleep 600 & echo $!; wait; echo over"},
        [&](const std::string& l) { child = l; }, [&] { return !child.empty(); });
    QVERIFY(ran.started && ran.cancelled);
    QVERIFY(child != "over");
    // The one in between is gone as well (or waits to be buried).
    const QString stat = QStringLiteral("/proc/%1/stat").arg(QString::fromStdString(child));
    QTRY_VERIFY([&] {
      QFile file(stat);
      return !file.open(QIODevice::ReadOnly) || file.readAll().contains(") Z ");
    }());
  }
  void itsFolderGoesWithIt() {
    QString folder;
    {
      app::ProcessRunner runner;
      folder = QString::fromStdString(runner.folder());
      QVERIFY(QFile::exists(folder));
      QCOMPARE(QString::fromStdString(runner.folder()), folder);
    }
    QVERIFY(!QFile::exists(folder));
  }
};

QTEST_MAIN(TestProcessRunner)
#include "tst_process_runner.moc"
