#include <QComboBox>
#include <QLineEdit>
#include <QPushButton>
#include <QtTest>
#include <functional>

#include "demos.h"
#include "format/project_file.h"
#include "run/why_card.h"
#include "support/build.h"
#include "support/window.h"

using namespace ignavo;
using namespace ignavo::app;
using namespace ignavo::test;

// The faults of beginners, planted into the examples by mouse and keys: each is found, at
// the right part, and mended by its first remedy where it has one. With
// IGNAVO_FAULT_PICTURES=FOLDER there is a picture of each.
class TestFaults : public QObject {
  Q_OBJECT
  Answers answers_;
  std::unique_ptr<MainWindow> window_;

  BenchView* bench() { return window_->bench(); }
  Document& doc() { return window_->document(); }
  QPoint at(const std::string& socket) {
    const bool pin = catalogue().board("tern")->pinIndex(socket) >= 0;
    return bench()->screenOf(Socket{pin ? "b1" : "bb", socket}).toPoint();
  }
  void drag(const char* from, const char* to) {
    doc().select({});
    dragMouse(bench(), at(from), at(to));
  }
  void key(Qt::Key k) { QTest::keyClick(bench(), k); }
  void choose(const char* part) {
    QTest::mouseClick(bench(), Qt::LeftButton, {}, bench()->screenOfPart(part).center().toPoint());
    QVERIFY2(doc().isSelected(part), part);
  }
  void remove(const char* part) {
    choose(part);
    key(Qt::Key_Delete);
  }
  void removeWire(const char* wire) {
    QTest::mouseClick(bench(), Qt::LeftButton, {}, bench()->middleOfWire(wire)->toPoint());
    QVERIFY2(doc().isSelected(wire), wire);
    key(Qt::Key_Delete);
  }
  void type(const char* line) {
    QTest::keyClick(window_.get(), Qt::Key_K, Qt::ControlModifier);
    QTest::keyClicks(window_->typeLine()->field(), QLatin1String(line));
    QTest::keyClick(window_->typeLine()->field(), Qt::Key_Return);
    QVERIFY2(window_->typeLine()->field()->text().isEmpty(), line);
    QTest::keyClick(window_->typeLine()->field(), Qt::Key_Escape);
    bench()->setFocus();
  }
  void ohms(const char* text) {
    auto* box = window_->findChild<QComboBox*>(QStringLiteral("prop-ohms"));
    QVERIFY(box);
    box->lineEdit()->selectAll();
    QTest::keyClicks(box->lineEdit(), QLatin1String(text));
    QTest::keyClick(box->lineEdit(), Qt::Key_Return);
    bench()->setFocus();
  }
  void button(const char* a, const char* b, const char* c, const char* d) {
    type(qPrintable(QStringLiteral("button %1 %2 %3 %4").arg(a, b, c, d)));
  }

