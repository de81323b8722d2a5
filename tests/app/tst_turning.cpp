#include <QMenu>
#include <QtTest>

#include "document/workers.h"
#include "format/project_file.h"
#include "run/by_hand.h"
#include "run/turn_bar.h"
#include "support/build.h"
#include "support/hand_clock.h"
#include "support/traces.h"
#include "support/window.h"

using namespace ignavo;
using namespace ignavo::app;
using namespace ignavo::test;

// One number is turned in the past: the presses are played again with it, and all of the trace is
// another one, with what was before behind it.
class TestTurning : public QObject {
  Q_OBJECT
  Answers answers_;
  std::unique_ptr<MainWindow> window_;

  RunControl& run() { return window_->runControl(); }
  Document& doc() { return window_->document(); }
  TurnBar* bar() { return window_->turnBar(); }
  std::string step(std::size_t index) {
    return doc().project().programs[0]->lanes[0]->steps[index].id;
  }
  void open(const Bench& circuit) {
    window_ = openWindow(answers_);
    doc().reset(circuit.get(), {});
    window_->setStation(Station::run);
    window_->togglePower();
  }
  void go(double seconds) {
    run().advanceBy(seconds);
    QApplication::processEvents();
  }
  // Its button is down from 0.5 to 0.8 s.
  void pressTheCallBell() {
    window_ = openWindow(answers_);
    QVERIFY(window_->openDemo("ferry-call-bell"));
    window_->togglePower();
    go(0.5);
    run().press("btn1", true);
    go(0.3);
    run().press("btn1", false);
  }
  void setWait(double seconds) {
    doc().edit("wait", edits::setExpr(doc().project(), step(1), "seconds", Expr::of(seconds)));
    QApplication::processEvents();
  }
  // In milliseconds, of the run or what stands behind it.
  static std::vector<int> edgesOf(const std::shared_ptr<const Trace>& trace, const char* pin) {
    std::vector<int> out;
    const int signal = trace->find(Signal::What::pinLevel, "b1", pin);
    trace->forEachEdge(signal, -1, trace->end(), [&](const Edge& e) {
      out.push_back(static_cast<int>((e.at + 500'000) / 1'000'000));
      return true;
    });
    return out;
  }

 private Q_SLOTS:
  void initTestCase() { lookAsInDaylight(); }
  // What a signal operator says is told as shortly as a step.
  void aNumberOfASignalIsTold() {
    open(beacon().lane("Keep D4 at flips on ((wave of 5 Hz with 20 %) at most every 0.3)", ""));
    go(1);
    run().setPaused(true);
    Project now = doc().project();
    const std::string id = now.programs[0]->lanes.back()->id;
    now = edits::setExpr(std::move(now), id, "from/on/seconds", Expr::of(0.5));
    QVERIFY(doc().edit("another number", std::move(now)));
    settle();
    QCOMPARE(bar()->words(), QStringLiteral("Same presses, at most every 0.3 s → at most every 0.5 "
                                            "s; pale is before."));
  }
  void pausedTheWholePastIsAnother() {
    open(beacon().program(blink));
    go(2.2);
    QCOMPARE(edgesOf(run().trace(), "D4"), (std::vector<int>{0, 500, 1000, 1500, 2000}));
    run().setPaused(true);
    QVERIFY(!bar()->isVisible());
    setWait(0.25);
    QCOMPARE(edgesOf(run().trace(), "D4"), (std::vector<int>{0, 250, 750, 1000, 1500, 1750}));
    QCOMPARE(edgesOf(run().ghost(), "D4"), (std::vector<int>{0, 500, 1000, 1500, 2000}));
    QCOMPARE(run().shownAt(), Nanoseconds{2'200'000'000});
    QVERIFY(run().isPaused() && bar()->isVisible());
    QVERIFY(bar()->y() > 2);  // the frame of the trace, where that has the focus, stays whole
    QCOMPARE(bar()->words(),
             QStringLiteral("Same presses, wait 0.5 s → wait 0.25 s; pale is before."));
    // Turned further, what is behind is still what ran first.
    setWait(0.1);
    QCOMPARE(edgesOf(run().ghost(), "D4"), (std::vector<int>{0, 500, 1000, 1500, 2000}));
    QTest::mouseClick(bar()->findChild<QPushButton*>(QStringLiteral("turnBack")), Qt::LeftButton);
    QApplication::processEvents();
    QCOMPARE(edgesOf(run().trace(), "D4"), (std::vector<int>{0, 500, 1000, 1500, 2000}));
    QVERIFY(!bar()->isVisible());
    QCOMPARE(doc().project().step(step(1))->field("seconds")->number, 0.5);
    // And that is undone like all else.
    doc().undo();
    QApplication::processEvents();
    QCOMPARE(doc().project().step(step(1))->field("seconds")->number, 0.1);
    QVERIFY(bar()->isVisible());
    // Time goes on with it, and the bar goes.
    run().setPaused(false);
    go(0.5);
    QVERIFY(!bar()->isVisible());
    QVERIFY(*run().runs() == doc().project());
  }
  // The moment that is looked at stays.
  void lookingBackTheMomentStays() {
    open(beacon().program(blink));
    go(3);
    run().lookAt(1'200'000'000);
    QVERIFY(run().shown()->light[1] > 0.5);
    // Also in between: the present never flashes up.
    std::vector<Nanoseconds> seen;
    const auto watched =
        connect(&run(), &RunControl::updated, this, [&] { seen.push_back(run().shownAt()); });
    setWait(0.1);
    disconnect(watched);
    QVERIFY(!seen.empty());
    for (const Nanoseconds at : seen) QCOMPARE(at, Nanoseconds{1'200'000'000});
    QVERIFY(run().isLookingBack());
    QCOMPARE(run().shownAt(), Nanoseconds{1'200'000'000});
    QCOMPARE(edgesOf(run().trace(), "D4").size(), std::size_t(10));
    QVERIFY(!(run().shown()->light[1] > 0.5));
    // Saved, or told of something that does not run, it stays as it is.
    QVERIFY(run().isLookingBack());
    Project titled = doc().project();
    titled.ticks.push_back("part:r1");
    doc().edit("tick", std::move(titled));
    QApplication::processEvents();
    QCOMPARE(run().shownAt(), Nanoseconds{1'200'000'000});
  }
  // A moment that is looked at is never unnoticed; one goes back to now, or on from there.
  void oneRunsOnFromThere() {
    open(beacon().program(blink));
    go(3);
    run().lookAt(1'200'000'000);
    QApplication::processEvents();
    QVERIFY(bar()->isVisible());
    QCOMPARE(bar()->words(), QStringLiteral("This is 1.200 s."));
    QTest::mouseClick(bar()->findChild<QPushButton*>(QStringLiteral("backToNow")), Qt::LeftButton);
    QVERIFY(!run().isLookingBack() && !bar()->isVisible());
    run().lookAt(1'200'000'000);
    QTest::mouseClick(bar()->findChild<QPushButton*>(QStringLiteral("runOnFromHere")),
                      Qt::LeftButton);
    QApplication::processEvents();
    QVERIFY(!run().isLookingBack() && !run().isPaused() && !bar()->isVisible());
    QCOMPARE(run().shownAt(), Nanoseconds{1'200'000'000});
    QCOMPARE(edgesOf(run().trace(), "D4"), (std::vector<int>{0, 500, 1000}));
    QCOMPARE(edgesOf(run().ghost(), "D4"), (std::vector<int>{0, 500, 1000, 1500, 2000, 2500}));
    // It goes another way from there: what was built since counts from there on.
    setWait(0.1);
    go(0.5);
    run().lookAt(1'300'000'000);
    QTest::mouseClick(bar()->findChild<QPushButton*>(QStringLiteral("runOnFromHere")),
                      Qt::LeftButton);
    go(1);
    QVERIFY(*run().runs() == doc().project());
    QVERIFY(run().trace()->end() > 2'200'000'000);
    const auto all = edgesOf(run().trace(), "D4");
    QVERIFY(std::count_if(all.begin(), all.end(), [](int ms) { return ms > 1300; }) >= 2);
  }
  // A resistor, a pin, a wire as well; the presses come where they came.
  void whatWasPressedComesAgain() {
    pressTheCallBell();
    go(4);
    const auto before = edgesOf(run().trace(), "D2");
    QVERIFY(before.size() >= 2);
    const double bright =
        run().trace()->highest(run().trace()->find(Signal::What::partAmps, "led1", ""));
    run().setPaused(true);
    const std::string lamp = "led1";
    for (const auto& part : *doc().project().parts)
      if (part->type == "resistor" && part->number("ohms", 0) == 220) {
        const std::string id = part->id;
        doc().edit("ohms", edits::changePart(doc().project(), id,
                                             [](Part& r) { r.setProp("ohms", 4700.0); }));
        break;
      }
    QApplication::processEvents();
    QCOMPARE(edgesOf(run().trace(), "D2"), before);
    QVERIFY(run().trace()->highest(run().trace()->find(Signal::What::partAmps, lamp, "")) <
            bright / 3);
    QVERIFY(bar()->words().startsWith("Same presses, "));
  }
  // While time runs a change counts from now on; what is turned by hand does so always.
  void whileTimeRunsItCountsFromNow() {
    open(beacon().program(blink));
    go(2.2);
    const auto before = edgesOf(run().trace(), "D4");
    setWait(0.1);
    QCOMPARE(edgesOf(run().trace(), "D4"), before);
    QVERIFY(!bar()->isVisible());
    window_ = openWindow(answers_);
    QVERIFY(window_->openDemo("dusk-lamp"));
    window_->togglePower();
    go(1);
    run().setPaused(true);
    const auto trace = edges(*run().trace());
    for (const auto& part : *doc().project().parts)
      if (part->type == "light-sensor") {
        const std::string id = part->id;
        doc().edit("light", edits::changePart(doc().project(), id,
                                              [](Part& s) { s.setProp("light", 3.0); }));
        break;
      }
    QApplication::processEvents();
    QVERIFY(edges(*run().trace()).starts_with(trace.substr(0, trace.size() / 2)));
    QVERIFY(!bar()->isVisible());
    QVERIFY(*run().runs() == doc().project());
  }
  // The same presses once more, as time goes.
  void againTheSameComes() {
    pressTheCallBell();
    go(1.2);
    const auto before = edges(*run().trace());
    window_->bench()->setFocus();
    QTest::keyClick(window_->bench(), Qt::Key_T, Qt::ShiftModifier);
    QVERIFY(run().isOn() && run().shownAt() == 0);
    QVERIFY(run().ghost());
    go(2);
    QCOMPARE(edges(*run().trace()), before);
  }
  // What was done by hand is kept by a name, played again, and forgotten.
  void pressesAreKept() {
    window_ = openWindow(answers_);
    QVERIFY(window_->openDemo("ferry-call-bell"));
    window_->togglePower();
    auto* menu = window_->findChild<QMenu*>("speedMenu");
    const auto choose = [&](const QString& words) {
      Q_EMIT menu->aboutToShow();
      for (QAction* action : menu->actions())
        if (action->text() == words) {
          action->trigger();
          return true;
        }
      return false;
    };
    go(0.5);
    QVERIFY(choose("Keep these presses…"));
    QVERIFY(doc().project().recordings.empty());  // nothing was pressed
    run().press("btn1", true);
    go(0.3);
    run().press("btn1", false);
    run().hold("b1", "D13", 30);
    go(1.2);
    const auto before = edges(*run().trace());
    answers_.named = "one press";
    QVERIFY(choose("Keep these presses…"));
    const Recording* kept = doc().project().recording("one press");
    QVERIFY(kept);
    QCOMPARE(kept->inputs.size(), std::size_t(3));
    QCOMPARE(kept->inputs[0].what, std::string("press btn1"));
    QCOMPARE(kept->inputs[2].what, std::string("pin b1.D13=30%"));
    // It is an edit, and nothing that runs: time goes on as it went.
    QVERIFY(doc().history().canUndo());
    QCOMPARE(edges(*run().trace()), before);
    // It survives saving, and plays as it came.
    const Project read = readProject(writeProject(doc().project())).project;
    QVERIFY(read == doc().project());
    window_->togglePower();
    QVERIFY(choose("Play “one press”"));
    QVERIFY(run().isOn() && run().shownAt() == 0);
    go(0.5), go(0.3), go(1.2);
    QCOMPARE(edges(*run().trace()), before);
    // Without its button the rest is played, and what is missing is said.
    doc().edit("remove", edits::remove(doc().project(), {"btn1"}));
    QVERIFY(choose("Play “one press”"));
    QVERIFY(window_->findChild<QLabel*>("notice")->text().contains("press btn1"));
    go(1.5);
    QVERIFY(run().heldPercent("b1", "D13"));
    QVERIFY(choose("Forget “one press”"));
    QVERIFY(doc().project().recordings.empty());
    doc().undo();
    QVERIFY(doc().project().recording("one press"));
  }
  // A motor takes its time to be worked out; what the pins do is there before.
  void pinsComeBeforeMotors() {
    window_ = openWindow(answers_, &machineClock());
    QVERIFY(window_->openDemo("ramp-winch"));
    window_->togglePower();
    run().setSpeed(100);
    run().press("btn1", true);
    QTRY_VERIFY_WITH_TIMEOUT(run().shownAt() > 2 * second, 10000);
    run().press("btn1", false);
    QTRY_VERIFY_WITH_TIMEOUT(run().shownAt() > 5 * second, 10000);
    run().setPaused(true);
    QTest::qWait(50);
    run().fetch();
    const auto before = edgesOf(run().trace(), "D9");
    std::vector<int> sketched, ghost;
    QString words;
    const auto seen = connect(&run(), &RunControl::updated, this, [&] {
      if (!run().isSketched()) return;
      sketched = edgesOf(run().trace(), "D9");
      ghost = edgesOf(run().ghost(), "D9");
      words = bar()->words();
    });
    const Steps& rounds = *doc().project().programs[0]->lanes[0]->steps[1].body("steps");
    const auto wait =
        std::find_if(rounds.begin(), rounds.end(), [](const Step& s) { return s.kind == "wait"; });
    QVERIFY(wait != rounds.end());
    doc().edit("wait", edits::setExpr(doc().project(), wait->id, "seconds", Expr::of(0.02)));
    QTRY_VERIFY_WITH_TIMEOUT(!run().isTurning(), 20000);
    disconnect(seen);
    QVERIFY(!run().isSketched());
    QVERIFY(!sketched.empty() && sketched != before);
    QVERIFY(sketched == edgesOf(run().trace(), "D9"));
    QVERIFY(ghost == before && edgesOf(run().ghost(), "D9") == before);
    QCOMPARE(words, QStringLiteral("What the pins do is there; motors and sounders follow …"));
    window_->togglePower();
  }
  // Under a real clock it is made elsewhere: what is typed quickly ends with the last of it, and
  // the window is never kept waiting.
  void theLastOfWhatIsTypedCounts() {
    window_ = openWindow(answers_, &machineClock());
    doc().reset(beacon().program(blink).get(), {});
    window_->togglePower();
    QTRY_VERIFY_WITH_TIMEOUT(run().shownAt() > second / 2, 10000);
    run().setPaused(true);
    QTest::qWait(50);
    run().fetch();
    const Nanoseconds now = run().shownAt();
    for (const double seconds : {0.4, 0.3, 0.2, 0.15, 0.1, 0.05}) setWait(seconds);
    QTRY_VERIFY_WITH_TIMEOUT(!run().isTurning(), 10000);
    QVERIFY(*run().runs() == doc().project());
    QCOMPARE(run().trace()->end(), now);
    Kernel fresh(doc().shared());
    fresh.advance(now);
    QVERIFY(edges(*run().trace()) == edges(fresh.trace()));
    // Cancelled, the change counts from now on.
    const auto before = edges(*run().trace());
    doc().edit("wait", edits::setExpr(doc().project(), step(1), "seconds", Expr::of(0.45)));
    QVERIFY(run().isTurning());
    run().cancelTurn();
    QVERIFY(!run().isTurning());
    QTest::qWait(50);
    QVERIFY(edges(*run().trace()) == before);
    // On from an earlier moment; what is done meanwhile brings back the present, and time goes on.
    run().lookAt(now / 2);
    QTRY_COMPARE_WITH_TIMEOUT(run().shownAt(), now / 2, 5000);
    run().branch(doc().shared());
    run().hold("b1", "D13", 100);
    QTRY_VERIFY_WITH_TIMEOUT(!run().isTurning(), 10000);
    QVERIFY(!run().isLookingBack());
    run().setPaused(false);
    const Nanoseconds then = run().trace()->end();
    QTRY_VERIFY_WITH_TIMEOUT(run().trace()->end() > then + second / 10, 10000);
    run().setPaused(true);
    // A press that comes meanwhile is not lost, and power-off ends it all.
    doc().edit("wait", edits::setExpr(doc().project(), step(1), "seconds", Expr::of(0.02)));
    QVERIFY(run().isTurning());
    run().press("led1", true);
    window_->togglePower();
    QVERIFY(!run().isTurning() && !run().isOn() && !bar()->isVisible());
    workers().waitForDone();
    QApplication::processEvents();
    QVERIFY(!run().isOn());
  }
};

QTEST_MAIN(TestTurning)
#include "tst_turning.moc"
