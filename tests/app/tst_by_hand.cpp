#include <QContextMenuEvent>
#include <QMenu>
#include <QSlider>
#include <QTimer>
#include <QtTest>

#include "run/hand_card.h"
#include "support/build.h"
#include "support/window.h"

using namespace ignavo;
using namespace ignavo::app;
using namespace ignavo::test;

// A pin in the hand, from wherever it is seen: on the bench, in the trace, in a step.
class TestByHand : public QObject {
  Q_OBJECT
  Answers answers_;
  std::unique_ptr<MainWindow> window_;

  HandCard* card() { return window_->hand(); }
  RunControl& run() { return window_->runControl(); }
  BenchView* bench() { return window_->bench(); }
  TraceView* trace() { return window_->trace(); }
  template <typename Kind>
  Kind* of(const char* name) {
    return card()->findChild<Kind*>(QString::fromLatin1(name));
  }
  void open(const Bench& circuit, Station station = Station::run) {
    window_ = openWindow(answers_);
    window_->document().reset(circuit.get(), {});
    window_->setStation(station);
    window_->togglePower();
    go(0.1);
  }
  void go(double seconds) {
    for (double t = 0; t < seconds - 1e-9; t += 0.05) run().advanceBy(0.05);
    QApplication::processEvents();
  }
  double light() { return run().shown()->light[1]; }
  std::optional<double> held(const char* pin) { return run().heldPercent("b1", pin); }
  QPoint name(const char* pin) { return bench()->screenOfPinName("b1", pin).center().toPoint(); }

