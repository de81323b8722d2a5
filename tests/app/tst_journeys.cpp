#include <QClipboard>
#include <QPushButton>
#include <QtTest>

#include "demos.h"
#include "format/project_file.h"
#include "program/code_view.h"
#include "program/facts.h"
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
  // In the box below all lanes.
  void lane(const char* sign) {
    program()->whenBox()->setFocus();
    QTest::keyClicks(program()->whenBox(), QString::fromUtf8(sign));
    QTest::keyClick(program()->whenBox(), Qt::Key_Return);
    QVERIFY2(problem().isEmpty(), qPrintable(QString::fromUtf8(sign) + ": " + problem()));
  }
  void typedIn(std::size_t lane, std::initializer_list<const char*> lines) {
    program()->endBox(doc().project().programs[0]->lanes[lane]->id)->setFocus();
    typed(lines);
  }
  // In the line for circuits.
  void wired(std::initializer_list<const char*> lines) {
    for (const char* line : lines) {
      QTest::keyClick(window_.get(), Qt::Key_K, Qt::ControlModifier);
      QTest::keyClicks(window_->typeLine()->field(), QString::fromUtf8(line));
      QTest::keyClick(window_->typeLine()->field(), Qt::Key_Return);
      QVERIFY2(window_->typeLine()->field()->text().isEmpty(),
               qPrintable(QString::fromUtf8(line) + ": " + window_->typeLine()->message()));
      QTest::keyClick(window_->typeLine()->field(), Qt::Key_Escape);
    }
  }
  std::string partCalled(const char* name) {
    for (const auto& part : *doc().project().parts)
      if (part->name == name) return part->id;
    return {};
  }
  QStringList rules() {
    doc().finishCheck();
    settle();
    QStringList out;
    for (const Finding& f : doc().check().findings) out << QString::fromStdString(f.rule);
    return out;
  }
  // When a pin changed, in seconds.
  std::vector<double> edgesOf(const char* pin) {
    const auto trace = window_->runControl().trace();
    std::vector<double> out;
    trace->forEachEdge(trace->find(Signal::What::pinLevel, "b1", pin), -1, trace->end(),
                       [&](const Edge& e) {
                         out.push_back(inSeconds(e.at));
                         return true;
                       });
    return out;
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

  // Press to switch: D3 follows D2, then only the press counts, then it flips, then at most once a
  // second; that is too slow, and turned to 0.2 while it runs.
  void pressToSwitch() {
    circuit("berth-signals");
    lane("keep d3 at call button pressed");
    const std::string keeps = doc().project().programs[0]->lanes[1]->id;
    const auto press = [&](double held, double then) {
      hold(true);
      pass(held);
      hold(false);
      pass(then);
    };
    window_->togglePower();
    pass(0.1);
    hold(true);
    pass(0.1);
    QVERIFY(level("D3"));
    hold(false);
    pass(0.1);
    QVERIFY(!level("D3"));
    // Words typed on the thread: what comes in front of D3.
    const auto add = [&](const char* words) {
      doc().selectStep(QString::fromStdString(keeps));
      program()->setFocus();
      QTest::keyClicks(program(), QString(words[0]));
      auto* box = qobject_cast<QLineEdit*>(QApplication::focusWidget());
      QVERIFY2(box, words);
      QTest::keyClicks(box, words + 1);
      QTest::keyClick(box, Qt::Key_Return);
      QVERIFY2(problem().isEmpty(), qPrintable(problem()));
      pass(0.1);
    };
    add("at most every 1 s");
    add("flips");
    const bool before = level("D3");
    press(0.1, 0.2);
    QCOMPARE(level("D3"), !before);
    press(0.1, 0.2);  // within the second: not taken
    QCOMPARE(level("D3"), !before);
    pass(1);
    const std::string sign = signOf(doc().project().programs[0]->lanes[1]->trigger);
    QCOMPARE(sign, std::string("Keep D3 at flips on ((D2 is high) at most every 1 s)"));
    const QRectF limit = program()->boxOfField(keeps, "from/on/seconds");
    QTest::mouseClick(program(), Qt::LeftButton, {}, limit.center().toPoint());
    QVERIFY(program()->editor());
    program()->editor()->selectAll();
    QTest::keyClicks(program()->editor(), "0.2");
    QTest::keyClick(program()->editor(), Qt::Key_Return);
    QVERIFY(window_->runControl().isOn());
    pass(0.5);
    for (int n = 0; n < 3; ++n) {
      const bool was = level("D3");
      press(0.1, 0.25);
      QCOMPARE(level("D3"), !was);
    }
  }
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
  // Berth draw: four lamps in four colours share the resistor in their ground lead; the button's
  // rail is not fed yet, and that is said and mended. A press runs the light along five times, then
  // one berth stays lit for 2 s.
  void berthDraw() {
    doc().reset(emptyProject(), {});
    wired({"wire GND a7", "220 b7 b11", "wire a11 ln9", "button 2 as \"Draw button\"",
           "wire lp1 a2", "wire D2 a4", "10k b4 d7"});
    wired({"red led c14 c16", "wire D3 a14", "wire a16 ln14"});
    wired({"amber led c18 c20", "wire D4 a18", "wire a20 ln17"});
    wired({"green led c22 c24", "wire D5 a22", "wire a24 ln20"});
    wired({"blue led c26 c28", "wire D6 a26", "wire a28 ln24"});
    window_->setStation(app::Station::check);
    QVERIFY2(rules().contains("rail-unfed"), qPrintable(rules().join(' ')));
    QTest::mouseClick(child<QPushButton>("remedy0-0"), Qt::LeftButton);
    doc().finishCheck();
    settle();
    QVERIFY2(!rules().contains("rail-unfed"), qPrintable(rules().join(' ')));
    window_->setStation(app::Station::program);
    settle();
    typed({"if draw button pressed", "repeat 5 times"});
    typed({"d6 off", "d3 on", "wait 0.1", "d3 off", "d4 on", "wait 0.1", "d4 off", "d5 on",
           "wait 0.1", "d5 off", "d6 on", "wait 0.1", ""});
    typed({"d6 off", "berth = random number from 1 to 4"});
    typed({"if berth is 1", "red lamp on", "else", "if berth is 2", "amber lamp on", "else",
           "if berth is 3", "green lamp on", "else", "blue lamp on", "", "", ""});
    typed({"wait 2", "d3 off", "d4 off", "d5 off", "d6 off", ""});
    typed({"wait 0.02"});
    const QStringList found = rules();
    for (const Finding& f : doc().check().findings)
      QVERIFY2(f.severity == Severity::note, qPrintable(found.join(' ')));
    const char* const pins[] = {"D3", "D4", "D5", "D6"};
    window_->togglePower();
    pass(0.5);
    for (int n = 0; n < 3; ++n) {
      std::vector<std::size_t> before;
      for (const char* pin : pins) before.push_back(edgesOf(pin).size());
      hold(true);
      pass(0.3);
      hold(false);
      pass(2.7);  // the light has run, and one berth is lit
      int lit = 0;
      for (std::size_t i = 0; i < 4; ++i) {
        const std::size_t edges = edgesOf(pins[i]).size() - before[i];
        QCOMPARE(edges, level(pins[i]) ? std::size_t{11} : std::size_t{10});
        lit += level(pins[i]);
      }
      QCOMPARE(lit, 1);
      pass(2);
      for (const char* pin : pins) QVERIFY(!level(pin));
    }
  }
  // In step and opposite: the board's lamp for 2 s, then dark for 0.5 s, and an own lamp with it,
  // then against it; the text is copied whole.
  void inStepAndOpposite() {
    doc().reset(emptyProject(), {});
    window_->setStation(app::Station::program);
    settle();
    typed({"a lamp on D7", "d13 on", "d7 on", "wait 2", "d13 off", "d7 off", "wait half a second"});
    QCOMPARE(phraseOf(steps()[1]), std::string("set D7 high"));
    window_->togglePower();
    pass(7.4);
    const std::vector<double> own = edgesOf("D7"), lamp = edgesOf("D13");
    QVERIFY(own.size() >= 6);
    QCOMPARE(own.size(), lamp.size());
    for (std::size_t i = 0; i < own.size(); ++i) QVERIFY(std::abs(own[i] - lamp[i]) < 1e-3);
    QVERIFY(std::abs(own[1] - own[0] - 2) < 0.01 && std::abs(own[2] - own[1] - 0.5) < 0.01);
    const auto turn = [&](const std::string& id) {
      QTest::mouseClick(program(), Qt::LeftButton, {},
                        program()->boxOfField(id, "to").center().toPoint());
    };
    turn(steps()[1].id);
    turn(steps()[4].id);
    QCOMPARE(phraseOf(steps()[1]) + ", " + phraseOf(steps()[4]),
             std::string("set D7 low, set D7 high"));
    QVERIFY(window_->runControl().isOn());
    const std::size_t so = edgesOf("D7").size();
    pass(5);
    const std::vector<double> against = edgesOf("D7");
    QVERIFY(against.size() > so + 2);
    QVERIFY(level("D7") != level("D13"));
    // A resistor of 220 ohms is known by its bands.
    std::string resistor;
    for (const auto& part : *doc().project().parts)
      if (part->type == "resistor") resistor = part->id;
    window_->setStation(app::Station::wire);
    doc().select({QString::fromStdString(resistor)});
    settle();
    QStringList said;
    for (auto* label : window_->findChildren<QLabel*>())
      if (label->isVisible()) said << label->text();
    QVERIFY2(said.join(' ').contains("red, red, brown"), qPrintable(said.join(' ')));
    window_->setStation(app::Station::program);
    window_->program()->setTextBeside(true);
    settle();
    QTest::mouseClick(child<QPushButton>("copyCode"), Qt::LeftButton);
    QCOMPARE(QApplication::clipboard()->text(), window_->program()->code()->wholeText());
    QVERIFY(QApplication::clipboard()->text().contains("int main"));
  }
  // All together: three lamps go on "at once", and the trace has the microseconds between.
  void allTogether() {
    circuit("berth-signals");
    typed({"d3 on", "d4 on", "d5 on", "wait a second", "d3 off", "d4 off", "d5 off", "wait 1 s"});
    window_->togglePower();
    pass(4.5);
    const std::vector<double> first = edgesOf("D3"), second = edgesOf("D4"), third = edgesOf("D5");
    QVERIFY(first.size() >= 4 && second.size() == first.size() && third.size() == first.size());
    for (std::size_t i = 0; i < first.size(); ++i) {
      QVERIFY(second[i] > first[i] && third[i] > second[i]);
      QVERIFY(third[i] - first[i] < 1e-3);
      if (i > 0) QVERIFY(std::abs(first[i] - first[i - 1] - 1) < 0.01);
    }
    // One colour from the pin to its wire.
    for (const auto& wire : *doc().project().wires)
      for (const std::string pin : {"D3", "D4", "D5"})
        if (const Socket at{"b1", pin}; wire->from == at || wire->to == at) {
          const NetColour colour = doc().identities().ofWire(*wire, doc().nets());
          QVERIFY(colour.kind == NetColour::Kind::pin);
          QCOMPARE(colour.index, doc().identities().ofPin("b1", pin));
        }
  }
  // One button, everything: held for three seconds it switches, tapped while lit it dims by a list,
  // and to hold it is no tap.
  void oneButtonEverything() {
    circuit("one-button-deck-lamp");
    typed({"variable lit is false", "variable which is 1", "list levels is 90, 70, 50, 30, 10"});
    lane("keep the level of d5 at choose item which of levels if lit else 0");
    lane("when deck button is held for 3 s");
    typedIn(2, {"toggle lit"});
    lane("when deck button is tapped");
    typedIn(3, {"if lit", "add 1 to which", "if which > length of levels", "which = 1"});
    QVERIFY2(rules().contains("bounce"), "contacts bounce");
    doc().selectStep(QString::fromStdString(doc().project().programs[0]->lanes[3]->id));
    program()->setFocus();
    key(Qt::Key_F2);
    QVERIFY(program()->editor());
    program()->editor()->selectAll();
    QTest::keyClicks(program()->editor(), "each time deck button debounced is tapped");
    QTest::keyClick(program()->editor(), Qt::Key_Return);
    QVERIFY2(!rules().contains("bounce"), qPrintable(problem()));
    const auto press = [&](double held) {
      hold(true);
      pass(held);
      hold(false);
      pass(0.5);
    };
    const auto light = [&] { return window_->runControl().shown()->light.at(1); };
    window_->togglePower();
    pass(0.1);
    press(0.2);  // dark it stays
    QVERIFY(light() < 0.01);
    press(3.2);
    const double full = light();
    QVERIFY(full > 0.5);
    double before = full;
    for (int n = 0; n < 4; ++n) {
      press(0.2);
      QVERIFY2(light() < before - 0.02, qPrintable(QString("%1: %2").arg(n).arg(light())));
      before = light();
    }
    press(0.2);  // round again
    QVERIFY(std::abs(light() - full) < 0.02);
    press(3.2);
    QVERIFY(light() < 0.01);
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
