#include <QtTest>

#include "program/trial.h"
#include "support/build.h"
#include "support/runs.h"

using namespace ignavo;
using namespace ignavo::test;

namespace {

std::string idOf(const Project& p, const char* phrase) {
  std::string id;
  for (const auto& lane : p.programs[0]->lanes)
    forEachStep(lane->steps, [&](const Step& s) {
      if (id.empty() && phraseOf(s) == phrase) id = s.id;
    });
  return id;
}

}  // namespace

// One step is tried alone, on a bench that is powered or not.
class TestTrial : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void onlyThatStepIsDone() {
    const Project p = beacon().program(
        "set d4 high\nwait 0.1\nflip d3\nif d2 low\n  set d5 high\n  wait 0.2\n"
        "  set d5 low\notherwise\n  set d6 high\n");
    const auto only = [&](const char* phrase, const char* body = "") {
      return onlyTrial(p, {idOf(p, phrase), body, "trial"});
    };
    Kernel flips(shared(only("flip D3")));
    flips.advance(second);
    QCOMPARE(edgesOf(flips, "b1", "D3"), std::vector<int>{0});
    QVERIFY(edgesOf(flips, "b1", "D4").empty());
    Kernel branch(shared(only("if D2 is low", "then")));
    branch.advance(second);
    QCOMPARE(edgesOf(branch, "b1", "D5"), (std::vector<int>{0, 200}));
    Kernel no(shared(only("if D2 is low", "else")));
    no.advance(second);
    QCOMPARE(edgesOf(no, "b1", "D6"), std::vector<int>{0});
    QVERIFY(onlyTrial(p, {"none", {}, "trial"}) == p);
  }
  // In a run that goes on: each trial begins at once, and pins keep what they were given.
  void trialsFollowEachOther() {
    const Project p = beacon().program("flip d4\nset d3 high\nwait 5").lane("Keep D12 at D2", "");
    Kernel k(shared(onlyTrial(p, {idOf(p, "flip D4"), {}, "trial-1"})));
    for (int n = 2; n < 5; ++n) {
      k.advance(k.now() + second);
      k.inputNow(edited(onlyTrial(p, {idOf(p, "flip D4"), {}, "trial-" + std::to_string(n)})));
    }
    k.advance(k.now() + second);
    QCOMPARE(edgesOf(k, "b1"), (std::vector<int>{0, 1000, 2000, 3000}));
    k.inputNow(edited(onlyTrial(p, {idOf(p, "set D3 high"), {}, "trial-9"})));
    k.advance(k.now() + second);
    QCOMPARE(edgesOf(k, "b1").size(), std::size_t{4});  // D4 stays as it is
    QCOMPARE(edgesOf(k, "b1", "D3").size(), std::size_t{1});
    for (const char* pin : {"D4", "D3", "D12"}) QCOMPARE(k.direction("b1", pin), "output");
    QCOMPARE(k.direction("b1", "D2"), "input");
  }
};

QTEST_GUILESS_MAIN(TestTrial)
#include "tst_trial.moc"
