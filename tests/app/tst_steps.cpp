#include <QApplication>
#include <QClipboard>
#include <QMenu>
#include <QPushButton>
#include <QScrollArea>
#include <QScrollBar>
#include <QtTest>

#include "demos.h"
#include "format/project_file.h"
#include "program/facts.h"
#include "program/program_overview.h"
#include "support/program_by_keys.h"

using namespace ignavo;
using namespace ignavo::test;

// What is done to steps in the real window: several at once, folded, tried, dragged, made their
// own.
class TestSteps : public QObject, protected ProgramByKeys {
  Q_OBJECT

  void drag(QPointF from, QPointF to, Qt::KeyboardModifiers with = {}) {
    QTest::mousePress(program(), Qt::LeftButton, with, from.toPoint());
    for (const double share : {0.3, 0.6, 1.0}) {
      const QPointF at = from + (to - from) * share;
      QMouseEvent move(QEvent::MouseMove, at, program()->mapToGlobal(at), Qt::NoButton,
                       Qt::LeftButton, with);
      QApplication::sendEvent(program(), &move);
    }
    QTest::mouseRelease(program(), Qt::LeftButton, with, to.toPoint());
  }
  QPointF below(const char* phrase) {
    return program()->boxOfStep(idOf(phrase).toStdString()).bottomLeft() + QPointF(40, 3);
  }
  QPointF grip(const char* phrase) {
    const QRectF box = program()->boxOfStep(idOf(phrase).toStdString());
    return {box.right() - 30, box.center().y()};
  }
  QPointF dot(const char* phrase) {
    const QRectF box = program()->boxOfStep(idOf(phrase).toStdString());
    return {box.left() - app::rail::cardGap, box.center().y()};
  }
  void choose(const char* text) {
    auto* menu = visibleChild<QMenu>(window_.get(), "programMenu");
    QVERIFY(menu);
    for (QAction* a : menu->actions())
      if (a->text().startsWith(QString::fromUtf8(text))) a->trigger();
    menu->close();
    settle();
  }

 private Q_SLOTS:
  void initTestCase() { lookAsInDaylight(); }
  void init() { window_ = openWindow(answers_); }
  void cleanup() { window_.reset(); }

