#include <QApplication>
#include <QClipboard>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollBar>
#include <QtTest>
#include <functional>

#include "demos.h"
#include "format/project_file.h"
#include "program/names_strip.h"
#include "support/build.h"
#include "support/program_by_keys.h"
#include "support/runs.h"
#include "support/window.h"

using namespace ignavo;
using namespace ignavo::app;
using namespace ignavo::test;

// The steps by keys, as far as the language goes: every kind, every field, every place.
class TestProgramPane : public QObject, protected ProgramByKeys {
  Q_OBJECT

 private Q_SLOTS:
  void initTestCase() { lookAsInDaylight(); }
  void init() { window_ = openWindow(answers_); }
  void cleanup() { window_.reset(); }

  // ---- every kind of step
  void everyKindIsAddedChangedAndTakenBack_data() {
    QTest::addColumn<QString>("kind");
    for (const StepKind* kind : stepKinds())
      QTest::newRow(kind->kind.c_str()) << QString::fromStdString(kind->kind);
  }
  void everyKindIsAddedChangedAndTakenBack() {
    QFETCH(QString, kind);
    const StepKind& of = *stepKind(kind.toStdString());
    open("wait 1\n");
    const Project before = doc().project();
    doc().selectStep(idOf("wait 1 s"));
    // From the shelf, with the keys.
    QTest::mouseClick(child<QPushButton>("moreSteps"), Qt::LeftButton);
    auto* card = child<QAbstractButton>("shelf-" + of.kind);
    QVERIFY2(card, "it is not on the shelf");
    card->setFocus();
    QTest::keyClick(card, Qt::Key_Space);
    QCOMPARE(steps().size(), std::size_t(2));
    QCOMPARE(steps()[1].kind, of.kind);
    const Project added = doc().project();
    // It is selected, so that its fields can be gone through and changed at once.
    QCOMPARE(doc().selectedStep(), QString::fromStdString(steps()[1].id));
    program()->setFocus();
    std::vector<std::string> fields;  // as they stand along the phrase
    for (const PhrasePiece& piece : piecesOf(of.phrase))
      if (piece.field) fields.push_back(piece.text);
    for (std::size_t field = 0; field < fields.size(); ++field) {
      const SlotKind& slot = *of.slot(fields[field]);
      if (slot.type != SlotKind::Type::number || slot.optional) continue;
      const double was = steps()[1].field(slot.key)->number;
      doc().selectStep(QString::fromStdString(steps()[1].id));
      for (std::size_t i = 0; i <= field; ++i) key(Qt::Key_Right);
      key(Qt::Key_Up);
      const double now = steps()[1].field(slot.key)->number;
      QVERIFY2(now > was || was == slot.max, qPrintable(QString::number(now)));
      QVERIFY(now >= slot.min && now <= slot.max);
      doc().undo();
    }
    QVERIFY(doc().project() == added);
    // As text and back it is the same step.
    const ParsedSteps again = parseSteps(text());
    QVERIFY2(again.badLine == 0, inWords(again.problem).c_str());
    QVERIFY(textOf(again.steps) == text());
    QVERIFY(readProject(writeProject(added)).project == added);
    doc().undo();
    QVERIFY(doc().project() == before);
  }

