#include <QAccessible>
#include <QHelpEvent>
#include <QLabel>
#include <QMenu>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QSettings>
#include <QToolTip>
#include <QtTest>

#include "run/turn_bar.h"
#include "support/build.h"
#include "support/window.h"
#include "theme/motion.h"

using namespace ignavo;
using namespace ignavo::app;
using namespace ignavo::test;

namespace {

// A sound card that keeps what it is given.
struct KeptSound : SoundDevice {
  std::vector<float>& heard;
  bool there;
  int starts = 0;
  KeptSound(std::vector<float>& kept, bool isThere) : heard(kept), there(isThere) {}
  bool start(int) override {
    ++starts;
    return there;
  }
  void stop() override {}
  std::size_t room() override { return 4096; }
  void write(std::span<const float> samples) override {
    heard.insert(heard.end(), samples.begin(), samples.end());
  }
};
// But for how edges are rounded.
bool looksLike(const QImage& a, const QImage& b) {
  constexpr int little = 3;
  const auto near = [](int x, int y) { return std::abs(x - y) <= little; };
  for (int y = 0; y < a.height(); ++y)
    for (int x = 0; x < a.width(); ++x) {
      const QRgb p = a.pixel(x, y), q = b.pixel(x, y);
      if (!near(qRed(p), qRed(q)) || !near(qGreen(p), qGreen(q)) || !near(qBlue(p), qBlue(q)))
        return false;
    }
  return a.size() == b.size();
}
Bench bell() {
  return Bench()
      .part("piezo", "bell", {"c1", "c4"})
      .wire("D5", "a1")
      .wire("GND", "a4")
      .program("tone of 440 Hz on d5\nwait 9\n");
}

}  // namespace

// What the bench tells of itself while it runs: lamps that are too fast to be seen, or shown calm;
// notes as papers, the log; presses that nobody saw, and where a run parts from the one before.
class TestAlive : public QObject {
  Q_OBJECT
  Answers answers_;
  std::unique_ptr<MainWindow> window_;
  QTemporaryDir folder_;

  RunControl& run() { return window_->runControl(); }
  Document& doc() { return window_->document(); }
  BenchView* bench() { return window_->findChild<BenchView*>(QStringLiteral("bench")); }
  TraceView* trace() { return window_->trace(); }
  QPushButton* tag() { return window_->findChild<QPushButton*>(QStringLiteral("partTag-led1")); }
  QAction* action(const char* name) { return window_->findChild<QAction*>(QLatin1String(name)); }
  void open(const Bench& circuit, double seconds) {
    window_ = openWindow(answers_);
    doc().reset(circuit.get(), {});
    window_->setStation(Station::run);
    window_->togglePower();
    go(seconds);
  }
  void go(double seconds) {
    run().advanceBy(seconds);
    QApplication::processEvents();
  }
  QMenu* traceMenu() {
    const QPoint middle = trace()->rect().center();
    QContextMenuEvent ask(QContextMenuEvent::Mouse, middle, trace()->mapToGlobal(middle));
    QApplication::sendEvent(trace(), &ask);
    return trace()->findChild<QMenu*>(QStringLiteral("traceMenu"));
  }

  // The beacon with a button on D2 whose contacts do not bounce.
  static Bench withButton() {
    return beacon()
        .button("btn1", 20)
        .prop("btn1", "contacts", "ideal")
        .resistor("r2", 10000, "c22", "ln20")
        .wire("5V", "a20")
        .wire("D2", "a22");
  }

