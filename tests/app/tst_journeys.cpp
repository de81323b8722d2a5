#include <QtTest>

#include "demos.h"
#include "format/project_file.h"
#include "program/code_view.h"
#include "program/names_strip.h"
#include "support/program_by_keys.h"

using namespace ignavo;
using namespace ignavo::test;

// What people do with a program from start to end, in the real window.
class TestJourneys : public QObject, protected ProgramByKeys {
  Q_OBJECT

  void circuit(const char* name) {
    Project p = readProject(demo(name)->text).project;
    Lane empty;
    empty.id = "l1";
    empty.trigger.on = "always";
    p.programs[0].edit().lanes = {empty};
    p.programs[0].edit().variables.clear();
    p.programs[0].edit().lists.clear();
    doc().reset(p, {});
    window_->setStation(app::Station::program);
    settle();
  }
  // At the end of the first lane.
  void typed(std::initializer_list<const char*> lines) {
    for (const char* line : lines) {
      auto* box = qobject_cast<QLineEdit*>(QApplication::focusWidget());
      if (!box || !program()->isAncestorOf(box)) {
        box = program()->endBox(doc().project().programs[0]->lanes[0]->id);
        box->setFocus();
      }
      QTest::keyClicks(box, QString::fromUtf8(line));
      QTest::keyClick(box, Qt::Key_Return);
      QVERIFY2(problem().isEmpty(), qPrintable(QString::fromUtf8(line) + ": " + problem()));
    }
  }
  bool level(const char* pin) {
    const auto now = window_->runControl().shown();
    const int index = programPinIndex(*now->project, "b1", pin);
    return now->levels.at(static_cast<std::size_t>(index)) != 0;
  }
  void hold(bool down) { window_->runControl().press("btn1", down); }
  void pass(double seconds) { window_->runControl().advanceBy(seconds); }
  void retype(const char* phrase, const char* path, const char* value) {
    const std::string id = idOf(phrase).toStdString();
    QTest::mouseClick(program(), Qt::LeftButton, {},
                      program()->boxOfField(id, path).center().toPoint());
    QVERIFY2(program()->editor(), phrase);
    program()->editor()->selectAll();
    QTest::keyClicks(program()->editor(), value);
    QTest::keyClick(program()->editor(), Qt::Key_Return);
  }

 private Q_SLOTS:
  void initTestCase() { lookAsInDaylight(); }
  void init() { window_ = openWindow(answers_); }
  void cleanup() { window_.reset(); }

