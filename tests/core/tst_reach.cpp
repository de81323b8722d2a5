#include <QtTest>
#include <map>
#include <random>
#include <set>

#include "program/reach.h"
#include "program/steps.h"
#include "support/build.h"

using namespace ignavo;
using namespace ignavo::test;

namespace {

using Vectors = std::set<std::map<std::string, bool>>;

Vectors named(const OutputGroup& g, const std::vector<std::uint32_t>& ways) {
  Vectors out;
  for (const std::uint32_t way : ways) {
    std::map<std::string, bool> levels;
    for (std::size_t k = 0; k < g.pins.size(); ++k) levels[g.pins[k]] = (way >> k) & 1;
    out.insert(levels);
  }
  return out;
}
std::vector<OutputGroup> groupsOf(const Project& p) {
  return outputGroups(compile(*p.program("b1"), {}));
}
OutputGroup only(const Bench& bench) {
  const auto groups = groupsOf(bench);
  return groups.size() == 1 ? groups.front() : OutputGroup();
}

// A plain random walk over the lanes: every condition by a coin. Gives the levels
// that are seen while something waits.
class Walker {
 public:
  Walker(const CompiledProgram& program, std::mt19937& random)
      : program_(program), random_(random) {}
  Vectors seen;

  void walk(int steps) {
    std::vector<int> at(program_.lanes.size(), 0);
    std::map<std::string, bool> levels;
    std::set<std::string> dims;
    for (const std::string& pin : program_.written) levels[pin] = false;
    for (int i = 0; i < steps; ++i) {
      const std::size_t l = random_() % at.size();
      const Instruction& now = program_.lanes[l].code[static_cast<std::size_t>(at[l])];
      const bool coin = random_() & 1;
      switch (now.code) {
        case OpCode::end:
          break;
        case OpCode::jump:
          at[l] = now.target;
          break;
        case OpCode::branch:
        case OpCode::countTurn:
          at[l] = coin ? now.target : at[l] + 1;
          break;
        case OpCode::setPin: {
          dims.erase(program_.pins[static_cast<std::size_t>(now.arg)]);
          levels[program_.pins[static_cast<std::size_t>(now.arg)]] =
              now.plain ? now.number != 0 : coin;
          ++at[l];
          break;
        }
        case OpCode::flipPin: {
          dims.erase(program_.pins[static_cast<std::size_t>(now.arg)]);
          bool& level = levels[program_.pins[static_cast<std::size_t>(now.arg)]];
          level = !level;
          ++at[l];
          break;
        }
        case OpCode::setLevel:
          dims.insert(program_.pins[static_cast<std::size_t>(now.arg)]);
          ++at[l];
          break;
        case OpCode::idle:
        case OpCode::wait:
          for (const std::string& pin : dims) levels[pin] = random_() & 1;
          // All the lanes stand still then, at least for a moment.
          seen.insert(levels);
          ++at[l];
          break;
        default:
          ++at[l];
      }
    }
  }

 private:
  const CompiledProgram& program_;
  std::mt19937& random_;
};

std::string randomSteps(std::mt19937& random, int depth, const std::string& pad) {
  std::string out;
  const int count = 1 + static_cast<int>(random() % 4);
  for (int i = 0; i < count; ++i) {
    const std::string pin = "d" + std::to_string(2 + random() % 4);
    switch (depth > 0 ? random() % 8 : random() % 5) {
      case 0:
        out += pad + "set " + pin + (random() % 2 ? " high\n" : " low\n");
        break;
      case 1:
        out += pad + "wait 0.01\n";
        break;
      case 2:
        out += pad + "set " + pin + " not d9\n";
        break;
      case 3:
        out += pad + "flip " + pin + "\n";
        break;
      case 4:
        out += pad + "dim " + pin + " to 40 %\n";
        break;
      case 5:
        out += pad + "if d8 high\n" + randomSteps(random, depth - 1, pad + "  ");
        if (random() % 2) out += pad + "otherwise\n" + randomSteps(random, depth - 1, pad + "  ");
        break;
      case 6:
        out += pad + "repeat 3 times\n" + randomSteps(random, depth - 1, pad + "  ");
        break;
      default:
        out += pad + "keep going round\n" + randomSteps(random, depth - 1, pad + "  ");
    }
  }
  return out;
}

}  // namespace