 private Q_SLOTS:
  // A sensor is covered from its menu or by a drag; looked back at, it stands as it stood.
  void aSensorIsCoveredAndStoodOtherwiseBefore() {
    window_ = openWindow(answers_);
    window_->openDemo("dusk-lamp");
    window_->togglePower();
    run().advanceBy(1);
    settle();
    const std::string id = partNamed(doc().project(), "Dusk sensor");
    const auto light = [&] { return doc().project().part(id)->number("light", -1); };
    const double before = light();
    const QPoint middle = bench()->screenOfPart(id).center().toPoint();
    const auto picture = [&] {
      QTest::mouseMove(bench(), QPoint(3, 3));
      settle();
      return bench()->grab(QRect(middle - QPoint(12, 12), QSize(24, 24))).toImage();
    };
    const QImage lit = picture();
    QTest::mouseMove(bench(), middle);
    QVERIFY2(bench()->hint().contains("cover it"), qPrintable(bench()->hint()));
    // As far down as it goes.
    QTest::mousePress(bench(), Qt::LeftButton, {}, middle);
    for (int y = 20; y <= 260; y += 20) QTest::mouseMove(bench(), middle + QPoint(0, y));
    QTest::mouseRelease(bench(), Qt::LeftButton, {}, middle + QPoint(0, 260));
    QCOMPARE(light(), 0.0);
    run().advanceBy(1);
    doc().select({});
    const QImage covered = picture();
    QVERIFY(covered != lit);
    run().lookAt(second / 2);
    QVERIFY(picture() == lit);
    QTest::mouseMove(bench(), middle);
    settle();
    QVERIFY2(bench()->tipLines().join(' ').contains(QString::number(before)),
             qPrintable(bench()->tipLines().join(' ')));
    run().lookAtNow();
    QVERIFY(picture() == covered);
    // By its menu, with the keyboard as well.
    doc().select({QString::fromStdString(id)});
    QTimer::singleShot(0, this, [&] {
      auto* menu = bench()->findChild<QMenu*>(QStringLiteral("benchMenu"));
      for (QAction* entry : menu->actions())
        if (entry->text() == "Full light on it") entry->trigger();
      menu->close();
    });
    QContextMenuEvent ask(QContextMenuEvent::Keyboard, middle, bench()->mapToGlobal(middle));
    QApplication::sendEvent(bench(), &ask);
    QCOMPARE(light(), 100.0);
  }
  void initTestCase() { lookAsInDaylight(); }
  // A lamp is taken out, moved, put in, and one looks back to before: all is drawn as it stood
  // then, with its light and the currents that flowed; what stands there only now is faded and
  // dark.
  void aMomentBeforeAnEdit() {
    open(beacon()
             .resistor("r2", 220, "c14", "h14")
             .led("led2", "i14", "i16")
             .wire("D5", "a14")
             .wire("j16", "rn15")
             .program("set d4 high\nset d5 high\nwait 9"),
         0.5);
    doc().select({});
    const auto at = [&](const char* id) { return bench()->screenOfPart(id).toRect(); };
    const QRect first = at("led1"), second = at("led2");
    const auto pictureOf = [&](const QRect& place) { return bench()->grab(place).toImage(); };
    const auto back = [&](const QRect& place) {
      run().lookAt(300'000'000);
      QApplication::processEvents();
      return pictureOf(place);
    };
    const auto flows = [&](const std::string& wire) {
      const std::vector<double>& amps = bench()->shownWireAmps();
      const auto& wires = *doc().project().wires;
      for (std::size_t i = 0; i < wires.size() && i < amps.size(); ++i)
        if (wires[i]->id == wire) return std::abs(amps[i]);
      return -1.0;
    };
    const std::string toLamp = (*doc().project().wires)[2]->id;  // of D4
    const QImage firstLit = back(first), secondLit = back(second), all = back(bench()->rect());
    const double amps = flows(toLamp);
    QVERIFY(amps > 0.005);
    run().lookAtNow();
    doc().select({QStringLiteral("led1")});
    bench()->setFocus();
    QTest::keyClick(bench(), Qt::Key_Delete);
    QVERIFY(!doc().project().part("led1"));
    go(0.5);
    QVERIFY(bench()->isPowered());
    QVERIFY(pictureOf(first) != firstLit);
    QVERIFY(back(second) == secondLit);
    QVERIFY(pictureOf(first) == firstLit);
    QCOMPARE(window_->turnBar()->words(),
             QString("This is 0.300 s, before the bench was changed."));
    QCOMPARE(bench()->shownReading()->parts.size(), doc().project().parts->size());
    QCOMPARE(flows(toLamp), amps);
    // Back again, that lamp is as it was, too.
    run().lookAtNow();
    QCOMPARE(flows(toLamp), 0.0);
    doc().undo();
    go(0.5);
    QVERIFY(back(bench()->rect()) == all);
    // Moved to other holes, it is lit where it was.
    run().lookAtNow();
    doc().edit("move", edits::changePart(doc().project(), "led2", [](Part& led) {
                 led.legs[0].in->point = "g24";
                 led.legs[1].in->point = "g26";
               }));
    go(0.5);
    const QRect later = at("led2");
    QVERIFY(!later.intersects(second));
    const QImage dark = pictureOf(later);
    QVERIFY(!looksLike(pictureOf(second), secondLit));
    QVERIFY(looksLike(back(second), secondLit));
    QVERIFY(!looksLike(pictureOf(later), dark));
    run().lookAtNow();
    doc().undo();
    // Nets that are one only now had voltages of their own.
    run().lookAtNow();
    Wire bridging;
    bridging.id = "bridges";
    bridging.from = {"bb", "e9"};
    bridging.to = {"bb", "e14"};
    doc().edit("bridge", edits::addWire(doc().project(), bridging));
    go(0.5);
    run().lookAt(300'000'000);
    QApplication::processEvents();
    QTest::mouseMove(bench(), bench()->screenOf(Socket{"bb", "d9"}).toPoint());
    settle();
    QVERIFY2(bench()->tipLines().join(' ').contains(" V"),
             qPrintable(bench()->tipLines().join(' ')));
    QVERIFY(!bench()->tipLines().join(' ').contains("no voltage"));
    run().lookAtNow();
    doc().undo();
    // What was put in later is faded, a wire too, and carries nothing.
    Wire joining;
    joining.id = "joins";
    joining.from = {"bb", "a27"};
    joining.to = {"bb", "e29"};
    doc().edit("join", edits::addWire(doc().project(), joining));
    const std::string joins = joining.id;
    go(0.5);
    const QPoint middle = bench()->middleOfWire(joins)->toPoint();
    const QRect around(middle - QPoint(3, 3), QSize(7, 7));
    const QImage solid = pictureOf(around);
    QVERIFY(back(around) != solid);
    QCOMPARE(flows(joins), 0.0);
    run().lookAtNow();
    QApplication::processEvents();
    QVERIFY(pictureOf(around) == solid);
  }

