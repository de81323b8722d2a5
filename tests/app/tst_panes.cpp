#include <QApplication>
#include <QCheckBox>
#include <QClipboard>
#include <QComboBox>
#include <QContextMenuEvent>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QTextBlock>
#include <QToolButton>
#include <cmath>
#include <set>

#include "bench/placing.h"
#include "check/evidence.h"
#include "demos.h"
#include "format/project_file.h"
#include "format/wiring_language.h"
#include "support/build.h"
#include "support/hand_clock.h"
#include "support/window.h"

using namespace ignavo;
using namespace ignavo::app;
using namespace ignavo::test;

// Each pane through the real window: what it shows and what it does.
class TestPanes : public QObject, protected OpenedWindow {
  Q_OBJECT
  HandClock clock_;

  RunControl& run() { return window_->runControl(); }
  void pass(int milliseconds) {
    clock_.advance(milliseconds);
    run().fetch();
  }
  void openFaulty() {
    Project p = readProject(demo("berth-signals")->text).project;
    p = edits::changePart(p, "led2", [](Part& q) { q = flipped(q, catalogue()); });
    doc().reset(p, {});
    doc().finishCheck();
  }

 private Q_SLOTS:
  // However narrow the window is, the names of the stations stand apart, and each is clicked where
  // it stands.
  void stationsStandApart() {
    for (const int width : {1024, 1100, 1280, 1920}) {
      window_->resize(width, 700);
      settle();
      StationLine* line = window_->topBar()->line;
      const auto boxes = line->nameBoxes();
      for (std::size_t i = 0; i < boxes.size(); ++i) {
        QVERIFY(boxes[i].left() >= 0 && boxes[i].right() <= line->width());
        if (i > 0)
          QVERIFY2(boxes[i].left() - boxes[i - 1].right() >= 12,
                   qPrintable(QString("%1 at %2").arg(i).arg(width)));
        QTest::mouseClick(line, Qt::LeftButton, {}, boxes[i].center().toPoint());
        QCOMPARE(static_cast<std::size_t>(window_->station()), i);
      }
    }
  }
  void initTestCase() { lookAsInDaylight(); }
  void init() { window_ = openWindow(answers_, &clock_); }
  void cleanup() { window_.reset(); }

  // ---- cabinet
  void cabinetIsSearchedByAnyWord() {
    auto* find = child<QLineEdit>("findPart");
    QTest::keyClicks(find, "ohm");
    QVERIFY(window_->cabinet()->card("resistor") && !window_->cabinet()->card("led"));
    find->clear();
    QTest::keyClicks(find, "lamp");
    QVERIFY(window_->cabinet()->card("led") && !window_->cabinet()->card("resistor"));
    find->clear();
    QTest::keyClicks(find, "yellow lamp");
    QVERIFY(window_->cabinet()->card("led") && !window_->cabinet()->card("resistor"));
    find->clear();
    QTest::keyClicks(find, "anchor");
    QVERIFY(!window_->cabinet()->card("led"));
    // The cross at its end, there while something is typed.
    QToolButton* cross = nullptr;
    for (auto* button : find->findChildren<QToolButton*>())
      if (button->defaultAction() && button->defaultAction()->objectName() == "clearFind")
        cross = button;
    QVERIFY(cross && cross->isVisible());
    QTest::mouseClick(cross, Qt::LeftButton);
    QVERIFY(find->text().isEmpty());
    QTRY_VERIFY(!cross->isVisible());
    QVERIFY(window_->cabinet()->card("led") && window_->cabinet()->card("button"));
  }
  void partsAreDraggedOutOfTheCabinet() {
    run().setByHand(true);
    CabinetCard* card = window_->cabinet()->card("button");
    const QPoint from = card->rect().center(),
                 to = card->mapFromGlobal(
                     bench()->mapToGlobal(bench()->screenOf(Socket{"bb", "e20"}).toPoint()));
    QTest::mousePress(card, Qt::LeftButton, {}, from);
    for (int i = 1; i <= 5; ++i) {
      const QPoint at = from + (to - from) * i / 5;
      QMouseEvent move(QEvent::MouseMove, at, card->mapToGlobal(at), Qt::NoButton, Qt::LeftButton,
                       {});
      QApplication::sendEvent(card, &move);
    }
    QVERIFY(bench()->isPlacing());
    QTest::mouseRelease(card, Qt::LeftButton, {}, to);
    QCOMPARE(static_cast<int>(doc().project().parts->size()), 1);
    QCOMPARE((*doc().project().parts)[0]->leg("1a")->in->point, std::string("e20"));
    QCOMPARE((*doc().project().parts)[0]->leg("2b")->in->point, std::string("f22"));
  }
  void impossiblePlacesAreRefusedWithTheReason() {
    window_->openDemo("berth-signals");
    bench()->fit();
    const auto before = doc().project();
    QTest::mouseClick(window_->cabinet()->card("button"), Qt::LeftButton);
    const QPoint on = bench()->screenOf(Socket{"bb", "e23"}).toPoint();
    QTest::mouseMove(bench(), on);
    QTest::mouseClick(bench(), Qt::LeftButton, {}, on);
    QVERIFY(doc().project() == before);
    QVERIFY(bench()->isPlacing());
    QVERIFY2(bench()->hint().contains("taken by Call button"), qPrintable(bench()->hint()));
    QTest::keyClick(bench(), Qt::Key_Escape);
    QVERIFY(!bench()->isPlacing());
  }