class TestReach : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void blinkHasTwoWaysThatLast() {
    const OutputGroup g = only(Bench().program(blink));
    QVERIFY(!g.any);
    QCOMPARE(named(g, g.vectors), (Vectors{{{"D4", false}}, {{"D4", true}}}));
    QCOMPARE(g.lasting, g.vectors);
  }
  void oneAtATimeIsNeverBothForLong() {
    const OutputGroup g = only(
        Bench().program("set d3 high\nset d4 low\nwait 0.2\nset d4 high\nset d3 low\nwait 0.2\n"));
    QCOMPARE(g.vectors, g.lasting);  // both together for 4 µs only: that is no way of standing
    QCOMPARE(named(g, g.lasting),
             (Vectors{{{"D3", true}, {"D4", false}}, {{"D3", false}, {"D4", true}}}));
  }
  void shortWaitsDoNotLast() {
    const OutputGroup g =
        only(Bench().program("set d3 high\nwait 0.0005\nset d3 low\nwait 0.01\n"));
    QCOMPARE(named(g, g.lasting), (Vectors{{{"D3", false}}}));
  }
  void fastRoundsAreWaysThatDoNotLast() {
    const OutputGroup g = only(Bench().program("set d3 high\nset d3 low\n"));
    QCOMPARE(g.vectors.size(), std::size_t(2));
    const OutputGroup tone =
        only(Bench().program("set d3 high\nwait 0.0005\nset d3 low\nwait 0.0005\n"));
    QCOMPARE(tone.vectors.size(), std::size_t(2));
  }
  void loopsWithoutWaitsMayLast() {
    // Follows the button round and round: either level stays as long as the button does.
    const OutputGroup g =
        only(Bench().program("if d2 high\n  set d3 high\notherwise\n  set d3 low\n"));
    QCOMPARE(g.lasting.size(), std::size_t(2));
  }
  void theEndLasts() {
    const OutputGroup g = only(Bench().lane("power", "set d3 high\nset d4 high\n"));
    QCOMPARE(named(g, g.lasting), (Vectors{{{"D3", true}, {"D4", true}}}));
  }
  void behindAnEndlessLoopNothingIsReached() {
    const OutputGroup g =
        only(Bench().program("keep going round\n  set d3 high\n  wait 1\nset d4 high\n"));
    for (const auto& way : named(g, g.vectors)) QVERIFY(!way.at("D4"));
  }
  void lanesWithPinsOfTheirOwnAreApart() {
    const auto groups = groupsOf(Bench()
                                     .lane("always", "set d3 high\nwait 1\nset d3 low\nwait 1\n")
                                     .lane("always", "set d4 high\nwait 1\nset d4 low\nwait 1\n"));
    QCOMPARE(groups.size(), std::size_t(2));
    QVERIFY(!groups[0].any && !groups[1].any);
  }
  void lanesThatShareAPinAreNotProved() {
    const OutputGroup g = only(Bench()
                                   .lane("always", "set d3 high\nwait 1\n")
                                   .lane("always", "set d3 low\nset d4 high\nwait 1\n"));
    QVERIFY(g.any);
    QCOMPARE(g.pins, (std::vector<std::string>{"D3", "D4"}));
  }
  void largePrograms() {
    // Ten thousand steps: either proved or given up, and soon.
    std::string text;
    for (int i = 0; i < 2500; ++i)
      text += "set d" + std::to_string(2 + i % 3) + (i % 2 ? " high\n" : " low\n") +
              "if d8 high\n  set d5 high\n  wait 0.01\n";
    const auto groups = groupsOf(Bench().program(text));
    QCOMPARE(groups.size(), std::size_t(1));
    QVERIFY(groups[0].any || !groups[0].vectors.empty());
    std::string smaller;
    for (int i = 0; i < 400; ++i)
      smaller += "set d2 " + std::string(i % 2 ? "high\n" : "low\n") + "wait 0.0001\n";
    const OutputGroup g = only(Bench().program(smaller));
    QVERIFY(!g.any);
    QCOMPARE(g.vectors.size(), std::size_t(2));
  }
  // Nothing that a walk through the program meets is ever left out.
  void neverLeavesOutAWay() {
    std::mt19937 random(20261123);
    int proved = 0;
    for (int i = 0; i < 400; ++i) {
      Bench bench;
      bench.lane("always", randomSteps(random, 3, ""));
      const Project p = bench;
      const CompiledProgram program = compile(*p.program("b1"), {});
      Walker walker(program, random);
      walker.walk(3000);
      for (const OutputGroup& g : outputGroups(program)) {
        if (g.any) continue;
        ++proved;
        const Vectors ways = named(g, g.lasting);
        for (const auto& met : walker.seen) {
          std::map<std::string, bool> mine;
          for (const std::string& pin : g.pins) mine[pin] = met.at(pin);
          QVERIFY2(ways.contains(mine), textOf(p.program("b1")->lanes[0]->steps).c_str());
        }
        for (const std::uint32_t way : g.lasting)
          QVERIFY(std::binary_search(g.vectors.begin(), g.vectors.end(), way));
      }
    }
    QVERIFY(proved > 300);
  }
};

QTEST_GUILESS_MAIN(TestReach)
#include "tst_reach.moc"
