#include <QApplication>
#include <QCheckBox>
#include <QClipboard>
#include <QDir>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QSettings>
#include <QSplitter>
#include <QTemporaryDir>
#include <QtTest>

#include "demos.h"
#include "document/process_runner.h"
#include "document/workers.h"
#include "rehearsal/rehearsal.h"
#include "support/build.h"
#include "support/hand_clock.h"
#include "support/window.h"

using namespace ignavo;
using namespace ignavo::app;
using namespace ignavo::test;

// Drives the real window with real mouse and key events.
class TestWindow : public QObject {
  Q_OBJECT
  Answers answers_;
  std::unique_ptr<MainWindow> window_;

  BenchView* bench() { return window_->bench(); }
  Document& doc() { return window_->document(); }
  RunControl& run() { return window_->runControl(); }
  ProgramView* program() { return window_->program()->view(); }
  QPoint hole(const char* address) { return bench()->screenOf(Socket{"bb", address}).toPoint(); }
  QPoint pin(const char* name) { return bench()->screenOf(Socket{"b1", name}).toPoint(); }

  void typeStep(const char* text) {
    QLineEdit* box = program()->endBox("l1");
    QVERIFY(box);
    box->setFocus();
    QTest::keyClicks(box, QString::fromUtf8(text));
    QTest::keyClick(box, Qt::Key_Return);
  }
  void place(const char* type, const char* at) {
    CabinetCard* card = window_->cabinet()->card(type);
    QVERIFY(card);
    QTest::mouseClick(card, Qt::LeftButton);
    QTest::mouseMove(bench(), hole(at));
    QTest::mouseClick(bench(), Qt::LeftButton, {}, hole(at));
  }
  std::string socketOf(const char* part, const char* leg) {
    const Part* p = doc().project().part(part);
    return p && p->leg(leg)->in ? p->leg(leg)->in->point : std::string();
  }

  static QStringList journalsIn(const QString& folder) {
    return QDir(folder).entryList({"*.ignavo"}, QDir::Files);
  }

 private Q_SLOTS:
  void initTestCase() { lookAsInDaylight(); }
  void init() {
    answers_ = Answers();
    window_ = openWindow(answers_);
  }
  void cleanup() { window_.reset(); }