  // ---- inspector
  void inspectorChangesTheSelectedPart() {
    window_->openDemo("landing-beacon");
    doc().select({"led1"});
    QTest::mouseClick(child<QToolButton>("swatch-green"), Qt::LeftButton);
    QCOMPARE(doc().project().part("led1")->text("colour", ""), std::string("green"));
    QCOMPARE(doc().project().part("led1")->name,
             std::string("Green lamp"));  // it was named after its colour
    QApplication::processEvents();        // the page is made anew after the edit
    auto* name = child<QLineEdit>("partName");
    QVERIFY(name);
    name->setFocus();
    name->selectAll();
    QTest::keyClicks(name, "Beacon");
    QTest::keyClick(name, Qt::Key_Return);
    QCOMPARE(doc().project().part("led1")->name, std::string("Beacon"));
    QCOMPARE(doc().pinLabel("b1", "D4"), QString("Beacon"));
    QCOMPARE(QString::fromStdString(doc().history().undoName()), QString("name Beacon"));
    doc().select({"r1"});
    auto* ohms = child<QComboBox>("prop-ohms");
    QVERIFY(ohms);
    QCOMPARE(ohms->currentText(), QString("220 Ω"));
    const int index = ohms->findText("47 Ω");
    QVERIFY(index >= 0);
    ohms->setCurrentIndex(index);
    Q_EMIT ohms->activated(index);
    QCOMPARE(doc().project().part("r1")->number("ohms", 0), 47.0);
    doc().finishCheck();
    QCOMPARE(doc().check().findings.at(0).rule, std::string("led-overcurrent"));
  }
  void everythingOnTheBenchByMouse() {
    window_->openDemo("landing-beacon");
    doc().select({"led1"});
    QTest::mouseClick(child<QPushButton>("actionFlip"), Qt::LeftButton);
    QApplication::processEvents();
    QCOMPARE(doc().project().part("led1")->leg("anode")->in->point, std::string("i11"));
    QTest::mouseClick(child<QPushButton>("actionDuplicate"), Qt::LeftButton);
    QApplication::processEvents();
    QCOMPARE(static_cast<int>(doc().project().parts->size()), 3);
    QCOMPARE(static_cast<int>(doc().project().wires->size()), 5);  // its wire to the rail with it
    QTest::mouseClick(child<QPushButton>("actionRemove"), Qt::LeftButton);
    QApplication::processEvents();
    QCOMPARE(static_cast<int>(doc().project().parts->size()), 2);
    doc().select({"w4"});
    QTest::mouseClick(child<QPushButton>("actionRemove"), Qt::LeftButton);
    QApplication::processEvents();
    QCOMPARE(static_cast<int>(doc().project().wires->size()), 4);
    for (int i = 0; i < 4; ++i) doc().undo();
    QVERIFY(doc().project() == readProject(demo("landing-beacon")->text).project);
  }
  void namesStayUnique() {
    window_->openDemo("berth-signals");
    doc().select({"led1"});
    auto* name = child<QLineEdit>("partName");
    name->setFocus();
    name->selectAll();
    QTest::keyClicks(name, "Red lamp");
    QTest::keyClick(name, Qt::Key_Return);
    QCOMPARE(doc().project().part("led1")->name, std::string("Red lamp 3"));
  }

