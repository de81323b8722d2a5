#include <QtTest>

#include "explain/why.h"
#include "make/c_text.h"
#include "make/chip_program.h"
#include "posix_runner.h"
#include "program/facts.h"
#include "run/comparison.h"
#include "run/kernel.h"
#include "run/lamp_light.h"
#include "support/build.h"
#include "support/demo_rows.h"

using namespace ignavo;
using namespace ignavo::test;

// What is seen of a chip while it runs its own code: steps and variables, read from its memory and
// the compiler's tables.
class TestChipProgram : public QObject {
  Q_OBJECT

  static Firmware compiled(const Project& project) {
    PosixRunner runner;
    Firmware f = buildFirmware(project, "b1", runner);
    if (f.code != Firmware::Code::done) QTest::qFail(f.messages.c_str(), __FILE__, __LINE__);
    return f;
  }
  static std::unique_ptr<Kernel> onChip(std::shared_ptr<const Project> project,
                                        ChipProgram program) {
    ChipPrograms code{{"b1", std::make_shared<const ChipProgram>(std::move(program))}};
    return std::make_unique<Kernel>(std::move(project), RunSetup{std::move(code), false});
  }

 private Q_SLOTS:
  // Of code whose steps nobody sees, an answer names the pin and the moment.
  void whyIsAnsweredOfCode() {
    const auto project = shared(beacon().program("set d4 high\nwait 0.2\nset d4 low\nwait 5"));
    const auto chip = onChip(project, chipProgramOf(*project, "b1", compiled(*project)));
    chip->advance(second);
    const Snapshot now = chip->snapshot();
    QCOMPARE(now.codeBoards, std::vector<std::string>{"b1"});
    const auto why = whyOf({now, chip->trace(), chip->events()}, "led1", {});
    QVERIFY(why && why->circuit.fine && !why->program.fine);
    QCOMPARE(QString::fromStdString(inWords(why->program.words)),
             QStringLiteral("the chip’s own code set D4 low at 200 ms"));
    QVERIFY(why->program.lastSet && why->program.lastSet->step.empty());
    QCOMPARE(why->program.steps, std::vector<std::string>{"s3"});
  }
  // At any moment the lanes stand at the steps at which they stand in the run by steps, and the
  // variables hold what they hold there; but for moments in which something is being done.
  void demosShowWhatTheirStepsShow_data() { rowPerDemo(); }
  void demosShowWhatTheirStepsShow() {
    QFETCH(QString, name);
    const auto project = std::make_shared<const Project>(*demoProject(name));
    const auto chip = onChip(project, chipProgramOf(*project, "b1", compiled(*project)));
    Kernel steps(project);
    std::string button;
    for (const auto& part : *project->parts)
      if (part->type == "button") button = part->id;
    int looks = 0, lanes = 0, lanesAlike = 0, variables = 0, variablesAlike = 0;
    for (Nanoseconds at = 3'210'000; at < 7 * second; at += 33'700'000, ++looks) {
      for (Kernel* kernel : {chip.get(), &steps}) {
        kernel->advance(at);
        if (button.empty() || looks % 23 != 7) continue;
        Input press;
        press.what = looks % 2 ? Input::What::press : Input::What::release;
        press.id = button;
        kernel->inputNow(press);
      }
      const Snapshot a = steps.snapshot(), b = chip->snapshot();
      QCOMPARE(b.lanes.size(), a.lanes.size());
      for (std::size_t i = 0; i < a.lanes.size(); ++i) {
        QCOMPARE(b.lanes[i].id, a.lanes[i].id);
        // What takes no time stands anywhere; a wait and a lane that rests do not.
        const Step* step = project->step(a.lanes[i].step);
        if (step && !waitOf(*step)) continue;
        ++lanes;
        lanesAlike += a.lanes[i].step == b.lanes[i].step;
      }
      // What the compiler keeps in registers has no place.
      for (const VariableView& v : b.variables)
        for (const VariableView& u : a.variables) {
          if (u.name != v.name || u.item != v.item) continue;
          ++variables;
          variablesAlike += u.number == v.number;
        }
      QVERIFY(b.faults.empty());
    }
    QVERIFY(lanes > 100);
    QVERIFY2(lanesAlike >= lanes * 97 / 100,
             qPrintable(QString("%1 of %2").arg(lanesAlike).arg(lanes)));
    QVERIFY2(variablesAlike >= variables * 97 / 100,
             qPrintable(QString("%1 of %2").arg(variablesAlike).arg(variables)));
  }
  // The lines of a step are its own: selecting one selects the other, and messages find it.
  void everyStepHasItsLines_data() { rowPerDemo(); }
  void everyStepHasItsLines() {
    QFETCH(QString, name);
    const auto project = demoProject(name);
    const CText text = cText(*project, "b1");
    const QStringList lines = QString::fromStdString(text.text).split('\n');
    int looked = 0;
    for (const CText::Span& span : text.spans) {
      const Step* step = project->step(span.step);
      QVERIFY(step && span.first > 0 && span.last >= span.first && span.last < lines.size());
      const QString first = lines[span.first - 1];
      const QString pin = QString::fromStdString(pinWritten(*step).value_or(""));
      const QStringList marks = waitOf(*step)     ? QStringList{"_delay_ms", "WAIT(", "sound_"}
                                : isFork(*step)   ? QStringList{"if ("}
                                : levelOf(*step)  ? QStringList{"set_" + pin + "("}
                                : isRepeat(*step) ? QStringList{"for ("}
                                                  : QStringList{};
      if (marks.isEmpty()) continue;
      ++looked;
      QVERIFY2(std::any_of(marks.begin(), marks.end(),
                           [&](const QString& mark) { return first.contains(mark); }),
               qPrintable(first));
    }
    QVERIFY(looked > 0 || text.spans.size() < 3);
  }
  // In a function that steps share it is the step that called it.
  void whoCalledIsShown() {
    const auto project =
        std::make_shared<const Project>(beacon()
                                            .name("variable pause is 0.4")
                                            .program("let pause be level of A0 ÷ 100 + 0.2\n"
                                                     "set D4 high\nwait pause\nset D4 low\n"
                                                     "wait 0.1\n"));
    const auto chip = onChip(project, chipProgramOf(*project, "b1", compiled(*project)));
    std::map<std::string, int> seen;
    for (Nanoseconds at = 1'000'000; at < 3 * second; at += 7'300'000) {
      chip->advance(at);
      const Snapshot now = chip->snapshot();
      const Step* step = project->step(now.lanes.at(0).step);
      ++seen[step ? phraseOf(*step) : std::string()];
    }
    QVERIFY2(seen["wait pause"] > 100, "the long wait");
    QVERIFY2(seen[""] < 10, qPrintable(QString::number(seen[""])));
  }
  // Code from elsewhere: its pins do what they did, and nothing else is claimed.
  void foreignCodeShowsItsPins() {
    const auto project = std::make_shared<const Project>(*demoProject("landing-beacon"));
    const BoardKind& tern = *catalogue().boardKind("tern");
    const ForeignProgram read = foreignProgram(tern, compiled(*project).hex);
    QVERIFY(read.program);
    Project bare = *project;
    bare.programs.clear();
    const auto chip = onChip(std::make_shared<const Project>(bare), *read.program);
    chip->advance(3 * second);
    const Snapshot now = chip->snapshot();
    QVERIFY(now.lanes.empty() && now.variables.empty() && now.faults.empty());
    QCOMPARE(lampStatistics(chip->trace(), chip->trace().find(Signal::What::partAmps, "led1", {}))
                 .flashes,
             std::int64_t{3});
  }
  // Inputs and edits while it runs come to the run that it is compared with, the program of
  // power-on stays, and it can be given up.
  void itIsComparedWithItsSteps() {
    const auto project = std::make_shared<const Project>(*demoProject("landing-beacon"));
    const auto chip = onChip(project, chipProgramOf(*project, "b1", compiled(*project)));
    chip->advance(2 * second);
    Project edited = *project;
    const std::string wait = edited.programs[0]->lanes[0]->steps[1].id;
    edited = edits::setExpr(std::move(edited), wait, "seconds", Expr::of(0.125));
    edited = edits::changePart(std::move(edited), "r1", [](Part& r) { r.setProp("ohms", 470.0); });
    Input in;
    in.what = Input::What::project;
    in.project = std::make_shared<const Project>(edited);
    chip->inputNow(in);
    chip->advance(5 * second);
    const RunRecord record = chip->record();
    QCOMPARE(record.now, 5 * second);
    const auto done = comparedWithSteps(record);
    QVERIFY(done);
    QVERIFY2(done->comparison.same(), inWords(verdict(done->comparison, "D4")).c_str());
    QVERIFY(done->comparison.edges >= 10);
    QCOMPARE(done->steps.end(), record.now);
    QVERIFY(!comparedWithSteps(record, [] { return true; }));
  }
  void whatItCameToIsSaid() {
    Comparison c;
    QCOMPARE(inWords(verdict(c, {})), std::string("Neither has done anything yet"));
    c.edges = 37;
    c.largest = 11'000;
    c.largestAt = 4'200'000'000;
    QCOMPARE(inWords(verdict(c, {})),
             std::string("37 edges, all the same; the largest difference is 11 µs at 4.2 s"));
    c.lines = 2;
    QVERIFY(inWords(verdict(c, {})).ends_with(". 2 lines said, all the same"));
    c.first = Comparison::Difference{12'345'678'000, "b1", "D4", {12'345'678'000, true, {}}, {}};
    QCOMPARE(inWords(verdict(c, "D4 · Red lamp")),
             std::string("They differ at 12.345678 s, D4 · Red lamp: by the steps goes high at "
                         "12.345678 s, as firmware nothing"));
  }
};

QTEST_APPLESS_MAIN(TestChipProgram)
#include "tst_chip_program.moc"