  // Prove the wiring, then the idea: all lamps on; the button lights them and they stay lit; then
  // the other branch; a copied step names the wrong pin.
  void proveTheWiringThenTheIdea() {
    circuit("berth-signals");
    typed({"d3 on", "d4 on", "d5 on"});
    window_->togglePower();
    pass(0.1);
    QVERIFY(level("D3") && level("D4") && level("D5"));
    window_->togglePower();
    for (int i = 0; i < 3; ++i) doc().undo();
    typed({"if call button pressed", "d3 on"});
    window_->togglePower();
    pass(0.1);
    QVERIFY(!level("D3"));
    hold(true);
    pass(0.2);
    hold(false);
    pass(0.2);
    QVERIFY(level("D3"));  // nothing makes it dark again, and that is said
    doc().finishCheck();
    settle();
    bool told = false;
    for (const Finding& f : doc().check().findings) told = told || f.rule == "never-off";
    QVERIFY(told);
    typed({"else", "d3 off"});
    pass(0.3);
    QVERIFY(!level("D3"));
  }
  // Hold the button and watch which branch is taken.
  void oneOfTwo() {
    circuit("berth-signals");
    typed({"if call button pressed", "d4 on", "d3 off", "wait 0.05", "else", "d3 on", "d4 off"});
    window_->togglePower();
    const std::string fork = steps().front().id;
    for (const bool down : {true, false, true}) {
      hold(down);
      pass(0.3);
      QCOMPARE(window_->runControl().shown()->forks.at(fork), down);
      QCOMPARE(level("D4"), down);
      QCOMPARE(level("D3"), !down);
    }
  }
  // A second is too slow: the wait is turned while it runs.
  void aNumberIsTurnedWhileItRuns() {
    circuit("landing-beacon");
    typed({"d4 on", "wait 1", "d4 off", "wait 1"});
    window_->togglePower();
    pass(0.5);
    QVERIFY(level("D4"));
    retype("wait 1 s", "seconds", "0.2");
    pass(0.1);
    QVERIFY(!level("D4"));  // at once, not after the second that had begun
    QVERIFY(window_->runControl().isOn());
  }
  // Too fast to see: without waits it looks half lit; two waits cure it.
  void tooFastToSee() {
    circuit("landing-beacon");
    typed({"d4 on", "d4 off"});
    window_->togglePower();
    pass(0.5);
    const auto light = [&] { return window_->runControl().shown()->light.at(1); };
    const auto rules = [&] {
      doc().finishCheck();
      QStringList out;
      for (const Finding& f : doc().check().findings) out << QString::fromStdString(f.rule);
      return out;
    };
    QVERIFY2(rules().contains("too-fast"), qPrintable(rules().join(' ')));
    window_->togglePower();
    doc().selectStep(idOf("set D4 high"));
    program()->setFocus();
    key(Qt::Key_Return);
    typed({"wait half a second"});
    program()->findChild<QLineEdit*>("insertStep")->clear();
    QTest::keyClick(program()->findChild<QLineEdit*>("insertStep"), Qt::Key_Escape);
    program()->endBox("l1")->setFocus();
    typed({"wait half a second"});
    QCOMPARE(text(), std::string("set D4 high\nwait 0.5 s\nset D4 low\nwait 0.5 s\n"));
    QVERIFY2(!rules().contains("too-fast"), qPrintable(rules().join(' ')));
    window_->togglePower();
    pass(0.25);
    const double lit = light();
    pass(0.5);
    QVERIFY2(lit > 0.5 && light() < 0.05, qPrintable(QString("%1 %2").arg(lit).arg(light())));
  }
  // Three things at once, each added without touching the others.
  void threeThingsAtOnce() {
    circuit("three-at-once");
    const auto lane = [&](const char* sign) {
      program()->whenBox()->setFocus();
      QTest::keyClicks(program()->whenBox(), QString::fromUtf8(sign));
      QTest::keyClick(program()->whenBox(), Qt::Key_Return);
      QVERIFY2(problem().isEmpty(), qPrintable(problem()));
    };
    lane("keep d3 at wave of 1 hz with 50 %");
    const Project first = doc().project();
    lane("keep d4 at d2 low");
    lane("keep d5 at level of a0 > 50");
    const auto& lanes = doc().project().programs[0]->lanes;
    QCOMPARE(lanes.size(), std::size_t{4});
    QVERIFY(*lanes[1] == *first.programs[0]->lanes[1]);
    window_->togglePower();
    pass(0.25);
    const bool before = level("D3");
    pass(0.5);
    QVERIFY(level("D3") != before);
    hold(true);
    pass(0.1);
    QVERIFY(level("D4"));
  }
  // Parts by name, from the program side: placed and wired in sight; the button becomes an if.
  void partsByName() {
    doc().reset(emptyProject(), {});
    window_->setStation(app::Station::program);
    settle();
    typed({"a lamp on D6", "a button on D2"});
    QVERIFY(doc().project().parts->size() >= 4);
    std::string button, lamp;
    for (const auto& part : *doc().project().parts) {
      if (part->type == "button") button = part->id;
      if (part->type == "led") lamp = part->id;
    }
    QVERIFY(program()->dropPart(button, {100, 60}));
    QVERIFY(!steps().empty());
    QVERIFY(phraseOf(steps().front()).starts_with("if D2"));
    const QRectF inside = program()->boxOfEmpty(steps().front().id, "then");
    QVERIFY(program()->dropPart(lamp, inside.center()));
    QCOMPARE(text(), std::string("if D2 is high\n  set D6 high\n"));
  }
  // From steps to text: a number that changes there changes here.
  void fromStepsToText() {
    circuit("landing-beacon");
    typed({"d4 on", "wait 0.5", "d4 off", "wait 0.5"});
    window_->program()->setTextBeside(true);
    settle();
    auto* code = window_->program()->code();
    QVERIFY(code->toPlainText().contains("_delay_ms(500)"));
    retype("wait 0.5 s", "seconds", "0.1");
    settle();
    QVERIFY(code->toPlainText().contains("_delay_ms(100)"));
    // The text is the program's; it is copied whole.
    QVERIFY(code->wholeText().contains("PORTD") && !code->toPlainText().contains("PORTD"));
  }
  // The lamp hangs on D4, and no step sets it: it will stay dark, and that is said.
  void nothingSwitchesIt() {
    circuit("landing-beacon");
    typed({"set d5 high", "wait 1"});
    doc().finishCheck();
    settle();
    QStringList titles;
    for (const Finding& f : doc().check().findings) titles << QString::fromStdString(f.rule);
    QVERIFY2(titles.contains("pin-unwired"), qPrintable(titles.join(' ')));
    window_->togglePower();
    pass(1);
    QVERIFY(window_->runControl().shown()->light.at(1) < 0.01);
  }
  // One button, everything: the first position of the list is off by one, and is shown.
  void offByOne() {
    circuit("one-button-deck-lamp");
    typed({"variable which is 0", "list levels is 90, 70, 50"});
    typed({"dim d5 to item which of levels", "wait 1", "add 1 to which"});
    window_->togglePower();
    pass(0.5);
    const auto faults = window_->runControl().shown()->faults;
    QVERIFY(!faults.empty());
    QCOMPARE(window_->program()->names()->readAt(0), std::optional<int>(0));
    pass(1);
    QCOMPARE(window_->program()->names()->readAt(0), std::optional<int>(1));
  }
};

QTEST_MAIN(TestJourneys)
#include "tst_journeys.moc"