  // ---- findings
  void findingsAreHoveredPreviewedAndMeant() {
    openFaulty();
    window_->setStation(Station::check);
    QCOMPARE(child<QLabel>("findingsHead")->text(), QString("1 won’t work"));
    const Project before = doc().project();
    QTest::mouseClick(child<QPushButton>("showMe0"), Qt::LeftButton);
    QVERIFY(doc().project() == before);  // only shown
    QTest::mouseClick(child<QPushButton>("meant0"), Qt::LeftButton);
    doc().finishCheck();
    QCOMPARE(child<QLabel>("findingsHead")->text(), QString("All clear"));
    QVERIFY(doc().check().findings.at(0).meant);
    QVERIFY(!child<QPushButton>("remedy0-0"));
    doc().undo();
    doc().finishCheck();
    QVERIFY(child<QPushButton>("remedy0-0"));
  }
  void aRemedyThatIsPointedAtIsShown() {
    openFaulty();
    window_->setStation(Station::check);
    auto* mend = child<QPushButton>("remedy0-0");
    QVERIFY(!bench()->isPreviewing());
    QEnterEvent enter({5, 5}, {5, 5}, mend->mapToGlobal(QPointF(5, 5)));
    QApplication::sendEvent(mend, &enter);
    QVERIFY(bench()->isPreviewing());
    QEvent leave(QEvent::Leave);
    QApplication::sendEvent(mend, &leave);
    QVERIFY(!bench()->isPreviewing());
    // The same with the keys; pressing it leaves nothing of the preview.
    mend->setFocus(Qt::TabFocusReason);
    QVERIFY(bench()->isPreviewing());
    QTest::keyClick(mend, Qt::Key_Space);
    doc().finishCheck();
    QVERIFY(doc().check().findings.empty());
    QApplication::processEvents();
    QVERIFY(!bench()->isPreviewing());
  }
  void aFindingOfTheProgramLeadsToItsStep() {
    window_->openDemo("landing-beacon");
    doc().edit("remove a wait", edits::removeSteps(doc().project(), {"s4"}));
    doc().finishCheck();
    window_->setStation(Station::check);
    QCOMPARE(doc().check().findings.at(0).rule, std::string("too-fast"));
    QVERIFY(!child<QPushButton>("showMe0"));  // the bench has nothing to show of it
    QTest::mouseClick(child<QPushButton>("goToStep0"), Qt::LeftButton);
    QCOMPARE(window_->station(), Station::program);
    QCOMPARE(doc().selectedStep(), QString("s3"));
    window_->setStation(Station::check);
    QCOMPARE(child<QPushButton>("remedy0-0")->text(), QString("Add a wait of 0.5 s"));
    QTest::mouseClick(child<QPushButton>("remedy0-0"), Qt::LeftButton);
    doc().finishCheck();
    QVERIFY(doc().check().findings.empty());
    doc().undo();
    doc().finishCheck();
    QCOMPARE(doc().check().findings.size(), std::size_t(1));
  }
  void withoutARemedyAFindingStillShowsItsPlaces() {
    doc().reset(readWiring("button e18\nwire D2 a18\nRound and round:\n  set D13 D2\n").project,
                {});
    doc().finishCheck();
    window_->setStation(Station::check);
    QVERIFY(!doc().check().findings.empty());
    const Finding f = doc().check().findings.at(0);
    QVERIFY(f.remedies.empty());
    QTest::mouseClick(child<QPushButton>("showMe0"), Qt::LeftButton);
    QVERIFY2(bench()->hint().startsWith("1 of "), qPrintable(bench()->hint()));
  }