  // ---- fields
  void whatMayBeLeftOutIsTypedAndTakenOut() {
    open("tone of 440 on d5\n");
    doc().selectStep(idOf("tone of 440 Hz on D5 until told"));
    for (int i = 0; i < 3; ++i) key(Qt::Key_Right);
    QTest::keyClicks(program(), "0");
    QVERIFY(program()->editor());
    QTest::keyClicks(program()->editor(), ".2");
    QTest::keyClick(program()->editor(), Qt::Key_Return);
    QCOMPARE(text(), std::string("tone of 440 Hz on D5 for 0.2 s\n"));
    key(Qt::Key_F2);
    QTest::keyClick(program()->editor(), Qt::Key_Backspace);
    QTest::keyClick(program()->editor(), Qt::Key_Return);
    QCOMPARE(text(), std::string("tone of 440 Hz on D5 until told\n"));
    doc().undo();
    QCOMPARE(text(), std::string("tone of 440 Hz on D5 for 0.2 s\n"));
  }
  void aValueIsTypedOver() {
    open("wait 1\nset d4 high\n");
    doc().selectStep(idOf("wait 1 s"));
    key(Qt::Key_Right);
    QTest::keyClicks(program(), "2");
    QVERIFY(program()->editor());
    QTest::keyClicks(program()->editor(), ".25");
    // Every digit counts at once; all of them are one edit that tells what it came to.
    QCOMPARE(steps()[0].field("seconds")->number, 2.25);
    QTest::keyClick(program()->editor(), Qt::Key_Return);
    QCOMPARE(QString::fromStdString(doc().history().undoName()), QString("change a step to 2.25"));
    doc().undo();
    QCOMPARE(steps()[0].field("seconds")->number, 1.0);
    QVERIFY(!doc().history().canUndo());
  }
  void escapeTakesBackWhatWasTyped() {
    open("wait 1\n");
    const Project before = doc().project();
    doc().selectStep(idOf("wait 1 s"));
    key(Qt::Key_Right);
    QTest::keyClicks(program(), "7");
    QTest::keyClicks(program()->editor(), "5");
    QCOMPARE(steps()[0].field("seconds")->number, 75.0);
    QTest::keyClick(program()->editor(), Qt::Key_Escape);
    QVERIFY(!program()->editor());
    QVERIFY(doc().project() == before);
    // What was done with the arrows before stays.
    key(Qt::Key_Up);
    const double up = steps()[0].field("seconds")->number;
    QVERIFY(up > 1);
    key(Qt::Key_F2);
    QVERIFY(program()->editor());
    QTest::keyClick(program()->editor(), Qt::Key_Up);
    QTest::keyClick(program()->editor(), Qt::Key_Escape);
    QCOMPARE(steps()[0].field("seconds")->number, up);
  }
  void twoChangesOfAFieldAreTwoUndoSteps() {
    open("wait 1\n");
    doc().selectStep(idOf("wait 1 s"));
    key(Qt::Key_Right);
    for (const char* typed : {"2", "3"}) {
      QTest::keyClicks(program(), typed);
      QTest::keyClick(program()->editor(), Qt::Key_Return);
    }
    QCOMPARE(steps()[0].field("seconds")->number, 3.0);
    doc().undo();
    QCOMPARE(steps()[0].field("seconds")->number, 2.0);
    doc().undo();
    QCOMPARE(steps()[0].field("seconds")->number, 1.0);
  }
  void whatCannotBeIsToldAndNotTaken_data() {
    QTest::addColumn<QString>("typed");
    QTest::addColumn<QString>("says");
    QTest::newRow("too long") << "99999"
                              << "This can be from 0 to 86400 s.";
    QTest::newRow("no number") << "1 +"
                               << "A value is missing at the end.";
    QTest::newRow("no unit") << "1 parsec"
                             << "“parsec”";
    QTest::newRow("no end") << "(1 + 2"
                            << "A bracket is not closed.";
  }
  void whatCannotBeIsToldAndNotTaken() {
    QFETCH(QString, typed);
    QFETCH(QString, says);
    open("wait 1\n");
    doc().selectStep(idOf("wait 1 s"));
    key(Qt::Key_Right);
    key(Qt::Key_F2);
    auto* editor = program()->editor();
    QVERIFY(editor);
    editor->selectAll();
    QTest::keyClicks(editor, typed);
    QVERIFY2(problem().contains(says), qPrintable(problem()));
    QTest::keyClick(editor, Qt::Key_Escape);
    QCOMPARE(problem(), QString());
    QCOMPARE(steps()[0].field("seconds")->number, 1.0);
  }
  // In a field its level is meant, unless it is said otherwise.
  void aPinThatMeasuresGivesItsLevel() {
    open("log 1\nlog 2\ndim d9 to 30\n");
    const auto typed = [&](const char* step, int field, const char* value) {
      doc().selectStep(idOf(step));
      for (int i = 0; i < field; ++i) key(Qt::Key_Right);
      key(Qt::Key_F2);
      QVERIFY(program()->editor());
      program()->editor()->selectAll();
      QTest::keyClicks(program()->editor(), value);
      QTest::keyClick(program()->editor(), Qt::Key_Return);
      QCOMPARE(problem(), QString());
    };
    typed("log 1", 1, "a0, d2");
    typed("log 2", 1, "a0 is high");
    typed("dim D9 to 30 %", 2, "a0");
    QCOMPARE(text(), std::string("log level of A0, D2\nlog A0 is high\ndim D9 to level of A0\n"));
  }
  void levelsAndConditionsGoToTheOtherOne() {
    open("set d4 high\nif d2 is high\n  wait 1\n");
    QTest::mouseClick(program(), Qt::LeftButton, {},
                      program()->boxOfField(steps()[0].id, "to").center().toPoint());
    QCOMPARE(phraseOf(steps()[0]), std::string("set D4 low"));
    doc().selectStep(QString::fromStdString(steps()[0].id));
    key(Qt::Key_Right);
    key(Qt::Key_Right);
    key(Qt::Key_Return);
    QCOMPARE(phraseOf(steps()[0]), std::string("set D4 high"));
  }

