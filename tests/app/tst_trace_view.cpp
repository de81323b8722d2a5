#include <QAccessible>
#include <QContextMenuEvent>
#include <QMenu>
#include <QtTest>

#include "document/workers.h"
#include "format/trace_text.h"
#include "run/keep_bar.h"
#include "support/build.h"
#include "support/window.h"

using namespace ignavo;
using namespace ignavo::app;
using namespace ignavo::test;

// What the pins did, measured and kept: marks, from edge to edge, files.
class TestTraceView : public QObject {
  Q_OBJECT
  Answers answers_;
  std::unique_ptr<MainWindow> window_;
  QTemporaryDir folder_;

  RunControl& run() { return window_->runControl(); }
  TraceView* trace() { return window_->trace(); }
  void open(double seconds) {
    window_ = openWindow(answers_);
    window_->document().reset(beacon()
                                  .program("set d4 high\nwait 0.1\nset d9 high\nwait 0.15\nset d4 "
                                           "low\nwait 0.25\nset d9 low\n")
                                  .get(),
                              {});
    window_->setStation(Station::run);
    window_->togglePower();
    run().advanceBy(seconds);
    QApplication::processEvents();
    trace()->setFocus();
  }
  QPoint at(double seconds, int lane) {
    return QPointF(trace()->xOf(static_cast<Nanoseconds>(seconds * 1e9)),
                   trace()->laneBox(lane).center().y())
        .toPoint();
  }
  QMenu* menu(const QPoint& place) {
    QContextMenuEvent ask(QContextMenuEvent::Mouse, place, trace()->mapToGlobal(place));
    QApplication::sendEvent(trace(), &ask);
    return trace()->findChild<QMenu*>(QStringLiteral("traceMenu"));
  }
  void choose(const QPoint& place, const QString& words) {
    QMenu* all = menu(place);
    QVERIFY(all);
    for (QAction* action : all->actions())
      if (action->text().startsWith(words)) {
        action->trigger();
        all->close();
        settle();
        return;
      }
    QFAIL(qPrintable("not in the menu: " + words));
  }