  // ---- readings
  void readingsAreGoneThroughByKeysAndShown() {
    window_->openDemo("berth-signals");
    doc().finishCheck();
    window_->setStation(Station::check);
    auto* readings = child<ReadingsPane>("readings");
    const auto& all = doc().check().readings;
    QVERIFY(!bench()->isShowingPose());
    readings->setFocus(Qt::TabFocusReason);
    QVERIFY(bench()->isShowingPose());
    QVERIFY(readings->accessibleDescription().startsWith(QString::fromStdString(all[0].name)));
    QTest::keyClick(readings, Qt::Key_Down);
    QVERIFY(readings->accessibleDescription().startsWith(QString::fromStdString(all[1].name)));
    QTest::keyClick(readings, Qt::Key_Return);
    QCOMPARE(doc().selection(), QStringList{QString::fromStdString(all[1].part)});
    QTest::keyClick(readings, Qt::Key_End);
    QTest::keyClick(readings, Qt::Key_Down);  // there is no more
    QVERIFY(readings->accessibleDescription().startsWith(QString::fromStdString(all.back().name)));
    bench()->setFocus();
    QVERIFY(!bench()->isShowingPose());
    // By mouse.
    moveMouse(readings, readings->rowRect(1).center(), Qt::NoButton);
    QVERIFY(bench()->isShowingPose());
    QTest::mouseClick(readings, Qt::LeftButton, {}, readings->rowRect(0).center());
    QCOMPARE(doc().selection(), QStringList{QString::fromStdString(all[0].part)});
    moveMouse(readings, {40, 12}, Qt::NoButton);
    QVERIFY(!bench()->isShowingPose());
  }
  void whatHasNoFixedLevelIsToldOnTheSpot() {
    window_->openDemo("ferry-call-bell");
    // The wire from the pull-down to ground.
    for (const auto& wire : *doc().project().wires)
      if (wire->to.point == "a25") doc().edit("remove", edits::remove(doc().project(), {wire->id}));
    doc().finishCheck();
    bench()->fit();
    window_->setStation(Station::check);
    const auto tipAt = [&](const char* hole) {
      moveMouse(bench(), bench()->screenOf(Socket{"bb", hole}).toPoint(), Qt::NoButton);
      return bench()->tipLines().join('\n');
    };
    QVERIFY2(tipAt("c20").contains("no fixed level"), qPrintable(tipAt("c20")));
    QVERIFY2(tipAt("d25").contains("no fixed level"), qPrintable(tipAt("d25")));
    QVERIFY2(tipAt("c18").contains("5.00 V"), qPrintable(tipAt("c18")));
  }
  void whatCarriesNothingIsSaidSo() {
    doc().reset(Bench().part("capacitor", "c1", {"b9", "b11"}).wire("5V", "a9").wire("GND", "a11"),
                {});
    doc().finishCheck();
    bench()->fit();
    const Part* c = doc().project().part("c1");
    moveMouse(
        bench(),
        ((bench()->screenOf(*c->legs[0].in) + bench()->screenOf(*c->legs[1].in)) / 2).toPoint(),
        Qt::NoButton);
    const QString tip = bench()->tipLines().join('\n');
    QVERIFY2(tip.contains("carries nothing as it is wired"), qPrintable(tip));
    QVERIFY2(!tip.contains("0.0 mA"), qPrintable(tip));
  }

  void clickingAFindingGoesThroughItsEvidence() {
    openFaulty();
    window_->setStation(Station::check);
    QWidget* card = child<QWidget>("finding0");
    const Finding f = doc().check().findings.at(0);
    const auto all = evidenceOf(doc().project(), f);
    QVERIFY(all.size() >= 3);
    // Pointed at, it tells its figures on the spot.
    QEnterEvent enter({5, 5}, {5, 5}, card->mapToGlobal(QPointF(5, 5)));
    QApplication::sendEvent(card, &enter);
    QCOMPARE(bench()->callOutWords(), QString::fromStdString(inWords(all[0].words)));
    QEvent leave(QEvent::Leave);
    QApplication::sendEvent(card, &leave);
    QVERIFY(bench()->callOutWords().isEmpty());
    QTest::mouseClick(card, Qt::LeftButton, {}, {20, 20});
    QCOMPARE(doc().selection(), QStringList{QString::fromStdString(f.parts.front())});
    QCOMPARE(
        bench()->hint(),
        QString("1 of %1 · %2").arg(all.size()).arg(QString::fromStdString(inWords(all[0].words))));
    // By key, and round again.
    for (std::size_t k = 1; k <= all.size(); ++k) {
      QTest::keyClick(card, Qt::Key_Return);
      QVERIFY(bench()->hint().startsWith(QString("%1 of ").arg(k % all.size() + 1)));
    }
  }
  void markOnTheBenchLeadsToTheFinding() {
    openFaulty();
    bench()->fit();
    const QRectF lamp = bench()->screenOfPart("led2");
    const QPoint mark(qRound(lamp.right() + 15 * bench()->zoom()), qRound(lamp.center().y()));
    QTest::mouseMove(bench(), mark);
    QTest::mouseClick(bench(), Qt::LeftButton, {}, mark);
    QCOMPARE(window_->station(), Station::check);
  }
  void theCheckFollowsEveryEdit() {
    window_->openDemo("landing-beacon");
    QSignalSpy checked(&doc(), &Document::checked);
    for (int i = 0; i < 30; ++i) {
      doc().select({"led1"});
      bench()->flipSelected();
    }
    doc().finishCheck();
    QVERIFY(doc().checkIsCurrent());
    QVERIFY(doc().check().findings.empty());
    QVERIFY(checked.count() <= 31);
  }