  struct Fault {
    const char* demo;
    const char* rule;
    const char* culprit;  // part id, or pin; empty: any
    std::function<void(TestFaults&)> plant;
  };
  static const std::vector<std::pair<const char*, Fault>>& faults() {
    static const std::vector<std::pair<const char*, Fault>> all = {
        {"lamp turned round",
         {"berth-signals", "led-reversed", "led2",
          [](TestFaults& t) { t.choose("led2"), t.key(Qt::Key_F); }}},
        {"no resistor",
         {"landing-beacon", "led-overcurrent", "led1",
          [](TestFaults& t) { t.remove("r1"), t.drag("b9", "g9"); }}},
        {"resistor far too large",
         {"landing-beacon", "led-dim", "led1",
          [](TestFaults& t) { t.choose("r1"), t.ohms("1M"); }}},
        {"rail that nobody fed",
         {"berth-signals", "rail-unfed", "", [](TestFaults& t) { t.removeWire("w1"); }}},
        {"leg one row off",
         {"landing-beacon", "leg-loose", "led1", [](TestFaults& t) { t.drag("h9", "h10"); }}},
        {"pull-down one row off",
         {"ferry-call-bell", "leg-loose", "", [](TestFaults& t) { t.drag("c25", "c24"); }}},
        {"the wire from the pin is missing",
         {"landing-beacon", "pin-unwired", "", [](TestFaults& t) { t.removeWire("w3"); }}},
        {"both legs in one row",
         {"landing-beacon", "part-bypassed", "led1", [](TestFaults& t) { t.drag("i11", "g9"); }}},
        {"legs that are always joined",
         {"ferry-call-bell", "input-stuck", "btn1", [](TestFaults& t) { t.drag("a20", "b18"); }}},
        {"button along the trench",
         {"ferry-call-bell", "button-along-trench", "",
          [](TestFaults& t) { t.remove("btn1"), t.button("d18", "d20", "b18", "b20"); }}},
        {"no pull-down",
         {"ferry-call-bell", "input-floating", "", [](TestFaults& t) { t.remove("r2"); }}},
        {"pressed reads low",
         {"ferry-call-bell", "active-low", "",
          [](TestFaults& t) { t.drag("lp15", "ln10"), t.drag("ln21", "lp20"); }}},
        {"5 V to ground, always",
         {"landing-beacon", "short-circuit", "",
          [](TestFaults& t) { t.drag("5V", "lp1"), t.drag("lp5", "ln8"); }}},
        {"5 V to ground while held",
         {"ferry-call-bell", "short-circuit", "", [](TestFaults& t) { t.drag("b20", "ln18"); }}},
        {"motor straight on a pin",
         {"landing-beacon", "motor-on-pin", "motor1",
          [](TestFaults& t) {
            t.remove("led1"), t.remove("r1"), t.type("motor f9 f11"), t.drag("b9", "g9");
          }}},
        {"no flyback diode",
         {"ramp-winch", "no-flyback", "motor1", [](TestFaults& t) { t.remove("d1"); }}},
        {"passive sounder, steady level",
         {"landing-beacon", "piezo-steady", "piezo1",
          [](TestFaults& t) { t.remove("led1"), t.type("piezo f9 f12"), t.drag("j12", "rn12"); }}},
        {"too much from one pin",
         {"landing-beacon", "pin-overload", "D4",
          [](TestFaults& t) { t.type("100 d9 d13"), t.drag("e13", "ln12"); }}},
        {"one resistor for two lamps that are lit together",
         {"landing-beacon", "shared-resistor", "",
          [](TestFaults& t) {
            t.remove("r1"), t.drag("b9", "g9");
            t.removeWire("w4");
            t.type("220 g11 g15"), t.drag("j15", "rn14");
            t.type("green led f20 f22"), t.drag("D5", "g20"), t.drag("h22", "h11");
            t.type("set d5 high");
          }}},
        {"too much for the supply",
         {"landing-beacon", "board-overload", "",
          [](TestFaults& t) {
            t.drag("5V", "lp1");
            t.type("100% motor c20 c23"), t.drag("a20", "lp17"), t.drag("a23", "ln19");
            t.type("100% motor c26 c29"), t.drag("a26", "lp22"), t.drag("a29", "ln24");
          }}},
        {"5 V on the 3.3 V pin",
         {"landing-beacon", "over-voltage", "", [](TestFaults& t) { t.drag("5V", "3V3"); }}},
        {"diode across the motor turned round",
         {"ramp-winch", "diode-backwards", "d1",
          [](TestFaults& t) { t.choose("d1"), t.key(Qt::Key_F); }}},
        {"diode straight across the supply",
         {"landing-beacon", "short-circuit", "d1",
          [](TestFaults& t) {
            t.type("diode c20 c24"), t.drag("5V", "a20"), t.drag("a24", "ln19");
          }}},
        {"supply and ground on a knob’s wiper and end",
         {"landing-beacon", "part-overload", "pot1",
          [](TestFaults& t) {
            t.type("potentiometer c20"), t.drag("5V", "a20"), t.drag("a22", "ln19");
          }}},
        {"meter for milliamps across the supply",
         {"landing-beacon", "short-circuit", "meter1",
          [](TestFaults& t) { t.drag("5V", "lp1"), t.type("amps meter lp12 ln12"); }}},
        {"program says another pin",
         {"landing-beacon", "pin-unwired", "D4",
          [](TestFaults& t) { t.removeWire("w3"), t.drag("D5", "a9"); }}},
        {"two supplies apart",
         {"ramp-winch", "no-common-ground", "", [](TestFaults& t) { t.removeWire("w11"); }}},
    };
    return all;
  }