  void emptyStartIsReadyAndNotModal() {
    QVERIFY(!QApplication::activeModalWidget());
    QCOMPARE(doc().project().boards.size(), std::size_t(1));
    QCOMPARE(doc().project().breadboards.size(), std::size_t(1));
    QVERIFY(program()->endBox("l1")->placeholderText().contains(QStringLiteral("set d13 high")));
    for (const char* card : {"start-blink", "start-light", "start-example"})
      QVERIFY(window_->findChild<QPushButton*>(QString::fromLatin1(card)));
  }
  void startCardsWorkAndAreUndone() {
    QTest::mouseClick(window_->findChild<QPushButton*>("start-light"), Qt::LeftButton);
    doc().finishCheck();
    QVERIFY2(
        doc().check().findings.empty(),
        doc().check().findings.empty() ? "" : inWords(doc().check().findings[0].title).c_str());
    // "P switches the power on": the bench has the keys.
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_P);
    QVERIFY(run().isOn());
    run().advanceBy(0.1);
    QVERIFY(run().shown()->light[1] > 0.5);
    window_->togglePower();
    doc().undo();
    QApplication::processEvents();
    QTest::mouseClick(window_->findChild<QPushButton*>("start-blink"), Qt::LeftButton);
    QCOMPARE(doc().project().programs[0]->lanes[0]->steps.size(), std::size_t(4));
    doc().finishCheck();
    QVERIFY(doc().check().findings.empty());
    doc().undo();
    QApplication::processEvents();
    QTest::mouseClick(window_->findChild<QPushButton*>("start-example"), Qt::LeftButton);
    QCOMPARE(doc().project().title, std::string("Landing beacon"));
  }

  // The whole path: place, wire, type, power, turn, mend, change, look back, undo all.
  void fromAnEmptyBenchToABlinkingLamp() {
    const Project empty = doc().project();
    place("resistor", "c9");
    place("led", "i9");
    QCOMPARE(socketOf("r1", "b"), std::string("h9"));
    QCOMPARE(socketOf("led1", "anode"), std::string("i9"));
    QCOMPARE(socketOf("led1", "cathode"), std::string("i11"));
    QCOMPARE(doc().project().part("led1")->name, std::string("Red lamp"));
    dragMouse(bench(), pin("D4"), hole("a9"));
    dragMouse(bench(), pin("GND"), hole("ln4"));
    dragMouse(bench(), hole("ln23"), hole("rn23"));
    // Click–click in place of a drag.
    QTest::mouseClick(bench(), Qt::LeftButton, {}, hole("j11"));
    QTest::mouseMove(bench(), hole("rn10"));
    QTest::mouseClick(bench(), Qt::LeftButton, {}, hole("rn10"));
    QCOMPARE(static_cast<int>(doc().project().wires->size()), 4);
    QCOMPARE((*doc().project().wires)[0]->colour, std::string("teal"));

    window_->setStation(Station::program);
    for (const char* step : {"set d4 high", "wait .5", "set d4 low", "wait .5"}) typeStep(step);
    QCOMPARE(textOf(doc().project().programs[0]->lanes[0]->steps),
             std::string("set D4 high\nwait 0.5 s\nset D4 low\nwait 0.5 s\n"));
    doc().finishCheck();
    QCOMPARE(static_cast<int>(doc().check().findings.size()), 0);

    window_->setStation(Station::run);
    QTest::mouseClick(window_->topBar()->power, Qt::LeftButton);
    QVERIFY(run().isOn());
    run().advanceBy(0.3);
    QVERIFY(run().shown()->light[1] > 0.7);
    run().advanceBy(0.5);
    QVERIFY(run().shown()->light[1] < 0.01);

    // Turned round it stays dark, and the check says why.
    QTest::mouseClick(bench(), Qt::LeftButton, {},
                      bench()->screenOfPart("led1").center().toPoint());
    QCOMPARE(doc().selection(), QStringList{"led1"});
    QTest::keyClick(bench(), Qt::Key_F);
    QCOMPARE(socketOf("led1", "anode"), std::string("i11"));
    run().advanceBy(2);
    QVERIFY(run().shown()->light[1] < 0.01);
    doc().finishCheck();
    QCOMPARE(doc().check().findings.at(0).rule, std::string("led-reversed"));
    window_->setStation(Station::check);
    auto* remedy = window_->findChild<QPushButton*>("remedy0-0");
    QVERIFY(remedy);
    QCOMPARE(remedy->text(), QString("Turn it round"));
    QTest::mouseClick(remedy, Qt::LeftButton);
    QCOMPARE(socketOf("led1", "anode"), std::string("i9"));
    doc().finishCheck();
    QVERIFY(doc().check().findings.empty());

    // 0.5 becomes 2 while it runs: one undo step, at once.
    window_->setStation(Station::run);
    const std::string wait = doc().project().programs[0]->lanes[0]->steps[1].id;
    QTest::mouseClick(program(), Qt::LeftButton, {},
                      program()->boxOfField(wait, "seconds").center().toPoint());
    QLineEdit* editor = program()->editor();
    QVERIFY(editor);
    QTest::keyClicks(editor, "2");
    QTest::keyClick(editor, Qt::Key_Return);
    QCOMPARE(doc().project().step(wait)->field("seconds")->number, 2.0);
    run().advanceBy(6);
    const auto trace = run().trace();
    const int signal = trace->find(Signal::What::pinLevel, "b1", "D4");
    Nanoseconds longest = 0, last = 0;
    trace->forEachEdge(signal, 0, trace->end(), [&](const Edge& e) {
      if (e.value == 0) longest = std::max(longest, e.at - last);
      last = e.at;
      return true;
    });
    QVERIFY(std::abs(static_cast<double>(longest) * 1e-9 - 2) < 0.001);

    // Looking back shows that moment; the present is kept.
    const Nanoseconds now = run().shownAt();
    auto* view = window_->trace();
    dragMouse(view, QPoint(qRound(view->xOf(now)), 60),
              QPoint(qRound(view->xOf(now - second)), 60));
    QVERIFY(run().isLookingBack());
    QVERIFY(std::abs(static_cast<double>(run().shownAt() - (now - second))) < 0.02e9);
    QCOMPARE(run().shown()->levels[static_cast<std::size_t>(2)],
             trace->valueAt(signal, run().shownAt()) > 0 ? std::uint8_t(1) : std::uint8_t(0));
    QTest::keyClick(view, Qt::Key_End);
    QVERIFY(!run().isLookingBack());
    QCOMPARE(run().shownAt(), now);

    QTest::mouseClick(window_->topBar()->power, Qt::LeftButton);
    QVERIFY(!run().isOn());
    int steps = 0;
    while (doc().history().canUndo() && ++steps < 100)
      QTest::mouseClick(window_->topBar()->undo, Qt::LeftButton);
    QVERIFY(doc().project() == empty);
    while (doc().history().canRedo()) QTest::mouseClick(window_->topBar()->redo, Qt::LeftButton);
    QCOMPARE(doc().project().step(wait)->field("seconds")->number, 2.0);
  }

  void everythingByKeyboard() {
    // Take a lamp with Return, carry it with the arrows, place it, wire it from hole to hole.
    CabinetCard* card = window_->cabinet()->card("led");
    card->setFocus();
    QTest::keyClick(card, Qt::Key_Return);
    QVERIFY(bench()->isPlacing());
    QTest::keyClick(bench(), Qt::Key_Down);
    QTest::keyClick(bench(), Qt::Key_Right);
    QTest::keyClick(bench(), Qt::Key_Return);
    QCOMPARE(static_cast<int>(doc().project().parts->size()), 1);
    QCOMPARE(socketOf("led1", "anode"), std::string("d10"));
    QTest::keyClick(bench(), Qt::Key_Down);  // moves what is selected
    QCOMPARE(socketOf("led1", "anode"), std::string("d11"));
    QTest::keyClick(bench(), Qt::Key_Escape);
    QTest::keyClick(bench(), Qt::Key_Right);  // the cursor appears at a1
    QTest::keyClick(bench(), Qt::Key_Right);
    QTest::keyClick(bench(), Qt::Key_W);
    for (int i = 0; i < 3; ++i) QTest::keyClick(bench(), Qt::Key_Down);
    QTest::keyClick(bench(), Qt::Key_Return);
    QCOMPARE(static_cast<int>(doc().project().wires->size()), 1);
    QCOMPARE((*doc().project().wires)[0]->to.point, std::string("b4"));
    QTest::keyClick(bench(), Qt::Key_Delete);
    QCOMPARE(static_cast<int>(doc().project().wires->size()), 0);
    QTest::keyClick(bench(), Qt::Key_P);
    QVERIFY(run().isOn());
    QTest::keyClick(window_.get(), Qt::Key_3, Qt::AltModifier);
    QCOMPARE(window_->station(), Station::program);
  }
  void programByKeyboard() {
    window_->openDemo("berth-signals");
    window_->setStation(Station::program);
    program()->setFocus();
    // The sign of the lane first, then its steps.
    for (int i = 0; i < 3; ++i) QTest::keyClick(program(), Qt::Key_Down);
    QCOMPARE(doc().selectedStep(), QString("s2"));
    for (int i = 0; i < 3; ++i) QTest::keyClick(program(), Qt::Key_Down);
    QCOMPARE(doc().selectedStep(), QString("s5"));
    QTest::keyClick(program(), Qt::Key_Right);  // onto the number
    QTest::keyClick(program(), Qt::Key_Up);
    QVERIFY(doc().project().step("s5")->field("seconds")->number > 0.25);
    QTest::keyClick(program(), Qt::Key_0);
    QVERIFY(program()->editor());
    QTest::keyClicks(program()->editor(), ".1");
    QTest::keyClick(program()->editor(), Qt::Key_Return);
    QCOMPARE(doc().project().step("s5")->field("seconds")->number, 0.1);
    QTest::keyClick(program(), Qt::Key_Escape);
    QTest::keyClick(program(), Qt::Key_D, Qt::ControlModifier);
    QCOMPARE(doc().project().step("s1")->body("then")->size(), std::size_t(8));
    QTest::keyClick(program(), Qt::Key_Delete);
    QCOMPARE(doc().project().step("s1")->body("then")->size(), std::size_t(7));
    doc().selectStep("s5");
    QTest::keyClick(program(), Qt::Key_Up, Qt::ControlModifier);
    QCOMPARE(doc().project().step("s1")->body("then")->at(2).id, std::string("s5"));
    QTest::keyClick(program(), Qt::Key_Return);
    auto* box = window_->findChild<QLineEdit*>("insertStep");
    QVERIFY(box);
    QTest::keyClicks(box, "wait 3");
    QTest::keyClick(box, Qt::Key_Return);
    QCOMPARE(phraseOf(doc().project().step("s1")->body("then")->at(3)), std::string("wait 3 s"));
    // Copied as text, pasted from text.
    doc().selectStep("s1");
    QTest::keyClick(program(), Qt::Key_C, Qt::ControlModifier);
    QVERIFY(QApplication::clipboard()->text().startsWith("if D2 is high\n  set D3 low\n"));
    QTest::keyClick(program(), Qt::Key_V, Qt::ControlModifier);
    QCOMPARE(doc().project().programs[0]->lanes[0]->steps.size(), std::size_t(2));
  }
  // What scripts/demo shows where there is no monitor.
  void theExamplesAreRehearsed() {
    QTemporaryDir folder;
    const QString picture = folder.filePath("picture.png");
    QCOMPARE(rehearse(*window_, picture), 0);
    QVERIFY(!QImage(picture).isNull());
  }
  void wrongPhrasesAreExplainedAndKept() {
    window_->setStation(Station::program);
    typeStep("set harbour high");
    auto* card = window_->findChild<TypingCard*>();
    QVERIFY2(card->question().contains(QStringLiteral("“harbour” is not")),
             qPrintable(card->question()));
    QCOMPARE(program()->endBox("l1")->text(), QString("set harbour high"));
    QVERIFY(!doc().project().programs[0]->hasSteps());
  }
  void fieldsAreEditedInPlace() {
    window_->openDemo("landing-beacon");
    window_->setStation(Station::program);
    QTest::mouseClick(program(), Qt::LeftButton, {},
                      program()->boxOfField("s1", "to").center().toPoint());
    QCOMPARE(doc().project().step("s1")->field("to")->text, std::string("low"));
    QTest::mouseClick(program(), Qt::LeftButton, {},
                      program()->boxOfField("s1", "pin").center().toPoint());
    auto* menu = window_->findChild<QMenu*>("pinMenu");
    QVERIFY(menu && menu->actions().size() == 20);
    QVERIFY(menu->actions().first()->text().contains("Red lamp"));
    menu->actions().at(2)->trigger();
    menu->close();
    QVERIFY(doc().project().step("s1")->field("pin")->text != "D4");
  }
  void stepsAreDraggedAndDraggedOut() {
    window_->openDemo("landing-beacon");
    window_->setStation(Station::program);
    const auto grip = [&](const char* id) {
      return program()->boxOfStep(id).topRight().toPoint() + QPoint(-30, 14);
    };
    dragMouse(program(), grip("s1"), grip("s2") + QPoint(0, 20));
    QCOMPARE(doc().project().programs[0]->lanes[0]->steps[1].id, std::string("s1"));
    dragMouse(program(), grip("s4"), QPoint(-120, 60));
    QCOMPARE(doc().project().programs[0]->lanes[0]->steps.size(), std::size_t(3));
    doc().undo();
    doc().undo();
    QCOMPARE(doc().project().programs[0]->lanes[0]->steps[0].id, std::string("s1"));
  }
  // Of a bench that is as tall as its view nothing lies under the line that tells what to do next.
  void theHintCoversNothing() {
    Project project = doc().project();
    project.boards.push_back({"b2", "tern", {2, 40}, {}});
    project.breadboards.push_back({"bb2", "half", {14, 40}, {}});
    doc().reset(project, {});
    window_->setStation(Station::run);
    bench()->fit();
    settle();
    const auto* hint = window_->findChild<QWidget*>(QStringLiteral("hint"));
    QVERIFY(hint->isVisible() && hint->parentWidget() == bench());
    for (const char* hole : {"a30", "j30"})
      QVERIFY(bench()->screenOf({"bb2", hole}).y() < hint->y() - 2);
  }
  void buttonIsPressedByMouse() {
    window_->openDemo("ferry-call-bell");
    window_->setStation(Station::run);
    bench()->fit();
    window_->togglePower();
    run().advanceBy(0.1);
    QVERIFY(run().shown()->light[1] < 0.01);
    const QPoint cap = bench()->screenOfPart("btn1").center().toPoint();
    QTest::mousePress(bench(), Qt::LeftButton, {}, cap);
    run().advanceBy(0.2);
    QVERIFY(run().isHeld("btn1"));
    QVERIFY(run().shown()->light[1] > 0.5);
    QTest::mouseRelease(bench(), Qt::LeftButton, {}, cap);
    run().advanceBy(0.6);  // the bell has sounded
    QVERIFY(!run().isHeld("btn1"));
    QVERIFY(run().shown()->light[1] < 0.01);
    // With Shift it stays held.
    QTest::mouseClick(bench(), Qt::LeftButton, Qt::ShiftModifier, cap);
    run().advanceBy(0.2);
    QVERIFY(run().isHeld("btn1"));
    QTest::mouseClick(bench(), Qt::LeftButton, {}, cap);
    run().advanceBy(0.2);
    QVERIFY(!run().isHeld("btn1"));
  }
  void legsAndWireEndsAreReplugged() {
    window_->openDemo("landing-beacon");
    bench()->fit();
    dragMouse(bench(), hole("i11"), hole("i12"));
    QCOMPARE(socketOf("led1", "cathode"), std::string("i12"));
    dragMouse(bench(), hole("i12"), hole("i25"));  // out of reach: nothing happens
    QCOMPARE(socketOf("led1", "cathode"), std::string("i12"));
    QVERIFY(bench()->hint().contains("reach"));
    dragMouse(bench(), hole("j11"), hole("j12"));
    QCOMPARE(doc().project().wire("w4")->from.point, std::string("j12"));
    dragMouse(bench(), hole("b5"), pin("D4"));
    QCOMPARE(static_cast<int>(doc().project().wires->size()), 4);
    QVERIFY2(bench()->hint().contains("taken"), qPrintable(bench()->hint()));
    // A taken hole offers the nearest free one of its row.
    dragMouse(bench(), hole("b5"), hole("c9"));
    const std::string to = doc().project().wires->back()->to.point;
    QVERIFY2(to == "b9" || to == "d9", to.c_str());
    doc().undo();
    const QPoint body = bench()->screenOfPart("led1").center().toPoint();
    dragMouse(bench(), body, body + (hole("i14") - hole("i9")));
    QCOMPARE(socketOf("led1", "anode"), std::string("i14"));
    doc().finishCheck();
    QVERIFY(!doc().check().findings.empty());
  }
  void zoomKeepsThePointInPlace() {
    const QPoint at = hole("e15");
    QWheelEvent wheel(at, bench()->mapToGlobal(at), {}, {0, 240}, Qt::NoButton, {},
                      Qt::NoScrollPhase, false);
    const double before = bench()->zoom();
    QApplication::sendEvent(bench(), &wheel);
    QVERIFY(bench()->zoom() > before * 1.2);
    QVERIFY((hole("e15") - at).manhattanLength() <= 2);
  }
  void buildStepsAreTickedAndRemembered() {
    window_->openDemo("landing-beacon");
    window_->setStation(Station::build);
    auto* tick = window_->findChild<QCheckBox*>("tick-part:r1");
    QVERIFY(tick);
    QTest::mouseClick(tick, Qt::LeftButton, {}, QPoint(8, tick->height() / 2));
    QCOMPARE(doc().project().ticks, std::vector<std::string>{"part:r1"});
    QTest::mouseClick(window_->findChild<QPushButton*>("makeFirmware"), Qt::LeftButton);
    QTRY_VERIFY_WITH_TIMEOUT(!window_->firmware()->isBusy(), 30000);
    QVERIFY2(window_->firmware()->result().startsWith("Ready:"),
             qPrintable(window_->firmware()->result()));
    QTemporaryDir folder;
    answers_.keep = folder.filePath("beacon.hex");
    QTest::mouseClick(window_->findChild<QPushButton*>("saveFirmware"), Qt::LeftButton);
    QVERIFY(QFile::exists(answers_.keep));
    QVERIFY(QApplication::focusWidget() != nullptr);
  }
  // Firmware is of the program that is on the screen, or of none.
  void firmwareOfAnEarlierProgramIsNotOffered() {
    window_->openDemo("landing-beacon");
    window_->setStation(Station::build);
    auto* keep = window_->findChild<QPushButton*>("saveFirmware");
    const auto wait = [&](double seconds) {
      doc().edit("wait",
                 edits::setExpr(doc().project(), doc().project().programs[0]->lanes[0]->steps[1].id,
                                "seconds", Expr::of(seconds)));
    };
    // The compiler has done it, but says so late.
    std::atomic<bool> go = false;
    class Late final : public ProgramRunner {
     public:
      explicit Late(std::atomic<bool>& go) : go_(go) {}
      std::string folder() override { return compiler_.folder(); }
      Ran run(const std::vector<std::string>& words,
              const std::function<void(const std::string&)>& line,
              const std::function<bool()>&) override {
        const Ran ran = compiler_.run(words, line, {});
        while (!go_) std::this_thread::yield();
        return ran;
      }

     private:
      std::atomic<bool>& go_;
      ProcessRunner compiler_;
    };
    window_->firmware()->maker().newRunner = [&] { return std::make_unique<Late>(go); };
    QTest::mouseClick(window_->findChild<QPushButton*>("makeFirmware"), Qt::LeftButton);
    QVERIFY(window_->firmware()->isBusy());
    wait(0.125);  // while it is made
    QVERIFY(!window_->firmware()->isBusy());
    go = true;
    workers().waitForDone();
    QApplication::processEvents();
    QVERIFY2(window_->firmware()->result().contains("make it again"),
             qPrintable(window_->firmware()->result()));
    QVERIFY(!keep->isEnabled());
    QTest::mouseClick(window_->findChild<QPushButton*>("makeFirmware"), Qt::LeftButton);
    QTRY_VERIFY_WITH_TIMEOUT(!window_->firmware()->isBusy(), 30000);
    QVERIFY(window_->firmware()->result().startsWith("Ready:"));
    // A tick on the sheet is no change of the program.
    doc().edit("tick", edits::setTick(doc().project(), "part:r1", true));
    QVERIFY(keep->isEnabled());
    wait(0.25);
    QVERIFY(!keep->isEnabled());
  }
  void savingOpeningAndLeaving() {
    QTemporaryDir folder;
    window_->openDemo("berth-signals");
    answers_.keep = folder.filePath("mine");
    QVERIFY(window_->save(true));
    QVERIFY(QFile::exists(folder.filePath("mine.ignavo")));
    QVERIFY(doc().isSaved());
    const Project saved = doc().project();
    doc().select({"led1"});
    bench()->flipSelected();
    QVERIFY(!doc().isSaved());
    answers_.answer = Dialogs::Answer::cancel;
    window_->close();
    QVERIFY(window_->isVisible());
    answers_.answer = Dialogs::Answer::discard;
    window_->close();
    QVERIFY(!window_->isVisible());
    QCOMPARE(answers_.asked, 2);
    QVERIFY(window_->openPath(folder.filePath("mine.ignavo")));
    QVERIFY(doc().project() == saved);
  }
  void damagedFilesAreExplained() {
    QTemporaryDir folder;
    const auto file = [&](QByteArray text) {
      QFile f(folder.filePath("bad.ignavo"));
      f.open(QIODevice::WriteOnly);
      f.write(text);
      return f.fileName();
    };
    const QByteArray good = QByteArray::fromStdString(demo("landing-beacon")->text);
    auto* notice = window_->findChild<QLabel*>("notice");
    const Project before = doc().project();
    QVERIFY(!window_->openPath(file(good.left(200))));
    QVERIFY(doc().project() == before);
    QVERIFY(notice->isVisible() && notice->text().contains("was not opened"));
    // What can be opened is opened, the rest is listed.
    QByteArray partly = good;
    QVERIFY(window_->openPath(file(partly.replace("bb.i11", "bb.k14"))));
    QVERIFY(notice->text().contains("no hole \"k14\""));
    QCOMPARE(static_cast<int>(doc().project().parts->size()), 2);
    QVERIFY(doc().path().isEmpty());  // not saved over by accident
  }
  // An empty bench is not "all clear", and what it is said to be is never cut.
  void anEmptyBenchHasNothingToCheckYet() {
    doc().finishCheck();
    StationLine* line = window_->topBar()->line;
    QCOMPARE(line->shownState(Station::check), QString("nothing to check yet"));
    window_->resize(1024, 700);
    QApplication::processEvents();
    QCOMPARE(line->shownState(Station::check), QString("nothing yet"));
    window_->openDemo("landing-beacon");
    doc().finishCheck();
    QCOMPARE(line->shownState(Station::check), QString("all clear"));
  }
  // However narrow the line is, what stands under one station does not run into the next.
  void statesOfStationsStandApart() {
    window_ = openWindow(answers_);
    auto* line = window_->findChild<StationLine*>();
    window_->openDemo("landing-beacon");
    doc().finishCheck();
    window_->togglePower();
    window_->runControl().advanceBy(1);
    window_->runControl().lookAt(500'000'000);
    QApplication::processEvents();
    QVERIFY(line->shownState(Station::run).contains("back"));
    for (const int wide : {255, 290, 420, 500}) {
      line->resize(wide, 52);
      const auto boxes = line->stateBoxes();
      for (std::size_t i = 1; i < boxes.size(); ++i)
        QVERIFY2(boxes[i - 1].right() + 3 <= boxes[i].left(),
                 qPrintable(QStringLiteral("%1: %2").arg(wide).arg(i)));
    }
  }
  // ---- work that was not saved
  void unsavedWorkComesBack() {
    QTemporaryDir folder;
    window_->setRecoveryFolder(folder.path());
    window_->openDemo("landing-beacon");
    doc().select({"led1"});
    bench()->flipSelected();
    const Project work = doc().project();
    QTRY_COMPARE_WITH_TIMEOUT(journalsIn(folder.path()).size(), 1, 2000);
    // While the window is open nobody else is offered its work.
    MainWindow second(answers_);
    second.setRecoveryFolder(folder.path());
    QVERIFY(!second.findChild<QWidget*>("offer")->isVisibleTo(&second));
    const QString journal = folder.filePath(journalsIn(folder.path()).front());
    QFile copy(journal);
    QVERIFY(copy.copy(folder.filePath("1-1.ignavo")));  // of a window that is gone
    MainWindow third(answers_);
    third.show();
    third.setRecoveryFolder(folder.path());
    QVERIFY(third.findChild<QLabel*>("offerText")->text().contains("Landing beacon"));
    QTest::mouseClick(third.findChild<QPushButton*>("bringBack"), Qt::LeftButton);
    QVERIFY(third.document().project() == work);
    QVERIFY(!third.document().isSaved());
    QVERIFY(!third.findChild<QWidget*>("offer")->isVisible());
    // It goes once the window that took it holds it itself.
    QTRY_VERIFY_WITH_TIMEOUT(!QFile::exists(folder.filePath("1-1.ignavo")), 3000);
    QVERIFY(journalsIn(folder.path()).size() >= 2);
    third.document().undo();
    QVERIFY(third.document().project() == emptyProject());
  }
  // The clock counts from the first edit that is not kept yet, not from the last one.
  void quickEditsAreKeptAllTheSame() {
    QTemporaryDir folder;
    HandClock clock;
    const auto window = openWindow(answers_, &clock);
    window->setRecoveryFolder(folder.path());
    const auto kept = [&] {  // the last edit that the journal holds
      const QStringList journals = journalsIn(folder.path());
      if (journals.size() != 1) return 0;
      const ReadResult read = readProjectFile(folder.filePath(journals.front()).toStdString());
      return read.sound() ? std::stoi(read.project.title.substr(5)) : 0;
    };
    constexpr int apartMs = 40, withinMs = 1000;
    for (int n = 1; n <= 60; ++n) {
      Project p = window->document().project();
      p.title = "Edit " + std::to_string(n);
      window->document().edit("title", std::move(p));
      clock.advance(apartMs);
      const int due = n - withinMs / apartMs;  // all up to this one
      if (due > 0) QTRY_VERIFY2(kept() >= due, qPrintable(QString("edit %1").arg(n)));
    }
  }
  void savedWorkLeavesNoJournal() {
    QTemporaryDir folder, files;
    window_->setRecoveryFolder(folder.path());
    answers_.keep = files.filePath("mine.ignavo");
    doc().edit("pull", edits::setPull(doc().project(), "b1", "D2", true));
    QTRY_COMPARE_WITH_TIMEOUT(journalsIn(folder.path()).size(), 1, 2000);
    QVERIFY(window_->save(false));
    QTRY_COMPARE_WITH_TIMEOUT(journalsIn(folder.path()).size(), 0, 2000);
    doc().edit("pull", edits::setPull(doc().project(), "b1", "D2", false));
    QTRY_COMPARE_WITH_TIMEOUT(journalsIn(folder.path()).size(), 1, 2000);
    answers_.answer = Dialogs::Answer::discard;
    window_->close();  // given up by the user
    QCOMPARE(journalsIn(folder.path()).size(), 0);
  }
  void unreadableWorkIsToldAndKept() {
    QTemporaryDir folder;
    const auto put = [&](const char* name, const QByteArray& text) {
      QFile f(folder.filePath(name));
      QVERIFY(f.open(QIODevice::WriteOnly));
      f.write(text);
    };
    put("1-1.ignavo", "{ \"format\": \"ignavo-pro");
    put("1-2.ignavo", QByteArray::fromStdString(demo("berth-signals")->text));
    put("1-3.ignavo", QByteArray::fromStdString(demo("ramp-winch")->text));
    window_->setRecoveryFolder(folder.path());
    auto* offer = window_->findChild<QLabel*>("offerText");
    QVERIFY2(offer->text().contains("cannot be read"), qPrintable(offer->text()));
    QVERIFY(offer->text().contains("1-1.ignavo"));
    const auto answer = [&](const char* name) {
      auto* button = visibleChild<QPushButton>(window_.get(), name);
      QVERIFY(button);
      QTest::mouseClick(button, Qt::LeftButton);
    };
    answer("offerLater");
    QVERIFY2(offer->text().contains("Berth signals"), qPrintable(offer->text()));
    answer("throwAway");
    QVERIFY2(offer->text().contains("Ramp winch"), qPrintable(offer->text()));
    answer("offerLater");
    QVERIFY(!offer->isVisible());
    QCOMPARE(journalsIn(folder.path()), (QStringList{"1-1.ignavo", "1-3.ignavo"}));
  }
  // ---- files that others write, too
  void aFileThatSomebodyElseChangedIsNotWrittenOverUnasked() {
    QTemporaryDir folder;
    const QString file = folder.filePath("shared.ignavo");
    QFile f(file);
    QVERIFY(f.open(QIODevice::WriteOnly));
    f.write(QByteArray::fromStdString(demo("landing-beacon")->text));
    f.close();
    QVERIFY(window_->openPath(file));
    doc().edit("pull", edits::setPull(doc().project(), "b1", "D2", true));
    QVERIFY(f.open(QIODevice::Append));
    f.write("\n");
    f.close();
    QVERIFY(!window_->save(false));
    QCOMPARE(answers_.overwriteAsked, QStringList{"changed: " + file});
    QVERIFY(!doc().isSaved());
    answers_.mayOverwrite = true;
    QVERIFY(window_->save(false));
    QVERIFY(doc().isSaved());
    answers_.overwriteAsked.clear();
    doc().edit("pull", edits::setPull(doc().project(), "b1", "D2", false));
    QVERIFY(window_->save(false));  // what it wrote itself is no change of others
    QVERIFY(answers_.overwriteAsked.isEmpty());
  }
  void anEndingThatWasAddedAsksBeforeItWritesOver() {
    QTemporaryDir folder;
    QFile there(folder.filePath("mine.ignavo"));
    QVERIFY(there.open(QIODevice::WriteOnly));
    there.write("precious");
    there.close();
    answers_.keep = folder.filePath("mine");
    QVERIFY(!window_->save(true));
    QCOMPARE(answers_.overwriteAsked, QStringList{there.fileName()});
    QVERIFY(there.open(QIODevice::ReadOnly));
    QCOMPARE(there.readAll(), QByteArray("precious"));
  }
  void whatIsNoFileIsNotOpened() {
    auto* notice = window_->findChild<QLabel*>("notice");
    for (const char* path : {"/dev/zero", "/dev/null", "/tmp"}) {
      QVERIFY(!window_->openPath(path));
      QVERIFY2(notice->text().contains("it is no file"), qPrintable(notice->text()));
    }
  }
  void anEditThatCouldNotBeSavedIsRefusedInWords() {
    const Project before = doc().project();
    QVERIFY(!doc().edit("place", edits::setExpr(before, "none", "x", Expr::of(1.0))));
    Project far = before;
    far.boards[0].at.x = 1e9;
    QVERIFY(!doc().edit("move", far));
    QVERIFY(doc().project() == before);
    QVERIFY(window_->findChild<QLabel*>("notice")->text().startsWith("Not done:"));
  }
  // ---- what a person arranged
  void layoutsAreKeptOnlyWhereTheyAreAskedFor() {
    QTemporaryDir folder;
    const QString file = folder.filePath("settings.ini");
    const auto settings = [&] { return std::make_unique<QSettings>(file, QSettings::IniFormat); };
    window_->useSettings(settings());
    window_->resize(1111, 777);
    window_->setStation(Station::run);
    QApplication::processEvents();
    auto* splitter = window_->findChildren<QSplitter*>().first();
    splitter->setSizes({400, 300});
    const QList<int> sizes = splitter->sizes();
    run().setSpeed(10);
    window_->setStation(Station::program);
    QTest::mouseClick(window_->findChild<QPushButton*>("programTab2"), Qt::LeftButton);
    window_->close();
    QVERIFY(QFile::exists(file));
    MainWindow second(answers_);
    second.useSettings(settings());
    second.setStation(Station::run);
    second.show();
    QApplication::processEvents();
    QCOMPARE(second.size(), QSize(1111, 777));
    QCOMPARE(second.runControl().speed(), 10.0);
    QVERIFY(second.program()->textBeside());
    const QList<int> again = second.findChildren<QSplitter*>().first()->sizes();
    QVERIFY(std::abs(again[0] - sizes[0]) <= 2);
    // What is in the file may be anything.
    {
      QSettings bad(file, QSettings::IniFormat);
      bad.setValue("sides/3", QStringList{"-5", "x", ""});
      bad.setValue("below/3", QStringList{"0", "0"});
      bad.setValue("window/size", QSize(3, 1000000));
      bad.setValue("run/speed", "nan");
    }
    MainWindow third(answers_);
    third.useSettings(settings());
    QCOMPARE(third.runControl().speed(), 1.0);
    QVERIFY(third.height() < 20000);
    MainWindow fourth(answers_);  // as every test's: nothing is read, nothing is written
    QCOMPARE(fourth.runControl().speed(), 1.0);
  }
  void manyRandomEventsDoNoHarm() {
    window_->openDemo("berth-signals");
    std::srand(4);
    const auto random = [](int n) { return std::rand() % n; };
    for (int i = 0; i < 400; ++i) {
      QWidget* where =
          random(3) ? static_cast<QWidget*>(bench()) : static_cast<QWidget*>(program());
      const QPoint a(random(std::max(1, where->width())),
                     random(std::max(1, std::min(600, where->height())))),
          b(random(std::max(1, where->width())), random(500));
      switch (random(8)) {
        case 0:
          dragMouse(where, a, b);
          break;
        case 1:
          QTest::mouseClick(where, Qt::LeftButton, random(4) ? Qt::NoModifier : Qt::ShiftModifier,
                            a);
          break;
        case 2:
          QTest::keyClick(where, static_cast<Qt::Key>(QList<int>{
                                     Qt::Key_F, Qt::Key_R, Qt::Key_Delete, Qt::Key_Up, Qt::Key_Down,
                                     Qt::Key_Left, Qt::Key_Right, Qt::Key_Escape, Qt::Key_W,
                                     Qt::Key_Return}[random(10)]));
          break;
        case 3:
          window_->setStation(static_cast<Station>(random(5)));
          break;
        case 4:
          random(2) ? doc().undo() : doc().redo();
          break;
        case 5:
          window_->togglePower();
          break;
        case 6:
          run().advanceBy(0.05);
          break;
        default:
          QTest::mouseMove(where, a);
      }
      if (QWidget* popup = QApplication::activePopupWidget()) popup->close();
      if (i % 20 == 0) QApplication::processEvents();
    }
    QVERIFY(readProject(writeProject(doc().project())).sound());
    while (doc().history().canUndo()) doc().undo();
    QVERIFY(doc().project() == readProject(demo("berth-signals")->text).project);
  }
  void nightBenchAndStationsPaint() {
    window_->openDemo("berth-signals");
    window_->setNight(true);
    for (int i = 0; i < stationCount; ++i) {
      window_->setStation(static_cast<Station>(i));
      QVERIFY(!window_->grab().isNull());
    }
    window_->setNight(false);
  }
};

QTEST_MAIN(TestWindow)
#include "tst_window.moc"