  // ---- program text
  void textAndStepsSelectEachOther() {
    window_->openDemo("berth-signals");
    window_->setStation(Station::program);
    CodeView* code = window_->program()->code();
    QVERIFY(!code->isVisible());  // little at first: the steps alone
    QTest::mouseClick(child<QPushButton>("programTab2"), Qt::LeftButton);
    QVERIFY(code->isVisible());
    // Asked for once, it is there again.
    window_->setStation(Station::run);
    QVERIFY(!code->isVisible());
    window_->setStation(Station::program);
    QVERIFY(code->isVisible());
    doc().selectStep("s5");
    QCOMPARE(code->extraSelections().size(), 1);
    QVERIFY(code->extraSelections().front().cursor.block().text().contains("_delay_ms(250)"));
    code->setFocus();
    QTextCursor cursor(code->document()->find("set_D5(HIGH)"));
    cursor.clearSelection();
    code->setTextCursor(cursor);
    QCOMPARE(doc().selectedStep(), QString("s7"));
    const QString all = QString::fromStdString(cText(doc().project(), "b1").text);
    QVERIFY(code->wholeText() == all);
    QTest::mouseClick(child<QPushButton>("copyCode"), Qt::LeftButton);
    QVERIFY(QApplication::clipboard()->text() == all);
    // The program comes first; what knows the chip is one line until it is asked for.
    const auto shown = [&] { return code->toPlainText(); };
    QVERIFY(!shown().contains("PORTD") && shown().contains("set_D5(HIGH)"));
    QVERIFY2(shown().contains("lines that know the chip"), qPrintable(shown()));
    code->setFocus();
    code->setTextCursor(code->document()->find("lines that know"));
    QTextCursor there = code->textCursor();
    there.clearSelection();
    code->setTextCursor(there);
    QTest::keyClick(code, Qt::Key_Return);
    QVERIFY(shown().contains("PORTD |= _BV(3)"));
    QTest::mouseClick(code->viewport(), Qt::LeftButton, {}, code->cursorRect().center());
    QVERIFY(!shown().contains("PORTD"));
    // Beneath what is open, too, a line belongs to its step.
    QTest::keyClick(code, Qt::Key_Return);
    QTextCursor low(code->document()->find("set_D5(LOW)"));
    low.clearSelection();
    code->setTextCursor(low);
    QCOMPARE(doc().selectedStep(), QString("s4"));
    doc().selectStep("s7");
    QVERIFY(code->extraSelections().front().cursor.block().text().contains("set_D5(HIGH)"));
  }
  void aLaneForEachPressIsMadeChangedAndMended() {
    window_->openDemo("ferry-call-bell");
    window_->setStation(Station::program);
    child<QPushButton>("moreLanes")->setChecked(true);
    QTest::mouseClick(child<QPushButton>("addLane-rise"), Qt::LeftButton);
    const auto lanes = [&]() -> const std::vector<Cow<Lane>>& {
      return doc().project().programs[0]->lanes;
    };
    QCOMPARE(lanes().size(), std::size_t(2));
    QCOMPARE(lanes()[1]->trigger.pin, std::string("D2"));  // the one with the button
    auto* view = child<ProgramView>("programView");
    const auto typeStep = [&](const char* text) {
      QLineEdit* box = view->endBox(lanes()[1]->id);
      box->setFocus();
      QTest::keyClicks(box, QLatin1String(text));
      QTest::keyClick(box, Qt::Key_Return);
    };
    typeStep("flip d13");
    typeStep("dim d9 to 30");
    QCOMPARE(textOf(lanes()[1]->steps), std::string("flip D13\ndim D9 to 30 %\n"));
    // A focused number follows the arrow keys.
    const std::string dim = lanes()[1]->steps[1].id;
    QTest::mouseClick(view, Qt::LeftButton, {},
                      view->boxOfField(dim, "percent").center().toPoint());
    QVERIFY(view->editor());
    QTest::keyClick(view->editor(), Qt::Key_Up);
    QTest::keyClick(view->editor(), Qt::Key_Return);
    QCOMPARE(phraseOf(lanes()[1]->steps[1]), std::string("dim D9 to 35 %"));
    QTest::keyClick(view, Qt::Key_Delete);
    QCOMPARE(lanes()[1]->steps.size(), std::size_t(1));
    // The chip on the sign offers other pins.
    const auto choose = [&](const QString& pin) {
      QTest::mouseClick(view, Qt::LeftButton, {},
                        view->boxOfSignPin(lanes()[1]->id).center().toPoint());
      auto* menu = view->findChild<QMenu*>(QStringLiteral("pinMenu"));
      QVERIFY(menu);
      QTest::keyClicks(menu, pin);  // what is typed goes to its line
      QTest::keyClick(menu, Qt::Key_Return);
      delete menu;
    };
    choose(QStringLiteral("D7"));
    QCOMPARE(lanes()[1]->trigger.pin, std::string("D7"));
    doc().undo();
    choose(QStringLiteral("d1"));
    QCOMPARE(lanes()[1]->trigger.pin, std::string("D1"));
    doc().undo();
    choose(QStringLiteral("xd12"));
    QCOMPARE(lanes()[1]->trigger.pin, std::string("D12"));
    doc().undo();
    QCOMPARE(lanes()[1]->trigger.pin, std::string("D2"));
    // The menu key on a step says when its lane runs.
    doc().selectStep(QString::fromStdString(lanes()[1]->steps[0].id));
    QContextMenuEvent byKey(QContextMenuEvent::Keyboard, QPoint(), QPoint());
    QApplication::sendEvent(view, &byKey);
    auto* menu = view->findChild<QMenu*>(QStringLiteral("programMenu"));
    QVERIFY(menu && menu->findChild<QMenu*>(QStringLiteral("trigger-fall")));
    delete menu;
    // One press can count several times: the check says so, and mends it.
    doc().finishCheck();
    QCOMPARE(doc().check().findings.size(), std::size_t(1));
    QCOMPARE(doc().check().findings[0].rule, std::string("bounce"));
    window_->setStation(Station::check);
    QTest::mouseClick(child<QPushButton>("remedy0-0"), Qt::LeftButton);
    QCOMPARE(textOf(lanes()[1]->steps), std::string("wait 0.02 s\nif D2 is high\n  flip D13\n"));
    doc().finishCheck();
    QVERIFY(doc().check().findings.empty());
  }
  void missedPressesAreShownOnTheSign() {
    window_->openDemo("ferry-call-bell");
    window_->setStation(Station::program);
    child<QPushButton>("moreLanes")->setChecked(true);
    QTest::mouseClick(child<QPushButton>("addLane-rise"), Qt::LeftButton);
    Project p = doc().project();
    const std::string lane = p.programs[0]->lanes[1]->id;
    p = edits::insertSteps(std::move(p), {lane, {}, {}, 0}, parseSteps("wait 60").steps);
    doc().edit("add a wait", edits::assignIds(std::move(p)));
    run().setSpeed(10);
    window_->togglePower();
    for (int i = 0; i < 3; ++i) {
      run().press("btn1", true);
      pass(60);
      run().press("btn1", false);
      pass(60);
    }
    QVERIFY(run().shown() && run().shown()->lanes.size() == 2);
    QVERIFY(run().shown()->lanes[1].missed >= 2);
    window_->togglePower();
  }