  // It says so, and a click slows the run; another stops it, with single changes in sight.
  void tooFastToBeSeenIsSaid() {
    open(beacon().program("set d4 high\nset d4 low\n"), 1);
    QVERIFY(tag() && tag()->isVisible());
    QCOMPARE(tag()->text(), QStringLiteral("changes every 190 ns, looks half lit · slow 1/1000"));
    QVERIFY(tag()->accessibleName().contains(QStringLiteral("changes every 190 ns")));
    QVERIFY(bench()->rect().contains(tag()->geometry()));
    QTest::mouseClick(tag(), Qt::LeftButton);
    QCOMPARE(run().speed(), 0.001);
    go(0.001);
    QCOMPARE(tag()->text(), QStringLiteral("changes every 190 ns, looks half lit · look closer"));
    window_->setStation(Station::wire);
    QTest::mouseClick(tag(), Qt::LeftButton);
    QVERIFY(run().isPaused());
    QCOMPARE(window_->station(), Station::run);  // where the lines are
    const QRectF box = window_->trace()->laneBox(0);
    const Nanoseconds from = window_->trace()->timeAt(box.left()),
                      to = window_->trace()->timeAt(box.right());
    QVERIFY(from < run().shownAt() && run().shownAt() < to);
    const std::int64_t changes = run().trace()->countEdges(
        run().trace()->find(Signal::What::pinLevel, "b1", "D4"), from, to);
    QVERIFY2(changes >= 6 && changes <= 20, qPrintable(QString::number(changes)));
    QCOMPARE(tag()->text(), QStringLiteral("changes every 190 ns, looks half lit"));
    auto* speed = window_->findChild<QToolButton*>(QStringLiteral("speed"));
    QVERIFY(QFontMetrics(speed->font()).horizontalAdvance(speed->text()) <= speed->width() - 4);
    // While an earlier moment is looked at, its changes.
    run().setPaused(false);
    run().lookAt(second / 2);
    QTest::mouseClick(tag(), Qt::LeftButton);
    QVERIFY(std::abs(window_->trace()->timeAt(box.center().x()) - second / 2) < 1000);
    run().lookAtNow();
    // Nothing is said where the building is looked at, nor while the power is off.
    window_->setStation(Station::build);
    QVERIFY(!tag()->isVisible());
    window_->setStation(Station::run);
    QVERIFY(tag()->isVisible());
    window_->togglePower();
    QVERIFY(!tag()->isVisible());
  }
  // A dimmed lamp does what it should, and one that blinks can be seen.
  void whatCanBeSeenSaysNothing_data() {
    QTest::addColumn<QString>("steps");
    QTest::newRow("steady") << "set d4 high\nwait 1\n";
    QTest::newRow("blinks") << "set d4 high\nwait 0.2\nset d4 low\nwait 0.2\n";
    QTest::newRow("dark") << "set d4 low\nwait 1\n";
  }
  void whatCanBeSeenSaysNothing() {
    QFETCH(QString, steps);
    open(beacon().program(steps.toStdString()), 2);
    QVERIFY(!tag() || !tag()->isVisible());
  }
  void flashingLampsAreShownCalmOnWish() {
    const Bench flashing = beacon().program("set d4 high\nwait 0.05\nset d4 low\nwait 0.05\n");
    open(flashing, 2.03);
    action("dashes")->trigger();  // they travel over it
    QVERIFY(!tag() || !tag()->isVisible());
    const QRect lamp = bench()->screenOfPart("led1").toAlignedRect();
    const auto looks = [&] {
      QApplication::processEvents();
      return bench()->grab(lamp).toImage();
    };
    // 2.03 s: it is on, and was for 20 ms; 2.08: it is off.
    const QImage on = looks();
    go(0.05);
    QVERIFY(looks() != on);
    action("calmLamps")->trigger();
    QVERIFY(bench()->hasCalmLamps() && tag() && tag()->isVisible());
    QCOMPARE(tag()->text(), QStringLiteral("10 × / s"));
    const QImage calm = looks();
    go(0.05);
    QCOMPARE(looks(), calm);
    action("calmLamps")->trigger();
    QVERIFY(!tag()->isVisible());
  }
  void dashesOfCurrentCanBeOff() {
    open(beacon().program("set d4 high\nwait 1\n"), 0.5);
    const auto looks = [&] {
      QApplication::processEvents();
      return bench()->grab().toImage();
    };
    const QImage with = looks();
    go(0.05);
    QVERIFY(looks() != with);  // they travel
    action("dashes")->trigger();
    const QImage without = looks();
    QVERIFY(without != with);
    go(0.05);
    QCOMPARE(looks(), without);
  }
  // Kept from one start to the next, once somebody chose.
  void whatMovesIsKept() {
    const QString file = folder_.filePath("settings.ini");
    window_ = openWindow(answers_);
    window_->useSettings(std::make_unique<QSettings>(file, QSettings::IniFormat));
    action("dashes")->trigger();
    action("calmLamps")->trigger();
    window_->close();
    window_ = openWindow(answers_);
    QVERIFY(bench()->isFlowShown() && !bench()->hasCalmLamps());
    window_->useSettings(std::make_unique<QSettings>(file, QSettings::IniFormat));
    QVERIFY(!bench()->isFlowShown() && bench()->hasCalmLamps());
    QVERIFY(!action("dashes")->isChecked() && action("calmLamps")->isChecked());
  }
  // For a projector everything is half as large again, from the next start on.
  void aProjectorSizeIsOffered() {
    const QString file = folder_.filePath("projector.ini");
    const auto settings = [&] { return std::make_unique<QSettings>(file, QSettings::IniFormat); };
    window_ = openWindow(answers_);
    window_->useSettings(settings());
    const auto notice = [&] { return window_->findChild<QLabel*>("notice")->text(); };
    QTest::keyClick(window_.get(), Qt::Key_F11);
    QVERIFY(window_->isFullScreen() && notice().contains("Projector size"));
    QTest::keyClick(window_.get(), Qt::Key_F11);
    QVERIFY(!window_->isFullScreen());
    QVERIFY(MainWindow::scaleFactor(*settings()).isEmpty());
    action("projector")->trigger();
    QVERIFY2(notice().contains("half as large again"), qPrintable(notice()));
    QCOMPARE(MainWindow::scaleFactor(*settings()), QByteArray("1.5"));
    window_ = openWindow(answers_);
    window_->useSettings(settings());
    QVERIFY(action("projector")->isChecked());
    action("projector")->trigger();
    QVERIFY(MainWindow::scaleFactor(*settings()).isEmpty());
  }
  void theDesktopMayAskForLittleMotion_data() {
    QTest::addColumn<QString>("file");
    QTest::addColumn<QString>("text");
    QTest::addColumn<bool>("little");
    QTest::newRow("nothing said") << "kdeglobals"
                                  << "" << false;
    QTest::newRow("none") << "kdeglobals"
                          << "[KDE]\nAnimationDurationFactor=0\n"
                          << true;
    QTest::newRow("half") << "kdeglobals"
                          << "[KDE]\nAnimationDurationFactor=0.5\n"
                          << false;
    QTest::newRow("no number") << "kdeglobals"
                               << "[KDE]\nAnimationDurationFactor=fast\n"
                               << false;
    QTest::newRow("gtk 3") << "gtk-3.0/settings.ini"
                           << "[Settings]\ngtk-enable-animations=0\n"
                           << true;
    QTest::newRow("gtk 4") << "gtk-4.0/settings.ini"
                           << "[Settings]\ngtk-enable-animations=false\n"
                           << true;
    QTest::newRow("gtk moves") << "gtk-3.0/settings.ini"
                               << "[Settings]\ngtk-enable-animations=true\n"
                               << false;
  }
  void theDesktopMayAskForLittleMotion() {
    QFETCH(QString, file);
    QFETCH(QString, text);
    QFETCH(bool, little);
    QTemporaryDir home;
    const QByteArray before = qgetenv("XDG_CONFIG_HOME");
    qputenv("XDG_CONFIG_HOME", home.path().toUtf8());
    QDir(home.path()).mkpath(QFileInfo(file).path());
    QFile out(home.filePath(file));
    QVERIFY(out.open(QIODevice::WriteOnly));
    out.write(text.toUtf8());
    out.close();
    QCOMPARE(desktopWantsLittleMotion(), little);
    window_ = openWindow(answers_);
    QCOMPARE(bench()->hasCalmLamps(), little);
    QCOMPARE(bench()->isFlowShown(), !little);
    qputenv("XDG_CONFIG_HOME", before);
  }

