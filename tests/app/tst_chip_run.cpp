#include <QMenu>
#include <QPushButton>
#include <QTemporaryDir>
#include <QtTest>

#include "demos.h"
#include "document/process_runner.h"
#include "document/workers.h"
#include "format/project_file.h"
#include "run/code_bar.h"
#include "support/demo_rows.h"
#include "support/program_by_keys.h"

using namespace ignavo;
using namespace ignavo::test;

namespace {

// Runs the compiler as it is, or as if it were otherwise.
class Runner : public ProgramRunner {
 public:
  std::string folder() override { return real_.folder(); }
  Ran run(const std::vector<std::string>& words,
          const std::function<void(const std::string&)>& line,
          const std::function<bool()>& cancelled) override {
    if (before) before(words, real_.folder());
    return missing ? Ran{} : real_.run(words, line, cancelled);
  }
  bool missing = false;
  std::function<void(const std::vector<std::string>& words, const std::string& folder)> before;

 private:
  app::ProcessRunner real_;
};

}  // namespace

// The chip's own code in place of the steps, in the real window.
class TestChipRun : public QObject, protected ProgramByKeys {
  Q_OBJECT

  app::ChipRun& chip() { return window_->chipRun(); }
  app::CodeBar* bar() { return window_->findChild<app::CodeBar*>(); }
  void openDemo(const QString& name) {
    QVERIFY(window_->openDemo(name));
    window_->setStation(app::Station::run);
    settle();
  }
  // By the menu beside the power switch.
  void choose(const char* action) {
    auto* menu = window_->findChild<QMenu*>("runsMenu");
    menu->popup(window_->mapToGlobal(QPoint(600, 50)));
    for (QAction* a : menu->actions())
      if (a->objectName() == QLatin1String(action))
        QTest::mouseClick(menu, Qt::LeftButton, {}, menu->actionGeometry(a).center());
    settle();
  }
  void power() {
    QTest::mouseClick(window_->topBar()->power, Qt::LeftButton);
    QTRY_VERIFY_WITH_TIMEOUT(!chip().isCompiling(), 30000);
    settle();
  }
  void pass(double seconds) {
    for (double t = 0; t < seconds; t += 0.02) window_->runControl().advanceBy(0.02);
  }
  QString shownStep() {
    const auto now = window_->runControl().shown();
    const Step* step = now->project->step(now->lanes.at(0).step);
    return step ? QString::fromStdString(phraseOf(*step)) : QString();
  }

 private Q_SLOTS:
  void initTestCase() { lookAsInDaylight(); }
  void init() { window_ = openWindow(answers_); }
  void cleanup() {
    window_.reset();
    app::workers().waitForDone();
  }

