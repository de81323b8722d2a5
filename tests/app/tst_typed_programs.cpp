#include <QApplication>
#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QtTest>

#include "demos.h"
#include "format/project_file.h"
#include "support/build.h"
#include "support/program_by_keys.h"
#include "support/runs.h"
#include "support/window.h"

using namespace ignavo;
using namespace ignavo::app;
using namespace ignavo::test;

// Whole programs by keys: every demo from nothing, own steps, what is said and heard.
class TestTypedPrograms : public QObject, protected ProgramByKeys {
  Q_OBJECT
  static QString asTyped(const std::string& phrase) {
    QString out = QString::fromStdString(phrase);
    for (const auto& [sign, keys] :
         {std::pair("≥", ">="), std::pair("≤", "<="), std::pair("≠", "!="), std::pair("×", "*"),
          std::pair("÷", "/"), std::pair(" °", " deg"), std::pair("…", "...")})
      out.replace(QString::fromUtf8(sign), QString::fromUtf8(keys));
    return out;
  }
  void typeLine(QLineEdit* box, const std::string& line) {
    QVERIFY(box);
    box->setFocus();
    QTest::keyClicks(box, asTyped(line));
    QTest::keyClick(box, Qt::Key_Return);
    QVERIFY2(problem().isEmpty(), qPrintable(problem() + ": " + asTyped(line)));
  }
  // By a click on the empty body.
  QLineEdit* openBody(const std::string& step, const std::string& body) {
    QApplication::processEvents();
    const QRectF box = program()->boxOfEmpty(step, body);
    if (box.isNull()) return nullptr;
    QTest::mouseClick(program(), Qt::LeftButton, {}, box.center().toPoint());
    return program()->findChild<QLineEdit*>("insertStep");
  }
  void typeBodies(const Step& wanted, const std::string& id) {
    for (const auto& [key, body] : wanted.bodies) {
      std::string before;
      for (std::size_t i = 0; i < body.size(); ++i) {
        QLineEdit* box = nullptr;
        if (i == 0) {
          box = openBody(id, key);
        } else {
          doc().selectStep(QString::fromStdString(before));
          program()->setFocus();
          this->key(Qt::Key_Return);
          box = program()->findChild<QLineEdit*>("insertStep");
        }
        typeLine(box, phraseOf(body[i]));
        if (QTest::currentTestFailed()) return;
        settle();
        const Steps& now = *doc().project().step(id)->body(key);
        QVERIFY2(now.size() > i, phraseOf(body[i]).c_str());
        before = now[i].id;
        typeBodies(body[i], before);
        if (QTest::currentTestFailed()) return;
      }
    }
  }

 private Q_SLOTS:
  void initTestCase() { lookAsInDaylight(); }
  void init() { window_ = openWindow(answers_); }
  void cleanup() { window_.reset(); }