  // What was planted, in the circuit or in the steps; of which part it is asked why it is dark,
  // silent or still, after how long and with which button held; and what the answer says.
  struct Riddle {
    const char* demo;
    std::function<void(TestFaults&)> plant;
    const char* part;
    const char* held;  // a button, or nothing
    const char* verdict;
    const char* leadsTo;  // selected by the answer's button: a part, or a step
  };
  void stepByKeys(const char* gone, const char* typed) {
    QTest::keyClick(window_.get(), Qt::Key_3, Qt::AltModifier);
    QApplication::processEvents();
    auto* view = window_->program()->view();
    view->setFocus();
    doc().selectStep(QLatin1String(gone));
    QTest::keyClick(view, Qt::Key_Delete);
    if (*typed) {
      QLineEdit* box = view->endBox("l1");
      box->setFocus();
      QTest::keyClicks(box, QLatin1String(typed));
      QTest::keyClick(box, Qt::Key_Return);
    }
    QTest::keyClick(window_.get(), Qt::Key_4, Qt::AltModifier);
    QApplication::processEvents();
    bench()->fit();
    bench()->setFocus();
  }
  static const std::vector<std::pair<const char*, Riddle>>& riddles() {
    static const std::vector<std::pair<const char*, Riddle>> all = {
        {"lamp turned round",
         {"berth-signals", [](TestFaults& t) { t.choose("led2"), t.key(Qt::Key_F); }, "led2",
          "btn1", "✕ Circuit: Red lamp faces against the current", "led2"}},
        {"no resistor",
         {"landing-beacon", [](TestFaults& t) { t.remove("r1"), t.drag("b9", "g9"); }, "led1", "",
          "✕ Circuit: Red lamp was damaged at", "led1"}},
        {"resistor far too large",
         {"landing-beacon", [](TestFaults& t) { t.choose("r1"), t.ohms("1M"); }, "led1", "",
          "✕ Circuit: Red lamp gets only", "led1"}},
        {"leg one row off",
         {"landing-beacon", [](TestFaults& t) { t.drag("h9", "h10"); }, "led1", "",
          "✕ Circuit: Red lamp’s path ends in row 9", "led1"}},
        {"no ground",
         {"berth-signals", [](TestFaults& t) { t.removeWire("w3"); }, "led1", "",
          "✕ Circuit: The right − rail is joined to nothing", ""}},
        {"no wire from the pin",
         {"landing-beacon", [](TestFaults& t) { t.removeWire("w3"); }, "led1", "",
          "✕ Circuit: D4 has nothing on it", "r1"}},
        {"no wire to the transistor",
         {"ramp-winch", [](TestFaults& t) { t.removeWire("w9"); }, "motor1", "btn1",
          "✕ Circuit: ", "motor1"}},
        {"the step that sets it is gone",
         {"landing-beacon", [](TestFaults& t) { t.stepByKeys("s1", ""); }, "led1", "",
          "✕ Program: no step ever sets D4 high", "s3"}},
        {"a step names another pin",
         {"berth-signals", [](TestFaults& t) { t.stepByKeys("s9", "set d6 high"); }, "led1", "",
          "✕ Program: no step ever sets D3 high", ""}},
        {"the button has no 5 V",
         {"berth-signals", [](TestFaults& t) { t.removeWire("w11"); }, "led2", "btn1",
          "✕ Circuit: Call button’s path ends in row 23", "btn1"}},
        {"it waits for the button first",
         {"landing-beacon", [](TestFaults& t) { t.stepByKeys("s1", "wait until d2 is high"); },
          "led1", "", "✕ Program: no step ever sets D4 high", ""}},
    };
    return all;
  }

