#include <QtTest>

#include "format/project_file.h"
#include "make/copied_steps.h"
#include "program/facts.h"
#include "program/steps.h"
#include "run/kernel.h"
#include "support/build.h"
#include "support/runs.h"
#include "support/traces.h"

using namespace ignavo;
using namespace ignavo::test;

// Parts that are copied bring their steps along.
class TestCopiedSteps : public QObject {
  Q_OBJECT

  // The beacon's lamp on D4, blinking as long as a variable says, beside what else the board does.
  static Project beaconAndMore() {
    return Bench(beacon())
        .name("variable pause is 0.1")
        .lane("Every 0.5", "flip d4\nwait pause\nflip d4\n")
        .lane("Every 0.3", "flip d13\n")
        .lane("Every 0.7", "set d4 low\nflip d13\n");
  }
  static double litSeconds(const Project& project, const std::string& lamp) {
    Kernel kernel(shared(project));
    kernel.advance(3 * second);
    const Trace& t = kernel.trace();
    return t.integral(t.find(Signal::What::partAmps, lamp, {}), 0, 3 * second);
  }

 private Q_SLOTS:
  void lanesOfTheirPinsAloneComeAlong() {
    const Project project = beaconAndMore();
    const Project fragment = copiedWithSteps(project, {"r1", "led1"});
    QCOMPARE(fragment.programs.size(), std::size_t(1));
    const Program& kept = *fragment.programs[0];
    QCOMPARE(kept.lanes.size(), std::size_t(1));
    QCOMPARE(kept.lanes[0]->trigger.on, std::string("every"));
    QCOMPARE(kept.variables.size(), std::size_t(1));
    // As a text, to another project.
    QCOMPARE(writeProject(readProject(writeProject(fragment)).project), writeProject(fragment));
    // The resistor alone hangs on it too; the lamp alone on nothing.
    QCOMPARE(copiedWithSteps(project, {"r1"}).programs.size(), std::size_t(1));
    QVERIFY(copiedWithSteps(project, {"led1"}).programs.empty());
  }
  void pastedBesideItHangsOnTheNextFreePin() {
    const Project project = beaconAndMore();
    const PastedSteps done =
        pastedWithSteps(project, copiedWithSteps(project, {"r1", "led1"}), "b1");
    QVERIFY(done.arranged.clear());
    QVERIFY(done.pins.at({"b1", "D4"}) != "D4" && !done.pins.at({"b1", "D4"}).empty());
    QCOMPARE(done.lanes.size(), std::size_t(1));
    const Project& after = done.arranged.project;
    QCOMPARE(after.programs[0]->lanes.size(), project.programs[0]->lanes.size() + 1);
    QCOMPARE(done.steps.size(), std::size_t(1));
    QCOMPARE(after.programs[0]->variables.size(), std::size_t(1));
    const auto uses = pinUses(*after.programs[0]);
    QVERIFY(std::any_of(uses.begin(), uses.end(), [&](const PinUse& use) {
      return use.pin == done.pins.at({"b1", "D4"});
    }));
    // Nothing of what was there is another: it was added only.
    for (std::size_t i = 0; i + 1 < project.programs[0]->lanes.size(); ++i)
      QCOMPARE(*after.programs[0]->lanes[i], *project.programs[0]->lanes[i]);
    Project without = edits::removeSteps(after, done.steps);
    QCOMPARE(*without.programs[0]->lanes[2], *project.programs[0]->lanes[2]);
  }
  // Where a lane does more, the copy is set behind the original, wherever that stands; what holds
  // its lane for a time is not done twice, and what keeps a pin gets one beside it.
  void whatOtherLanesDoIsDoneToItAsWell() {
    const Project project =
        Bench(beacon())
            .lane("Round and round",
                  "if d2 is high\n  set d4 high\n  set d13 low\notherwise\n  repeat 2 times\n    "
                  "set d4 not d4\n    wait 0.1\n  flip d13\ntone of 440 Hz on d4 for 0.2\n")
            .lane("Keep D4 at d2 is low", "");
    const PastedSteps done =
        pastedWithSteps(project, copiedWithSteps(project, {"r1", "led1"}), "b1");
    const std::string pin = done.pins.at({"b1", "D4"});
    QVERIFY(!pin.empty() && pin != "D4");
    const Program& after = *done.arranged.project.programs[0];
    QCOMPARE(done.steps.size(), std::size_t(2));
    QCOMPARE(done.lanes.size(), std::size_t(1));
    const Steps& steps = after.lanes[0]->steps;
    const Steps& yes = *steps[0].body("then");
    QCOMPARE(yes.size(), std::size_t(3));
    QCOMPARE(yes[1].id, done.steps[0]);
    QCOMPARE(pinWritten(yes[1]).value_or(""), pin);
    const Steps& inside = *(*steps[0].body("else"))[0].body("steps");
    QCOMPARE(inside.size(), std::size_t(3));
    QCOMPARE(phraseOf(inside[1]), "set " + pin + " not " + pin);
    QCOMPARE(steps.size(), std::size_t(2));
    QCOMPARE(after.lanes.back()->trigger.pin, pin);
    // Both do the same at about the same time.
    Kernel k(shared(done.arranged.project));
    k.advance(second);
    QVERIFY(pinEdges(k, pin).size() > 1);
  }
  // What hangs on the same pin in another project has nothing to do with it.
  void elsewhereNothingIsAddedToOtherLanes() {
    const Project project = beaconAndMore();
    const Project fragment = copiedWithSteps(project, {"r1", "led1"});
    Project other = Bench(emptyProject()).lane("Every 0.7", "set d4 low\nflip d13\n");
    const PastedSteps done = pastedWithSteps(other, fragment, "b1");
    QVERIFY(done.steps.empty());
    QCOMPARE(*done.arranged.project.programs[0]->lanes[0], *other.programs[0]->lanes[0]);
    // Nor where the original is another by now.
    const Project changed =
        edits::changePart(project, "r1", [](Part& p) { p.setProp("ohms", 470.0); });
    QVERIFY(pastedWithSteps(changed, fragment, "b1").steps.empty());
  }
  void inAnotherProjectItDoesTheSame() {
    const Project alone = Bench(beacon()).lane("Every 0.5", "flip d4\nwait 0.1\nflip d4\n");
    std::vector<std::string> all{"r1", "led1"};
    for (const auto& wire : *alone.wires) all.push_back(wire->id);
    const Project fragment = copiedWithSteps(alone, all);
    const PastedSteps done = pastedWithSteps(emptyProject(), fragment, "b1");
    QVERIFY(done.arranged.clear());
    QCOMPARE(done.pins.at({"b1", "D4"}), std::string("D4"));
    const double before = litSeconds(alone, "led1"),
                 after = litSeconds(done.arranged.project, "led1");
    QVERIFY(before > 0.001);
    QCOMPARE(after, before);
  }
  // A pin that dims is replaced by one that can; where none is left, the steps stay out.
  void whatAPinMustBeAbleToDo() {
    Project project = Bench(beacon()).lane("Every 0.5", "dim d9 to 40 %\n");
    for (const auto& wire : *project.wires)
      project = edits::changeWire(std::move(project), wire->id, [](Wire& w) {
        for (Socket* end : {&w.from, &w.to})
          if (end->owner == "b1" && end->point == "D4") end->point = "D9";
      });
    const Project fragment = copiedWithSteps(project, {"r1", "led1"});
    QCOMPARE(fragment.programs.size(), std::size_t(1));
    const PastedSteps done = pastedWithSteps(project, fragment, "b1");
    QVERIFY((std::set<std::string>{"D3", "D5", "D6", "D10", "D11"})
                .contains(done.pins.at({"b1", "D9"})));
    Bench full(project);
    full.lane("Round and round",
              "set d3 high\nset d5 high\nset d6 high\nset d10 high\nset d11 high\n");
    const PastedSteps none = pastedWithSteps(full, fragment, "b1");
    QVERIFY(none.arranged.clear());
    QVERIFY(none.lanes.empty());
    QCOMPARE(none.left, (std::vector<std::string>{"D9"}));
  }
  // Cut and pasted it hangs where it hung, and does what it did, once.
  void cutAndPastedItIsAsItWas() {
    const Project project = beaconAndMore();
    const Project fragment = copiedWithSteps(project, {"r1", "led1"});
    std::vector<std::string> gone{"r1", "led1"};
    for (const auto& wire : *fragment.wires) gone.push_back(wire->id);
    const Project cut = edits::remove(project, gone);
    QCOMPARE(cut.programs[0]->lanes.size(), project.programs[0]->lanes.size());
    const PastedSteps done = pastedWithSteps(cut, fragment, "b1");
    QVERIFY(done.arranged.clear());
    // Another lane sets D4 as well, so it is not free; alone it is.
    QVERIFY(done.pins.at({"b1", "D4"}) != "D4");
    Project only = project;
    only = edits::removeLane(std::move(only), only.programs[0]->lanes.back()->id);
    const PastedSteps again = pastedWithSteps(edits::remove(only, gone), fragment, "b1");
    QCOMPARE(again.pins.at({"b1", "D4"}), std::string("D4"));
    QVERIFY(again.lanes.empty());
    QCOMPARE(again.arranged.project.programs[0]->lanes.size(), only.programs[0]->lanes.size());
    // A second one is another lamp.
    const PastedSteps second = pastedWithSteps(again.arranged.project, fragment, "b1");
    QVERIFY(second.pins.at({"b1", "D4"}) != "D4");
    QCOMPARE(second.lanes.size(), std::size_t(1));
  }
  // D4 of one board is not D4 of another.
  void pinsOfTwoBoardsStayApart() {
    Bench two(beacon());
    two.board("b2").led("led9", "i25", "i27").wire("b2.D4", "h25").wire("b2.GND", "h27");
    two.lane("Every 0.5", "flip d4\n");
    two.lane("Every 0.25", "flip d4\n", "b2");
    const Project project = two;
    const Project fragment = copiedWithSteps(project, {"r1", "led1", "led9"});
    QCOMPARE(fragment.programs.size(), std::size_t(2));
    const PastedSteps done = pastedWithSteps(project, fragment, "b1");
    QVERIFY(done.arranged.clear());
    const std::string first = done.pins.at({"b1", "D4"}), other = done.pins.at({"b2", "D4"});
    QVERIFY(!first.empty() && !other.empty() && first != other);
    QCOMPARE(done.lanes.size(), std::size_t(2));
    std::map<std::string, int> ends;
    for (const auto& wire : *done.arranged.project.wires)
      for (const Socket& end : {wire->from, wire->to})
        if (end.owner == "b1") ++ends[end.point];
    QCOMPARE(ends[first], 1);
    QCOMPARE(ends[other], 1);
  }
  // Over and over: what can be pasted can be checked, saved, and its pins never collide.
  void againAndAgain() {
    Project project = beaconAndMore();
    const Project fragment = copiedWithSteps(project, {"r1", "led1"});
    int pasted = 0;
    for (int i = 0; i < 30; ++i) {
      const PastedSteps done = pastedWithSteps(project, fragment, "b1");
      if (!done.arranged.clear() || !done.left.empty()) break;
      project = done.arranged.project;
      ++pasted;
    }
    QVERIFY(pasted >= 2);
    std::map<std::string, int> ends;
    for (const auto& wire : *project.wires)
      for (const Socket& end : {wire->from, wire->to})
        if (end.owner == "b1" && end.point[0] == 'D') ++ends[end.point];
    for (const auto& [pin, count] : ends) QCOMPARE(count, 1);
    QCOMPARE(readProject(writeProject(project)).project, project);
  }
};

QTEST_APPLESS_MAIN(TestCopiedSteps)
#include "tst_copied_steps.moc"