  // ---- places
  void stepsMoveWithinTheirBodyAndStopAtItsEnds() {
    open("set d4 high\nwait 1\nset d4 low\n");
    doc().selectStep(idOf("set D4 low"));
    key(Qt::Key_Up, Qt::ControlModifier);
    QCOMPARE(text(), std::string("set D4 high\nset D4 low\nwait 1 s\n"));
    key(Qt::Key_Up, Qt::ControlModifier);
    key(Qt::Key_Up, Qt::ControlModifier);  // it is the first already
    QCOMPARE(text(), std::string("set D4 low\nset D4 high\nwait 1 s\n"));
    for (int i = 0; i < 4; ++i) key(Qt::Key_Down, Qt::ControlModifier);
    QCOMPARE(text(), std::string("set D4 high\nwait 1 s\nset D4 low\n"));
    QCOMPARE(doc().selectedStep(), idOf("set D4 low"));
  }
  void cutAndPasteGoFromBodyToBody() {
    open("if d2 is high\n  set d4 high\notherwise\n  wait 1\nset d4 low\n");
    const std::string before = text();
    doc().selectStep(idOf("set D4 high"));
    key(Qt::Key_X, Qt::ControlModifier);
    QCOMPARE(QApplication::clipboard()->text(), QString("set D4 high\n"));
    doc().selectStep(idOf("wait 1 s"));
    key(Qt::Key_V, Qt::ControlModifier);
    QCOMPARE(text(),
             std::string("if D2 is high\notherwise\n  wait 1 s\n  set D4 high\nset D4 low\n"));
    doc().undo();
    doc().undo();
    QCOMPARE(text(), before);
  }
  void aProgramInTheMailIsPasted() {
    open("wait 1\n");
    QApplication::clipboard()->setText(
        "repeat 3 times\n  Set d13 HIGH\n  wait 250 ms\n  set d13 low\n  wait .25 s\n");
    doc().selectStep(idOf("wait 1 s"));
    key(Qt::Key_V, Qt::ControlModifier);
    QCOMPARE(text(), std::string("wait 1 s\nrepeat 3 times\n  set D13 high\n  wait 0.25 s\n  set "
                                 "D13 low\n  wait 0.25 s\n"));
    // As people write it down.
    open("wait 1\n");
    QApplication::clipboard()->setText(
        "wait for d2\n13 on\nif d2 pressed\n  turn off pin 13\nelse\n  toggle d13\n"
        "wait half a second\n");
    doc().selectStep(idOf("wait 1 s"));
    key(Qt::Key_V, Qt::ControlModifier);
    QCOMPARE(text(), std::string("wait 1 s\nwait until D2 is high\nset D13 high\nif D2 is high\n"
                                 "  set D13 low\notherwise\n  flip D13\nwait 0.5 s\n"));
    // What cannot be read, or may be a slip, is told with its line, and nothing is pasted.
    const Project before = doc().project();
    for (const char* bad : {"ring the bell", "set d13 hihg", "set d3 50"}) {
      QApplication::clipboard()->setText(QString("set d4 high\n%1\n").arg(bad));
      key(Qt::Key_V, Qt::ControlModifier);
      QVERIFY2(problem().startsWith("Line 2 of what was copied:"), qPrintable(problem()));
      QVERIFY(doc().project() == before);
    }
  }
  void deletingGoesToTheNeighbour() {
    open("set d4 high\nwait 1\nset d4 low\n");
    doc().selectStep(idOf("wait 1 s"));
    key(Qt::Key_Delete);
    QCOMPARE(doc().selectedStep(), idOf("set D4 low"));
    key(Qt::Key_Delete);
    QCOMPARE(doc().selectedStep(), idOf("set D4 high"));
    key(Qt::Key_Delete);
    QVERIFY(steps().empty());
    key(Qt::Key_Delete);  // there is nothing any more
    key(Qt::Key_D, Qt::ControlModifier);
    QVERIFY(steps().empty());
    for (int i = 0; i < 3; ++i) doc().undo();
    QCOMPARE(text(), std::string("set D4 high\nwait 1 s\nset D4 low\n"));
  }
  void aStepGoesRightBehindTheSelectedOne() {
    open("set d4 high\nset d4 low\n");
    doc().selectStep(idOf("set D4 high"));
    key(Qt::Key_Return);
    auto* box = child<QLineEdit>("insertStep");
    QVERIFY(box && box->hasFocus());
    QTest::keyClicks(box, "blorp");
    QTest::keyClick(box, Qt::Key_Return);
    QVERIFY(!problem().isEmpty());
    QCOMPARE(steps().size(), std::size_t(2));
    box->selectAll();
    QTest::keyClicks(box, "wait .5");
    QTest::keyClick(box, Qt::Key_Return);
    QCOMPARE(text(), std::string("set D4 high\nwait 0.5 s\nset D4 low\n"));
    QCOMPARE(doc().selectedStep(), idOf("wait 0.5 s"));
    // Escape leaves everything as it is.
    key(Qt::Key_Return);
    box = child<QLineEdit>("insertStep");
    QTest::keyClicks(box, "wait 9");
    QTest::keyClick(box, Qt::Key_Escape);
    QVERIFY(!child<QLineEdit>("insertStep"));
    QCOMPARE(steps().size(), std::size_t(3));
  }
  // A whole program, line by line, in the box at the end of the rail.
  void aProgramIsTypedAtTheEnd() {
    open("");
    const QStringList lines = {"set d4 high", "wait .5", "turn d4 off", "wait 250 ms"};
    for (const QString& line : lines) {
      QLineEdit* box = program()->endBox(doc().project().programs[0]->lanes[0]->id);
      QVERIFY(box);
      box->setFocus();
      QTest::keyClicks(box, line);
      QTest::keyClick(box, Qt::Key_Return);
    }
    QCOMPARE(text(), std::string("set D4 high\nwait 0.5 s\nset D4 low\nwait 0.25 s\n"));
    for (int i = 0; i < lines.size(); ++i) doc().undo();
    QVERIFY(steps().empty());
  }