  // ---- the run, in the time of its clock
  void theRunKeepsPaceWithTheClock() {
    window_->openDemo("landing-beacon");
    window_->togglePower();
    pass(800);
    QVERIFY(std::abs(run().shownAt() - second * 8 / 10) <= 1);
    QVERIFY(run().shown()->powered);
    run().setPaused(true);
    const Nanoseconds at = run().shownAt();
    pass(160);
    QCOMPARE(run().shownAt(), at);
    run().stepOnce();
    QTRY_VERIFY(run().shownAt() > at);
    const Nanoseconds stepped = run().shownAt();
    run().setPaused(false);
    run().setSpeed(100);
    pass(320);
    QVERIFY(std::abs(run().shownAt() - stepped - 32 * second) <= 1);
    QVERIFY(std::abs(run().reachedSpeed() - 100) < 1);
    window_->togglePower();
    QVERIFY(!run().isOn() && !run().shown());
  }
  // What is done by hand while it is paused is seen, whoever asks for the run meanwhile.
  void aPressWhilePausedIsSeen() {
    window_->openDemo("ferry-call-bell");
    const QString button = QString::fromStdString(partNamed(doc().project(), "Call button"));
    window_->togglePower();
    pass(160);
    run().setPaused(true);
    pass(32);
    // Whoever is first: the worker, or who asks.
    for (int i = 0; i < 40; ++i) {
      const bool down = i % 2 == 0;
      run().press(button, down);
      QVERIFY(run().record());
      pass(48);
      QCOMPARE(run().isHeld(button), down);
    }
    window_->togglePower();
  }
  void lookingBackWhileItRuns() {
    window_->openDemo("landing-beacon");
    run().setSpeed(10);
    window_->togglePower();
    pass(400);
    QVERIFY(run().shownAt() > 3 * second);
    run().lookAt(second * 7 / 10);
    QTRY_COMPARE_WITH_TIMEOUT(run().shownAt(), second * 7 / 10, 5000);
    QVERIFY(run().isLookingBack());
    QVERIFY(run().shown()->light[1] < 0.01);
    run().lookAt(second * 12 / 10);
    QTRY_COMPARE_WITH_TIMEOUT(run().shownAt(), second * 12 / 10, 5000);
    QVERIFY(run().shown()->light[1] > 0.5);
    run().lookAtNow();
    QVERIFY(run().shownAt() > 3 * second);
  }
  // However a look back ends, the present is never overwritten by a past that comes late.
  void backToNowStaysNow() {
    window_->openDemo("berth-signals");
    run().setSpeed(100);
    window_->togglePower();
    pass(400);
    QVERIFY(run().shownAt() > 30 * second);
    run().setSpeed(1);
    for (int i = 0; i < 40; ++i) {
      run().lookAt(20 * second);  // in the other thread, for as long as that takes
      for (int k = 0; k < i % 8; ++k) run().fetch();
      run().lookAtNow();
      Nanoseconds latest = run().shownAt();
      QVERIFY(latest > 30 * second);
      for (int k = 0; k < 6; ++k) {
        pass(7);
        QVERIFY(run().shownAt() >= latest);
        latest = run().shownAt();
      }
    }
    window_->togglePower();
  }
  void oneStepSaysWhenNothingIsDue() {
    window_->openDemo("landing-beacon");
    doc().edit("wait long",
               edits::setExpr(doc().project(), doc().project().programs[0]->lanes[0]->steps[1].id,
                              "seconds", Expr::of(7200.0)));
    window_->togglePower();
    run().setPaused(true);
    for (int i = 0; i < 4; ++i) run().stepOnce();
    QTRY_VERIFY2(window_->bench()->hint().contains("No step is due within a second"),
                 qPrintable(window_->bench()->hint()));
    QVERIFY(run().shownAt() < 5 * second);
    window_->togglePower();
  }
  void editsAndPressesReachTheRun() {
    window_->openDemo("ferry-call-bell");
    window_->togglePower();
    run().press("btn1", true);
    pass(400);
    QVERIFY(run().shown()->light[1] > 0.5);
    doc().edit("remove a wire", edits::remove(doc().project(), {"w5"}));
    pass(400);
    QVERIFY(run().shown()->light[1] < 0.01);
    doc().undo();
    run().press("btn1", false);
    pass(400);
    run().press("btn1", true);
    pass(400);
    QVERIFY(run().shown()->light[1] > 0.5);
  }
  void shortCircuitIsSaidAtTheTop() {
    Project p = readProject(demo("landing-beacon")->text).project;
    Wire w;
    w.id = "bad";
    w.from = {"b1", "5V"};
    w.to = {"bb", "ln1"};
    doc().reset(edits::addWire(p, w), {});
    window_->togglePower();
    auto* notice = window_->findChild<QLabel*>("notice");
    pass(400);
    QVERIFY(notice->isVisible());
    QVERIFY(notice->text().contains("5 V and GND are joined"));
    doc().edit("remove a wire", edits::remove(doc().project(), {"bad"}));
    pass(400);
    QVERIFY(!notice->isVisible());
    for (int i = 0; i < 10 && run().shown()->light[1] <= 0.5; ++i) pass(100);  // it blinks
    QVERIFY(run().shown()->light[1] > 0.5);
  }