  void severalAreChosenByKeys() {
    open("set d4 high\nwait 1\nset d4 low\nwait 2\n");
    key(Qt::Key_Down);
    key(Qt::Key_Down);  // past the sign
    key(Qt::Key_Down, Qt::ShiftModifier);
    QCOMPARE(program()->selected().size(), std::size_t{2});
    key(Qt::Key_C, Qt::ControlModifier);
    QCOMPARE(QApplication::clipboard()->text(), QString("set D4 high\nwait 1 s\n"));
    key(Qt::Key_Down, Qt::ControlModifier);
    QCOMPARE(text(), std::string("set D4 low\nset D4 high\nwait 1 s\nwait 2 s\n"));
    QCOMPARE(program()->selected().size(), std::size_t{2});
    key(Qt::Key_Delete);
    QCOMPARE(text(), std::string("set D4 low\nwait 2 s\n"));
    doc().undo();
    QCOMPARE(text(), std::string("set D4 low\nset D4 high\nwait 1 s\nwait 2 s\n"));
    // One alone again.
    key(Qt::Key_Up);
    QCOMPARE(program()->selected().size(), std::size_t{1});
    doc().selectStep(idOf("set D4 high"));
    key(Qt::Key_Down, Qt::ShiftModifier);
    key(Qt::Key_X, Qt::ControlModifier);
    QCOMPARE(text(), std::string("set D4 low\nwait 2 s\n"));
    key(Qt::Key_V, Qt::ControlModifier);
    QCOMPARE(text(), std::string("set D4 low\nwait 2 s\nset D4 high\nwait 1 s\n"));
  }
  // Choosing that began at a sign, or at what is folded away by now, takes what was pointed at.
  void choosingBeginsAtASteps() {
    open("set d4 high\nrepeat 2 times\n  wait 1\nset d4 low\nwait 2\n");
    key(Qt::Key_Down);  // the sign
    key(Qt::Key_Down, Qt::ShiftModifier);
    QCOMPARE(program()->selected(), std::vector<std::string>{steps()[0].id});
    doc().selectStep(idOf("wait 1 s"));
    QVERIFY(!idOf("wait 1 s").isEmpty());
    doc().selectStep(idOf("repeat 2 times"));
    key(Qt::Key_Left, Qt::AltModifier);
    // Chosen from elsewhere, it comes out of the fold.
    doc().selectStep(idOf("wait 1 s"));
    QVERIFY(!program()->boxOfStep(idOf("wait 1 s").toStdString()).isNull());
  }
  void severalAreChosenAndDraggedByMouse() {
    open("set d4 high\nwait 1\nset d4 low\nwait 2\n");
    const auto press = [&](const char* phrase, Qt::KeyboardModifiers with) {
      QTest::mouseClick(program(), Qt::LeftButton, with, grip(phrase).toPoint());
    };
    press("set D4 high", {});
    press("wait 1 s", Qt::ShiftModifier);
    QCOMPARE(program()->selected().size(), std::size_t{2});
    drag(grip("wait 1 s"), below("wait 2 s") + QPointF(400, 0));
    QCOMPARE(text(), std::string("set D4 low\nwait 2 s\nset D4 high\nwait 1 s\n"));
    // Out of the window: gone, and back by one undo.
    drag(grip("wait 1 s"), QPointF(-90, 60));
    QCOMPARE(text(), std::string("set D4 low\nwait 2 s\n"));
    doc().undo();
    QCOMPARE(text(), std::string("set D4 low\nwait 2 s\nset D4 high\nwait 1 s\n"));
  }
  void byItsDotWhatFollowsComesAlong() {
    open("set d4 high\nrepeat 2 times\n  wait 1\nset d4 low\nwait 2\n");
    // Into the loop: the step with all behind it.
    drag(dot("set D4 low"), QPointF(dot("wait 1 s").x(), below("wait 1 s").y()));
    QCOMPARE(text(),
             std::string("set D4 high\nrepeat 2 times\n  wait 1 s\n  set D4 low\n  wait 2 s\n"));
    // By the card it goes alone.
    doc().undo();
    drag(grip("set D4 low"), grip("set D4 high") - QPointF(0, 16));
    QCOMPARE(text(),
             std::string("set D4 low\nset D4 high\nrepeat 2 times\n  wait 1 s\nwait 2 s\n"));
  }
  // While the power is on, what was changed says what it was, in the words of its field.
  void whatWasChangedSaysWhatItWas() {
    open("set d4 high\nwait 1\nif d2 is high\n  flip d4\n");
    const std::string set = idOf("set D4 high").toStdString(),
                      wait = idOf("wait 1 s").toStdString(),
                      test = idOf("if D2 is high").toStdString();
    const auto said = [&](const std::string& id) {
      for (const app::ProgramRow& row : program()->picture().rows)
        if (row.what == app::ProgramRow::What::step && row.step->id == id)
          return program()->noteOf(row).text;
      return QString();
    };
    window_->togglePower();
    window_->runControl().setPaused(true);
    const auto change = [&](const std::string& id, const char* slot, Expr to) {
      doc().edit("change", edits::setExpr(doc().project(), id, slot, std::move(to)));
      QApplication::processEvents();
    };
    change(wait, "seconds", Expr::of(0.5));
    QCOMPARE(said(wait), QString("was 1 s"));
    change(set, "pin", Expr::of(std::string("D5")));
    QVERIFY2(said(set).startsWith(QString("was D4")), qPrintable(said(set)));
    QVERIFY(!said(set).contains('"'));
    change(test, "test/a/pin", Expr::of(std::string("D7")));
    QVERIFY2(said(test).startsWith(QString("was D2")), qPrintable(said(test)));
    window_->togglePower();
  }
  void copiesAskWhatChanges() {
    open("set d4 high\nwait 1\n");
    doc().selectStep(idOf("set D4 high"));
    key(Qt::Key_D, Qt::ControlModifier);
    const std::string copy = doc().selectedStep().toStdString();
    QVERIFY(program()->isFresh(copy, "pin") && program()->isFresh(copy, "to"));
    const auto said = [&] {
      for (const app::ProgramRow& row : program()->picture().rows)
        if (row.what == app::ProgramRow::What::step && row.step->id == copy)
          return program()->noteOf(row).text;
      return QString();
    };
    QCOMPARE(said(), QString("a copy: what is different?"));
    const QImage marked = program()->grab().toImage();
    // Touched, it is no longer marked; nor in the picture.
    const QPoint level = program()->boxOfField(copy, "to").center().toPoint();
    QTest::mouseClick(program(), Qt::LeftButton, {}, level);
    QTest::mouseClick(program(), Qt::LeftButton, {}, level);
    QVERIFY(!program()->isFresh(copy, "to") && program()->isFresh(copy, "pin"));
    QVERIFY(program()->grab().toImage() != marked);
    // Of a wait it is the number; with what follows, all of it is copied.
    doc().selectStep(idOf("set D4 high"));
    key(Qt::Key_D, Qt::ControlModifier | Qt::ShiftModifier);
    QCOMPARE(text(), std::string("set D4 high\nset D4 high\nwait 1 s\n"
                                 "set D4 high\nset D4 high\nwait 1 s\n"));
    QVERIFY(program()->isFresh(steps().back().id, "seconds"));
  }
  void whatIsInsideFoldsAway() {
    open("repeat 2 times\n  set d4 high\n  wait 1\nset d4 low\n");
    doc().selectStep(idOf("repeat 2 times"));
    const auto folded = [&] {
      for (const app::ProgramRow& row : program()->picture().rows)
        if (row.what == app::ProgramRow::What::folded) return row.tokens.front().text;
      return QString();
    };
    key(Qt::Key_Left, Qt::AltModifier);
    QCOMPARE(folded(), QString("2 steps inside ▸"));
    key(Qt::Key_Down);
    QCOMPARE(doc().selectedStep(), idOf("set D4 low"));
    // While it runs that shows there.
    window_->runControl().powerOn(doc().shared());
    window_->runControl().advanceBy(0.5);
    for (const app::ProgramRow& row : program()->picture().rows)
      if (row.what == app::ProgramRow::What::folded) QVERIFY(program()->runs(row));
    // A click opens it.
    for (const app::ProgramRow& row : program()->picture().rows)
      if (row.what == app::ProgramRow::What::folded) {
        QTest::mouseClick(program(), Qt::LeftButton, {},
                          program()->shown(row.box).center().toPoint());
        break;
      }
    QVERIFY(folded().isEmpty());
    QCOMPARE(text(), std::string("repeat 2 times\n  set D4 high\n  wait 1 s\nset D4 low\n"));
  }
  // One step at once, with the power off or on; all else waits.
  void aStepIsTriedAlone() {
    open("set d3 high\nwait 1\nflip d4\n");
    auto& run = window_->runControl();
    doc().selectStep(idOf("flip D4"));
    key(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(run.isOn());
    run.advanceBy(0.1);
    const auto level = [&](const char* pin) {
      const auto now = run.shown();
      return now->levels[static_cast<std::size_t>(programPinIndex(*now->project, "b1", pin))] != 0;
    };
    QVERIFY(level("D4") && !level("D3"));
    auto* bar = window_->findChild<QWidget*>("trialBar");
    QVERIFY(bar->isVisible());
    // Again: it flips back. What was done stays while another is tried, and while one edits.
    key(Qt::Key_Return, Qt::ControlModifier);
    run.advanceBy(0.1);
    QVERIFY(!level("D4"));
    key(Qt::Key_Return, Qt::ControlModifier);
    run.advanceBy(0.1);
    doc().selectStep(idOf("set D3 high"));
    key(Qt::Key_Return, Qt::ControlModifier);
    run.advanceBy(0.1);
    QVERIFY(level("D4") && level("D3"));
    QVERIFY(program()->addTyped("wait 5").isEmpty());
    run.advanceBy(2);
    QVERIFY(level("D4") && level("D3"));
    // All of it again, from its beginning.
    QTest::mouseClick(window_->findChild<QPushButton*>("runAll"), Qt::LeftButton);
    QVERIFY(!bar->isVisible());
    run.advanceBy(0.5);
    QVERIFY(level("D3") && !level("D4"));
    // A branch, from the menu; what is tried is over with the power.
    open("if d2 is high\n  set d5 high\notherwise\n  set d6 high\n");
    doc().selectStep(idOf("if D2 is high"));
    QTest::mouseClick(program(), Qt::RightButton, {}, grip("if D2 is high").toPoint());
    choose("Try the yes-branch");
    run.advanceBy(0.1);
    QVERIFY(level("D5") && !level("D6"));
    window_->togglePower();
    QVERIFY(!bar->isVisible());
  }
  void stepsBecomeAnOwnStep() {
    open("set d4 high\nwait 1\nset d4 low\n");
    doc().selectStep(idOf("set D4 high"));
    program()->setFocus();
    key(Qt::Key_Down, Qt::ShiftModifier);
    QTest::mouseClick(program(), Qt::RightButton, {}, grip("wait 1 s").toPoint());
    choose("Make an own step");
    QCOMPARE(text(), std::string("run ring\nset D4 low\n"));
    // Its name is asked for at once.
    QVERIFY(program()->editor());
    program()->editor()->selectAll();
    QTest::keyClicks(program()->editor(), "Own step greet");
    QTest::keyClick(program()->editor(), Qt::Key_Return);
    QCOMPARE(text(), std::string("run greet\nset D4 low\n"));
    // There and back again.
    doc().selectStep(idOf("run greet"));
    const QString call = doc().selectedStep();
    key(Qt::Key_Down, Qt::AltModifier);
    QCOMPARE(doc().selectedStep().toStdString(), doc().project().programs[0]->lanes[1]->id);
    key(Qt::Key_Down);
    key(Qt::Key_Up, Qt::AltModifier);
    QCOMPARE(doc().selectedStep(), call);
    // What is no group says so.
    open("set d4 high\nrepeat 2 times\n  leave\n");
    doc().selectStep(idOf("leave the loop"));
    QTest::mouseClick(program(), Qt::RightButton, {}, grip("leave the loop").toPoint());
    choose("Make an own step");
    QVERIFY2(problem().contains("loop"), qPrintable(problem()));
  }
  // The thread of a lane that keeps something, by keys: walked, typed onto, shortened.
  void threadsAreEditedByKeys() {
    doc().reset(Bench(beacon()).lane("Keep D4 at D2", ""), {});
    window_->setStation(app::Station::program);
    settle();
    program()->setFocus();
    const std::string lane = doc().project().programs[0]->lanes.back()->id;
    const auto sign = [&] {
      return QString::fromStdString(signOf(doc().project().lane(lane)->trigger));
    };
    doc().selectStep(QString::fromStdString(lane));
    const auto put = [&](const char* typed) {
      QTest::keyClick(program(), typed[0]);  // the first letter opens a box for the others
      auto* box = visibleChild<QLineEdit>(program(), "insertOperator");
      if (!box) return box;
      QTest::keyClicks(box, typed + 1);
      QTest::keyClick(box, Qt::Key_Return);
      return visibleChild<QLineEdit>(program(), "insertOperator");
    };
    QVERIFY(!put("flips"));
    QCOMPARE(sign(), QString("Keep D4 at flips on (D2 is high)"));
    QVERIFY(!put("at most every 0.2 s"));
    QCOMPARE(sign(), QString("Keep D4 at (flips on (D2 is high)) at most every 0.2 s"));
    // What is nothing stays to be mended, and nothing is changed.
    QLineEdit* left = put("sings");
    QVERIFY(left && problem().contains("sings"));
    QCOMPARE(sign(), QString("Keep D4 at (flips on (D2 is high)) at most every 0.2 s"));
    QTest::keyClick(left, Qt::Key_Escape);
    // A box that is open goes with its lane.
    QTest::keyClick(program(), 'h');
    QVERIFY(visibleChild<QLineEdit>(program(), "insertOperator"));
    const Project whole = doc().project();
    doc().edit("gone", edits::removeLane(whole, lane));
    settle();
    QVERIFY(!visibleChild<QLineEdit>(program(), "insertOperator"));
    doc().undo();
    // Arrows walk (F2 on “high” makes it “low”); Delete takes the operator out.
    doc().selectStep(QString::fromStdString(lane));
    program()->setFocus();
    QStringList walked;
    for (int i = 0; i < 8; ++i) {
      key(Qt::Key_Right);
      key(Qt::Key_F2);
      if (auto* editor = program()->editor()) {
        walked << editor->text();
        QTest::keyClick(editor, Qt::Key_Escape);
      }
      for (auto* menu : program()->findChildren<QMenu*>()) menu->close();
      settle();
    }
    QVERIFY2(walked.contains("flips on (D2 is low)") && walked.contains("0.2"),
             qPrintable(walked.join(", ")));
    const QRectF flips = program()->boxOfField(lane, "from/of");
    QTest::mouseClick(program(), Qt::LeftButton, {}, (flips.topLeft() + QPointF(4, 4)).toPoint());
    QVERIFY(program()->editor());
    QTest::keyClick(program()->editor(), Qt::Key_Escape);
    key(Qt::Key_Delete);
    QCOMPARE(sign(), QString("Keep D4 at (D2 is low) at most every 0.2 s"));
    doc().undo();
    QCOMPARE(sign(), QString("Keep D4 at (flips on (D2 is low)) at most every 0.2 s"));
  }
  void zoomedFieldsAreHit() {
    open("set d4 high\nwait 1\n");
    const QRectF before = program()->boxOfStep(idOf("wait 1 s").toStdString());
    key(Qt::Key_Plus, Qt::ControlModifier);
    QCOMPARE(program()->zoom(), 1.25);
    const QRectF after = program()->boxOfStep(idOf("wait 1 s").toStdString());
    QCOMPARE(after.height(), before.height() * 1.25);
    const QRectF field = program()->boxOfField(idOf("wait 1 s").toStdString(), "seconds");
    QTest::mouseClick(program(), Qt::LeftButton, {}, field.center().toPoint());
    QVERIFY(program()->editor());
    QVERIFY(program()->editor()->geometry().contains(field.center().toPoint()));
    // The wheel steps what is open, as the arrows do.
    const QPointF at = QPointF(program()->editor()->rect().center());
    QWheelEvent up(at, program()->editor()->mapToGlobal(at), {}, {0, 120}, {}, {},
                   Qt::NoScrollPhase, false);
    QApplication::sendEvent(program()->editor(), &up);
    QCOMPARE(text(), std::string("set D4 high\nwait 1.1 s\n"));
    QTest::keyClick(program()->editor(), Qt::Key_Return);
    key(Qt::Key_0, Qt::ControlModifier);
    QCOMPARE(program()->zoom(), 1.0);
    for (int i = 0; i < 20; ++i) key(Qt::Key_Minus, Qt::ControlModifier);
    QCOMPARE(program()->zoom(), app::ProgramView::leastZoom);
  }
  void longProgramsHaveAnOverview() {
    open("set d4 high\n");
    auto* overview = window_->findChild<app::ProgramOverview*>();
    QVERIFY(!overview->isVisible());
    std::string many;
    for (int i = 0; i < 200; ++i) many += "set d4 high\nwait 0.1\n";
    open(many);
    settle();
    QVERIFY(overview->isVisible());
    auto* bar = window_->findChild<QScrollArea*>("programScroll")->verticalScrollBar();
    QCOMPARE(bar->value(), 0);
    QTest::mouseClick(overview, Qt::LeftButton, {}, QPoint(20, overview->height() / 2));
    const double share = static_cast<double>(bar->value()) / bar->maximum();
    QVERIFY2(share > 0.4 && share < 0.6, qPrintable(QString::number(share)));
  }
  // Built by the mouse: another sign, one more question, the opposite, back to a part.
  void conditionsAreBuiltFromPieces() {
    open("if level of a0 > 50\n  set d4 high\n");
    const auto pick = [&](const char* words) {
      const QRectF box = program()->boxOfStep(steps().front().id);
      QTest::mouseClick(program(), Qt::RightButton, {},
                        QPointF(box.right() - 30, box.center().y()).toPoint());
      auto* menu = visibleChild<QMenu>(window_.get(), "programMenu");
      QVERIFY(menu);
      auto* conditions = menu->findChild<QMenu*>("conditionMenu");
      QVERIFY(conditions);
      bool done = false;
      for (QAction* a : conditions->actions())
        if (!done && a->text().startsWith(QString::fromUtf8(words))) a->trigger(), done = true;
      menu->close();
      settle();
      QVERIFY2(done, words);
    };
    const auto head = [&] { return QString::fromStdString(phraseOf(steps().front())); };
    pick("≤");
    QCOMPARE(head(), QString("if level of A0 ≤ 50"));
    pick("… and");
    QCOMPARE(head(), QString("if (level of A0 ≤ 50) and (D4 is high)"));  // what is wired
    pick("… or");                                                         // and then another one
    QVERIFY2(!head().section(" or ", 1).contains("D4"), qPrintable(head()));
    doc().undo();
    pick("the opposite");
    QVERIFY2(head().startsWith("if not ("), qPrintable(head()));
    pick("the opposite");
    pick("only: level");
    QCOMPARE(head(), QString("if level of A0 ≤ 50"));
    doc().undo();
    doc().undo();
    QVERIFY2(head().startsWith("if not ("), qPrintable(head()));
  }
  // What a lane waits for, and what it did not see.
  void signsSayHowTheirLanesAre() {
    doc().reset(Bench(beacon())
                    .button("btn1", 20)
                    .wire("D2", "a20")
                    .wire("5V", "a22")
                    .resistor("r9", 10000, "b20", "b25")
                    .wire("GND2", "a25")
                    .lane("Each time D2 goes high", "set d4 high\nwait 5"),
                {});
    window_->setStation(app::Station::program);
    settle();
    auto& run = window_->runControl();
    const auto state = [&] {
      for (const app::ProgramRow& row : program()->picture().rows)
        if (row.what == app::ProgramRow::What::sign &&
            row.lane == doc().project().programs[0]->lanes.back()->id)
          return program()->stateOf(row);
      return QString("?");
    };
    QCOMPARE(state(), QString());
    window_->togglePower();
    run.advanceBy(0.1);
    QVERIFY2(state().startsWith("waiting for btn1") || state().startsWith("waiting for Button"),
             qPrintable(state()));
    for (int i = 0; i < 3; ++i) {
      run.press("btn1", true);
      run.advanceBy(0.2);
      run.press("btn1", false);
      run.advanceBy(0.2);
    }
    // How its contacts bounce is no press: as many as with contacts that do not.
    QCOMPARE(state(), QString("2 presses not seen"));
    Project calm = doc().project();
    calm = edits::changePart(calm, "btn1",
                             [](Part& part) { part.setProp("contacts", std::string("ideal")); });
    window_->togglePower();
    doc().edit("calm", calm);
    window_->togglePower();
    run.advanceBy(0.1);
    for (int i = 0; i < 3; ++i) {
      run.press("btn1", true);
      run.advanceBy(0.2);
      run.press("btn1", false);
      run.advanceBy(0.2);
    }
    QCOMPARE(state(), QString("2 presses not seen"));
    // Only those of what hangs on its pin count as presses.
    Project two = doc().project();
    Part other = newPart(two, *catalogue().partKind("button"));
    other.id = "btn9";
    two = edits::addPart(two, other);
    two = edits::changePart(two, "btn1",
                            [](Part& part) { part.setProp("contacts", std::string("real")); });
    window_->togglePower();
    doc().edit("two", two);
    window_->togglePower();
    run.advanceBy(0.1);
    for (int i = 0; i < 30; ++i) {
      run.press("btn9", true);
      run.advanceBy(0.01);
      run.press("btn9", false);
      run.advanceBy(0.01);
    }
    for (int i = 0; i < 2; ++i) {
      run.press("btn1", true);
      run.advanceBy(0.2);
      run.press("btn1", false);
      run.advanceBy(0.2);
    }
    QCOMPARE(state(), QString("1 press not seen"));
  }
  // Each sort of part becomes the step that it suggests.
  void partsAreDraggedOntoRails() {
    const struct {
      const char *demo, *part, *phrase;
    } rows[] = {{"landing-beacon", "led1", "set D4 high"},
                {"ferry-call-bell", "btn1", "if D2 is high"},
                {"dusk-lamp", "", "if level of A0 > 50"},
                {"ramp-winch", "", "dim D9 to 50 %"},
                {"gate-arm", "", "turn servo on D9 to 90 °"},
                {"ferry-call-bell", "", "tone of 440 Hz on D5 for 0.5 s"}};
    for (const auto& row : rows) {
      Project p = readProject(demo(row.demo)->text).project;
      std::string part = row.part;
      const std::string sorts[] = {"light-sensor", "motor", "servo", "piezo"};
      for (const auto& held : *p.parts)
        if (part.empty() &&
            std::find(std::begin(sorts), std::end(sorts), held->type) != std::end(sorts))
          part = held->id;
      QVERIFY2(!part.empty(), row.phrase);
      p.programs.clear();
      Program empty;
      empty.board = "b1";
      Lane lane;
      lane.id = "l1";
      lane.trigger.on = "always";
      empty.lanes.emplace_back(lane);
      p.programs.emplace_back(empty);
      doc().reset(p, {});
      window_->setStation(app::Station::program);
      settle();
      window_->bench()->fit();
      // By its rim, not by what it is pressed or turned by.
      app::BenchView* bench = window_->bench();
      const QRectF box = bench->screenOfPart(part);
      bool dragged = false;
      for (const QPointF& from : {box.center(), box.topLeft() + QPointF(3, 3),
                                  box.center() + QPointF(0, box.height() / 2 - 3),
                                  box.center() + QPointF(box.width() / 2 - 3, 0)}) {
        if (dragged) break;
        const QPoint to = program()->mapToGlobal(QPoint(200, 60));
        QTest::mousePress(bench, Qt::LeftButton, {}, from.toPoint());
        for (const double share : {0.2, 0.6, 1.0}) {
          const QPointF at = from + (QPointF(bench->mapFromGlobal(to)) - from) * share;
          QMouseEvent move(QEvent::MouseMove, at, bench->mapToGlobal(at), Qt::NoButton,
                           Qt::LeftButton, {});
          QApplication::sendEvent(bench, &move);
        }
        QTest::mouseRelease(bench, Qt::LeftButton, {}, bench->mapFromGlobal(to));
        dragged = !steps().empty();
      }
      QVERIFY2(dragged, row.phrase);
      QCOMPARE(QString::fromStdString(phraseOf(steps().front())), QString::fromUtf8(row.phrase));
      // The bench stays as it was.
      QVERIFY(*doc().project().parts == *p.parts);
    }
  }
  // With nothing in it the head keeps its shape, and a part that is held over a rail shows where it
  // would go.
  void anEmptyProgramIsCalm() {
    Project p = readProject(demo("landing-beacon")->text).project;
    Lane empty;
    empty.id = "l1";
    empty.trigger.on = "always";
    p.programs[0].edit().lanes = {empty};
    doc().reset(p, {});
    window_->setStation(app::Station::program);
    settle();
    QVERIFY(window_->findChild<QPushButton*>("programTab0")->width() < 100);
    const QImage before = program()->grab().toImage();
    program()->hoverPart("led1", {300, 60});
    const QImage held = program()->grab().toImage();
    QVERIFY(held != before);
    program()->leavePart();
    QVERIFY(program()->grab().toImage() == before);
    // Below all lanes a lamp goes to the end, a button begins a lane.
    program()->hoverPart("led1", {300, program()->picture().height + 20});
    QVERIFY(program()->grab().toImage() == before);
    QVERIFY(program()->dropPart("led1", {300, program()->picture().height + 20}));
    QCOMPARE(text(), std::string("set D4 high\n"));
  }
  void anUnwiredPartSaysSo() {
    Project p = readProject(demo("landing-beacon")->text).project;
    p.wires.edit().clear();
    doc().reset(p, {});
    window_->setStation(app::Station::program);
    settle();
    QVERIFY(!program()->dropPart("led1", {100, 60}));
    QVERIFY2(problem().contains("Red lamp") && problem().contains("pin"), qPrintable(problem()));
  }
  // A box that is open goes with its place.
  void anOpenBoxFollowsItsPlace() {
    open("repeat 2 times\n  wait 1\n");
    doc().selectStep(idOf("wait 1 s"));
    key(Qt::Key_D, Qt::ControlModifier);
    key(Qt::Key_Return);
    auto* box = visibleChild<QLineEdit>(program(), "insertStep");
    QVERIFY(box);
    box->setText("wait");
    doc().undo();
    settle();
    QVERIFY(!visibleChild<QLineEdit>(program(), "insertStep"));
    // Typed wiring is seen on the bench.
    QLineEdit* end = program()->endBox(doc().project().programs[0]->lanes[0]->id);
    end->setFocus();
    QTest::keyClicks(end, "a lamp on D6");
    QTest::keyClick(end, Qt::Key_Return);
    QVERIFY(!doc().selection().isEmpty());
    QVERIFY(doc().project().parts->size() > 2);
  }
};

QTEST_MAIN(TestSteps)
#include "tst_steps.moc"