  // ---- while the power is on
  void aChangedWaitSaysWhatItWas() {
    open("set d4 high\nwait 1\nset d4 low\nwait 1\n");
    RunControl& run = window_->runControl();
    window_->bench()->setFocus();
    QTest::keyClick(window_->bench(), Qt::Key_P);
    QVERIFY(run.isOn());
    run.advanceBy(0.1);
    program()->setFocus();
    doc().selectStep(QString::fromStdString(steps()[1].id));
    key(Qt::Key_Right);
    const QImage before = program()->grab().toImage();
    QTest::keyClicks(program(), "3");
    QTest::keyClick(program()->editor(), Qt::Key_Return);
    QApplication::processEvents();
    QVERIFY(program()->grab().toImage() != before);
    run.advanceBy(2);
    QVERIFY(run.shown()->light[1] > 0.5);  // still in the longer wait
    run.advanceBy(1.1);
    QVERIFY(run.shown()->light[1] < 0.1);
    QVERIFY(run.isOn());
  }

  // ---- lanes of every kind, and what has a name
  void everyKindOfLaneIsAddedTypedAndChanged_data() {
    QTest::addColumn<QString>("on");
    for (const TriggerKind& kind : triggerKinds())
      QTest::newRow(kind.on.c_str()) << QString::fromStdString(kind.on);
  }
  void everyKindOfLaneIsAddedTypedAndChanged() {
    QFETCH(QString, on);
    const TriggerKind& kind = *triggerKind(on.toStdString());
    open("wait 1\n");
    const Project before = doc().project();
    child<QPushButton>("moreLanes")->setChecked(true);
    auto* button = child<QAbstractButton>("addLane-" + kind.on);
    QVERIFY(button);
    button->setFocus();
    QTest::keyClick(button, Qt::Key_Space);
    const auto& lanes = [&]() -> const auto& { return doc().project().programs[0]->lanes; };
    QCOMPARE(lanes().size(), std::size_t(2));
    QCOMPARE(lanes()[1]->trigger.on, kind.on);
    const std::string sign = signOf(lanes()[1]->trigger), id = lanes()[1]->id;
    // Something likely stands there: a button's pin, where there is a button.
    QVERIFY2(kind.edge != TriggerKind::Edge::none || sign.find("…") == std::string::npos,
             sign.c_str());
    doc().undo();
    QVERIFY(doc().project() == before);
    // Typed as text at the end of a lane.
    QLineEdit* box = program()->endBox(lanes()[0]->id);
    box->setFocus();
    box->setText(QString::fromStdString(sign));  // no keyboard has “…”
    QTest::keyClick(box, Qt::Key_Return);
    QCOMPARE(lanes().size(), std::size_t(2));
    QCOMPARE(signOf(lanes()[1]->trigger), sign);
    // Its number is stepped by key, and its sign typed over.
    program()->setFocus();
    doc().selectStep(QString::fromStdString(lanes()[1]->id));
    for (std::size_t i = 0; i < kind.slots.size(); ++i) {
      key(Qt::Key_Right);
      if (kind.slots[i].type != SlotKind::Type::number) continue;
      const double was = lanes()[1]->trigger.field(kind.slots[i].key)->number;
      key(Qt::Key_Up);
      QVERIFY(lanes()[1]->trigger.field(kind.slots[i].key)->number > was);
      doc().undo();
      key(Qt::Key_Escape);
    }
    doc().selectStep(QString::fromStdString(lanes()[1]->id));
    key(Qt::Key_Escape);
    doc().selectStep(QString::fromStdString(lanes()[1]->id));
    key(Qt::Key_F2);
    QVERIFY(program()->editor());
    program()->editor()->selectAll();
    QTest::keyClicks(program()->editor(), "Every 2 s");
    QTest::keyClick(program()->editor(), Qt::Key_Return);
    QCOMPARE(signOf(lanes()[1]->trigger), std::string("Every 2 s"));
    doc().undo();
    key(Qt::Key_F2);
    QTest::keyClicks(program()->editor(), "now and then");
    QTest::keyClick(program()->editor(), Qt::Key_Return);
    QVERIFY2(problem().contains("no sign"),
             qPrintable(problem() + "/" + QString::fromStdString(signOf(lanes()[1]->trigger))));
    QVERIFY(lanes()[1]->trigger.on == kind.on);
    // What was typed is there still, to be mended.
    QVERIFY(program()->editor());
    QCOMPARE(program()->editor()->text(), QStringLiteral("now and then"));
    QTest::keyClick(program()->editor(), Qt::Key_Escape);
    QVERIFY(!program()->editor() && problem().isEmpty());
  }
  void fieldsOfASignAreEditedInPlace() {
    open("wait 1\n");
    doc().reset(beacon()
                    .lane("always", "wait 1")
                    .lane("Keep D9 at flips on (rise of D2 at most every 0.2 s)", ""),
                {});
    QApplication::processEvents();
    const std::string id = doc().project().programs[0]->lanes[1]->id;
    const QRectF box = program()->boxOfField(id, "from/on/seconds");
    QVERIFY(!box.isEmpty());
    QTest::mouseClick(program(), Qt::LeftButton, {}, box.center().toPoint());
    QVERIFY(program()->editor());
    QTest::keyClicks(program()->editor(), "0.5");
    QTest::keyClick(program()->editor(), Qt::Key_Return);
    QCOMPARE(signOf(doc().project().programs[0]->lanes[1]->trigger),
             std::string("Keep D9 at flips on ((rise of D2) at most every 0.5 s)"));
    doc().undo();
    QCOMPARE(signOf(doc().project().programs[0]->lanes[1]->trigger),
             std::string("Keep D9 at flips on ((rise of D2) at most every 0.2 s)"));
    // What it keeps is shown while time runs.
    RunControl& run = window_->runControl();
    run.powerOn(doc().shared());
    run.advanceBy(0.1);
    bool shown = false;
    for (const LaneView& lane : run.shown()->lanes) shown = shown || lane.value.has_value();
    QVERIFY(shown);
  }
  void namesAreAStrip() {
    open("wait 1\n");
    auto* strip = window_->program()->names();
    QVERIFY(!strip->isVisible());
    const auto variables = [&]() -> const auto& { return doc().project().programs[0]->variables; };
    const auto lists = [&]() -> const auto& { return doc().project().programs[0]->lists; };
    const auto typed = [&](const char* text) {
      QVERIFY(strip->editor());
      strip->editor()->selectAll();
      QTest::keyClicks(strip->editor(), text);
      QTest::keyClick(strip->editor(), Qt::Key_Return);
    };
    child<QPushButton>("moreLanes")->setChecked(true);
    QTest::mouseClick(child<QAbstractButton>("addVariable"), Qt::LeftButton);
    QVERIFY(strip->isVisible());
    QCOMPARE(variables().size(), std::size_t(1));
    typed("berth");
    QCOMPARE(variables()[0].name, std::string("berth"));
    // What it begins with, by keys.
    QVERIFY(strip->hasFocus());
    QTest::keyClick(strip, Qt::Key_Right);
    QTest::keyClick(strip, Qt::Key_Return);
    typed("4");
    QCOMPARE(variables()[0].start.number, 4.0);
    QTest::keyClick(strip, Qt::Key_Return);
    typed("what");
    QVERIFY(problem().contains("begins with"));
    QCOMPARE(variables()[0].start.number, 4.0);
    // Steps that use it follow its name, and it shows what it holds.
    QLineEdit* box = program()->endBox(doc().project().programs[0]->lanes[0]->id);
    box->setFocus();
    QTest::keyClicks(box, "add 2 to berth");
    QTest::keyClick(box, Qt::Key_Return);
    strip->setFocus();
    QTest::keyClick(strip, Qt::Key_F2);
    typed("mooring");
    QCOMPARE(text(), std::string("wait 1 s\nadd 2 to mooring\n"));
    window_->runControl().powerOn(doc().shared());
    window_->runControl().advanceBy(1.5);
    QCOMPARE(strip->nowText(strip->places()[1]), QStringLiteral("6"));
    window_->runControl().powerOff();
    // A list is a row of cells, counted from 1.
    box->setFocus();
    QTest::keyClicks(box, "levels = 90, 70, 50");
    QTest::keyClick(box, Qt::Key_Return);
    QCOMPARE(lists().size(), std::size_t(1));
    QCOMPARE(strip->places().size(), std::size_t(6));
    QCOMPARE(strip->places()[4].spoken, QStringLiteral("levels, item 2 of 3, 70"));
    QTest::mouseClick(strip, Qt::LeftButton, {}, strip->places()[4].box.center().toPoint());
    typed("75");
    QCOMPARE(lists()[0].items, (std::vector<double>{90, 75, 50}));
    QTest::keyClick(strip, Qt::Key_Insert);
    typed("60");
    QCOMPARE(lists()[0].items, (std::vector<double>{90, 75, 60, 50}));
    QTest::keyClick(strip, Qt::Key_Left, Qt::ControlModifier);
    QCOMPARE(lists()[0].items, (std::vector<double>{90, 60, 75, 50}));
    QTest::keyClick(strip, Qt::Key_Delete);
    QCOMPARE(lists()[0].items, (std::vector<double>{90, 75, 50}));
    QTest::keyClick(strip, Qt::Key_5);
    typed("55");
    QCOMPARE(lists()[0].items, (std::vector<double>{90, 55, 50}));
    QTest::keyClick(strip, Qt::Key_Return);
    typed("x");
    QVERIFY(problem().contains("commas"));
    // Escape leaves it as it was; its name removes all of it.
    QTest::keyClick(strip, Qt::Key_Return);
    QTest::keyClicks(strip->editor(), "1");
    QTest::keyClick(strip->editor(), Qt::Key_Escape);
    QCOMPARE(lists()[0].items, (std::vector<double>{90, 55, 50}));
    QTest::keyClick(strip, Qt::Key_Left);
    QTest::keyClick(strip, Qt::Key_Left);
    QTest::keyClick(strip, Qt::Key_Delete);
    QVERIFY(lists().empty());
    doc().undo();
    QCOMPARE(lists().size(), std::size_t(1));
    // F6 comes to it.
    bool came = false;
    for (int i = 0; i < 8 && !came; ++i) {
      QTest::keyClick(window_.get(), Qt::Key_F6);
      came = strip->hasFocus();
    }
    QVERIFY(came);
    // A ready-made group is one edit.
    const std::string before = text();
    box->setFocus();
    QTest::keyClicks(box, "fade d9");
    QTest::keyClick(box, Qt::Key_Return);
    QVERIFY(text().ends_with("  dim D9 to brightness\n  wait 0.05 s\n"));
    QVERIFY(box->text().isEmpty());
    doc().undo();
    QCOMPARE(text(), before);
    QTest::keyClicks(box, "fade d4");
    QTest::keyClick(box, Qt::Key_Return);
    QVERIFY(problem().contains("D4 · led1 cannot be dimmed"));
    QCOMPARE(box->text(), QStringLiteral("fade d4"));
    QTest::keyClick(box, Qt::Key_Escape);
    // Another variable of that name there is none.
    child<QPushButton>("moreLanes")->setChecked(true);
    QTest::mouseClick(child<QAbstractButton>("addVariable"), Qt::LeftButton);
    typed("mooring");
    QVERIFY(problem().contains("another one"));
  }
  void howItRunsIsSaid() {
    open("wait 1\n");
    auto* pace = window_->findChild<QLabel*>("programPace");
    QVERIFY(pace->text().contains("freely"));
    child<QPushButton>("moreLanes")->setChecked(true);
    QTest::mouseClick(child<QAbstractButton>("addLane-follow"), Qt::LeftButton);
    QVERIFY(pace->text().contains("in turns") && pace->text().contains("keeps"));
  }