 private Q_SLOTS:
  void initTestCase() { lookAsInDaylight(); }
  void isExplained_data() {
    QTest::addColumn<int>("index");
    for (std::size_t i = 0; i < riddles().size(); ++i)
      QTest::newRow(riddles()[i].first) << static_cast<int>(i);
  }
  // Nobody looks at the check: it is asked why, and the answer leads to what is amiss.
  void isExplained() {
    QFETCH(int, index);
    const Riddle& riddle = riddles()[static_cast<std::size_t>(index)].second;
    window_ = openWindow(answers_);
    window_->setStation(Station::run);
    doc().reset(readProject(demo(riddle.demo)->text).project, {});
    bench()->fit();
    bench()->setFocus();
    riddle.plant(*this);
    if (QTest::currentTestFailed()) return;
    RunControl& run = window_->runControl();
    QTest::keyClick(bench(), Qt::Key_P);
    for (int k = 0; k < 6; ++k) run.advanceBy(0.05);
    if (*riddle.held) run.press(QLatin1String(riddle.held), true);
    for (int k = 0; k < 40; ++k) run.advanceBy(0.05);
    QApplication::processEvents();
    choose(riddle.part);
    QTest::keyClick(bench(), Qt::Key_Question);
    WhyCard* card = window_->why();
    QTRY_VERIFY(card->isVisible() && !card->isAsking());
    if (const QString folder = qEnvironmentVariable("IGNAVO_FAULT_PICTURES"); !folder.isEmpty())
      window_->grab().save(
          QStringLiteral("%1/why%2.png").arg(folder).arg(index, 2, 10, QLatin1Char('0')));
    qInfo("%s", qPrintable(card->words()));
    QVERIFY2(card->words().contains(QString::fromUtf8(riddle.verdict)), qPrintable(card->words()));
    if (!*riddle.leadsTo) return;
    doc().select({});
    const bool step = doc().project().step(riddle.leadsTo) != nullptr;
    auto* lead = card->findChild<QPushButton*>(step ? QStringLiteral("whyStep")
                                                    : QStringLiteral("whyPlace"));
    QVERIFY(lead->isVisible());
    QTest::mouseClick(lead, Qt::LeftButton);
    if (step)
      QCOMPARE(doc().selectedStep(), QLatin1String(riddle.leadsTo));
    else
      QVERIFY(doc().isSelected(riddle.leadsTo));
    // Mended, the answer is another one.
    while (doc().history().canUndo()) doc().undo();
    for (int k = 0; k < 30; ++k) run.advanceBy(0.05);
    QApplication::processEvents();
    if (QLatin1String(riddle.verdict).contains(QLatin1String("damaged"))) return;  // it stays burnt
    QTRY_VERIFY2(!card->words().contains(QString::fromUtf8(riddle.verdict)),
                 qPrintable(card->words()));
  }
  void isFoundAndMended_data() {
    QTest::addColumn<int>("index");
    for (std::size_t i = 0; i < faults().size(); ++i)
      QTest::newRow(faults()[i].first) << static_cast<int>(i);
  }
  void isFoundAndMended() {
    QFETCH(int, index);
    const auto& [name, fault] = faults()[static_cast<std::size_t>(index)];
    window_ = openWindow(answers_);
    doc().reset(readProject(demo(fault.demo)->text).project, {});
    doc().finishCheck();
    QVERIFY(doc().check().findings.empty());
    bench()->fit();
    bench()->setFocus();
    fault.plant(*this);
    if (QTest::currentTestFailed()) return;
    QTest::keyClick(window_.get(), Qt::Key_2, Qt::AltModifier);
    doc().finishCheck();
    doc().select({});
    moveMouse(bench(), {3, 3}, Qt::NoButton);
    QApplication::processEvents();
    if (const QString folder = qEnvironmentVariable("IGNAVO_FAULT_PICTURES"); !folder.isEmpty())
      window_->grab().save(
          QStringLiteral("%1/%2.png").arg(folder).arg(index, 2, 10, QLatin1Char('0')));
    const Finding* found = nullptr;
    for (const Finding& f : doc().check().findings) {
      qInfo("%s: %s — %s", f.rule.c_str(), inWords(f.title).c_str(), inWords(f.reason).c_str());
      if (f.rule == fault.rule && !found) found = &f;
    }
    QVERIFY2(found, fault.rule);
    // One fault, one finding.
    QCOMPARE(doc().check().findings.size(), std::size_t(1));
    // Nothing of it is cut off.
    for (QWidget* w : window_->findChildren<QWidget*>())
      if (w->objectName().startsWith(QLatin1String("remedy")) && w->isVisible())
        QVERIFY2(w->width() >= w->sizeHint().width(), qPrintable(w->objectName()));
    const std::string culprit = fault.culprit;
    QVERIFY(culprit.empty() || (!found->parts.empty() && found->parts.front() == culprit) ||
            (!found->pins.empty() && found->pins.front() == culprit));
    if (found->remedies.empty()) return;
    const auto place = found - doc().check().findings.data();
    auto* mend = window_->findChild<QPushButton*>(QStringLiteral("remedy%1-0").arg(place));
    QVERIFY(mend);
    QTest::mouseClick(mend, Qt::LeftButton);
    doc().finishCheck();
    for (const Finding& f : doc().check().findings)
      QVERIFY2(f.rule != fault.rule && f.severity != Severity::danger, inWords(f.title).c_str());
  }
};

QTEST_MAIN(TestFaults)
#include "tst_faults.moc"