 private Q_SLOTS:
  void initTestCase() { lookAsInDaylight(); }
  // A longer name moves where the lines begin, up to a fifth of the width; a short one moves back.
  void namesHaveRoom() {
    open(1);
    const auto begin = [&](const QString& name) {
      Document& doc = window_->document();
      const auto rename = [&](Part& p) { p.name = name.toStdString(); };
      doc.edit("another name", edits::changePart(doc.project(), "led1", rename));
      settle();
      trace()->grab();
      return trace()->laneBox(0).left();
    };
    const double before = begin("Lamp");
    const QString longer = "Lamp at the far mooring";
    const double after = begin(longer);
    QVERIFY(after >= 62 + QFontMetricsF(theme().text(12)).horizontalAdvance(longer));
    QCOMPARE(trace()->xOf(trace()->timeAt(after)), after);
    QVERIFY(begin(longer.repeated(5)) <= trace()->width() * 0.2);
    QCOMPARE(begin("Lamp"), before);
  }
  // Two marks, and what lies between them on the line that was chosen.
  void marksMeasure() {
    open(3);
    QVERIFY(trace()->measured().isEmpty());
    QTest::mouseClick(trace(), Qt::LeftButton, Qt::ShiftModifier, at(0.4, 0));
    QCOMPARE(trace()->marks().size(), std::size_t(1));
    QVERIFY(trace()->measured().startsWith("A is at "));
    QTest::mouseClick(trace(), Qt::LeftButton, Qt::ShiftModifier, at(2.4, 0));
    QCOMPARE(trace()->marks().size(), std::size_t(2));
    const QString words = trace()->measured();
    QVERIFY2(words.contains("D4: 8 edges") && words.contains("period 500 ms (2 Hz)") &&
                 words.contains("high for 50."),
             qPrintable(words));
    // Marks are no look back, and a third begins anew.
    QVERIFY(!run().isLookingBack());
    QTest::mouseClick(trace(), Qt::LeftButton, Qt::ShiftModifier, at(1, 1));
    QCOMPARE(trace()->marks().size(), std::size_t(1));
    QTest::keyClick(trace(), Qt::Key_M, Qt::ShiftModifier);
    QVERIFY(trace()->marks().empty());
  }
  // By keys: the line, the moment, the marks.
  void marksByKeys() {
    open(3);
    QTest::mouseMove(window_->bench(), QPoint(5, 5));
    QTest::keyClick(trace(), Qt::Key_Down);
    QTest::keyClick(trace(), Qt::Key_Left, Qt::ControlModifier);
    QVERIFY(run().isLookingBack());
    const Nanoseconds last = run().shownAt();
    QTest::keyClick(trace(), Qt::Key_M);
    QTest::keyClick(trace(), Qt::Key_Left, Qt::ControlModifier);
    QTest::keyClick(trace(), Qt::Key_M);
    QCOMPARE(trace()->marks().size(), std::size_t(2));
    QCOMPARE(trace()->marks()[1], last);
    QVERIFY(std::abs(trace()->marks()[1] - trace()->marks()[0] - 250'000'000) < 1000);
    // From edge to edge of that line alone, there and back.
    QTest::keyClick(trace(), Qt::Key_Right, Qt::ControlModifier);
    QCOMPARE(run().shownAt(), last);
    // Another power-on is another run.
    window_->togglePower();
    window_->togglePower();
    QVERIFY(trace()->marks().empty());
  }
  void fromTheMenu() {
    open(3);
    choose(at(0.7, 1), "Mark A");
    choose(at(1.25, 1), "Mark B");
    QVERIFY(trace()->measured().contains("D9: 2 edges"));
    choose(at(1.1, 1), "Take the marks away");
    QVERIFY(trace()->marks().empty());
    choose(at(1.1, 0), "To the edge before");
    QVERIFY(run().isLookingBack());
    choose(at(1.1, 0), "Hold this pin");
    QVERIFY(window_->hand()->isVisible());
  }
  // When something came to be so, and the next time; what cannot be asked is said.
  void itIsFound() {
    open(3);
    auto* bar = window_->findChild<FindBar*>("findBar");
    QVERIFY(bar && !bar->isVisible());
    QTest::keyClick(trace(), Qt::Key_F, Qt::ControlModifier);
    QVERIFY(bar->isVisible());
    auto* box = window_->findChild<QLineEdit*>("findBox");
    QCOMPARE(QApplication::focusWidget(), static_cast<QWidget*>(box));
    const auto ask = [&](const char* what) {
      box->setText(what);
      QTest::keyClick(box, Qt::Key_Return);
      app::workers().waitForDone();
      settle();
      return inSeconds(run().shownAt());
    };
    QVERIFY(std::abs(ask("D4 and D9 both high") - 0.1) < 1e-5);
    QVERIFY(run().isLookingBack());
    QVERIFY2(bar->answer().startsWith("At 0.1"), qPrintable(bar->answer()));
    // The same once more: D9 stays high until 0.5 s, so they meet again at 0.6.
    QVERIFY(std::abs(ask("D4 and D9 both high") - 0.6) < 1e-5);
    QVERIFY(ask("D4 and D9 both low") == 0);  // before anything was set
    QVERIFY(std::abs(ask("d9 high longer than 0.3 s") - 0.4) < 1e-5);
    (void)ask("d9 high longer than 2 s");
    QCOMPARE(bar->answer(), QStringLiteral("It was never so."));
    (void)ask("level of A0 > 50");
    QVERIFY2(bar->answer().contains("only levels of pins"), qPrintable(bar->answer()));
    // A lamp by its name: lit for a glance longer than its pin is high.
    QVERIFY(std::abs(ask("led1 lit longer than 0.26 s") - 0.26) < 1e-3);
    (void)ask("led1 lit longer than 60 s");
    QCOMPARE(bar->answer(), QStringLiteral("It was never so."));
    (void)ask("d12 high");
    QVERIFY2(bar->answer().contains("D12 was not recorded"), qPrintable(bar->answer()));
    (void)ask("quite so");
    QVERIFY(!bar->answer().isEmpty() && !bar->answer().startsWith("At "));
    QTest::keyClick(box, Qt::Key_Escape);
    QVERIFY(!bar->isVisible() && trace()->hasFocus());
  }
  // Kept in files; what cannot be written is said.
  void itIsKept() {
    open(2);
    for (const auto& [words, ending, begins] : {std::tuple{"Keep it as VCD", "vcd", "$timescale"},
                                                {"Keep it as a table", "csv", "seconds,b1.D4"},
                                                {"Keep it as a picture", "png", "\x89PNG"}}) {
      answers_.keep = folder_.filePath(QString("t.") + ending);
      choose(at(1, 0), words);
      app::workers().waitForDone();
      settle();
      QFile file(answers_.keep);
      QVERIFY(file.open(QIODevice::ReadOnly));
      QVERIFY(file.readAll().startsWith(begins));
      QVERIFY(window_->findChild<QLabel*>("notice")->text().contains("kept in t."));
    }
    answers_.keep = folder_.filePath("none/t.vcd");
    choose(at(1, 0), "Keep it as VCD");
    app::workers().waitForDone();
    settle();
    QVERIFY(window_->findChild<QLabel*>("notice")->text().contains("is not kept in t.vcd"));
    answers_.keep.clear();  // nothing was chosen
    choose(at(1, 0), "Keep it as VCD");
  }
  // What is very long tells how far it is, and is given up by a click: what was there before stays.
  void whatIsLongIsGivenUp() {
    open(2);
    answers_.keep = folder_.filePath("short.vcd");
    choose(at(1, 0), "Keep it as VCD");
    app::workers().waitForDone();
    settle();
    auto* bar = window_->findChild<app::KeepBar*>("keepBar");
    QVERIFY(bar && !bar->isVisible() && !bar->isKeeping());
    const QString path = folder_.filePath("long.vcd");
    QFile before(path);
    QVERIFY(before.open(QIODevice::WriteOnly) && before.write("before") == 6);
    before.close();
    // A pin without waits, for an hour.
    Trace endless({{Signal::What::pinLevel, "b1", "D4"}});
    for (Nanoseconds t = 200; t <= 1'000; t += 200) {
      endless.record(0, t, t % 400 == 0 ? 1.0f : 0.0f);
      endless.extendTo(t);
    }
    QVERIFY(endless.repeatLast(400, 9'000'000'000));
    trace()->setFocus();
    bar->keep(std::make_shared<const Trace>(endless), writeVcd, path);
    QTRY_VERIFY(bar->isVisible());
    auto* words = bar->findChild<QLabel*>("keepWords");
    QVERIFY2(words->text().contains("0 % so far (") && words->text().endsWith("to long.vcd"),
             qPrintable(words->text()));
    QTRY_VERIFY(words->text().contains(" MB), to "));
    choose(at(1, 0), "Keep it as VCD");  // one after another
    QVERIFY(window_->findChild<QLabel*>("notice")->text().contains("still being written"));
    answers_.keep = folder_.filePath("beside.png");  // a picture of it beside that
    choose(at(1, 0), "Keep it as a picture");
    QVERIFY(bar->isKeeping());
    QVERIFY(!QImage(answers_.keep).isNull());
    QTest::mouseClick(bar->findChild<QPushButton*>("cancelKeep"), Qt::LeftButton);
    QTRY_VERIFY(!bar->isKeeping() && !bar->isVisible());
    QCOMPARE(window_->focusWidget(), trace());
    QVERIFY(window_->findChild<QLabel*>("notice")->text().contains("long.vcd was not written"));
    QVERIFY(before.open(QIODevice::ReadOnly));
    QCOMPARE(before.readAll(), QByteArray("before"));
    QCOMPARE(QDir(folder_.path()).entryList({"long*"}, QDir::Files).size(), 1);
    // Nor does one that is under way hold up the end of the window.
    bar->keep(std::make_shared<const Trace>(endless), writeVcd, path);
    window_.reset();
    app::workers().waitForDone();
  }

  // ---- lines

  // Volts and amps have lines on request: from then on, and in each run after it.
  void otherLinesOnRequest() {
    open(0.3);
    QCOMPARE(trace()->lines().size(), std::size_t(2));
    QMenu* all = menu(at(0.1, 0));
    auto* more = all->findChild<QMenu*>(QStringLiteral("moreLines"));
    QVERIFY(more);
    QStringList words;
    for (QAction* action : more->actions())
      if (!action->isSeparator()) words << action->text();
    QVERIFY2(words.contains("mA through r1") && words.contains("mA through led1") &&
                 words.contains("V of D4"),
             qPrintable(words.join('|')));
    const auto pick = [&](const QString& what) {
      for (QAction* action : more->actions())
        if (action->text() == what) return action->trigger();
      QFAIL(qPrintable(what));
    };
    pick("mA through r1");
    pick("V of D4");
    all->close();
    settle();
    QCOMPARE(trace()->lines().size(), std::size_t(4));
    QCOMPARE(trace()->lines()[2], (Signal{Signal::What::partAmps, "r1", {}}));
    // From power-on on: the past was made once more.
    const int of = run().trace()->find(Signal::What::partAmps, "r1", {});
    QVERIFY(std::abs(run().trace()->valueAt(of, 50'000'000)) > 0.005);
    QVERIFY(!run().isLookingBack() && !run().isPaused() && !run().turnedFrom());
    run().advanceBy(0.6);
    const auto recorded = run().trace();
    const int amps = recorded->find(Signal::What::partAmps, "r1", {});
    QVERIFY(amps >= 0 && std::abs(recorded->highest(amps)) > 0.005);
    const Signal volts = trace()->lines()[3];
    QVERIFY(volts.what == Signal::What::volts);
    QVERIFY(recorded->highest(recorded->find(volts.what, volts.owner, volts.name)) > 4);
    // In the file they are, too; and after power off and on.
    window_->togglePower();
    window_->togglePower();
    run().advanceBy(0.3);
    QCOMPARE(trace()->lines().size(), std::size_t(4));
    QVERIFY(run().trace()->highest(run().trace()->find(Signal::What::partAmps, "r1", {})) > 0.005);
    // A card for a pin in the hand is for pins only.
    trace()->setFocus();
    for (int i = 0; i < 3; ++i) QTest::keyClick(trace(), Qt::Key_Down);
    QTest::keyClick(trace(), Qt::Key_H);
    QVERIFY(!window_->hand()->isVisible());
    // What flows, on the mean, between two marks.
    QTest::mouseClick(trace(), Qt::LeftButton, Qt::ShiftModifier, at(0.02, 2));
    QTest::mouseClick(trace(), Qt::LeftButton, Qt::ShiftModifier, at(0.08, 2));
    QVERIFY2(trace()->measured().contains("mA on the mean"), qPrintable(trace()->measured()));
    // Taken away by a key.
    trace()->setFocus();
    QTest::keyClick(trace(), Qt::Key_Delete);
    QCOMPARE(trace()->lines().size(), std::size_t(3));
    QVERIFY(run().probes().size() == 1);
  }
  // What is taken out while time runs keeps its line: it did something before. A run later it has
  // none.
  void whatIsTakenOutKeepsItsLine() {
    open(0.05);
    Document& doc = window_->document();
    doc.edit("name", edits::changePart(doc.project(), "r1", [](Part& r) { r.name = "Upper"; }));
    const Signal amps{Signal::What::partAmps, "r1", {}};
    trace()->showLine(amps);
    settle();
    run().advanceBy(0.05);
    trace()->grab();  // it is drawn
    doc.edit("take out", edits::remove(doc.project(), {"r1"}));
    run().advanceBy(0.1);
    settle();
    QVERIFY(trace()->lines().back() == amps);
    const auto valueAt = [&](double seconds) {
      const auto all = run().trace();
      return std::abs(all->valueAt(all->find(amps.what, amps.owner, amps.name),
                                   static_cast<Nanoseconds>(seconds * 1e9)));
    };
    QVERIFY(valueAt(0.05) > 0.005);
    QCOMPARE(valueAt(0.15), 0.0F);
    trace()->grab();
    QAccessibleInterface* line = QAccessible::queryAccessibleInterface(trace())->child(2);
    QVERIFY(line);
    QVERIFY2(line->text(QAccessible::Name).contains("Upper, taken out"),
             qPrintable(line->text(QAccessible::Name)));
    window_->togglePower();
    QVERIFY(trace()->lines().back() == amps);
    window_->togglePower();
    run().advanceBy(0.1);
    QVERIFY(!(trace()->lines().back() == amps));
  }
  // What each signal operator gave, from power-on on.
  void operatorsHaveLinesOnRequest() {
    window_ = openWindow(answers_);
    window_->document().reset(
        beacon().lane("Keep D4 at flips on ((wave of 5 Hz with 20 %) at most every 0.3)", "").get(),
        {});
    window_->setStation(Station::run);
    window_->togglePower();
    run().advanceBy(0.95);
    QApplication::processEvents();
    QMenu* all = menu(at(0.1, 0));
    auto* more = all->findChild<QMenu*>(QStringLiteral("moreLines"));
    QAction* one = nullptr;
    for (QAction* action : more->actions())
      if (action->text() == "D4 · at most every 0.3 s") one = action;
    QVERIFY(one);
    one->trigger();
    all->close();
    settle();
    const Signal limit = trace()->lines().back();
    const std::string lane = window_->document().project().programs[0]->lanes.back()->id;
    QCOMPARE(limit, (Signal{Signal::What::kept, "b1", operatorName(lane, "on")}));
    const auto recorded = run().trace();
    const int line = recorded->find(limit.what, limit.owner, limit.name);
    // For a turn at 0.2 and 0.6 s: the one between comes too early, and what is high at power-on is
    // no rise.
    QCOMPARE(recorded->countEdges(line, 0, recorded->end()), 4);
    QAccessibleInterface* told = QAccessible::queryAccessibleInterface(trace())->child(1);
    QVERIFY2(told && told->text(QAccessible::Name).contains("at most every 0.3 s"),
             told ? qPrintable(told->text(QAccessible::Name)) : "");
    QVERIFY(!trace()->grab().isNull());
  }
  // What the check says of the bench as it is now came true at the edit that made it so, not when
  // the run began; further edits do not move it. Its words keep clear of the names of the lines.
  void aFindingComesTrueWithItsEdit() {
    window_ = openWindow(answers_);
    window_->openDemo("berth-signals");
    window_->setStation(Station::run);
    Document& doc = window_->document();
    doc.finishCheck();
    window_->togglePower();
    run().advanceBy(2);
    const Project whole = doc.project();
    const auto since = [&](const QString& words) {
      for (const TraceView::Spoken& told : trace()->spoken())
        if (told.words.contains("from here on so") && told.words.contains(words))
          return told.words.section(' ', 0, 0).toDouble();
      return -1.0;
    };
    const auto edit = [&](Project next) {
      doc.edit("edit", std::move(next));
      doc.finishCheck();
      settle();
      run().advanceBy(0.5);
      settle();
    };
    const QString first = "R1’s path ends", second = "R2’s path ends";
    edit(edits::remove(whole, {"led1"}));
    QCOMPARE(since(first), 2.0);
    edit(whole);
    QCOMPARE(since(first), -1.0);
    edit(edits::remove(whole, {"led1"}));
    QCOMPARE(since(first), 3.0);
    edit(edits::remove(whole, {"led1", "led2"}));
    QCOMPARE(since(first), 3.0);
    QCOMPARE(since(second), 3.5);
    // In another run it is so from the beginning.
    window_->togglePower();
    window_->togglePower();
    run().advanceBy(0.5);
    settle();
    QCOMPARE(since(first), 0.0);
    // Its words keep clear of the names of the lines.
    const QRect names(0, trace()->height() - 40, qRound(trace()->laneBox(0).left()) - 4, 40);
    const QImage marked = trace()->grab(names).toImage();
    doc.edit("mean it", [&] {
      Project p = doc.project();
      for (const Finding& f : doc.check().findings) p.meant.push_back(identityOf(f));
      return p;
    }());
    doc.finishCheck();
    settle();
    QCOMPARE(since(first), -1.0);
    QCOMPARE(trace()->grab(names).toImage(), marked);
  }
  // What a variable held, from power-on on.
  void variablesHaveLinesOnRequest() {
    window_ = openWindow(answers_);
    window_->document().reset(
        beacon().name("variable n is 5").program("add 2 to n\nset d4 high\nwait 0.1\n").get(), {});
    window_->setStation(Station::run);
    window_->togglePower();
    run().advanceBy(0.35);
    QApplication::processEvents();
    QMenu* all = menu(at(0.1, 0));
    auto* more = all->findChild<QMenu*>(QStringLiteral("moreLines"));
    bool found = false;
    for (QAction* action : more->actions())
      if (action->text() == "variable n") action->trigger(), found = true;
    all->close();
    settle();
    QVERIFY(found);
    const Signal n{Signal::What::variable, "b1", "n"};
    QCOMPARE(trace()->lines().back(), n);
    const auto recorded = run().trace();
    const int signal = recorded->find(n.what, n.owner, n.name);
    QVERIFY(signal >= 0);
    QCOMPARE(recorded->valueAt(signal, 0), 5.0F);
    for (const auto& [seconds, value] : {std::pair{0.05, 7.0F}, {0.15, 9.0F}, {0.31, 13.0F}})
      QCOMPARE(recorded->valueAt(signal, static_cast<Nanoseconds>(seconds * 1e9)), value);
    // Reset, it holds what it begins with.
    run().reset();
    QCOMPARE(run().trace()->valueAt(signal, run().trace()->end()), 5.0F);
    QVERIFY(!trace()->grab().isNull());
  }
  // The step that a lane is at is a line too; what a variable held is found, though it was not
  // recorded before.
  void stepsOfALaneAndVariablesAreFound() {
    window_ = openWindow(answers_);
    window_->document().reset(beacon()
                                  .name("variable n is 5")
                                  .program("set d4 high\nadd 2 to n\nwait 0.1\nif n > 9\n  set d4 "
                                           "low\nwait 0.05\n")
                                  .get(),
                              {});
    window_->setStation(Station::run);
    window_->togglePower();
    run().advanceBy(0.6);
    QApplication::processEvents();
    trace()->setFocus();
    QMenu* all = menu(at(0.1, 0));
    auto* more = all->findChild<QMenu*>(QStringLiteral("moreLines"));
    for (QAction* action : more->actions())
      if (action->text() == "steps of “Round and round”") action->trigger();
    all->close();
    settle();
    const Signal lane = trace()->lines().back();
    QCOMPARE(lane.what, Signal::What::step);
    const auto stepAt = [&](double seconds) {
      const auto recorded = run().trace();
      return recorded->valueAt(recorded->find(lane.what, lane.owner, lane.name),
                               static_cast<Nanoseconds>(seconds * 1e9));
    };
    QCOMPARE(stepAt(0.05), 3.0F);  // the first wait
    QCOMPARE(stepAt(0.12), 6.0F);  // the second: n was 7
    QVERIFY(!trace()->grab().isNull());
    const QPointF there(trace()->xOf(50'000'000), trace()->laneBox(1).center().y());
    QTest::mouseMove(trace(), there.toPoint());
    QVERIFY(trace()->happenedNear(-1).isEmpty());

    QTest::keyClick(trace(), Qt::Key_F, Qt::ControlModifier);
    auto* bar = window_->findChild<FindBar*>("findBar");
    auto* box = window_->findChild<QLineEdit*>("findBox");
    box->setText("n > 9");
    QTest::keyClick(box, Qt::Key_Return);
    for (int i = 0; i < 4; ++i) {
      app::workers().waitForDone();
      settle();
    }
    QVERIFY2(bar->answer().startsWith("At 0.3"), qPrintable(bar->answer()));
    QVERIFY(run().isLookingBack());
    QVERIFY(std::abs(inSeconds(run().shownAt()) - 0.3) < 1e-4);
  }
  // A line is made taller by its lower edge, by keys and from its menu.
  void linesAreMadeTaller() {
    open(0.6);
    const auto tall = [&](int lane) { return trace()->laneBox(lane).height(); };
    const double before = tall(0);
    QCOMPARE(tall(1), before);
    const QPointF edge(100, trace()->laneBox(0).bottom());
    QTest::mouseMove(trace(), edge.toPoint());
    QCOMPARE(trace()->cursor().shape(), Qt::SizeVerCursor);
    QTest::mousePress(trace(), Qt::LeftButton, {}, edge.toPoint());
    moveMouse(trace(), (edge + QPointF(0, 8)).toPoint());
    moveMouse(trace(), (edge + QPointF(0, before)).toPoint());
    QTest::mouseRelease(trace(), Qt::LeftButton, {}, (edge + QPointF(0, before)).toPoint());
    QVERIFY2(tall(0) > 1.5 * tall(1), qPrintable(QString::number(tall(0))));
    QVERIFY(trace()->laneBox(1).top() >= trace()->laneBox(0).bottom() - 0.01);
    // Nobody took a pin into the hand by that.
    QVERIFY(!window_->hand()->isVisible());
    QTest::keyClick(trace(), Qt::Key_Down);
    QTest::keyClick(trace(), Qt::Key_Down);
    const double lower = tall(1);
    QTest::keyClick(trace(), Qt::Key_Plus, Qt::AltModifier);
    QVERIFY(tall(1) > lower);
    QTest::keyClick(trace(), Qt::Key_Minus, Qt::AltModifier);
    QVERIFY(std::abs(tall(1) - lower) < 0.01);
    choose(at(0.3, 1), "Taller\tAlt++");
    QVERIFY(tall(1) > lower);
  }
  // A screen reader goes through lines, edges and marks.
  void screenReadersFindLinesEdgesAndMarks() {
    open(0.4);
    QAccessibleInterface* all = QAccessible::queryAccessibleInterface(trace());
    QVERIFY(all);
    const auto names = [](QAccessibleInterface* of) {
      QStringList out;
      for (int i = 0; i < of->childCount(); ++i) out << of->child(i)->text(QAccessible::Name);
      return out;
    };
    QCOMPARE(names(all), (QStringList{"D4 · led1: low at 0.400 s", "D9: high at 0.400 s"}));
    QAccessibleInterface* line = all->child(0);
    QCOMPARE(names(line), (QStringList{"high from 0.000000 s on", "low from 0.250000 s on"}));
    QVERIFY(line->child(1)->parent() == line && line->parent() == all);
    QVERIFY(all->indexOfChild(line) == 0 && line->indexOfChild(line->child(1)) == 1);
    const QRect edge = line->child(1)->rect();
    QVERIFY(line->rect().contains(edge.center()));
    QVERIFY(line->childAt(edge.center().x(), edge.center().y()) == line->child(1));
    QTest::mouseClick(trace(), Qt::LeftButton, Qt::ShiftModifier, at(0.1, 0));
    QVERIFY2(names(all).size() == 3 && names(all).back().startsWith("Mark A at 0.1"),
             qPrintable(names(all).join('|')));
    // What is no more is no longer valid.
    QAccessibleInterface* mark = all->child(2);
    QTest::keyClick(trace(), Qt::Key_M, Qt::ShiftModifier);
    QVERIFY(!mark->isValid() && mark->text(QAccessible::Name).isEmpty());
  }
  // Another order, by keys and by dragging a name; hidden, and shown again.
  void linesAreArranged() {
    open(0.3);
    const std::vector<Signal> before = trace()->lines();
    QTest::keyClick(trace(), Qt::Key_Down);
    QTest::keyClick(trace(), Qt::Key_Down, Qt::AltModifier);
    QCOMPARE(trace()->lines(), (std::vector<Signal>{before[1], before[0]}));
    QTest::keyClick(trace(), Qt::Key_Up, Qt::AltModifier);
    QCOMPARE(trace()->lines(), before);
    dragMouse(trace(), trace()->chipBox(0).center().toPoint(),
              trace()->chipBox(1).center().toPoint());
    QCOMPARE(trace()->lines(), (std::vector<Signal>{before[1], before[0]}));
    QVERIFY(!window_->hand()->isVisible());
    choose(at(0.1, 0), "Hide this line");
    QCOMPARE(trace()->lines(), (std::vector<Signal>{before[0]}));
    choose(at(0.1, 0), "Show all pins again");
    QCOMPARE(trace()->lines().size(), std::size_t(2));
  }
};

QTEST_MAIN(TestTraceView)
#include "tst_trace_view.moc"