  // ---- deep ones
  void headsThatScrolledAwayAreTold() {
    std::string steps = "if d2 is high\n  repeat 5 times\n";
    for (int i = 0; i < 40; ++i) steps += "    flip d4\n";
    for (int i = 0; i < 40; ++i) steps += "wait 1\n";
    open(steps);
    auto* heads = window_->findChild<QLabel*>("programHeads");
    auto* bar = child<QScrollArea>("programScroll")->verticalScrollBar();
    QVERIFY(!heads->isVisible());
    bar->setValue(600);
    QVERIFY(heads->isVisible());
    QVERIFY2(heads->text().contains("if D2") && heads->text().contains("repeat 5 times"),
             qPrintable(heads->text()));
    window_->resize(1400, 800);
    settle();
    QCOMPARE(heads->width(), child<QScrollArea>("programScroll")->viewport()->width());
    // Behind them only the lane is left.
    bar->setValue(bar->maximum() - 400);
    QVERIFY(!heads->text().contains("repeat"));
    bar->setValue(0);
    QVERIFY(!heads->isVisible());
  }
  // What was chosen while another station was shown is in sight when one comes here.
  void whatIsChosenIsInSight() {
    std::string steps;
    for (int i = 1; i <= 60; ++i) steps += "wait " + std::to_string(i) + "\n";
    open(steps);
    window_->setStation(app::Station::check);
    settle();
    doc().selectStep(idOf("wait 40 s"));
    window_->setStation(app::Station::program);
    settle();
    const QRect seen = program()->visibleRegion().boundingRect();
    QVERIFY(seen.contains(program()->boxOfStep(idOf("wait 40 s").toStdString()).toRect()));
  }
  void eightLevelsFitAndNothingOverlaps() {
    std::string nested;
    for (int depth = 0; depth < 8; ++depth)
      nested += std::string(static_cast<std::size_t>(depth) * 2, ' ') + "if d2 is high\n";
    nested += std::string(16, ' ') + "set d4 high\n" + std::string(16, ' ') + "wait 1\n";
    window_->resize(1024, 700);
    open(nested);
    QVector<QRectF> cards;
    forEachStep(steps(), [&](const Step& s) { cards << program()->boxOfStep(s.id); });
    QCOMPARE(cards.size(), 10);
    for (int i = 0; i < cards.size(); ++i) {
      QVERIFY(cards[i].width() > 100 && cards[i].right() <= program()->width());
      for (int k = 0; k < i; ++k) QVERIFY(!cards[i].intersects(cards[k]));
    }
    // All of them are gone through by key.
    doc().selectStep({});
    for (int i = 0; i <= cards.size(); ++i) key(Qt::Key_Down);  // the sign first
    QCOMPARE(doc().selectedStep(), idOf("wait 1 s"));
  }
};

QTEST_MAIN(TestProgramPane)
#include "tst_program_pane.moc"
