#include <QComboBox>
#include <QLineEdit>
#include <QToolButton>
#include <QtTest>

#include "bench/meter.h"
#include "demos.h"
#include "support/build.h"
#include "support/window.h"

using namespace ignavo;
using namespace ignavo::app;
using namespace ignavo::test;

// The meter on the bench, driven by real mouse and key events.
class TestMeterOnTheBench : public QObject {
  Q_OBJECT
  Answers answers_;
  std::unique_ptr<MainWindow> window_;

  BenchView* bench() { return window_->bench(); }
  Meter& meter() { return bench()->meter(); }
  QPoint at(const std::string& socket) {
    const bool pin = catalogue().board("tern")->pinIndex(socket) >= 0;
    return bench()->screenOf(Socket{pin ? "b1" : "bb", socket}).toPoint();
  }
  MeterTip* tip(const char* name) { return bench()->findChild<MeterTip*>(QLatin1String(name)); }
  // Drags a tip by its point to a place on the bench.
  void drag(const char* name, QPoint to) {
    MeterTip* t = tip(name);
    QTest::mousePress(t, Qt::LeftButton, {}, t->hot());
    const QPoint from = t->mapTo(bench(), t->hot());
    for (int i = 1; i <= 5; ++i)
      moveMouse(t, t->mapFrom(bench(), from + (to - from) * i / 5), Qt::LeftButton);
    QTest::mouseRelease(t, Qt::LeftButton, {}, t->hot());
  }
  void mode(int which) {
    QTest::mouseClick(meter().findChild<QToolButton*>(QStringLiteral("meterMode%1").arg(which)),
                      Qt::LeftButton);
  }
  void open() { QTest::keyClick(bench(), Qt::Key_E); }

  void type(const char* line) {
    QTest::keyClick(window_.get(), Qt::Key_K, Qt::ControlModifier);
    auto* field = window_->typeLine()->field();
    QTest::keyClicks(field, QLatin1String(line));
    QTest::keyClick(field, Qt::Key_Return);
    QVERIFY2(field->text().isEmpty(), line);
    QTest::keyClick(field, Qt::Key_Escape);
    bench()->setFocus();
  }