  void everyDemoIsTypedFromNothing_data() {
    QTest::addColumn<QString>("name");
    for (const Demo& demo : demos())
      QTest::newRow(std::string(demo.name).c_str())
          << QString::fromStdString(std::string(demo.name));
  }
  void everyDemoIsTypedFromNothing() {
    QFETCH(QString, name);
    const Project wanted = readProject(demo(name.toStdString())->text).project;
    const Program& program = *wanted.programs[0];
    Project bare = wanted;
    Program& fresh = bare.programs[0].edit();
    fresh.lanes.clear();
    fresh.variables.clear();
    fresh.lists.clear();
    bare = edits::addLane(std::move(bare), "b1", Lane());
    doc().reset(bare, {});
    window_->setStation(Station::program);
    QApplication::processEvents();
    const auto lanes = [&]() -> const auto& { return doc().project().programs[0]->lanes; };
    const auto first = [&] { return this->program()->endBox(lanes()[0]->id); };
    for (const Variable& v : program.variables) typeLine(first(), textOf(v));
    for (const NumberList& l : program.lists) typeLine(first(), textOf(l));
    for (std::size_t n = 0; n < program.lanes.size(); ++n) {
      const Lane& lane = *program.lanes[n];
      // The lane that is there gets the last sign: what keeps something has no end to type at.
      if (n + 1 < program.lanes.size()) typeLine(first(), signOf(lane.trigger));
      if (QTest::currentTestFailed()) return;
    }
    const Lane& last = *program.lanes.back();
    const auto laneOf = [&](std::size_t n) -> const Lane& {
      return n + 1 < program.lanes.size() ? *lanes()[n + 1] : *lanes()[0];
    };
    for (std::size_t n = 0; n < program.lanes.size(); ++n)
      for (std::size_t i = 0; i < program.lanes[n]->steps.size(); ++i) {
        const Step& step = program.lanes[n]->steps[i];
        typeLine(this->program()->endBox(laneOf(n).id), phraseOf(step));
        if (QTest::currentTestFailed()) return;
        QCOMPARE(laneOf(n).steps.size(), i + 1);
        typeBodies(step, laneOf(n).steps[i].id);
        if (QTest::currentTestFailed()) return;
      }
    if (signOf(last.trigger) != signOf(lanes()[0]->trigger)) {
      doc().selectStep(QString::fromStdString(lanes()[0]->id));
      this->program()->setFocus();
      key(Qt::Key_F2);
      QVERIFY(this->program()->editor());
      this->program()->editor()->selectAll();
      QTest::keyClicks(this->program()->editor(), asTyped(signOf(last.trigger)));
      QTest::keyClick(this->program()->editor(), Qt::Key_Return);
      QVERIFY2(problem().isEmpty(), qPrintable(problem()));
    }
    for (std::size_t n = 0; n < program.lanes.size(); ++n) {
      QCOMPARE(signOf(laneOf(n).trigger), signOf(program.lanes[n]->trigger));
      QCOMPARE(textOf(laneOf(n).steps), textOf(program.lanes[n]->steps));
    }
    QVERIFY(doc().project().programs[0]->variables == program.variables);
    // It runs without a finding.
    doc().finishCheck();
    for (const Finding& f : doc().check().findings)
      QVERIFY2(f.severity == Severity::note, inWords(f.title).c_str());
    window_->runControl().powerOn(std::make_shared<const Project>(doc().project()));
    window_->runControl().advanceBy(3);
    QVERIFY(window_->runControl().shown()->faults.empty());
    window_->runControl().powerOff();
  }

