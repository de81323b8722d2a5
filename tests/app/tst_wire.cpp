#include <QApplication>
#include <QCheckBox>
#include <QClipboard>
#include <QComboBox>
#include <QLineEdit>
#include <QMenu>
#include <QSlider>
#include <QTemporaryDir>
#include <QtTest>

#include "bench/bench_picture.h"
#include "bench/tidy.h"
#include "demos.h"
#include "program/facts.h"
#include "project/edits.h"
#include "support/build.h"
#include "support/window.h"

using namespace ignavo;
using namespace ignavo::app;
using namespace ignavo::test;

// The Wire station, driven by real mouse and key events.
class TestWire : public QObject {
  Q_OBJECT
  Answers answers_;
  std::unique_ptr<MainWindow> window_;

  BenchView* bench() { return window_->bench(); }
  Document& doc() { return window_->document(); }
  const Project& project() { return doc().project(); }
  QPoint at(const std::string& socket) {
    const bool pin = catalogue().board("tern")->pinIndex(socket) >= 0;
    return bench()->screenOf(Socket{pin ? "b1" : "bb", socket}).toPoint();
  }
  void move(QPoint to, Qt::MouseButtons buttons = Qt::LeftButton) {
    moveMouse(bench(), to, buttons);
  }
  void drag(QPoint from, QPoint to) { dragMouse(bench(), from, to); }
  void key(int k, Qt::KeyboardModifiers m = {}) {
    QTest::keyClick(bench(), static_cast<Qt::Key>(k), m);
  }
  void keys(int k, int times) {
    for (int i = 0; i < times; ++i) key(k);
  }
  void typeLine(const std::string& line) {
    QTest::keyClick(window_.get(), Qt::Key_K, Qt::ControlModifier);
    QVERIFY(window_->typeLine()->isVisible());
    QTest::keyClicks(window_->typeLine()->field(), QString::fromStdString(line));
    QTest::keyClick(window_->typeLine()->field(), Qt::Key_Return);
    const bool taken = window_->typeLine()->field()->text().isEmpty();
    if (!taken) qWarning("%s: %s", line.c_str(), qPrintable(window_->typeLine()->message()));
    QTest::keyClick(window_->typeLine()->field(), Qt::Key_Escape);
    QVERIFY(!window_->typeLine()->isVisible());
    QVERIFY(taken);
  }
  void placeByMouse(const std::string& type, const std::string& hole) {
    CabinetCard* card = window_->cabinet()->card(type);
    if (!card) {
      window_->cabinet()->find(QString::fromStdString(catalogue().partKind(type)->typed.front()));
      card = window_->cabinet()->card(type);
    }
    QVERIFY2(card, type.c_str());
    QTest::mouseClick(card, Qt::LeftButton);
    move(at(hole), Qt::NoButton);
    QTest::mouseClick(bench(), Qt::LeftButton, {}, at(hole));
  }
  std::string leg(const std::string& part, const std::string& id) {
    const Part* p = project().part(part);
    return p && p->leg(id) && p->leg(id)->in ? p->leg(id)->in->point : std::string();
  }
  // Brings the keyboard's cursor to a socket, by arrow keys alone.
  void goTo(const std::string& socket) {
    const bool pin = catalogue().board("tern")->pinIndex(socket) >= 0;
    const Socket wanted{pin ? "b1" : "bb", socket};
    if (!bench()->cursor()) key(Qt::Key_Left);
    for (int guard = 0; guard < 160 && !(*bench()->cursor() == wanted); ++guard) {
      const QPointF here = bench()->screenOf(*bench()->cursor()), there = bench()->screenOf(wanted);
      const double dx = there.x() - here.x(), dy = there.y() - here.y();
      // Rows first, for pins and holes stand in different columns.
      if (std::abs(dy) > bench()->zoom() * 9)
        key(dy > 0 ? Qt::Key_Down : Qt::Key_Up);
      else
        key(dx > 0 ? Qt::Key_Right : Qt::Key_Left);
    }
    QVERIFY2(*bench()->cursor() == wanted, socket.c_str());
  }
  void wireByKeys(const std::string& from, const std::string& to) {
    goTo(from);
    key(Qt::Key_W);
    goTo(to);
    key(Qt::Key_Return);
    key(Qt::Key_Escape);
  }