  // ---- trace
  void traceZoomsAroundThePointer() {
    run().setByHand(true);
    window_->openDemo("landing-beacon");
    window_->setStation(Station::run);
    window_->togglePower();
    run().advanceBy(6);
    TraceView* trace = window_->trace();
    run().lookAt(5 * second);
    const QPoint at(600, 80);
    const Nanoseconds before = trace->timeAt(600);
    QWheelEvent wheel(at, trace->mapToGlobal(at), {}, {0, 480}, Qt::NoButton, {}, Qt::NoScrollPhase,
                      false);
    QApplication::sendEvent(trace, &wheel);
    QVERIFY(trace->secondsShown() < 2.5);
    QVERIFY(std::abs(static_cast<double>(trace->timeAt(600) - before)) < 0.01e9);
    trace->setFocus();
    QTest::keyClick(trace, Qt::Key_Left);
    QVERIFY(run().shownAt() < 5 * second);
    QTest::keyClick(trace, Qt::Key_End);
    QVERIFY(!run().isLookingBack());
    QVERIFY(!trace->grab().isNull());
  }

  // ---- window
  void titleIsEditedInPlace() {
    auto* title = child<QLineEdit>("title");
    title->setFocus();
    title->selectAll();
    QTest::keyClicks(title, "My beacon");
    QTest::keyClick(title, Qt::Key_Return);
    QCOMPARE(doc().project().title, std::string("My beacon"));
    QVERIFY(window_->windowTitle().startsWith("My beacon *"));
  }
  void stationsSpeakForThemselves() {
    openFaulty();
    for (int i = 0; i < stationCount; ++i) {
      QTest::mouseClick(window_->topBar()->line, Qt::LeftButton, {},
                        window_->topBar()->line->centreOf(static_cast<Station>(i)));
      QCOMPARE(static_cast<int>(window_->station()), i);
    }
    QTest::keyClick(window_->topBar()->line, Qt::Key_Left);
    QCOMPARE(window_->station(), Station::run);
    QVERIFY(!run().isOn());  // no station switches the power
  }
  void f6GoesRoundThePanes() {
    window_->openDemo("berth-signals");
    bench()->setFocus();
    std::set<QWidget*> seen;
    for (int i = 0; i < 4; ++i) {
      QTest::keyClick(window_.get(), Qt::Key_F6);
      seen.insert(QApplication::focusWidget());
    }
    QVERIFY(seen.size() >= 3);
  }
  void everyPaneHasAName() {
    for (int i = 0; i < stationCount; ++i) {
      window_->setStation(static_cast<Station>(i));
      for (QWidget* w : window_->findChildren<QWidget*>())
        if (w->isVisible() && (w->focusPolicy() & Qt::TabFocus) &&
            !qobject_cast<QAbstractButton*>(w) && !w->objectName().startsWith("qt_") &&
            !w->objectName().isEmpty() && !w->inherits("QScrollArea") &&
            !w->inherits("QAbstractSpinBox"))
          QVERIFY2(!w->accessibleName().isEmpty(), qPrintable(w->objectName()));
    }
  }
};

QTEST_MAIN(TestPanes)
#include "tst_panes.moc"