 private Q_SLOTS:
  void initTestCase() { lookAsInDaylight(); }
  // The first thing that one does with a lamp that is wired and no program: it is said how, and the
  // lamp follows.
  void aLampFollowsTheHand() {
    open(beacon());
    QTest::mouseMove(bench(), QPoint(4, 4));
    QVERIFY2(bench()->hint().contains("drag the name D4"), qPrintable(bench()->hint()));
    const QPoint at = name("D4");
    QTest::mouseMove(bench(), at);
    QVERIFY2(bench()->hint().startsWith("Drag up or down: D4"), qPrintable(bench()->hint()));
    QTest::mousePress(bench(), Qt::LeftButton, {}, at);
    QTest::mouseMove(bench(), at - QPoint(0, 50));
    go(0.2);
    QCOMPARE(std::round(*held("D4")), 50.0);
    const double half = light();
    QVERIFY(half > 0.4 && half < 0.8);
    QTest::mouseMove(bench(), at - QPoint(0, 300));
    go(0.2);
    QCOMPARE(*held("D4"), 100.0);
    QVERIFY(light() > half + 0.1);
    QTest::mouseMove(bench(), at + QPoint(0, 40));
    QTest::mouseRelease(bench(), Qt::LeftButton, {}, at + QPoint(0, 40));
    go(0.2);
    QCOMPARE(*held("D4"), 0.0);
    QCOMPARE(light(), 0.0);
    // What was dragged is no edit, nor does the board move.
    QVERIFY(!window_->document().history().canUndo());
  }
  // A click shows it larger.
  void aCardHoldsAndLetsGo() {
    open(beacon().program("set d4 high\nwait 0.1\nset d4 low\nwait 0.1\n"));
    QTest::mouseClick(bench(), Qt::LeftButton, {}, name("D4"));
    QVERIFY(card()->isVisible());
    QVERIFY(window_->rect().contains(card()->geometry()));
    QVERIFY(of<QLabel>("handPin")->text().startsWith("D4 · "));
    QVERIFY2(card()->note().startsWith("The program sets it."), qPrintable(card()->note()));
    QVERIFY(!of<QPushButton>("handFree")->isEnabled());
    QTest::mouseClick(of<QPushButton>("handHigh"), Qt::LeftButton);
    go(0.5);
    QCOMPARE(*held("D4"), 100.0);
    QVERIFY(light() > 0.7);
    QVERIFY(card()->note().contains("does not count"));
    QTest::mouseClick(of<QPushButton>("handLow"), Qt::LeftButton);
    go(0.5);
    QVERIFY(light() == 0 && *held("D4") == 0);
    // It stays in the hand when the card is closed, over a reset as well.
    QTest::mouseClick(of<QPushButton>("handClose"), Qt::LeftButton);
    QVERIFY(!card()->isVisible());
    run().reset();
    go(0.3);
    QCOMPARE(*held("D4"), 0.0);
    QTest::mouseClick(bench(), Qt::LeftButton, {}, name("D4"));
    QTest::mouseClick(of<QPushButton>("handFree"), Qt::LeftButton);
    bool lit = false;
    for (int i = 0; i < 6; ++i) go(0.05), lit = lit || light() > 0.5;
    QVERIFY(!held("D4") && lit);
    window_->togglePower();
    QVERIFY(!card()->isVisible());
  }
  // All of it by keys: from the bench, where the cursor is, and from a line of the trace.
  void byKeys() {
    open(beacon());
    bench()->setFocus();
    QTest::keyClick(bench(), Qt::Key_H);
    QVERIFY(card()->isVisible());
    QCOMPARE(card()->pin(), std::string("D4"));
    QCOMPARE(QApplication::focusWidget(), static_cast<QWidget*>(of<QSlider>("handLevel")));
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_End);
    go(0.2);
    QCOMPARE(*held("D4"), 100.0);
    for (int i = 0; i < 14; ++i) QTest::keyClick(QApplication::focusWidget(), Qt::Key_Down);
    go(0.2);
    QCOMPARE(std::round(*held("D4")), 30.0);
    QCOMPARE(of<QLabel>("handFigure")->text(), QStringLiteral("30 %"));
    QVERIFY(card()->note().contains("high for 30 % of the time"));
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_Delete);
    go(0.1);
    QVERIFY(!held("D4"));
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_Escape);
    QVERIFY(!card()->isVisible());
    trace()->setFocus();
    QTest::keyClick(trace(), Qt::Key_Down);
    QTest::keyClick(trace(), Qt::Key_H);
    QVERIFY(card()->isVisible());
    QCOMPARE(card()->pin(), std::string("D4"));
  }
  void fromTheTrace() {
    open(beacon().program("set d9 high\nwait 0.1\n").wire("D2", "a20"));
    for (const auto& [lane, pin] : {std::pair{0, "D2"}, {1, "D4"}, {2, "D9"}}) {
      QTest::mouseClick(trace(), Qt::LeftButton, {}, trace()->chipBox(lane).center().toPoint());
      QVERIFY(card()->isVisible());
      QCOMPARE(card()->pin(), std::string(pin));
      QVERIFY(window_->rect().contains(card()->geometry()));
    }
  }
  void fromAStep() {
    open(beacon().program("set d4 high\nwait 0.1\nset d4 low\nwait 0.1\n"), Station::program);
    ProgramView* view = window_->program()->view();
    const std::string step = window_->document().project().programs[0]->lanes[0]->steps[0].id;
    window_->document().selectStep(QString::fromStdString(step));
    QContextMenuEvent byKey(QContextMenuEvent::Keyboard, QPoint(), QPoint());
    QApplication::sendEvent(view, &byKey);
    auto* menu = view->findChild<QMenu*>(QStringLiteral("programMenu"));
    QVERIFY(menu);
    for (QAction* action : menu->actions())
      if (action->text() == QStringLiteral("Hold D4 by hand…")) action->trigger();
    menu->close();
    QVERIFY(card()->isVisible());
    QCOMPARE(card()->pin(), std::string("D4"));
  }
  // Several at once, pins with nothing on them too; each is seen in the trace.
  void severalAtOnce() {
    open(beacon());
    for (const char* pin : {"D4", "D9", "A3"}) {
      QTest::mouseClick(bench(), Qt::LeftButton, {}, name(pin));
      QTest::mouseClick(of<QPushButton>("handHigh"), Qt::LeftButton);
    }
    go(0.2);
    QCOMPARE(run().shown()->held.size(), std::size_t(3));
    int seen = 0;
    for (const Signal& signal : run().trace()->signals())
      seen += signal.what == Signal::What::pinLevel;
    QCOMPARE(seen, 3);
  }
  // Looked back at, it is as it was then; what is done by hand then brings back the present.
  void lookedBackAt() {
    open(beacon());
    run().hold("b1", "D4", 100);
    go(1);
    run().hold("b1", "D4", 0);
    go(1);
    run().lookAt(second / 2);
    QCOMPARE(*held("D4"), 100.0);
    run().lookAtNow();
    QCOMPARE(*held("D4"), 0.0);
  }
  // A key presses a button as long as it is down, at the Run station; it is chosen from the part's
  // menu, kept in the project, and undone like all else.
  void keysPressButtons() {
    window_ = openWindow(answers_);
    QVERIFY(window_->openDemo("ferry-call-bell"));
    window_->setStation(Station::run);
    window_->document().select({"btn1"});
    bool chosen = false;
    QTimer::singleShot(0, this, [&] {
      auto* menu = bench()->findChild<QMenu*>(QStringLiteral("keysMenu"));
      for (QAction* action : menu ? menu->actions() : QList<QAction*>())
        if (action->text() == QStringLiteral("b")) action->trigger(), chosen = true;
      if (QWidget* popup = QApplication::activePopupWidget()) popup->close();
    });
    QContextMenuEvent byKey(QContextMenuEvent::Keyboard, QPoint(), QPoint());
    QApplication::sendEvent(bench(), &byKey);
    QVERIFY(chosen);
    QCOMPARE(window_->document().project().keys, (std::vector<KeyTie>{{"b", "btn1"}}));
    window_->togglePower();
    go(0.2);
    bench()->setFocus();
    QTest::keyPress(bench(), Qt::Key_B);
    go(0.2);
    QVERIFY(run().isHeld("btn1"));
    QTest::keyRelease(bench(), Qt::Key_B);
    go(0.2);
    QVERIFY(!run().isHeld("btn1"));
    // Elsewhere, and while something is typed, it is a letter.
    window_->setStation(Station::wire);
    bench()->setFocus();
    QTest::keyPress(bench(), Qt::Key_B);
    QTest::keyRelease(bench(), Qt::Key_B);
    go(0.1);
    QVERIFY(!run().isHeld("btn1"));
    // Held while one goes elsewhere, it is let go.
    window_->setStation(Station::run);
    bench()->setFocus();
    QTest::keyPress(bench(), Qt::Key_B);
    go(0.1);
    QVERIFY(run().isHeld("btn1"));
    window_->setStation(Station::wire);
    go(0.1);
    QVERIFY(!run().isHeld("btn1"));
    window_->document().undo();
    QVERIFY(window_->document().project().keys.empty());
  }
  void withoutPower() {
    window_ = openWindow(answers_);
    window_->document().reset(beacon().get(), {});
    card()->open("b1", "D4", {100, 100});
    QVERIFY(!card()->isVisible());
    bench()->setFocus();
    QTest::keyClick(bench(), Qt::Key_H);
    QVERIFY(!card()->isVisible());
    QVERIFY(bench()->hint().startsWith("P switches the power on"));
  }
};

QTEST_MAIN(TestByHand)
#include "tst_by_hand.moc"