 private Q_SLOTS:
  void initTestCase() { lookAsInDaylight(); }
  void init() {
    answers_ = Answers();
    window_ = openWindow(answers_);
  }
  void cleanup() { window_.reset(); }

  // Every kind: by mouse, by keyboard and by typing, giving the same project.
  void threeWaysToPlace_data() {
    QTest::addColumn<QString>("type");
    for (const PartKind* kind : catalogue().parts())
      QTest::newRow(kind->type.c_str()) << QString::fromStdString(kind->type);
  }
  void threeWaysToPlace() {
    QFETCH(QString, type);
    const std::string kind = type.toStdString();
    placeByMouse(kind, "c12");
    QCOMPARE(project().parts->size(), std::size_t(1));
    const Project byMouse = project();
    QVERIFY(doc().history().undoName().rfind("place ", 0) == 0);
    doc().undo();
    QVERIFY(project() == emptyProject());

    // Keyboard: the part comes to hand at c9.
    window_ = openWindow(answers_);
    window_->cabinet()->find(QString::fromStdString(catalogue().partKind(kind)->typed.front()));
    CabinetCard* card = window_->cabinet()->card(kind);
    QVERIFY(card);
    card->setFocus();
    QTest::keyClick(card, Qt::Key_Return);
    QVERIFY(bench()->isPlacing());
    keys(Qt::Key_Down, 3);
    key(Qt::Key_Return);
    QVERIFY2(project() == byMouse, "keyboard");

    window_ = openWindow(answers_);
    typeLine(catalogue().partKind(kind)->typed.front() + " c12");
    QVERIFY2(project() == byMouse, "typing");
  }
  void impossiblePlacesAreSaidBeforeTheDrop() {
    window_->openDemo("landing-beacon");
    const Project before = project();
    QTest::mouseClick(window_->cabinet()->card("led"), Qt::LeftButton);
    move(at("i9"), Qt::NoButton);
    QVERIFY2(bench()->tipLines().join(' ').contains("i9 is taken by Red lamp"),
             qPrintable(bench()->tipLines().join(' ')));
    QTest::mouseClick(bench(), Qt::LeftButton, {}, at("i9"));
    QVERIFY(project() == before);
    QVERIFY(bench()->isPlacing());  // still in hand
    QVERIFY(bench()->hint().contains("taken"));
    key(Qt::Key_Escape);
    // Moved onto another part: refused, nothing lost.
    const QPoint lamp = bench()->screenOfPart("led1").center().toPoint();
    const QPoint up = at("i7") - at("i9");
    QTest::mousePress(bench(), Qt::LeftButton, {}, lamp);
    move(lamp + up / 2);
    move(lamp + (at("h9") - at("i9")));
    QTest::mouseRelease(bench(), Qt::LeftButton, {}, lamp + (at("h9") - at("i9")));
    QVERIFY(project() == before);
    QVERIFY(bench()->hint().contains("taken"));
  }
  void draggingShowsWhatWouldBeJoined() {
    window_->openDemo("landing-beacon");
    const QPoint lamp = bench()->screenOfPart("led1").center().toPoint();
    const QPoint down = at("i14") - at("i9");
    QTest::mousePress(bench(), Qt::LeftButton, {}, lamp);
    move(lamp + down / 2);
    move(lamp + down);
    const QString tip = bench()->tipLines().join('\n');
    QVERIFY2(tip.contains("long leg: i14, net of row 14 right"), qPrintable(tip));
    QVERIFY2(tip.contains("net of GND"), qPrintable(tip));  // its wire comes along
    QTest::mouseRelease(bench(), Qt::LeftButton, {}, lamp + down);
    QCOMPARE(leg("led1", "anode"), std::string("i14"));
    QCOMPARE(project().wire("w4")->from.point, std::string("j16"));
    QCOMPARE(doc().history().undoName(), std::string("move Red lamp"));
    QTest::mousePress(bench(), Qt::LeftButton, {}, at("b5"));
    move(at("b6"));
    move(at("c9") + QPoint(1, 1));
    QVERIFY2(bench()->tipLines().join(' ').contains("Joins row 5 left with D4"),
             qPrintable(bench()->tipLines().join(' ')));
    key(Qt::Key_Escape);
  }
  void matPartsAreClipped() {
    window_->openDemo("landing-beacon");
    const QPoint lamp = bench()->screenOfPart("led1").center().toPoint();
    drag(lamp, lamp + QPoint(static_cast<int>(17 * 12 * bench()->zoom()), 0));
    QVERIFY(!project().part("led1")->legs[0].in && project().part("led1")->at);
    // From the free leg to a hole: a wire that is clipped to the leg.
    const QPoint leg1 = bench()->screenOf(Socket{"led1", "anode"}).toPoint();
    drag(leg1, at("j20"));
    const Wire& clip = *(*project().wires).back();
    QCOMPARE(clip.from.text(), std::string("led1.anode"));
    QCOMPARE(clip.to.text(), std::string("bb.j20"));
    key(Qt::Key_R);  // the wire is selected: nothing to turn
    doc().select({"led1"});
    key(Qt::Key_R);
    QCOMPARE(project().part("led1")->turnDegrees, 90);
    keys(Qt::Key_R, 3);
    QCOMPARE(project().part("led1")->turnDegrees, 0);
  }
  void leadsArePluggedAndPulledOut() {
    placeByMouse("motor", "j20");
    QCOMPARE(leg("motor1", "a"), std::string("j20"));
    drag(at("j20"), at("j24"));
    QCOMPARE(leg("motor1", "a"), std::string("j24"));
    drag(at("j24"), at("rn25") + QPoint(40, 60));
    QVERIFY(!project().part("motor1")->legs[0].in);
    QVERIFY(doc().history().undoName().rfind("pull out", 0) == 0);
  }
  void boardsAndBreadboardsMoveWithWhatIsOnThem() {
    window_->openDemo("landing-beacon");
    const Point before = project().breadboards[0].at;
    doc().select({"bb"});
    bench()->setFocus();
    key(Qt::Key_Right);
    QCOMPARE(project().breadboards[0].at.x, before.x + 1);
    QCOMPARE(leg("led1", "anode"), std::string("i9"));
    key(Qt::Key_Left);
    // A second one out of the cabinet, where there is room; not on the first.
    window_->cabinet()->find("mini");
    QTest::mouseClick(window_->cabinet()->card("mini"), Qt::LeftButton);
    move(at("e15"), Qt::NoButton);
    QTest::mouseClick(bench(), Qt::LeftButton, {}, at("e15"));
    QCOMPARE(project().breadboards.size(), std::size_t(1));
    QVERIFY(bench()->hint().contains("lie on"));
    const QPoint free(bench()->width() - 200, 80);
    move(free, Qt::NoButton);
    QTest::mouseClick(bench(), Qt::LeftButton, {}, free);
    QCOMPARE(project().breadboards.size(), std::size_t(2));
    QCOMPARE(doc().selection(), QStringList{"bb1"});
    bench()->setFocus();
    key(Qt::Key_Delete);
    QCOMPARE(project().breadboards.size(), std::size_t(1));
  }
  void bendsAndTidying() {
    window_->openDemo("landing-beacon");
    const Project plain = project();
    const QPoint middle =
        (at("ln23") + at("rn23")) / 2 + QPoint(0, static_cast<int>(9 * bench()->zoom()));
    QTest::mouseClick(bench(), Qt::LeftButton, {}, middle);
    QCOMPARE(doc().selection().size(), 1);
    QTest::mouseDClick(bench(), Qt::LeftButton, {}, middle);
    const std::string id = doc().selection().front().toStdString();
    QCOMPARE(project().wire(id)->bends.size(), std::size_t(1));
    // The bend is dragged, then taken out by a double-click.
    const QPoint bend = bench()->screenOf(project().wire(id)->bends[0]).toPoint();
    drag(bend, bend + QPoint(0, 40));
    QVERIFY(project().wire(id)->bends[0].y > 20);
    const QPoint now = bench()->screenOf(project().wire(id)->bends[0]).toPoint();
    QTest::mouseDClick(bench(), Qt::LeftButton, {}, now);
    QCOMPARE(project().wire(id)->bends.size(), std::size_t(0));
    // Tidying goes round what lies in the way.
    typeLine("wire b5 b28");
    const int covered = coveredParts(project(), catalogue());
    typeLine("button e12");
    typeLine("wire d10 d20");
    doc().select({});
    bench()->setFocus();
    key(Qt::Key_Y);
    QVERIFY(coveredParts(project(), catalogue()) <= covered);
  }
  void pinsAreCalledWhatTheUserLikes() {
    window_->openDemo("landing-beacon");
    doc().select({"b1"});
    QApplication::processEvents();
    auto* label = window_->findChild<QLineEdit*>("label-D4");
    QVERIFY(label);
    QCOMPARE(label->placeholderText(), QString("Red lamp"));
    label->setFocus();
    QTest::keyClicks(label, "Harbour light");
    QTest::keyClick(label, Qt::Key_Return);
    QCOMPARE(doc().pinLabel("b1", "D4"), QString("Harbour light"));
    QCOMPARE(doc().history().undoName(), std::string("label D4"));
    // The same field on the page of its wire; an output has no pull-up.
    doc().select({"w3"});
    QApplication::processEvents();
    label = window_->findChild<QLineEdit*>("label-D4");
    QVERIFY(label && label->text() == "Harbour light");
    QVERIFY(!window_->findChild<QCheckBox*>("pull-D4"));
    QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(doc().pinLabel("b1", "D4"), QString("Red lamp"));
    typeLine("wire D2 a25");
    doc().select({"b1"});
    QApplication::processEvents();
    auto* pull = window_->findChild<QCheckBox*>("pull-D2");
    QVERIFY(pull && pull->isEnabled());
    QTest::mouseClick(pull, Qt::LeftButton, {}, {8, pull->height() / 2});
    QVERIFY(project().program("b1")->pulledUp("D2"));
  }
  void partsLineUpByKey() {
    window_->openDemo("berth-signals");
    const Project before = project();
    typeLine("red led g25 g27");
    const std::string id = (*project().parts).back()->id;
    doc().select({"led1", QString::fromStdString(id)});
    bench()->setFocus();
    key(Qt::Key_A, Qt::ShiftModifier);
    QCOMPARE(leg(id, "anode").front(), leg("led1", "anode").front());
    QCOMPARE(doc().history().undoName(), std::string("line up parts"));
    key(Qt::Key_A, Qt::ShiftModifier);
    QVERIFY(bench()->hint().contains("one line"));
    QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
    QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(project() == before);
  }
  void thereAndBackByKeysAndByMouse() {
    window_->openDemo("landing-beacon");
    typeLine("wire a10 a25");  // in the way of the wire that goes along
    const Project begun = project();
    doc().select({"r1"});
    bench()->setFocus();
    keys(Qt::Key_Down, 2);
    QVERIFY(!(project() == begun));
    keys(Qt::Key_Up, 2);
    QVERIFY(project() == begun);
    const QPoint body = bench()->screenOfPart("r1").center().toPoint();
    const QPoint row = at("c10") - at("c9");
    drag(body, body + row);
    QCOMPARE(leg("r1", "a"), std::string("c10"));
    drag(body + row, body);
    QVERIFY(project() == begun);
  }
  void lockedPartsStayAndSaySo() {
    window_->openDemo("landing-beacon");
    doc().select({"led1"});
    bench()->setFocus();
    key(Qt::Key_L);
    QVERIFY(project().part("led1")->locked);
    const Project locked = project();
    for (int k : {Qt::Key_F, Qt::Key_R, Qt::Key_Down, Qt::Key_Delete}) {
      key(k);
      QVERIFY(project() == locked);
      QVERIFY2(bench()->hint().contains("locked") || k == Qt::Key_R, qPrintable(bench()->hint()));
    }
    key(Qt::Key_L);
    key(Qt::Key_F);
    QCOMPARE(leg("led1", "anode"), std::string("i11"));
  }
  void copiesGoFromWindowToWindow() {
    window_->openDemo("landing-beacon");
    doc().select({"r1", "led1"});
    bench()->setFocus();
    key(Qt::Key_C, Qt::ControlModifier);
    const auto first = std::move(window_);
    window_ = openWindow(answers_);
    bench()->setFocus();
    key(Qt::Key_V, Qt::ControlModifier);
    QCOMPARE(project().parts->size(), std::size_t(2));
    QCOMPARE(project().wires->size(), std::size_t(2));  // to the − rail, and to its pin
    const Nets nets(project(), catalogue());
    QCOMPARE(nets.of({"r1", "b"}), nets.of({"led1", "anode"}));
    QCOMPARE(nets.of({"r1", "a"}), nets.of({"b1", "D4"}));
    QCOMPARE(doc().history().undoName(), std::string("paste parts with steps"));
    // Something else on the clipboard is said, not pasted.
    QApplication::clipboard()->setText("set d4 high");
    const Project before = project();
    key(Qt::Key_V, Qt::ControlModifier);
    QVERIFY(project() == before);
    QVERIFY(bench()->hint().contains("clipboard"));
  }
  // A lamp with what it does, here and in another project.
  void pastedPartsBringTheirSteps() {
    const Project before = Bench(beacon()).lane("Every 0.5", "flip d4\nwait 0.1\nflip d4\n").get();
    doc().reset(before, {});
    doc().select({"r1", "led1"});
    bench()->setFocus();
    key(Qt::Key_C, Qt::ControlModifier);
    QVERIFY2(bench()->hint().contains("with its steps"), qPrintable(bench()->hint()));
    key(Qt::Key_V, Qt::ControlModifier);
    QCOMPARE(project().parts->size(), before.parts->size() + 2);
    QCOMPARE(project().programs[0]->lanes.size(), before.programs[0]->lanes.size() + 1);
    QVERIFY2(bench()->hint().contains("in place of D4") && bench()->hint().contains("one lane"),
             qPrintable(bench()->hint()));
    // One step back.
    doc().undo();
    QVERIFY(project() == before);
    // Cut and pasted it hangs on its pin again, and its steps are there once.
    doc().select({"r1", "led1"});
    bench()->setFocus();
    key(Qt::Key_X, Qt::ControlModifier);
    QVERIFY(!project().part("led1"));
    QCOMPARE(project().programs[0]->lanes.size(), before.programs[0]->lanes.size());
    QVERIFY(QString::fromStdString(doc().history().undoName()).startsWith("cut "));
    key(Qt::Key_V, Qt::ControlModifier);
    QCOMPARE(project().parts->size(), before.parts->size());
    QCOMPARE(project().programs[0]->lanes.size(), before.programs[0]->lanes.size());
    QVERIFY2(bench()->hint().startsWith("It hangs on D4."), qPrintable(bench()->hint()));
    doc().undo();
    doc().undo();
    QVERIFY(project() == before);
    window_->openDemo("ramp-winch");
    const std::size_t lanes = project().programs[0]->lanes.size();
    key(Qt::Key_V, Qt::ControlModifier);
    QCOMPARE(project().programs[0]->lanes.size(), lanes + 1);
    QVERIFY2(bench()->hint().startsWith("It hangs on D"), qPrintable(bench()->hint()));
  }
  // In a lane that does more, the copy is set right behind the original.
  void aPastedLampDoesWhatTheOriginalDoes() {
    window_->openDemo("berth-signals");
    const Project before = project();
    doc().select({"led1", "r1"});
    bench()->setFocus();
    key(Qt::Key_C, Qt::ControlModifier);
    key(Qt::Key_V, Qt::ControlModifier);
    QCOMPARE(project().parts->size(), before.parts->size() + 2);
    QCOMPARE(project().programs[0]->lanes.size(), before.programs[0]->lanes.size());
    QVERIFY2(bench()->hint().contains("2 steps were added"), qPrintable(bench()->hint()));
    const Steps& steps = project().programs[0]->lanes[0]->steps;
    for (const char* branch : {"then", "else"}) {
      const Steps& body = *steps[0].body(branch);
      QCOMPARE(pinWritten(body[0]).value_or(""), std::string("D3"));
      QVERIFY(pinWritten(body[1]).value_or("D3") != "D3");
      QCOMPARE(body[1].field("to")->text, body[0].field("to")->text);
    }
    doc().undo();
    QVERIFY(project() == before);
  }
  void knobsSwitchesAndLatch() {
    typeLine("knob on a0");
    typeLine("switch c24");
    typeLine("button e2");
    window_->togglePower();
    window_->runControl().advanceBy(0.05);
    const QPoint knob = bench()->screenOfPart("pot1").center().toPoint();
    drag(knob, knob - QPoint(0, 60));
    QVERIFY(project().part("pot1")->number("position", 0) > 70);
    const QPoint slider = bench()->screenOfPart("sw1").center().toPoint();
    QTest::mouseClick(bench(), Qt::LeftButton, {}, slider);
    QCOMPARE(project().part("sw1")->text("position", ""), std::string("right"));
    doc().select({"sw1"});
    bench()->setFocus();
    key(Qt::Key_Space);
    QCOMPARE(project().part("sw1")->text("position", ""), std::string("left"));
    doc().select({"pot1"});
    key(Qt::Key_PageDown);
    auto* field = window_->findChild<QSlider*>("prop-position");
    QVERIFY(field);
    field->setValue(10);
    QCOMPARE(project().part("pot1")->number("position", 0), 10.0);
    // The lock beside the cap keeps it held.
    const QRectF body = bench()->screenOfPart("btn1");
    move(body.center().toPoint(), Qt::NoButton);
    const QPoint latch = (body.center() + QPointF(23.5, -22.5) * bench()->zoom()).toPoint();
    QTest::mouseClick(bench(), Qt::LeftButton, {}, latch);
    window_->runControl().advanceBy(0.05);
    QVERIFY(window_->runControl().isHeld("btn1"));
    QTest::mouseClick(bench(), Qt::LeftButton, {}, latch);
    window_->runControl().advanceBy(0.05);
    QVERIFY(!window_->runControl().isHeld("btn1"));
  }
  void smallCircuitsAskForAPin() {
    window_->cabinet()->find("lamp on");
    CabinetCard* card = window_->cabinet()->card("lamp");
    QVERIFY(card);
    QTest::mouseClick(card, Qt::LeftButton);
    auto* menu = window_->findChild<QMenu*>("pinMenu");
    QVERIFY(menu && menu->isVisible());
    QTest::keyClick(menu, Qt::Key_Down);
    QTest::keyClick(menu, Qt::Key_Return);
    QApplication::processEvents();
    QCOMPARE(project().parts->size(), std::size_t(2));
    QVERIFY(project().wires->size() >= 3);
    QVERIFY(doc().history().undoName().rfind("place a lamp on D", 0) == 0);
    doc().finishCheck();
    for (const Finding& f : doc().check().findings) QVERIFY(f.severity == Severity::note);
    doc().undo();
    QVERIFY(project() == emptyProject());
  }
  void partsCanBeTypedFromTheProgramSide() {
    window_->setStation(Station::program);
    QLineEdit* box = window_->program()->view()->endBox("l1");
    QVERIFY(box);
    box->setFocus();
    QTest::keyClicks(box, "a lamp on d6");
    QTest::keyClick(box, Qt::Key_Return);
    QCOMPARE(project().parts->size(), std::size_t(2));
    QCOMPARE(doc().history().undoName(), std::string("place a lamp on D6"));
    QVERIFY(window_->program()->view()->endBox("l1")->text().isEmpty());
  }
  void typedErrorsStandInTheirPlace() {
    window_->openDemo("landing-beacon");
    QTest::keyClick(window_.get(), Qt::Key_K, Qt::ControlModifier);
    QLineEdit* field = window_->typeLine()->field();
    QTest::keyClicks(field, "red led i9 i13 ");
    QVERIFY2(window_->typeLine()->message().contains("ole i9 is taken by Red lamp"),
             qPrintable(window_->typeLine()->message()));
    const Project before = project();
    QTest::keyClick(field, Qt::Key_Return);
    QVERIFY(project() == before);
    QCOMPARE(field->text(), QString("red led i9 i13 "));  // nothing typed is lost
    QCOMPARE(field->cursorPosition(), 8);
    field->clear();
    // Completion by Tab, one word after the other.
    QTest::keyClicks(field, "remo");
    QTest::keyClick(field, Qt::Key_Tab);
    QCOMPARE(field->text(), QString("remove "));
    QTest::keyClicks(field, "red");
    QTest::keyClick(field, Qt::Key_Tab);
    QTest::keyClick(field, Qt::Key_Return);
    QVERIFY(!project().part("led1"));
    // Up brings the line before back.
    QTest::keyClick(field, Qt::Key_Up);
    QVERIFY(field->text().startsWith("remove Red lamp"));
    QTest::keyClick(field, Qt::Key_Escape);
    QVERIFY(bench()->hasFocus());
  }
  void pinNamesAndRailsAreTargets() {
    // From the printed name of D7 to the gap between two groups of a rail's holes.
    const QPoint name = at("D7") - QPoint(static_cast<int>(2 * 17 * bench()->zoom()), 0);
    const QPoint gap = (at("rn5") + at("rn6")) / 2;
    drag(name, gap);
    QCOMPARE(project().wires->size(), std::size_t(1));
    QCOMPARE((*project().wires)[0]->from.text(), std::string("b1.D7"));
    QVERIFY((*project().wires)[0]->to.point == "rn5" || (*project().wires)[0]->to.point == "rn6");
  }
  void everyPaneSaysWhatItIs() {
    for (QWidget* pane : std::initializer_list<QWidget*>{
             bench(), window_->cabinet(), window_->program(), window_->trace(), window_->findings(),
             window_->firmware(), window_->typeLine()}) {
      QVERIFY2(!pane->accessibleName().isEmpty(), qPrintable(pane->objectName()));
      if (pane != window_->typeLine()) QVERIFY(!pane->accessibleDescription().isEmpty());
    }
    // What is under the keyboard's cursor is what the bench says of itself.
    bench()->setFocus();
    goTo("c5");
    QVERIFY(bench()->accessibleDescription().contains("row 5: a–e are joined inside"));
  }
  void boardPartsExplainThemselves() {
    const QPointF origin = bench()->screenOf(Point{2, 3});
    const double pitch = 17 * bench()->zoom();
    move((origin + QPointF(2 * pitch, 11 * pitch)).toPoint(), Qt::NoButton);
    QCOMPARE(bench()->tipLines().value(0), QString("Chip"));
    move((origin + QPointF(2 * pitch, 4 * pitch)).toPoint(), Qt::NoButton);
    QCOMPARE(bench()->tipLines().value(0), QString("Reset button"));
    move(at("D9"), Qt::NoButton);
    QVERIFY(bench()->tipLines().join(' ').contains("PB1 on the chip"));
  }
  void picturesAndPrint() {
    QTemporaryDir dir;
    window_->openDemo("ramp-winch");
    for (const char* name : {"winch.svg", "winch.png"}) {
      const QString path = dir.filePath(name);
      QVERIFY(writeBenchPicture(project(), path));
      QVERIFY(QFileInfo(path).size() > 20000);
    }
    QVERIFY(QImage(dir.filePath("winch.png")).width() > 1000);
    QVERIFY(!writeBenchPicture(project(), dir.filePath("no/such/folder.svg")));
    answers_.printTo = dir.filePath("winch.pdf");
    for (QAction* a : window_->actions())
      if (a->text().startsWith("Print")) a->trigger();
    QVERIFY(QFileInfo(answers_.printTo).size() > 5000);
  }
  // ---- demos, wired from nothing
  void callBellByMouse() {
    placeByMouse("resistor", "c9");
    placeByMouse("led", "i9");
    placeByMouse("button", "e18");
    placeByMouse("resistor", "c20");  // lies upright, for row 20 is joined through the button
    drag(at(leg("r2", "b")), at("c25"));
    placeByMouse("piezo", "c12");
    for (const auto& [from, to] :
         std::initializer_list<std::pair<const char*, const char*>>{{"5V", "lp2"},
                                                                    {"GND", "ln4"},
                                                                    {"ln24", "rn24"},
                                                                    {"D2", "a20"},
                                                                    {"D3", "a9"},
                                                                    {"j11", "rn10"},
                                                                    {"lp15", "a18"},
                                                                    {"ln21", "a25"},
                                                                    {"D5", "a12"},
                                                                    {"a15", "ln13"}})
      drag(at(from), at(to));
    // Names, colour and value in the inspector.
    doc().select({"led1"});
    QTest::mouseClick(window_->findChild<QToolButton*>("swatch-green"), Qt::LeftButton);
    for (const auto& [id, name] : std::initializer_list<std::pair<const char*, const char*>>{
             {"led1", "Call lamp"}, {"btn1", "Call button"}, {"piezo1", "Bell"}}) {
      doc().select({id});
      QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
      auto* field = window_->findChild<QLineEdit*>("partName");
      field->setFocus();
      field->selectAll();
      QTest::keyClicks(field, name);
      QTest::keyClick(field, Qt::Key_Return);
      bench()->setFocus();
    }
    doc().select({"r2"});
    QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
    auto* ohms = window_->findChild<QComboBox*>("prop-ohms");
    ohms->setFocus();
    ohms->lineEdit()->selectAll();
    QTest::keyClicks(ohms->lineEdit(), "10k");
    QTest::keyClick(ohms->lineEdit(), Qt::Key_Return);
    const Project wanted = readProject(demo("ferry-call-bell")->text).project;
    QVERIFY(joined(project(), true) == joined(wanted, true));
    QCOMPARE(project().part("r2")->number("ohms", 0), 10000.0);
    filmed("bell-by-mouse");
  }
  void beaconByKeyboard() {
    const auto take = [&](const char* type) {
      window_->cabinet()->find(QString::fromLatin1(type));
      CabinetCard* card = window_->cabinet()->card(type);
      card->setFocus();
      QTest::keyClick(card, Qt::Key_Return);
    };
    take("resistor");
    key(Qt::Key_Return);  // c9, across the trench
    doc().select({});
    take("led");
    // From c9 over the trench to i9.
    keys(Qt::Key_Right, 6);
    key(Qt::Key_Return);
    QCOMPARE(leg("led1", "anode"), std::string("i9"));
    key(Qt::Key_Escape);
    wireByKeys("GND", "ln4");
    wireByKeys("ln23", "rn23");
    wireByKeys("D4", "a9");
    wireByKeys("j11", "rn10");
    QVERIFY(joined(project(), true) ==
            joined(readProject(demo("landing-beacon")->text).project, true));
    // An end taken elsewhere, by M.
    goTo("j11");
    key(Qt::Key_M);
    goTo("g11");
    key(Qt::Key_Return);
    QCOMPARE((*project().wires).back()->from.point, std::string("g11"));
    // What the cursor stands on is said.
    goTo("i9");
    QVERIFY2(bench()->hint().contains("Red lamp, long leg"), qPrintable(bench()->hint()));
    key(Qt::Key_Return);
    QCOMPARE(doc().selection(), QStringList{"led1"});
    filmed("beacon-by-keyboard");
  }
  void examplesByTyping_data() {
    QTest::addColumn<QString>("example");
    for (const Demo& d : demos()) QTest::newRow(d.name.c_str()) << QString::fromStdString(d.name);
  }
  void examplesByTyping() {
    QFETCH(QString, example);
    const Project wanted = readProject(demo(example.toStdString())->text).project;
    const std::string text = writeWiring(wanted);
    for (std::size_t from = 0; from < text.size();) {
      const std::size_t end = text.find('\n', from);
      const std::string line = text.substr(from, end - from);
      from = end + 1;
      if (line.rfind("board", 0) == 0 || line.rfind("breadboard", 0) == 0)
        continue;                      // there already
      if (line.ends_with(':')) break;  // the lanes
      typeLine(line);
    }
    QVERIFY(joined(project(), true) == joined(wanted, true));
    QCOMPARE(project().title, wanted.title);
    doc().finishCheck();
    filmed(qPrintable(example + "-by-typing"));
  }

 private:
  // Pictures of what was wired, where a folder for them is given.
  void filmed(const char* name) {
    const QString folder = qEnvironmentVariable("IGNAVO_FILM");
    if (folder.isEmpty()) return;
    doc().finishCheck();
    bench()->fit();
    QApplication::processEvents();
    window_->grab().save(folder + QLatin1Char('/') + QString::fromLatin1(name) + ".png");
  }
};

QTEST_MAIN(TestWire)
#include "tst_wire.moc"
