#include <QAction>
#include <QLabel>
#include <QPushButton>
#include <QtTest>

#include "bench/damage_card.h"
#include "support/build.h"
#include "support/window.h"

using namespace ignavo;
using namespace ignavo::app;
using namespace ignavo::test;

// What breaks in a run is said, and mended with one click.
class TestDamage : public QObject {
  Q_OBJECT
  Answers answers_;
  std::unique_ptr<MainWindow> window_;

  DamageCard* card() { return window_->bench()->findChild<DamageCard*>(QStringLiteral("damage")); }
  void run(const Bench& bench, double seconds) {
    window_ = openWindow(answers_);
    window_->document().reset(bench.get(), {});
    window_->togglePower();
    go(seconds);
  }
  void go(double seconds) {
    for (double t = 0; t < seconds; t += 0.1) window_->runControl().advanceBy(0.1);
    QApplication::processEvents();
  }
  double amps(std::size_t part) { return window_->runControl().shown()->reading.parts[part].amps; }
  void mend() {
    QTest::mouseClick(card()->findChild<QPushButton*>(QStringLiteral("damageReplace")),
                      Qt::LeftButton);
    go(0.1);
  }

 private Q_SLOTS:
  void initTestCase() { lookAsInDaylight(); }
  void aLampWithoutResistor() {
    run(Bench()
            .led("led1", "a9", "a11", "green")
            .wire("D4", "b9")
            .wire("GND", "b11")
            .program("set d4 high\n"),
        0.4);
    QVERIFY(!card()->isVisible());
    go(0.6);
    QVERIFY2(card()->text().contains("led1 burnt out: it got 9"), qPrintable(card()->text()));
    QVERIFY(std::abs(amps(0)) < 1e-6);
    mend();
    QVERIFY(!card()->isVisible());
    QVERIFY(amps(0) > 0.08);
    // And with the power off nothing is said.
    go(1);
    QVERIFY(card()->isVisible());
    window_->togglePower();
    QApplication::processEvents();
    QVERIFY(!card()->isVisible());
  }
  void partsSurviveIsASettingOfTheProject() {
    window_ = openWindow(answers_);
    auto* survive = window_->findChild<QAction*>(QStringLiteral("partsSurvive"));
    QVERIFY(survive && survive->isCheckable() && !survive->isChecked());
    survive->trigger();
    QVERIFY(window_->document().project().settings.partsSurvive && survive->isChecked());
    window_->document().undo();
    QVERIFY(!window_->document().project().settings.partsSurvive && !survive->isChecked());
  }
  void aPinThatGivesTooMuch() {
    run(Bench()
            .resistor("r1", 50, "a9", "a13")
            .prop("r1", "watts", 1.0)
            .wire("D4", "b9")
            .wire("GND", "b13")
            .program("set d4 high\n"),
        3.3);
    QVERIFY2(card()->text().startsWith("Pin D4 gives nothing any more: it gave 67 mA"),
             qPrintable(card()->text()));
    mend();
    QVERIFY(!card()->isVisible());
    QVERIFY(amps(0) > 0.06);
  }
  void severalBreakOneAfterTheOther() {
    run(Bench()
            .led("led1", "a9", "a11")
            .led("led2", "a15", "a17")
            .wire("5V", "b9")
            .wire("c9", "b15")
            .wire("GND", "b11")
            .wire("GND2", "b17"),
        2.5);
    QVERIFY(card()->isVisible());
    const QString first = card()->text();
    QTest::mouseClick(card()->findChild<QPushButton*>(QStringLiteral("damageReplace")),
                      Qt::LeftButton);
    window_->runControl().advanceBy(0.0001);
    QApplication::processEvents();
    QVERIFY(card()->isVisible());
    QVERIFY(card()->text() != first);
  }
};

QTEST_MAIN(TestDamage)
#include "tst_damage.moc"
