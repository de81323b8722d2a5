#include <QContextMenuEvent>
#include <QMenu>
#include <QTimer>
#include <QtTest>

#include "explain/output.h"
#include "format/wiring_language.h"
#include "run/why_card.h"
#include "support/build.h"
#include "support/window.h"

using namespace ignavo;
using namespace ignavo::app;
using namespace ignavo::test;

// "Why is this dark?" in the window: asked from everywhere, answered beside the part, and followed
// to the step, the hole and the moment.
class TestWhyCard : public QObject, protected OpenedWindow {
  Q_OBJECT

  WhyCard* card() { return window_->why(); }
  RunControl& run() { return window_->runControl(); }
  TraceView* trace() { return window_->trace(); }
  QPushButton* button(const char* name) { return child<QPushButton>(name); }
  void open(const Bench& circuit, Station station = Station::run, double seconds = 0.3) {
    window_ = openWindow(answers_);
    window_->document().reset(circuit.get(), {});
    window_->document().finishCheck();
    window_->setStation(station);
    window_->togglePower();
    go(seconds);
  }
  void go(double seconds) {
    for (double t = 0; t < seconds - 1e-9; t += 0.05) run().advanceBy(0.05);
    QApplication::processEvents();
  }
  void answered() {
    QTRY_VERIFY(card()->isVisible() && !card()->isAsking());
    QApplication::processEvents();
  }
  QString words() { return card()->words(); }
  // The entry of that name in the menu that comes up.
  template <typename Press>
  void choose(const char* menuName, Press&& press) {
    QString told = QStringLiteral("no menu");
    QTimer::singleShot(0, this, [&] {
      auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
      if (!menu) return;
      told = menu->objectName();
      for (QAction* a : menu->actions())
        if (a->objectName() == QLatin1String("askWhy")) {
          told.clear();
          menu->setActiveAction(a);
          QTest::keyClick(menu, Qt::Key_Return);
          return;
        }
      menu->close();
    });
    press();
    QTRY_VERIFY2(told.isEmpty(), qPrintable(QString::fromLatin1(menuName) + ": " + told));
  }
  void menuOf(QWidget* on, QPoint at) {
    QContextMenuEvent e(QContextMenuEvent::Mouse, at, on->mapToGlobal(at));
    QApplication::sendEvent(on, &e);
  }
  // With IGNAVO_PICTURES=FOLDER it can be looked at.
  void picture(const char* name) {
    const QString folder = qEnvironmentVariable("IGNAVO_PICTURES");
    if (!folder.isEmpty()) window_->grab().save(folder + '/' + QLatin1String(name) + ".png");
  }
  QPoint lamp() { return bench()->screenOfPart("led1").center().toPoint(); }