  // Muted at first: what sounds says so, and a click makes it heard.
  void whatSoundsCanBeHeard() {
    std::vector<float> heard;
    open(bell(), 0.1);
    auto* tag = [&] { return window_->findChild<QPushButton*>(QStringLiteral("partTag-bell")); }();
    QVERIFY(!tag && !action("soundOn")->isEnabled());  // there is no sound card: nothing is offered
    window_->sound().use(std::make_unique<KeptSound>(heard, true));
    go(0.1);
    tag = window_->findChild<QPushButton*>(QStringLiteral("partTag-bell"));
    QVERIFY(tag && tag->isVisible());
    QCOMPARE(tag->text(), QStringLiteral("sounds at 440 Hz · hear it"));
    QVERIFY(heard.empty() && window_->sound().isMuted());
    QTest::mouseClick(tag, Qt::LeftButton);
    QVERIFY(!window_->sound().isMuted() && action("soundOn")->isChecked());
    for (int frame = 0; frame < 50; ++frame) go(0.02);
    QVERIFY2(std::abs(static_cast<int>(heard.size()) - 44'100) < 3000,
             qPrintable(QString::number(heard.size())));
    int rises = 0;
    for (std::size_t i = 1; i < heard.size(); ++i) rises += heard[i - 1] < 0 && heard[i] >= 0;
    QVERIFY2(std::abs(rises - 440) < 30, qPrintable(QString::number(rises)));
    QCOMPARE(tag->text(), QStringLiteral("sounds at 440 Hz · mute"));
    // Paused, looked back at or slow it is silent; and muted again, by the keys.
    const auto silent = [&] {
      heard.clear();
      go(0.05);
      return heard.empty();
    };
    run().setPaused(true);
    QVERIFY(silent());
    run().setPaused(false);
    run().setSpeed(0.001);
    QVERIFY(silent());
    run().setSpeed(1);
    QVERIFY(!silent());
    QTest::keyClick(window_.get(), Qt::Key_M, Qt::ControlModifier);
    QVERIFY(window_->sound().isMuted() && silent());
  }
  void howLoudItIsIsKept() {
    const QString file = folder_.filePath("loud.ini");
    std::vector<float> heard;
    window_ = openWindow(answers_);
    window_->sound().use(std::make_unique<KeptSound>(heard, true));
    window_->useSettings(std::make_unique<QSettings>(file, QSettings::IniFormat));
    for (QAction* a : window_->findChild<QMenu*>(QStringLiteral("loudness"))->actions())
      if (a->text() == QLatin1String("25 %")) a->trigger();
    QCOMPARE(window_->sound().volume(), 0.25);
    window_->close();
    window_ = openWindow(answers_);
    window_->useSettings(std::make_unique<QSettings>(file, QSettings::IniFormat));
    QCOMPARE(window_->sound().volume(), 0.25);
    QVERIFY(window_->sound().isMuted());
  }
  // The card is looked for once there is something that sounds.
  void theCardComesWithTheFirstThingThatSounds() {
    window_ = openWindow(answers_);
    std::vector<float> heard;
    int asked = 0;
    window_->sound().useWhenNeeded([&] {
      ++asked;
      return std::make_unique<KeptSound>(heard, true);
    });
    doc().reset(beacon().get(), {});
    QVERIFY(asked == 0 && !window_->sound().hasDevice());
    doc().reset(bell().get(), {});
    QVERIFY(asked == 1 && window_->sound().hasDevice() && window_->sound().isMuted());
    doc().reset(beacon().get(), {});
    doc().reset(bell().get(), {});
    QCOMPARE(asked, 1);
  }
  // Where there is no sound card the waves are drawn, and nothing is said of it.
  void withoutASoundCardNothingIsMissing() {
    std::vector<float> heard;
    open(bell(), 0.1);
    window_->sound().use(std::make_unique<KeptSound>(heard, false));
    go(0.3);
    QVERIFY(!window_->findChild<QPushButton*>(QStringLiteral("partTag-bell")));
    QVERIFY(!action("soundOn")->isEnabled() && heard.empty());
    QVERIFY(run().shown()->motion[0].hertz > 400);
    window_->sound().setMuted(false);
    QVERIFY(window_->sound().isMuted());
  }

  // As long as it stays, and as it was where one looks back.
  void aNoteIsAPaperOnTheBench() {
    open(beacon().lane("power", "wait 0.2\npost \"at the landing\" for 1\nwait 2\npost \"away\""),
         0.1);
    auto* note = window_->findChild<QLabel*>(QStringLiteral("runNote"));
    QVERIFY(note && !note->isVisible());
    go(0.4);
    QVERIFY(note->isVisible());
    QCOMPARE(note->text(), QStringLiteral("at the landing"));
    QVERIFY(note->parentWidget()->parentWidget() == bench());
    go(1);
    QVERIFY(!note->isVisible());
    go(2);
    QVERIFY(note->isVisible());
    QCOMPARE(note->text(), QStringLiteral("away"));
    run().lookAt(500'000'000);
    QApplication::processEvents();
    QCOMPARE(note->text(), QStringLiteral("at the landing"));
    run().lookAtNow();
    window_->togglePower();
    QVERIFY(!note->isVisible());
  }
  void theLogIsKeptAsAText() {
    open(beacon().lane("power", "log \"begins\", 1 + 1\nwait 0.25\nlog \"ferry ü\""), 1);
    auto* keep = window_->findChild<QPushButton*>(QStringLiteral("keepLog"));
    QVERIFY(keep && keep->isVisible());
    answers_.keep = folder_.filePath("log.txt");
    QTest::mouseClick(keep, Qt::LeftButton);
    QFile file(answers_.keep);
    QVERIFY(file.open(QIODevice::ReadOnly));
    const QStringList lines = QString::fromUtf8(file.readAll()).split('\n', Qt::SkipEmptyParts);
    QCOMPARE(lines.size(), 2);
    QVERIFY2(lines[0].endsWith(" s  begins 2") && lines[1].endsWith(" s  ferry ü"),
             qPrintable(lines.join('|')));
    QVERIFY(lines[1].trimmed().startsWith("0.25"));
    // Where it cannot be written that is said; where nothing was chosen, nothing.
    answers_.keep = folder_.filePath("none/log.txt");
    QTest::mouseClick(keep, Qt::LeftButton);
    QVERIFY(window_->findChild<QLabel*>("notice")->text().contains("not kept in log.txt"));
    answers_.keep.clear();
    QTest::mouseClick(keep, Qt::LeftButton);
  }

  // How often a step ran is told where the pointer is, and to screen readers.
  void howOftenAStepRanIsTold() {
    open(beacon().program("set d4 high\nwait 0.1\nset d4 low\nwait 0.1\nset d4 low\nwait 9\n"),
         0.5);
    auto* view = window_->program()->view();
    const auto spoken = [&](int row) {
      QAccessibleInterface* all = QAccessible::queryAccessibleInterface(view);
      return all->child(row)->text(QAccessible::Description);
    };
    QCOMPARE(spoken(1), QStringLiteral("It ran once so far."));
    QCOMPARE(view->ranText("none"), QStringLiteral("It has not run so far."));
    const std::string first = doc().project().programs[0]->lanes[0]->steps[0].id;
    QCOMPARE(view->ranText(first), QStringLiteral("It ran once so far."));
    doc().edit("faster",
               edits::setExpr(doc().project(), doc().project().programs[0]->lanes[0]->steps[5].id,
                              "seconds", Expr::of(0.1)));
    go(9.5);
    go(3);
    QVERIFY2(view->ranText(first).endsWith(" times so far."), qPrintable(view->ranText(first)));
    window_->togglePower();
    QVERIFY(view->ranText(first).isEmpty());
  }

  // The keys of the bench, while the trace has the focus.
  void theTraceHasTheKeysOfTheRun() {
    open(withButton().lane("Round and round", "set d4 high\nwait 1\nset d4 low\nwait 1\n"), 0.5);
    window_->togglePower();
    trace()->setFocus();
    QTest::keyClick(trace(), Qt::Key_P);
    QVERIFY(run().isOn());
    go(0.5);
    QTest::keyClick(trace(), Qt::Key_Period);
    QVERIFY(run().isPaused());
    QVERIFY(std::abs(run().shownAt() - 1'000'000'000) < 10'000);  // the wait is over
    QTest::keyClick(trace(), Qt::Key_T);
    const auto& events = run().events();
    QVERIFY(std::any_of(events.begin(), events.end(),
                        [](const Event& e) { return e.what == Event::What::reset; }));
    QTest::keyClick(trace(), Qt::Key_P);
    QVERIFY(!run().isOn());
  }

  // A press that comes while its lane is still at its steps.
  void pressesThatNobodySawAreMarked() {
    const auto button = [](bool down) { return std::pair{QStringLiteral("btn1"), down}; };
    open(withButton().lane("Each time D2 goes high", "flip d4\nwait 1\n"), 0.1);
    for (int n = 0; n < 2; ++n) {
      run().press(button(true).first, true);
      go(0.1);
      run().press(button(false).first, false);
      go(0.1);
    }
    std::vector<Event> missed;
    for (const Event& e : run().events())
      if (e.what == Event::What::missed) missed.push_back(e);
    QVERIFY(!missed.empty());
    const ProgramRow& sign = window_->program()->view()->picture().rows.front();
    QCOMPARE(window_->program()->view()->stateOf(sign), QStringLiteral("1 press not seen"));
    QCOMPARE(missed.front().id, doc().project().programs[0]->lanes[0]->id);
    QVERIFY(missed.front().at >= 300'000'000);
    const QString words = trace()->happenedNear(trace()->xOf(missed.front().at));
    QVERIFY2(
        words.contains(QStringLiteral("not seen")) || words.contains(QStringLiteral("pressed")),
        qPrintable(words));
    const QString exactly = trace()->happenedNear(trace()->xOf(missed.back().at));
    QVERIFY2(!exactly.isEmpty(), "nothing is told there");
    QVERIFY(trace()->happenedNear(trace()->xOf(50'000'000)).isEmpty());
  }

  // A press that was over before its lane looked at the button, and one that was not.
  void aPressThatNothingLookedAtIsMarked() {
    open(withButton().lane("Round and round", "if d2 is high\n  flip d4\nwait 1\n"), 0.2);
    for (const double held : {0.3, 1.2}) {
      run().press("btn1", true);
      go(held);
      run().press("btn1", false);
      go(0.1);
    }
    std::vector<Event> overlooked;
    for (const Event& e : run().events())
      if (e.what == Event::What::overlooked) overlooked.push_back(e);
    QCOMPARE(overlooked.size(), std::size_t{1});
    QCOMPARE(overlooked.front().id, std::string("btn1"));
    QVERIFY(std::abs(overlooked.front().figure - 0.3) < 0.01);
    QCOMPARE(
        window_->program()->view()->stateOf(window_->program()->view()->picture().rows.front()),
        QStringLiteral("1 press not seen"));
    const QString words = trace()->happenedNear(trace()->xOf(overlooked.front().at));
    QVERIFY2(words.contains(QStringLiteral("not seen")), qPrintable(words));
  }

  // What gives no number is marked where it was done.
  void faultsOfTheProgramAreMarked() {
    open(beacon()
             .name("variable n is 0")
             .name("variable x is 0.5")
             .program("wait 0.4\nlet x be 5 ÷ n\nflip d4\n"),
         1);
    QVERIFY(!run().shown()->faults.empty());
    const Nanoseconds at = run().shown()->faults.front().at;
    const QString words = trace()->happenedNear(trace()->xOf(at));
    QVERIFY2(words.contains(QStringLiteral("at “let x be 5 ÷ n”")) && words.contains("zero"),
             qPrintable(words));
    bool spoken = false;
    for (const TraceView::Spoken& told : trace()->spoken()) spoken = spoken || told.words == words;
    QVERIFY(spoken);
    QVERIFY(!trace()->grab().isNull());
  }

  // A number is turned in the past: the menu tells where the run is another one now, and shows it.
  void whereTheRunPartsIsTold() {
    open(beacon().program(blink), 2.2);
    run().setPaused(true);
    const std::string wait = doc().project().programs[0]->lanes[0]->steps[1].id;
    doc().edit("wait", edits::setExpr(doc().project(), wait, "seconds", Expr::of(0.25)));
    QApplication::processEvents();
    QMenu* menu = traceMenu();
    QVERIFY(menu);
    auto* all = menu->findChild<QMenu*>(QStringLiteral("differences"));
    QVERIFY(all && all->actions().size() == 1);
    QCOMPARE(all->actions()[0]->text(), QStringLiteral("D4’s second edge is 250 ms earlier"));
    all->actions()[0]->trigger();
    menu->close();
    QVERIFY(std::abs(run().shownAt() - 250'000'000) < 1000);
    settle();
    // The same from the line above the trace.
    run().lookAtNow();
    auto* differs = window_->findChild<QPushButton*>(QStringLiteral("turnDifferences"));
    QVERIFY(differs && differs->isVisible());
    QStringList listed;
    QTimer::singleShot(0, this, [&] {
      auto* open = qobject_cast<QMenu*>(QApplication::activePopupWidget());
      if (!open) return;
      for (QAction* a : open->actions()) listed << a->text();
      open->setActiveAction(open->actions().value(0));
      QTest::keyClick(open, Qt::Key_Return);
    });
    QTest::mouseClick(differs, Qt::LeftButton);
    QCOMPARE(listed, QStringList{QStringLiteral("D4’s second edge is 250 ms earlier")});
    QVERIFY(std::abs(run().shownAt() - 250'000'000) < 1000);
    // As it was before: nowhere.
    run().lookAtNow();
    doc().edit("wait", edits::setExpr(doc().project(), wait, "seconds", Expr::of(0.5)));
    QApplication::processEvents();
    menu = traceMenu();
    all = menu ? menu->findChild<QMenu*>(QStringLiteral("differences")) : nullptr;
    QVERIFY(!all || (all->actions().size() == 1 && !all->actions()[0]->isEnabled()));
    if (menu) menu->close();
  }
};

QTEST_MAIN(TestAlive)
#include "tst_alive.moc"