 private Q_SLOTS:
  void initTestCase() { lookAsInDaylight(); }
  void init() {
    window_ = openWindow(answers_);
    window_->document().reset(beacon().program("set d4 high\n").get(), {});
    bench()->setFocus();
    QApplication::processEvents();
  }
  // "P switches it on": also while a probe is in the hand, and typing stays typing.
  void powerIsSwitchedWithAProbeInTheHand() {
    open();
    drag("probeRed", at("i9"));
    tip("probeRed")->setFocus();
    QTest::keyClick(tip("probeRed"), Qt::Key_P);
    QVERIFY(window_->runControl().isOn());
    window_->runControl().advanceBy(0.1);
    QVERIFY2(meter().value().startsWith("1.9"), qPrintable(meter().value()));
    QTest::keyClick(tip("probeRed"), Qt::Key_P);
    QVERIFY(!window_->runControl().isOn());
    QTest::keyClick(window_.get(), Qt::Key_K, Qt::ControlModifier);
    QTest::keyClicks(window_->typeLine()->field(), "pot");
    QCOMPARE(window_->typeLine()->field()->text(), QString("pot"));
    QVERIFY(!window_->runControl().isOn());
    QTest::keyClick(window_->typeLine()->field(), Qt::Key_Escape);
  }
  void voltsFollowTheProbes() {
    const Project before = window_->document().project();
    open();
    QVERIFY(meter().isVisible());
    QCOMPARE(meter().black()->point, std::string("GND"));
    drag("probeRed", at("i9"));
    QCOMPARE(meter().red()->point, std::string("i9"));  // a taken hole is touched all the same
    QCOMPARE(meter().value(), QStringLiteral("0.00 V"));
    QVERIFY(meter().note().contains("off"));
    window_->togglePower();
    window_->runControl().advanceBy(0.1);
    QVERIFY2(
        meter().value() == "1.92 V" || meter().value() == "1.91 V" || meter().value() == "1.93 V",
        qPrintable(meter().value()));
    drag("probeBlack", at("a9"));
    QVERIFY(meter().value().startsWith("-"));
    QVERIFY(meter().note().contains("Minus"));
    drag("probeBlack", at("a1"));
    QCOMPARE(meter().value(), QStringLiteral("–"));
    drag("probeRed", {4, 4});
    QVERIFY(!meter().red());
    // Nothing of it is an edit.
    QVERIFY(window_->document().project() == before);
  }
  void aMeterThatStaysIsAPartOfTheProject() {
    Document& doc = window_->document();
    type("meter g9 g11");
    QCOMPARE(doc.project().parts->size(), std::size_t(3));
    QCOMPARE(bench()->displayed(2), QStringLiteral("0.00 V"));
    window_->togglePower();
    window_->runControl().advanceBy(0.1);
    QCOMPARE(bench()->displayed(2), QStringLiteral("1.92 V"));
    // Ohms want the power off; its mode is a property like any other.
    doc.select({"meter1"});
    auto* mode = window_->findChild<QComboBox*>(QStringLiteral("prop-mode"));
    QVERIFY(mode);
    mode->setFocus();
    QTest::keyClick(mode, Qt::Key_O);
    QCOMPARE(doc.project().part("meter1")->text("mode", ""), std::string("ohms"));
    QCOMPARE(bench()->displayed(2), QStringLiteral("–"));
    window_->togglePower();
    QCOMPARE(bench()->displayed(2), QStringLiteral("open"));  // a lamp does not count
    QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(doc.project().part("meter1")->text("mode", ""), std::string("volts"));
    doc.finishCheck();
    QVERIFY(doc.check().findings.empty());
  }
  void ohmsWantThePowerOff() {
    open();
    drag("probeRed", at("c9"));
    drag("probeBlack", at("h9"));
    mode(1);
    QCOMPARE(meter().value(), QStringLiteral("220 Ω"));
    window_->togglePower();
    window_->runControl().advanceBy(0.1);
    QCOMPARE(meter().value(), QStringLiteral("–"));
    QVERIFY(meter().note().contains("off first"));
    window_->togglePower();
    drag("probeRed", at("i9"));
    drag("probeBlack", at("i11"));
    QCOMPARE(meter().value(), QStringLiteral("open"));
    mode(2);
    QCOMPARE(meter().value(), QStringLiteral("apart"));
    drag("probeRed", at("ln1"));
    drag("probeBlack", at("rn1"));
    QCOMPARE(meter().value(), QStringLiteral("joined"));
  }
  void clampReadsAWire() {
    open();
    mode(3);
    QVERIFY(!tip("probeRed")->isVisible() && tip("clamp")->isVisible());
    const auto middle = bench()->middleOfWire((*window_->document().project().wires)[2]->id);
    drag("clamp", middle->toPoint());
    QCOMPARE(meter().clamped(), (*window_->document().project().wires)[2]->id);
    QCOMPARE(meter().value(), QStringLiteral("0.0 mA"));
    window_->togglePower();
    window_->runControl().advanceBy(0.1);
    QCOMPARE(meter().value(), QStringLiteral("12.6 mA"));
    QCOMPARE(meter().note(), QStringLiteral("from D4 to a9"));
  }
  void keysDoItAll() {
    open();
    tip("probeRed")->setFocus();
    QTest::keyClick(tip("probeRed"), Qt::Key_Right);
    QCOMPARE(meter().red()->point, std::string("a1"));
    for (int i = 0; i < 8; ++i) QTest::keyClick(tip("probeRed"), Qt::Key_Down);
    QCOMPARE(meter().red()->point, std::string("a9"));
    mode(3);
    QTest::keyClick(tip("clamp"), Qt::Key_Right);
    QCOMPARE(meter().clamped(), (*window_->document().project().wires)[0]->id);
    QTest::keyClick(tip("clamp"), Qt::Key_Left);
    QCOMPARE(meter().clamped(), window_->document().project().wires->back()->id);
    bench()->setFocus();
    QTest::keyClick(bench(), Qt::Key_E);
    QVERIFY(!meter().isVisible() && !tip("clamp")->isVisible());
  }
  void tipsGoWithTheBench() {
    open();
    drag("probeRed", at("i9"));
    bench()->zoomBy(1.5, {300, 300});
    MeterTip* t = tip("probeRed");
    QVERIFY((t->mapTo(bench(), t->hot()) - at("i9")).manhattanLength() <= 2);
    // A wire that goes away takes the clamp off.
    mode(3);
    meter().clampOn((*window_->document().project().wires)[3]->id);
    window_->document().select(
        {QString::fromStdString((*window_->document().project().wires)[3]->id)});
    bench()->removeSelected();
    QVERIFY(meter().clamped().empty());
  }
  void aShownCombinationIsMeasured() {
    open();
    drag("probeRed", at("a9"));
    const Pose pose{{"D4", "high"}};
    bench()->showPose(&pose);
    QVERIFY2(meter().value().startsWith("4.6"), qPrintable(meter().value()));
    bench()->showPose(nullptr);
    QCOMPARE(meter().value(), QStringLiteral("0.00 V"));
  }
};

QTEST_MAIN(TestMeterOnTheBench)
#include "tst_meter.moc"