  // Each demo as its firmware, with presses; what it came to stands in the bar.
  void demosAreRehearsed_data() { rowPerDemo(); }
  void demosAreRehearsed() {
    QFETCH(QString, name);
    openDemo(name);
    choose("runCode");
    QVERIFY(bar()->isVisible());
    power();
    QVERIFY2(window_->runControl().isOn(), qPrintable(chip().problem()));
    QVERIFY(window_->runControl().runsCode());
    QStringList buttons;
    for (const auto& part : *doc().project().parts)
      if (part->type == "button") buttons << QString::fromStdString(part->id);
    for (const double held : {0.2, 0.4, 3.2}) {
      pass(0.4);
      for (const QString& button : buttons) window_->runControl().press(button, true);
      pass(held);
      for (const QString& button : buttons) window_->runControl().press(button, false);
      pass(0.6);
    }
    chip().compareNow();
    const Comparison* c = chip().comparison();
    QVERIFY(c);
    QVERIFY2(c->same(), qPrintable(bar()->verdict()));
    QVERIFY2(c->edges > 0, qPrintable(bar()->verdict()));
    QVERIFY2(
        bar()->verdict().startsWith(QStringLiteral("✓ ")) && bar()->verdict().contains("the same"),
        qPrintable(bar()->verdict()));
    QVERIFY(bar()->words().contains("its own code"));
    QVERIFY(window_->runControl().shown()->faults.empty());
    // Off: what it came to stays to be read.
    power();
    QVERIFY(!window_->runControl().isOn());
    QTRY_VERIFY(!chip().isComparing());
    QVERIFY2(bar()->words().startsWith("Until"), qPrintable(bar()->words()));
    // Again: what was compiled is still good.
    QTest::mouseClick(window_->topBar()->power, Qt::LeftButton);
    QVERIFY(window_->runControl().isOn() && !chip().isCompiling());
  }
  // Cards light up as they do by steps, and the power stays where it is when one chooses otherwise.
  void stepsLightUp() {
    openDemo("landing-beacon");
    power();
    QVERIFY(window_->runControl().isOn() && !window_->runControl().runsCode());
    QVERIFY(!bar()->isVisible());
    choose("runCode");
    QTRY_VERIFY_WITH_TIMEOUT(window_->runControl().runsCode(), 30000);
    window_->runControl().advanceBy(0.25);
    QCOMPARE(shownStep(), QStringLiteral("wait 0.5 s"));
    const auto now = window_->runControl().shown();
    QCOMPARE(now->lanes[0].step, now->project->programs[0]->lanes[0]->steps[1].id);
    window_->runControl().advanceBy(0.5);
    QCOMPARE(window_->runControl().shown()->lanes[0].step,
             now->project->programs[0]->lanes[0]->steps[3].id);
    choose("runSteps");
    QVERIFY(window_->runControl().isOn() && !window_->runControl().runsCode());
    QVERIFY(!bar()->isVisible());
  }
  // While time runs by the clock it is compared by itself, now and then.
  void itIsComparedByItself() {
    openDemo("landing-beacon");
    choose("runCode");
    window_->runControl().setByHand(false);
    power();
    QTRY_VERIFY_WITH_TIMEOUT(chip().comparison() && chip().comparison()->edges > 2, 20000);
    QVERIFY2(bar()->verdict().contains("the same"), qPrintable(bar()->verdict()));
    window_->runControl().setPaused(true);
    QTRY_VERIFY(chip().comparedUntil() > 0 && !chip().isComparing());
    window_->runControl().setByHand(true);
  }
  // The first difference is told, and shown in the trace with the run by steps behind it.
  void aDifferenceIsShown() {
    openDemo("landing-beacon");
    chip().maker().newRunner = [] {
      auto runner = std::make_unique<Runner>();
      runner->before = [](const std::vector<std::string>& words, const std::string& folder) {
        if (words[0] != "avr-gcc") return;
        QFile text(QString::fromStdString(folder) + "/program.c");
        QVERIFY(text.open(QIODevice::ReadOnly));
        QByteArray all = text.readAll();
        text.close();
        all.replace("_delay_ms(500)", "_delay_ms(450)");
        QVERIFY(text.open(QIODevice::WriteOnly | QIODevice::Truncate));
        text.write(all);
      };
      return runner;
    };
    choose("runCode");
    power();
    pass(2);
    chip().compareNow();
    const QString told = bar()->verdict();
    QVERIFY2(told.startsWith(QStringLiteral("✕ They differ at 0.45 s, D4 · Red lamp")) &&
                 told.contains("goes low at 0.45"),
             qPrintable(told));
    window_->setStation(app::Station::wire);
    settle();
    QTest::mouseClick(child<QPushButton>("showDifference"), Qt::LeftButton);
    settle();
    QCOMPARE(window_->station(), app::Station::run);
    QVERIFY(window_->runControl().isLookingBack());
    QCOMPARE(window_->runControl().shownAt() / 1'000'000, Nanoseconds{450});
    QVERIFY(window_->trace()->secondsShown() < 0.1);
    const auto ghost = window_->runControl().ghost();
    QVERIFY(ghost);
    const int lamp = ghost->find(Signal::What::pinLevel, "b1", "D4");
    QVERIFY(ghost->valueAt(lamp, 470'000'000) == 1);
  }
  // Not there: said, with what to do, and nothing is on; by steps it goes.
  void withoutACompiler() {
    openDemo("landing-beacon");
    chip().maker().newRunner = [] {
      auto runner = std::make_unique<Runner>();
      runner->missing = true;
      return runner;
    };
    choose("runCode");
    power();
    QVERIFY(!window_->runControl().isOn());
    QVERIFY2(bar()->verdict().contains("gcc-avr"), qPrintable(bar()->verdict()));
    QTest::mouseClick(child<QPushButton>("runBySteps"), Qt::LeftButton);
    settle();
    QVERIFY(window_->runControl().isOn() && !window_->runControl().runsCode());
  }
  // Compiling can be given up: by the button, and by the power switch.
  void compilingIsGivenUp() {
    openDemo("landing-beacon");
    std::atomic<bool> go = false;
    chip().maker().newRunner = [&go] {
      auto runner = std::make_unique<Runner>();
      runner->before = [&go](const auto&, const auto&) {
        while (!go) std::this_thread::yield();
      };
      return runner;
    };
    choose("runCode");
    QTest::mouseClick(window_->topBar()->power, Qt::LeftButton);
    QVERIFY(chip().isCompiling());
    QVERIFY(child<QProgressBar>("codeProgress"));
    QTest::mouseClick(child<QPushButton>("cancelCode"), Qt::LeftButton);
    QVERIFY(!chip().isCompiling());
    QTest::mouseClick(window_->topBar()->power, Qt::LeftButton);
    QVERIFY(chip().isCompiling());
    QTest::mouseClick(window_->topBar()->power, Qt::LeftButton);
    QVERIFY(!chip().isCompiling());
    go = true;
    app::workers().waitForDone();
    settle();
    QVERIFY(!window_->runControl().isOn());
    power();
    QVERIFY(window_->runControl().runsCode());
  }
  // Up to the very end it is compared, also where power goes off between two comparisons.
  void theLastOfItIsCompared() {
    openDemo("landing-beacon");
    choose("runCode");
    power();
    pass(1.3);
    QVERIFY(!chip().comparison());
    power();
    QTRY_VERIFY_WITH_TIMEOUT(chip().comparison(), 10000);
    QCOMPARE(chip().comparison()->edges, std::int64_t{3});
    QVERIFY2(bar()->words().startsWith("Until 1.3 s"), qPrintable(bar()->words()));
  }
  // What is compiled is for this project, as it stands when it is done.
  void whatIsCompiledIsForThisProject() {
    openDemo("landing-beacon");
    choose("runCode");
    QTest::mouseClick(window_->topBar()->power, Qt::LeftButton);
    QVERIFY(chip().isCompiling());
    doc().edit("another resistor",
               edits::changePart(doc().project(), "r1", [](Part& r) { r.setProp("ohms", 470.0); }));
    QTRY_VERIFY_WITH_TIMEOUT(window_->runControl().isOn(), 30000);
    window_->runControl().advanceBy(0.1);
    QVERIFY(*window_->runControl().shown()->project == doc().project());
    QVERIFY(window_->runControl().runsCode());
    // Another project is opened while one is compiled: nothing comes on, and nothing is left of
    // the one before.
    power();
    QTRY_VERIFY(chip().comparison());
    const std::string wait = doc().project().programs[0]->lanes[0]->steps[1].id;
    doc().edit("wait", edits::setExpr(doc().project(), wait, "seconds", Expr::of(0.3)));
    QTest::mouseClick(window_->topBar()->power, Qt::LeftButton);
    QVERIFY(chip().isCompiling());
    openDemo("ferry-call-bell");
    QVERIFY(!chip().isCompiling());
    app::workers().waitForDone();
    settle();
    QVERIFY(!window_->runControl().isOn());
    QVERIFY(!chip().comparison());
    QVERIFY(bar()->verdict().isEmpty());
  }
  // An edit does not reach the chip: it says so, and compiles again when asked to.
  void whatTheChipRunsCanBeOld() {
    openDemo("landing-beacon");
    choose("runCode");
    power();
    pass(0.2);
    const std::string wait = doc().project().programs[0]->lanes[0]->steps[1].id;
    doc().edit("wait", edits::setExpr(doc().project(), wait, "seconds", Expr::of(0.125)));
    settle();
    QVERIFY2(bar()->words().contains("as it was"), qPrintable(bar()->words()));
    pass(0.2);
    QCOMPARE(shownStep(), QStringLiteral("wait 0.125 s"));  // the card; the chip waits for 0.5 s
    chip().compareNow();
    QVERIFY2(chip().comparison()->same(), qPrintable(bar()->verdict()));
    QTest::mouseClick(child<QPushButton>("compileAgain"), Qt::LeftButton);
    QTRY_VERIFY_WITH_TIMEOUT(window_->runControl().isOn(), 30000);
    pass(0.3);
    QVERIFY(!bar()->words().contains("as it was"));
    const auto trace = window_->runControl().trace();
    const int lamp = trace->find(Signal::What::pinLevel, "b1", "D4");
    QCOMPARE(trace->nextEdge(lamp, 10'000'000) / 1'000'000, Nanoseconds{125});
  }
  // A step is tried by steps, whatever runs otherwise.
  void aStepIsTriedBySteps() {
    openDemo("landing-beacon");
    choose("runCode");
    power();
    pass(0.1);
    doc().selectStep(QString::fromStdString(doc().project().programs[0]->lanes[0]->steps[0].id));
    program()->setFocus();
    key(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(window_->runControl().isOn() && !window_->runControl().runsCode());
    pass(0.1);
    QVERIFY(window_->runControl().shown()->light.at(1) > 0.1);
    // What the chip came to before says nothing about it.
    QVERIFY2(bar()->verdict().isEmpty(), qPrintable(bar()->verdict()));
  }
  // Code from elsewhere; and files that are none.
  void aHexFileIsRun() {
    openDemo("landing-beacon");
    HexFile hex("pilot.hex");
    app::ProcessRunner runner;
    hex.write(buildFirmware(doc().project(), "b1", runner).hex);
    answers_.open = hex.path();
    choose("runFile");
    power();
    QVERIFY(window_->runControl().runsCode());
    QVERIFY2(bar()->words().contains("pilot.hex"), qPrintable(bar()->words()));
    pass(1.1);
    QVERIFY(window_->runControl().shown()->lanes.empty());
    QVERIFY(window_->runControl().shown()->light.at(1) > 0.5);
    QVERIFY(bar()->verdict().isEmpty());
    // Each station with it, and looking back.
    for (int n = 0; n < app::stationCount; ++n) {
      window_->setStation(static_cast<app::Station>(n));
      settle();
    }
    window_->runControl().lookAt(700'000'000);
    settle();
    QVERIFY(window_->runControl().shown()->light.at(1) < 0.1);
    HexFile cut("cut.hex");
    cut.write(":100000000C9434000C943E00\n");
    answers_.open = cut.path();
    choose("runFile");
    auto* notice = child<QLabel>("notice");
    QVERIFY(notice && notice->text().contains("cut.hex") && notice->text().contains("Line 1"));
    QCOMPARE(chip().source(), app::ChipRun::Source::file);  // the one before
    QCOMPARE(chip().fileName(), QStringLiteral("pilot.hex"));
    answers_.open = "/no/such.hex";
    choose("runFile");
    QVERIFY(notice->text().contains("cannot be read"));
    // Nothing chosen: what was checked stays so.
    answers_.open.clear();
    choose("runSteps");
    choose("runFile");
    QVERIFY(window_->findChild<QAction*>("runSteps")->isChecked());
    // A name of any length; and it goes with its project.
    HexFile longest((std::string(180, 'a') + ".hex").c_str());
    longest.write(buildFirmware(doc().project(), "b1", runner).hex);
    answers_.open = longest.path();
    choose("runFile");
    window_->resize(1024, 700);
    settle();
    QCOMPARE(window_->width(), 1024);
    QVERIFY(window_->openDemo("ferry-call-bell"));
    settle();
    QCOMPARE(chip().source(), app::ChipRun::Source::steps);
  }

 private:
  class HexFile {
   public:
    explicit HexFile(const char* name) : path_(folder_.filePath(QLatin1String(name))) {}
    QString path() const { return path_; }
    void write(const std::string& text) {
      QFile file(path_);
      QVERIFY(file.open(QIODevice::WriteOnly));
      file.write(QByteArray::fromStdString(text));
    }

   private:
    QTemporaryDir folder_;
    QString path_;
  };
};

QTEST_MAIN(TestChipRun)
#include "tst_chip_run.moc"