 private Q_SLOTS:
  void initTestCase() { lookAsInDaylight(); }
  // A lamp is selected: the tag beside it asks, the card names the step, and leads to it and to
  // the moment.
  void theTagAsksAndTheCardLeadsToTheStep() {
    open(beacon().program("set d4 high\nwait 0.2\nset d4 low\nwait 5\n"), Station::run, 1.6);
    QTest::mouseClick(bench(), Qt::LeftButton, {}, lamp());
    QVERIFY(button("whyTag"));
    QTest::mouseClick(button("whyTag"), Qt::LeftButton);
    answered();
    QVERIFY2(words().contains(QStringLiteral("is dark since 200 ms")), qPrintable(words()));
    QVERIFY2(words().contains(QStringLiteral("✓ Circuit: 13 mA would flow through it")),
             qPrintable(words()));
    QVERIFY2(words().contains(QStringLiteral("✕ Program: “set D4 low” was done at 200 ms")),
             qPrintable(words()));
    QVERIFY2(words().contains(QStringLiteral("– Board: nothing sent yet")), qPrintable(words()));
    QVERIFY(window_->rect().contains(card()->geometry()));
    QVERIFY(card()->accessibleName().contains(QStringLiteral("is dark since 200 ms")));
    QTest::mouseClick(button("whyStep"), Qt::LeftButton);
    QCOMPARE(doc().selectedStep(), QStringLiteral("s3"));
    QCOMPARE(window_->station(), Station::run);  // its program is in sight already
    QTest::mouseClick(button("whyMoment"), Qt::LeftButton);
    go(0);
    QVERIFY(run().isLookingBack());
    QVERIFY(std::abs(inSeconds(run().shownAt()) - 0.2) < 0.001);
    // The answer follows the moment that is looked at.
    run().lookAt(100'000'000);
    go(0);
    QTRY_VERIFY2(words().contains(QStringLiteral("is lit")), qPrintable(words()));
    // What is said leads where its button does; closed, the keys go back to where they were.
    doc().selectStep({});
    QTest::mouseClick(card()->findChild<QLabel*>(QStringLiteral("whyProgram")), Qt::LeftButton);
    QVERIFY(!doc().selectedStep().isEmpty());
    QTest::keyClick(card(), Qt::Key_Escape);
    QVERIFY(!card()->isVisible());
    bench()->setFocus();
    QTest::keyClick(bench(), Qt::Key_Question);
    answered();
    QVERIFY(card()->hasFocus());
    QTest::keyClick(card(), Qt::Key_Escape);
    QVERIFY(bench()->hasFocus());
  }
  // A fault in the circuit: it is named, and shown on the bench.
  void aFaultInTheCircuitIsShown() {
    Bench turned = Bench().led("led1", "i16", "i14").resistor("r1", 220, "c14", "h14");
    open(turned.wire("D4", "a14").wire("j16", "GND").program("set d4 high\nwait 1\n"));
    QTest::mouseClick(bench(), Qt::LeftButton, {}, lamp());
    bench()->setFocus();
    QTest::keyClick(bench(), Qt::Key_Question);
    answered();
    QVERIFY2(words().contains(QStringLiteral("✕ Circuit: led1 faces against the current")),
             qPrintable(words()));
    QVERIFY2(words().contains(QStringLiteral("✓ Program:")), qPrintable(words()));
    QVERIFY(!button("whyStep"));
    doc().select({});
    QTest::mouseClick(button("whyPlace"), Qt::LeftButton);
    QCOMPARE(doc().selection(), QStringList{QStringLiteral("led1")});
    // Mended, the card says so.
    doc().mend(0, 0);
    doc().finishCheck();
    go(0.3);
    QTRY_VERIFY2(words().contains(QStringLiteral("is lit")), qPrintable(words()));
  }
  // Its program never sets it high, which hides from the check that it is turned: both are told.
  void bothAtOnce() {
    Bench turned = Bench().led("led1", "i16", "i14").resistor("r1", 220, "c14", "h14");
    open(turned.wire("D4", "a14").wire("j16", "GND").program("set d4 low\nwait 1\n"));
    QTest::mouseClick(bench(), Qt::LeftButton, {}, lamp());
    QTest::keyClick(bench(), Qt::Key_Question);
    answered();
    QVERIFY2(words().contains(QStringLiteral("✕ Circuit: led1 faces against the current")) &&
                 words().contains(QStringLiteral("✕ Program: no step ever sets D4 high")),
             qPrintable(words()));
  }
  // Without power that alone is said, and can be had.
  void withoutPower() {
    open(beacon().program("set d4 high\nwait 1\n"), Station::wire);
    window_->togglePower();
    QTest::mouseClick(bench(), Qt::LeftButton, {}, lamp());
    QTest::keyClick(bench(), Qt::Key_Question);
    QTRY_VERIFY(card()->isVisible());
    QVERIFY2(words().endsWith(QStringLiteral("the power is off")), qPrintable(words()));
    QVERIFY(!button("whyStep") && !button("whyMoment") && !button("whyPlace"));
    picture("off");
    QTest::mouseClick(button("whyPower"), Qt::LeftButton);
    go(0.3);
    QVERIFY(run().isOn());
    QTRY_VERIFY2(words().contains(QStringLiteral("is lit")), qPrintable(words()));
    QVERIFY(!button("whyPower"));
  }
  // From the part's menu, its card, a finding, a line of the trace, and the step that sets it.
  void askedFromEverywhere() {
    open(beacon().program("set d4 high\nwait 0.2\nset d4 low\nwait 5\n"), Station::wire, 1.6);
    choose("bench", [&] { menuOf(bench(), lamp()); });
    answered();
    QVERIFY(words().contains(QStringLiteral("is dark since")));
    card()->hide();
    QTRY_VERIFY(button("actionWhy"));
    QTest::mouseClick(button("actionWhy"), Qt::LeftButton);
    QApplication::processEvents();
    answered();
    card()->hide();
    window_->setStation(Station::run);
    const QRectF box = trace()->laneBox(0);
    const QPoint early(static_cast<int>(trace()->xOf(100'000'000)), box.center().toPoint().y());
    choose("trace", [&] { menuOf(trace(), early); });
    answered();
    QVERIFY2(words().contains(QStringLiteral("is high")), qPrintable(words()));
    picture("pin");
    QVERIFY(run().isLookingBack());
    run().lookAtNow();
    go(0);
    trace()->setFocus();
    QTest::keyClick(trace(), Qt::Key_Question);
    answered();
    QTRY_VERIFY2(words().contains(QStringLiteral("D4 · led1 is low since 200 ms")) &&
                     words().contains(QStringLiteral("“set D4 low” was done at 200 ms")),
                 qPrintable(words()));
    card()->hide();
    window_->setStation(Station::program);
    auto* view = window_->program()->view();
    doc().selectStep(QStringLiteral("s3"));
    QApplication::processEvents();
    choose("program", [&] {
      QContextMenuEvent e(QContextMenuEvent::Keyboard, {}, view->mapToGlobal(QPoint(5, 5)));
      QApplication::sendEvent(view, &e);
    });
    answered();
    QCOMPARE(card()->about(), std::string("led1"));
  }
  void aFindingAsks() {
    Bench turned = Bench().led("led1", "i16", "i14").resistor("r1", 220, "c14", "h14");
    open(turned.wire("D4", "a14").wire("j16", "GND").program("set d4 high\nwait 1\n"),
         Station::check);
    QTRY_VERIFY(button("why0"));
    QTest::mouseClick(button("why0"), Qt::LeftButton);
    answered();
    QVERIFY(words().contains(QStringLiteral("✕ Circuit")));
  }
  // A button's pin has no step that sets it: what holds it is told.
  void whyAnInputIsSo() {
    open(Bench()
             .button("btn1", 18)
             .resistor("r2", 10000, "c20", "c25")
             .wire("5V", "a18")
             .wire("D2", "a20")
             .wire("GND", "a25")
             .program("set d13 d2\nwait 0.1\n"));
    for (int lane = 0; lane < static_cast<int>(trace()->lines().size()); ++lane)
      if (trace()->lines()[static_cast<std::size_t>(lane)].name == "D2")
        choose("trace", [&] { menuOf(trace(), trace()->laneBox(lane).center().toPoint()); });
    answered();
    QVERIFY2(words().contains(QStringLiteral("D2 · btn1 is low")) &&
                 words().contains(QStringLiteral("r2 joins it to ground")),
             qPrintable(words()));
    run().lookAtNow();
    run().press(QStringLiteral("btn1"), true);
    go(0.3);
    QTRY_VERIFY2(words().contains(QStringLiteral("btn1 joins it to a supply")),
                 qPrintable(words()));
  }
  // A board is selected: its own lamp is asked about, by key and by menu.
  void aBoardsOwnLampIsAskedAbout() {
    open(Bench().program("set d13 high\nset d13 low\n"));
    doc().select({QStringLiteral("b1")});
    bench()->setFocus();
    QVERIFY(button("whyTag") && button("whyTag")->isVisible());
    QTest::keyClick(bench(), Qt::Key_Question);
    answered();
    QCOMPARE(card()->about(), std::string("b1"));
    QVERIFY2(words().startsWith(QStringLiteral("Board’s own lamp looks half lit")),
             qPrintable(words()));
    QVERIFY2(words().contains(QStringLiteral("✓ Circuit: inside the board it is joined to D13")),
             qPrintable(words()));
    QTest::keyClick(card(), Qt::Key_Escape);
    const auto* tag = child<QPushButton>("partTag-b1");
    QVERIFY(tag && tag->isVisible() && tag->text().contains(QStringLiteral("looks half lit")));
    choose("benchMenu", [&] {
      menuOf(bench(), bench()->screenOfOutput("b1").center().toPoint() + QPoint(0, 40));
    });
    answered();
    QCOMPARE(card()->about(), std::string("b1"));
    // A step that sets its pin asks about it as well.
    QTest::keyClick(card(), Qt::Key_Escape);
    window_->setStation(Station::program);
    doc().selectStep(QStringLiteral("s1"));
    QApplication::processEvents();
    choose("program", [&] {
      auto* view = window_->program()->view();
      QContextMenuEvent e(QContextMenuEvent::Keyboard, {}, view->mapToGlobal(QPoint(5, 5)));
      QApplication::sendEvent(view, &e);
    });
    answered();
    QCOMPARE(card()->about(), std::string("b1"));
  }
  // Of a part with several lamps each can be chosen, and guessed about.
  void oneOfSeveralLampsIsAskedAbout() {
    const WiringText wired = readWiring(
        "number display h10\n220 j10 j18\nwire D4 i18\n220 i11 i19\nwire D5 j19\nwire a12 GND\n"
        "Round and round:\n  set d4 high\n  set d5 low\n  wait 1\n");
    QVERIFY(wired.problems.empty());
    open(Bench(wired.project));
    doc().select({QStringLiteral("digit1")});
    bench()->setFocus();
    QTest::keyClick(bench(), Qt::Key_Question);
    answered();
    QVERIFY2(words().startsWith(QStringLiteral("Number display is lit")), qPrintable(words()));
    auto* b = child<QPushButton>("whyLamp-digit1.b");
    QVERIFY(b && b->isVisible());
    QVERIFY(b->toolTip().contains(QStringLiteral("upper right")));
    QTest::mouseClick(b, Qt::LeftButton);
    QTRY_VERIFY2(words().startsWith(QStringLiteral("Number display (b) is dark")) &&
                     words().contains(QStringLiteral("no step ever sets D5 high")),
                 qPrintable(words()));
    picture("display");
    // Asked about something else, it offers no lamps.
    doc().select({QStringLiteral("b1")});
    QTest::keyClick(bench(), Qt::Key_Question);
    answered();
    QVERIFY(!child<QPushButton>("whyLamp-digit1.b"));
    window_->togglePower();
    window_->findChild<QAction*>(QStringLiteral("guessFirst"))->trigger();
    auto* bar = window_->findChild<GuessBar*>();
    QCOMPARE(bar->words(), QStringLiteral("What will Number display (a) do?"));
    // Bars on which nothing hangs are not asked about.
    QCOMPARE(lampsOf(doc().project()), (std::vector<std::string>{"digit1.a", "digit1.b"}));
    QTest::mouseClick(button("guess-lit"), Qt::LeftButton);
    QCOMPARE(bar->words(), QStringLiteral("What will Number display (b) do?"));
    QTest::mouseClick(button("guess-dark"), Qt::LeftButton);
    QVERIFY(button("guessPower") && button("guessPower")->isVisible());
  }
  // Guess first: each lamp is asked about; afterwards both stand side by side.
  void guessesStandBesideWhatCame() {
    window_ = openWindow(answers_);
    window_->document().reset(
        beacon().program("set d4 high\nwait 0.5\nset d4 low\nwait 0.5\n").get(), {});
    auto* asked = window_->findChild<QAction*>(QStringLiteral("guessFirst"));
    asked->trigger();
    QCOMPARE(window_->station(), Station::run);
    auto* bar = window_->findChild<GuessBar*>();
    QVERIFY(bar->isVisible());
    QCOMPARE(bar->words(), QStringLiteral("What will led1 do?"));
    QVERIFY(!button("guessPower"));
    picture("guess");
    QTest::mouseClick(button("guess-lit"), Qt::LeftButton);
    QCOMPARE(doc().project().guesses, (std::vector<Guess>{{"led1", "lit"}}));
    QTest::mouseClick(button("guessPower"), Qt::LeftButton);
    go(0.4);
    QVERIFY2(bar->words().contains(QStringLiteral("let us see")), qPrintable(bar->words()));
    go(0.4);
    QCOMPARE(bar->words(), QStringLiteral("Guessed lit; led1 blinked, first dark at 500 ms"));
    picture("guessed");
    QTest::mouseClick(button("guessShow"), Qt::LeftButton);
    go(0);
    QVERIFY(run().isLookingBack());
    QVERIFY(std::abs(inSeconds(run().shownAt()) - 0.5) < 0.01);
    // What was guessed is undone like any edit; closed, it is out of the way.
    doc().undo();
    QVERIFY(doc().project().guesses.empty());
    // The past that is looked at stays as it is: no run depends on a guess.
    QVERIFY(!run().isTurning() && !run().ghost());
    // A long name takes no room from what stands beside it.
    const int wide = window_->minimumSizeHint().width();
    doc().edit(QStringLiteral("name"), edits::changePart(doc().project(), "led1", [](Part& q) {
                 q.name = std::string(60, 'W');
               }));
    QApplication::processEvents();
    QCOMPARE(window_->minimumSizeHint().width(), wide);
    doc().undo();
    QTest::mouseClick(button("guessClose"), Qt::LeftButton);
    QVERIFY(!bar->isVisible() && !asked->isChecked());
  }
};

QTEST_MAIN(TestWhyCard)
#include "tst_why_card.moc"