  // ---- own steps, what is said, keys
  void anOwnStepIsMadeRunAndRenamed() {
    open("wait 1\n");
    const Project before = doc().project();
    child<QPushButton>("moreLanes")->setChecked(true);
    QTest::mouseClick(child<QAbstractButton>("addLane-own"), Qt::LeftButton);
    QApplication::processEvents();
    const auto lanes = [&]() -> const auto& { return doc().project().programs[0]->lanes; };
    QCOMPARE(signOf(lanes()[1]->trigger), std::string("Own step ring"));
    // Its steps are typed like others.
    QLineEdit* box = program()->endBox(lanes()[1]->id);
    QTest::keyClicks(box, "flip d4");
    QTest::keyClick(box, Qt::Key_Return);
    QCOMPARE(textOf(lanes()[1]->steps), std::string("flip D4\n"));
    // Inputs come with its sign.
    doc().selectStep(QString::fromStdString(lanes()[1]->id));
    program()->setFocus();
    key(Qt::Key_F2);
    QVERIFY(program()->editor());
    program()->editor()->selectAll();
    QTest::keyClicks(program()->editor(), "Own step chime with pause");
    QTest::keyClick(program()->editor(), Qt::Key_Return);
    QCOMPARE(signOf(lanes()[1]->trigger), std::string("Own step chime with pause"));
    box = program()->endBox(lanes()[1]->id);
    QTest::keyClicks(box, "wait pause");
    QTest::keyClick(box, Qt::Key_Return);
    QCOMPARE(lanes()[1]->steps.size(), std::size_t(2));
    // It is run by its name, from the shelf as well; what it is given is typed in place.
    box = program()->endBox(lanes()[0]->id);
    QTest::keyClicks(box, "chime 0.5");
    QTest::keyClick(box, Qt::Key_Return);
    QCOMPARE(text(), std::string("wait 1 s\nrun chime with pause 0.5\n"));
    doc().selectStep(idOf("run chime with pause 0.5"));
    program()->setFocus();
    key(Qt::Key_Right);
    key(Qt::Key_Right);
    key(Qt::Key_F2);
    QVERIFY(program()->editor());
    program()->editor()->selectAll();
    QTest::keyClicks(program()->editor(), "pause 0.25 + 1");
    QTest::keyClick(program()->editor(), Qt::Key_Return);
    QCOMPARE(text(), std::string("wait 1 s\nrun chime with pause 0.25 + 1\n"));
    QTest::mouseClick(child<QPushButton>("moreSteps"), Qt::LeftButton);
    auto* card = child<QAbstractButton>("shelf-call");
    card->setFocus();
    QTest::keyClick(card, Qt::Key_Space);
    QCOMPARE(steps().size(), std::size_t(3));
    QVERIFY2(text().ends_with("run chime with pause 0\n"), text().c_str());
    doc().undo();
    // Another name is another name everywhere.
    doc().selectStep(QString::fromStdString(lanes()[1]->id));
    program()->setFocus();
    key(Qt::Key_F2);
    program()->editor()->selectAll();
    QTest::keyClicks(program()->editor(), "Own step bell with rest");
    QTest::keyClick(program()->editor(), Qt::Key_Return);
    QCOMPARE(text(), std::string("wait 1 s\nrun bell with rest 0.25 + 1\n"));
    QCOMPARE(textOf(lanes()[1]->steps), std::string("flip D4\nwait rest\n"));
    while (doc().history().canUndo()) doc().undo();
    QVERIFY(doc().project() == before);
  }
  // An own step without inputs reads as its name alone; what is given to others is always there.
  void whatIsGivenIsNeverGone() {
    doc().reset(beacon()
                    .lane("Own step nod", "flip d4")
                    .lane("Own step ring with pause", "wait pause")
                    .lane("always", "nod\nring 2"),
                {});
    window_->setStation(Station::program);
    QApplication::processEvents();
    const ProgramPicture picture = layOutProgram(*doc().project().programs[0], 500,
                                                 [](const std::string&) { return QString(); });
    QStringList cards;
    for (const ProgramRow& row : picture.rows) {
      if (row.what != ProgramRow::What::step) continue;
      QStringList words;
      for (const Token& t : row.tokens) words << t.text;
      cards << words.join(' ');
    }
    QVERIFY2(cards.contains("run nod"), qPrintable(cards.join('/')));
    QVERIFY2(cards.contains("run ring with pause 2"), qPrintable(cards.join('/')));
    doc().selectStep(idOf("run ring with pause 2"));
    program()->setFocus();
    key(Qt::Key_Right);
    key(Qt::Key_Right);
    key(Qt::Key_F2);
    QVERIFY(program()->editor());
    program()->editor()->selectAll();
    QTest::keyClick(program()->editor(), Qt::Key_Backspace);
    QTest::keyClick(program()->editor(), Qt::Key_Return);
    QCOMPARE(text(), std::string("run nod\nrun ring with pause 0\n"));
  }
  void aKeyIsLetGoWhereverTheFocusIs() {
    doc().reset(beacon().lane("always", "set d4 (key a held)\nwait 0.01"), {});
    window_->setStation(Station::run);
    RunControl& run = window_->runControl();
    run.powerOn(std::make_shared<const Project>(doc().project()));
    const auto lit = [&] {
      run.advanceBy(0.2);
      return run.shown()->light[1] > 0.5;
    };
    program()->setFocus();
    QTest::keyPress(program(), Qt::Key_A);
    QVERIFY(lit());
    // A box takes the focus meanwhile.
    QLineEdit* box = program()->endBox(doc().project().programs[0]->lanes[0]->id);
    box->setFocus();
    QTest::keyRelease(box, Qt::Key_A);
    QVERIFY(!lit());
    // There a letter is a letter.
    QTest::keyClick(box, Qt::Key_A);
    QCOMPARE(box->text(), QStringLiteral("a"));
    box->clear();
    program()->setFocus();
    QTest::keyPress(program(), Qt::Key_A);
    QVERIFY(lit());
    window_->setStation(Station::wire);
    QVERIFY(!lit());  // at other stations no key is held
    window_->setStation(Station::run);
    program()->setFocus();
    QTest::keyPress(program(), Qt::Key_A);
    QVERIFY(lit());
    QEvent away(QEvent::WindowDeactivate);
    QApplication::sendEvent(window_.get(), &away);
    QVERIFY(!lit());
  }
  void aLongLogIsSeenAtEveryMoment() {
    doc().reset(beacon().lane("always", "log \"n\", round seconds × 100\nwait 0.01"), {});
    window_->setStation(Station::run);
    RunControl& run = window_->runControl();
    auto* log = window_->findChild<QPlainTextEdit*>("runLog");
    run.powerOn(std::make_shared<const Project>(doc().project()));
    for (int i = 0; i < 20; ++i) run.advanceBy(1);
    QVERIFY(log->blockCount() > 400 && log->blockCount() < 600);
    const auto last = [&] { return log->toPlainText().section('\n', -1); };
    QVERIFY2(last().trimmed().startsWith("19.9") || last().trimmed().startsWith("20."),
             qPrintable(last()));
    run.lookAt(2 * second);
    QVERIFY2(last().trimmed().startsWith("1.9") || last().trimmed().startsWith("2.0"),
             qPrintable(last()));
    run.lookAtNow();
    QVERIFY(last().trimmed().startsWith("19.9") || last().trimmed().startsWith("20."));
  }
  void anotherProjectWasNotCompiledYet() {
    open("set d4 high\nwait 1\n");
    doc().setProgramSize("b1", {40'000, 300});
    doc().finishCheck();
    const auto tooBig = [&] {
      return std::any_of(doc().check().findings.begin(), doc().check().findings.end(),
                         [](const Finding& f) { return f.rule == "too-big"; });
    };
    QVERIFY(tooBig());
    doc().reset(beacon().program("set d4 high\nwait 2\n"), {});
    doc().finishCheck();
    QVERIFY(!tooBig());
  }
  void whatIsSaidIsSeenAndKeysAreHeard() {
    doc().reset(beacon()
                    .lane("power", "post \"at the landing\"\nlog \"begins\", 1 + 1")
                    .lane("When key space is struck", "flip d4\nlog \"struck\"")
                    .lane("always", "if key a held\n  post \"in the berth\" for 1\nwait 0.1"),
                {});
    window_->setStation(Station::run);
    RunControl& run = window_->runControl();
    auto* log = window_->findChild<QPlainTextEdit*>("runLog");
    auto* note = window_->findChild<QLabel*>("runNote");
    QVERIFY(log && note && !log->isVisible());
    run.powerOn(std::make_shared<const Project>(doc().project()));
    run.advanceBy(0.5);
    QVERIFY2(log->isVisible() && log->toPlainText().contains("begins 2"),
             qPrintable(log->toPlainText()));
    QVERIFY(note->isVisible() && note->text().contains("at the landing"));
    // All of it is to be seen in a small window, too.
    window_->resize(1024, 700);
    settle();
    QVERIFY(log->height() >= 36);
    QVERIFY2(log->mapTo(window_.get(), QPoint(0, log->height())).y() <= window_->height(),
             qPrintable(QString::number(log->height())));
    program()->setFocus();
    QTest::keyPress(program(), Qt::Key_Space);
    run.advanceBy(0.2);
    QTest::keyRelease(program(), Qt::Key_Space);
    run.advanceBy(0.2);
    QVERIFY2(log->toPlainText().contains("struck"), qPrintable(log->toPlainText()));
    QTest::keyPress(program(), Qt::Key_A);
    run.advanceBy(0.3);
    QVERIFY(note->text().contains("in the berth"));
    QTest::keyRelease(program(), Qt::Key_A);
    run.advanceBy(1.5);
    QVERIFY(!note->isVisible());
    QVERIFY(!program()->editor());  // nothing was typed into the program
    // Looking back, only what was said by then.
    run.lookAt(static_cast<Nanoseconds>(0.45e9));
    QVERIFY(!log->toPlainText().contains("struck"));
    run.lookAtNow();
    QVERIFY(log->toPlainText().contains("struck"));
    run.powerOff();
    QVERIFY(!log->isVisible());
    // Elsewhere, and where no lane listens, keys do what they always do.
    window_->setStation(Station::program);
    run.powerOn(std::make_shared<const Project>(doc().project()));
    QTest::keyClick(program(), Qt::Key_Space);
    run.advanceBy(0.3);
    QVERIFY(!log->toPlainText().contains("struck"));
  }
};

QTEST_MAIN(TestTypedPrograms)
#include "tst_typed_programs.moc"
