#include <QApplication>
#include <QImage>

#include "demos.h"
#include "support/demo_rows.h"
#include "support/window.h"

using namespace ignavo;
using namespace ignavo::app;
using namespace ignavo::test;

// Panes of stations behind the first are made when they are asked for, or when nothing else is to
// be done. Nobody can see when that was.
class TestLatePanes : public QObject {
  Q_OBJECT
  Answers answers_;

  static bool has(const MainWindow& window, const char* name) {
    return window.findChild<QWidget*>(QLatin1String(name)) != nullptr;
  }
  static constexpr const char* ofOthers[] = {"programView", "trace",    "findingsFoot",
                                             "readings",    "handCard", "whyCard"};
  static void goThroughStations(MainWindow& window) {
    for (int i = 0; i < stationCount; ++i) {
      window.setStation(static_cast<Station>(i));
      settle();
    }
    (void)window.hand();
    window.setStation(Station::wire);
  }
  // Some seconds of the example, its first button down for the third of them.
  static void run(MainWindow& window, const QString& demo) {
    QVERIFY(window.openDemo(demo));
    window.document().finishCheck();
    window.togglePower();
    RunControl& run = window.runControl();
    std::string button;
    for (const auto& part : *window.document().project().parts)
      if (part->type == "button" && button.empty()) button = part->id;
    run.advanceBy(2.2);
    if (!button.empty()) run.press(QString::fromStdString(button), true);
    run.advanceBy(1);
    if (!button.empty()) run.press(QString::fromStdString(button), false);
    run.advanceBy(1.3);
    settle();
  }
  static QImage seen(MainWindow& window, Station station) {
    window.setStation(station);
    settle();
    return window.grab().toImage();
  }

 private Q_SLOTS:
  void initTestCase() { lookAsInDaylight(); }

  void theyComeByThemselves() {
    MainWindow window(answers_);
    for (const char* name : ofOthers) QVERIFY2(!has(window, name), name);
    window.show();
    QApplication::processEvents();
    for (const char* name : ofOthers) QTRY_VERIFY2(has(window, name), name);
    QCOMPARE(window.station(), Station::wire);
  }
  void theyComeWhenTheyAreAskedFor() {
    MainWindow window(answers_);
    window.setStation(Station::check);
    QVERIFY(has(window, "findingsFoot") && has(window, "readings"));
    QVERIFY(!has(window, "programView") && !has(window, "trace"));
    window.setStation(Station::run);
    QVERIFY(has(window, "programView") && has(window, "trace"));
  }
  void lateOnesLookLikeEarlyOnes_data() { rowPerDemo(); }
  void lateOnesLookLikeEarlyOnes() {
    QFETCH(QString, name);
    const auto early = openWindow(answers_);
    goThroughStations(*early);
    run(*early, name);
    MainWindow late(answers_);
    late.resize(early->size());
    late.runControl().setByHand(true);
    run(late, name);
    QVERIFY(!has(late, "trace"));
    late.show();
    late.activateWindow();
    QVERIFY(QTest::qWaitForWindowActive(&late));
    late.bench()->fit();
    for (int i = 0; i < stationCount; ++i) {
      const auto station = static_cast<Station>(i);
      const QImage one = seen(*early, station), other = seen(late, station);
      if (one == other) continue;
      one.save(QStringLiteral("early-%1-%2.png").arg(name).arg(i));
      other.save(QStringLiteral("late-%1-%2.png").arg(name).arg(i));
      QFAIL(qPrintable(QStringLiteral("station %1 differs").arg(i)));
    }
  }
};

QTEST_MAIN(TestLatePanes)
#include "tst_late_panes.moc"
