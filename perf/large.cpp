// How the time grows with what a file may hold: twice as much, against half of it, in one run.
// 2 is as it should be, 4 is quadratic. The larger one is what the limits allow, or what an
// everyday computer is once given.
#include <benchmark/benchmark.h>

#include <algorithm>
#include <chrono>
#include <functional>
#include <vector>

#include "check/finding.h"
#include "format/project_file.h"
#include "format/wiring_language.h"
#include "program/steps.h"
#include "project/edits.h"

using namespace ignavo;

namespace {

using Clock = std::chrono::steady_clock;

double seconds(const std::function<void()>& work) {
  const auto begin = Clock::now();
  work();
  return std::chrono::duration<double>(Clock::now() - begin).count();
}

// `prepare(n)` gives what is to be done with n things; what it takes to prepare is not counted.
void doubling(benchmark::State& state, int most, std::function<void()> (*prepare)(int)) {
  const auto half = prepare(most / 2), whole = prepare(most);
  std::vector<double> ratios;
  double longest = 0;
  for (auto _ : state) {
    // In turn, so that a slow moment of the machine meets both.
    const double before = seconds(half), large = seconds(whole), after = seconds(half);
    ratios.push_back(2 * large / (before + after));
    longest = std::max(longest, large);
  }
  std::nth_element(ratios.begin(), ratios.begin() + static_cast<long>(ratios.size() / 2),
                   ratios.end());
  state.counters["things"] = most;
  state.counters["ratio_of_doubling"] = ratios[ratios.size() / 2];
  state.counters["longest_seconds"] = longest;
}

std::function<void()> checking(Project p) {
  return [p = std::move(p)] { benchmark::DoNotOptimize(check(p).poses); };
}

Project withSteps(int lanes, const std::function<Step(int)>& step, int each) {
  Project p = emptyProject();
  std::vector<Cow<Lane>> all;
  for (int l = 0; l < lanes; ++l) {
    Lane lane;
    lane.trigger.on = "always";
    for (int i = 0; i < each; ++i) lane.steps.push_back(step(l * each + i));
    all.emplace_back(std::move(lane));
  }
  p.programs[0].edit().lanes = std::move(all);
  return edits::assignIds(std::move(p));
}
Step setStep(int i) {
  Step s = newStep(*stepKind("set"));
  s.setField("pin", Expr::of("D" + std::to_string(2 + i % 12)));
  s.setField("to", Expr::of(std::string(i / 12 % 2 ? "low" : "high")));
  return s;
}

std::function<void()> setSteps(int n) { return checking(withSteps(1, setStep, n)); }
std::function<void()> lanesOfFifty(int n) { return checking(withSteps(n, setStep, 50)); }

// Full breadboards, five lamps on every second row.
std::string lampsAsText(int n) {
  std::string text = "board tern\n";
  constexpr int perBoard = 155;
  for (int b = 0; b <= (n - 1) / perBoard; ++b)
    text += "breadboard full bb" + std::to_string(b + 1) + " at " + std::to_string(14 + 30 * b) +
            " 2\n";
  for (int i = 0; i < n; ++i) {
    const std::string bb = "bb" + std::to_string(i / perBoard + 1) + ".";
    const char column = "acgij"[i % 5];
    const int row = 1 + i % perBoard / 5 * 2;
    text += "red led " + bb + column + std::to_string(row) + " " + bb + column +
            std::to_string(row + 1) + "\n";
  }
  return text;
}
std::function<void()> wiringText(int n) {
  return
      [text = lampsAsText(n)] { benchmark::DoNotOptimize(readWiring(text).project.parts->size()); };
}
std::function<void()> lamps(int n) { return checking(readWiring(lampsAsText(n)).project); }

// Each of them straight between 5 V and ground: as many findings.
std::function<void()> burningLamps(int n) {
  constexpr int perBoard = 31;
  std::string text = "board tern\n";
  for (int i = 0; i < n; ++i) {
    const std::string bb = "bb" + std::to_string(i / perBoard + 1) + ".";
    const int k = i % perBoard, row = 1 + 2 * k, rail = k < 22 ? 2 + k : 5 + k;
    const auto hole = [&](const char* column, int number) {
      return bb + column + std::to_string(number);
    };
    if (k == 0) {
      const bool first = i == 0;
      const std::string before = "bb" + std::to_string(i / perBoard) + ".";
      text += "breadboard full " + bb.substr(0, bb.size() - 1) + " at " +
              std::to_string(14 + 30 * (i / perBoard)) + " 2\n";
      text += "wire " + (first ? "5V" : before + "lp50") + " " + hole("lp", 1) + "\n";
      text += "wire " + (first ? "GND" : before + "ln50") + " " + hole("ln", 1) + "\n";
      text += "wire " + hole("lp", 25) + " " + hole("lp", 26) + "\n";
      text += "wire " + hole("ln", 25) + " " + hole("ln", 26) + "\n";
    }
    text += "red led " + hole("a", row) + " " + hole("a", row + 1) + "\n";
    text += "wire " + hole("b", row) + " " + hole("lp", rail) + "\n";
    text += "wire " + hole("b", row + 1) + " " + hole("ln", rail) + "\n";
  }
  return checking(readWiring(text).project);
}

std::function<void()> unknownKeys(int n) {
  std::string text = writeProject(emptyProject());
  std::string keys;
  for (int i = 0; i < n; ++i) keys += ",\n\"key" + std::to_string(i) + "\": " + std::to_string(i);
  text.insert(text.rfind('}') - 1, keys);
  return [text] { benchmark::DoNotOptimize(readProject(text).readable); };
}
std::function<void()> lettersOfAName(int n) {
  Project p = readWiring("red led a1 a2\n").project;
  p = edits::changePart(std::move(p), "led1",
                        [&](Part& q) { q.name = std::string(static_cast<std::size_t>(n), 'x'); });
  return [text = writeProject(p)] { benchmark::DoNotOptimize(readProject(text).readable); };
}

#define GROWS(what, most, words)                \
  BENCHMARK_CAPTURE(doubling, what, most, what) \
      ->Name(words)                             \
      ->MinTime(0.5)                            \
      ->Unit(benchmark::kMillisecond)
GROWS(setSteps, 10000, "check of set steps: doubling (at most 3)");
GROWS(lanesOfFifty, 200, "check of lanes with 50 steps: doubling (at most 3)");
GROWS(lamps, 640, "check of lamps: doubling (at most 3)");
GROWS(burningLamps, 480, "check of lamps that all burn: doubling (at most 3)");
GROWS(wiringText, 2000, "circuit as text: doubling (at most 3)");
GROWS(unknownKeys, 100000, "unknown keys: doubling (at most 3)");
GROWS(lettersOfAName, 1000000, "letters of a name: doubling (at most 3)");
#undef GROWS

}  // namespace
