#include <QtTest>
#include <random>
#include <set>

#include "format/project_file.h"
#include "project/history.h"
#include "support/build.h"

using namespace ignavo;
using namespace ignavo::test;

class TestProject : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void copiesShareWhatDidNotChange() {
    const Project a = beacon();
    Project b = edits::changePart(a, "led1", [](Part& p) { p.name = "Beacon"; });
    QVERIFY(b.wires.sharesWith(a.wires));
    QVERIFY(!b.parts.sharesWith(a.parts));
    QVERIFY((*b.parts)[0].sharesWith((*a.parts)[0]));
    QCOMPARE(a.part("led1")->name, std::string("led1"));
    QCOMPARE(b.part("led1")->name, std::string("Beacon"));
  }
  void historyUndoesEverythingAndRedoesToTheSame() {
    // Seeded random edits, undone to the first project and done again to the last.
    std::mt19937 random(7);
    History history{beacon().program(blink)};
    const Project first = history.now();
    int made = 0;
    for (int i = 0; i < 2000; ++i) {
      Project p = history.now();
      switch (random() % 6) {
        case 0: {
          Part part = newPart(p, *catalogue().partKind("led"));
          p = edits::addPart(std::move(p), std::move(part));
          break;
        }
        case 1:
          if (!p.parts->empty()) p = edits::remove(p, {(*p.parts)[random() % p.parts->size()]->id});
          break;
        case 2:
          p = edits::changePart(p, "r1", [&](Part& q) {
            q.setProp("ohms", static_cast<double>(random() % 9000 + 1));
          });
          break;
        case 3:
          p = edits::insertSteps(p, {p.programs[0]->lanes[0]->id, {}, {}, random() % 5},
                                 parseSteps("repeat 2 times\n  set D5 high").steps);
          break;
        case 4:
          if (!p.programs[0]->lanes[0]->steps.empty())
            p = edits::removeSteps(p, {p.programs[0]
                                           ->lanes[0]
                                           ->steps[random() % p.programs[0]->lanes[0]->steps.size()]
                                           .id});
          break;
        default:
          p.title = "Beacon " + std::to_string(random() % 4);
      }
      made += history.push("edit", std::move(p)) ? 1 : 0;
    }
    const std::string last = writeProject(history.now());
    QVERIFY(made > 1000);
    int undone = 0;
    while (history.undo()) ++undone;
    QCOMPARE(undone, made);
    QVERIFY(history.now() == first);
    while (history.redo()) {
    }
    QCOMPARE(writeProject(history.now()), last);
  }
  void typingANumberIsOneStep() {
    History history{beacon().program(blink)};
    const std::string step = history.now().programs[0]->lanes[0]->steps[1].id;
    for (double s : {0.2, 0.25, 0.255})
      history.push("change", edits::setExpr(history.now(), step, "seconds", Expr::of(s)), "field");
    history.undo();
    QCOMPARE(history.now().step(step)->field("seconds")->number, 0.5);
    QVERIFY(!history.canUndo());
  }
  void whatWasMergedIsCalledByWhatItCameTo() {
    History history{beacon().program(blink)};
    const std::string step = history.now().programs[0]->lanes[0]->steps[1].id;
    const auto type = [&](double s) {
      return history.push("change to " + std::to_string(static_cast<int>(s)),
                          edits::setExpr(history.now(), step, "seconds", Expr::of(s)), "field");
    };
    QVERIFY(type(1) && type(12) && !type(12));
    QCOMPARE(history.undoName(), std::string("change to 12"));
    history.sealMerge();  // the field was left
    QVERIFY(type(3));
    history.undo();
    QCOMPARE(history.now().step(step)->field("seconds")->number, 12.0);
    // After an undo nothing is merged into what was there before.
    QVERIFY(type(4));
    history.undo();
    QCOMPARE(history.now().step(step)->field("seconds")->number, 12.0);
    QCOMPARE(history.redoName(), std::string("change to 4"));
  }
  void savedStateIsKnown() {
    History history{beacon()};
    QVERIFY(history.isSaved());
    Project p = history.now();
    p.title = "Other";
    history.push("rename", p);
    QVERIFY(!history.isSaved());
    history.undo();
    QVERIFY(history.isSaved());
    history.redo();
    history.markSaved();
    history.undo();
    p.title = "Third";
    history.push("rename", p);  // the saved state can no longer be reached
    history.undo();
    QVERIFY(!history.isSaved());
  }
  void stepsMoveIntoAndOutOfBodies() {
    Project p =
        Bench().program("set D4 high\nif D2 high\n  wait 1\n  wait 2\notherwise\n  wait 3\n");
    const Steps& steps = p.programs[0]->lanes[0]->steps;
    const std::string lane = p.programs[0]->lanes[0]->id, set = steps[0].id, fork = steps[1].id,
                      first = steps[1].body("then")->at(0).id;
    Project q = edits::moveSteps(p, {set}, {lane, fork, "else", 1});
    QCOMPARE(textOf(q.programs[0]->lanes[0]->steps),
             std::string(
                 "if D2 is high\n  wait 1 s\n  wait 2 s\notherwise\n  wait 3 s\n  set D4 high\n"));
    q = edits::moveSteps(q, {set}, {lane, {}, {}, 0});
    QVERIFY(q == p);
    // Within one list: the index is counted before the move.
    q = edits::moveSteps(p, {first}, {lane, fork, "then", 2});
    QCOMPARE(q.step(fork)->body("then")->at(1).id, first);
    // Several at once stay in their order, wherever they stood.
    q = edits::moveSteps(p, {first, set}, {lane, fork, "else", 0});
    QCOMPARE(textOf(q.programs[0]->lanes[0]->steps),
             std::string(
                 "if D2 is high\n  wait 2 s\notherwise\n  set D4 high\n  wait 1 s\n  wait 3 s\n"));
    q = edits::moveSteps(p, {set, fork}, {lane, {}, {}, 2});
    QVERIFY(q == p);
    QCOMPARE(edits::outermost(p, {first, "none", fork}), std::vector<std::string>{fork});
    // Into itself: nothing happens.
    QVERIFY(edits::moveSteps(p, {fork}, {lane, fork, "then", 0}) == p);
  }
  void duplicatesGetFreshIds() {
    Project p = Bench().program("repeat 2 times\n  set D4 high\n");
    std::vector<std::string> copies;
    p = edits::duplicateSteps(p, {p.programs[0]->lanes[0]->steps[0].id}, &copies);
    std::set<std::string> ids;
    int count = 0;
    forEachStep(p.programs[0]->lanes[0]->steps, [&](const Step& s) { ids.insert(s.id), ++count; });
    QCOMPARE(count, 4);
    QCOMPARE(static_cast<int>(ids.size()), 4);
    QCOMPARE(p.programs[0]->lanes[0]->steps[1].id, copies.at(0));
  }
  void removingABreadboardKeepsTheParts() {
    const Project p = edits::remove(beacon(), {"bb"});
    QCOMPARE(static_cast<int>(p.parts->size()), 2);
    QVERIFY(p.wires->empty());
    QVERIFY(!p.part("led1")->leg("anode")->in && p.part("led1")->at);
  }
};

QTEST_GUILESS_MAIN(TestProject)
#include "tst_project.moc"
