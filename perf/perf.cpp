// Ratios, each measured within one run: how long the check takes, and how much a Newton iteration
// costs against the bare linear solve that it cannot do without.
#include <benchmark/benchmark.h>
#include <klu.h>

#include <chrono>
#include <cmath>
#include <ctime>
#include <map>
#include <random>

#include "check/finding.h"
#include "check/sweep.h"
#include "demos.h"
#include "electric/solver.h"
#include "format/project_file.h"
#include "support/build.h"

using namespace ignavo;
using namespace ignavo::test;

namespace {

using Clock = std::chrono::steady_clock;
double seconds(Clock::duration d) { return std::chrono::duration<double>(d).count(); }

// A ladder of resistors and lamps with 40 unknowns.
electric::Network ladder() {
  electric::Network n;
  const auto red = electric::JunctionModel::through(1.90, 0.010, 2 * electric::thermalVolts, 5);
  electric::Node last = n.addNode();
  n.addSource(last, 5);
  while (n.nodes() - 1 < 40) {
    const electric::Node next = n.addNode();
    n.addConductor(last, next, 1.0 / 220);
    if (n.nodes() % 3 == 0)
      n.addJunction(next, 0, red);
    else
      n.addConductor(next, 0, 1e-4);
    last = next;
  }
  return n;
}

// The same matrix, refactored and solved bare.
struct Bare {
  std::vector<int> columns, rows;
  std::vector<double> values, rhs;
  klu_common common{};
  klu_symbolic* symbolic = nullptr;
  klu_numeric* numeric = nullptr;
  int n = 0;

  explicit Bare(const electric::Network& net, const electric::Solution& s) {
    n = net.nodes() - 1;
    std::map<std::pair<int, int>, double> entries;
    const auto add = [&](int a, int b, double v) {
      if (a >= 0 && b >= 0) entries[{b, a}] += v;
    };
    const auto quad = [&](int a, int b, double g) {
      add(a - 1, a - 1, g), add(b - 1, b - 1, g), add(a - 1, b - 1, -g), add(b - 1, a - 1, -g);
    };
    for (const auto& c : net.conductors) quad(c.a, c.b, c.siemens);
    for (const auto& j : net.junctions)
      quad(j.anode, j.cathode,
           electric::evaluate(j.model, s.volt(j.anode) - s.volt(j.cathode), 1e-12).siemens);
    // A source's node has its voltage, whatever flows there.
    for (auto& [key, value] : entries)
      for (const auto& source : net.sources)
        if (key.second == source.plus - 1) value = key.first == key.second ? 1 : 0;
    columns.assign(static_cast<std::size_t>(n) + 1, 0);
    for (const auto& [key, v] : entries) {
      rows.push_back(key.second);
      values.push_back(v);
      ++columns[static_cast<std::size_t>(key.first) + 1];
    }
    for (std::size_t c = 1; c < columns.size(); ++c) columns[c] += columns[c - 1];
    klu_defaults(&common);
    symbolic = klu_analyze(n, columns.data(), rows.data(), &common);
    numeric = klu_factor(columns.data(), rows.data(), values.data(), symbolic, &common);
  }
  void once() {
    rhs.assign(static_cast<std::size_t>(n), 1.0);
    klu_refactor(columns.data(), rows.data(), values.data(), symbolic, numeric, &common);
    klu_solve(symbolic, numeric, n, 1, rhs.data(), &common);
  }
};

void newtonAgainstBareSolve(benchmark::State& state) {
  const electric::Network net = ladder();
  electric::Solver solver(net);
  const electric::Solution s = solver.solve(net);
  if (!s.converged) state.SkipWithError("the ladder did not converge");
  Bare bare(net, s);
  constexpr int rounds = 2000;
  double own = 0, floor = 0;
  for (auto _ : state) {
    const auto a = Clock::now();
    for (int i = 0; i < rounds; ++i) solver.iterateOnce(net);
    const auto b = Clock::now();
    for (int i = 0; i < rounds; ++i) bare.once();
    const auto c = Clock::now();
    own += seconds(b - a);
    floor += seconds(c - b);
  }
  state.counters["unknowns"] = solver.unknowns();
  state.counters["ratio_to_bare"] = own / floor;
}

void checkOfADemo(benchmark::State& state) {
  const Project p = readProject(demo("berth-signals")->text).project;
  for (auto _ : state) benchmark::DoNotOptimize(check(p).poses);
}

// Twelve buttons, each with its resistor and lamp, on one shared resistor, and
// three resistors more: one island of 40 parts that stands in 4,096 ways.
Project panel() {
  Project p = emptyProject();
  p.breadboards[0].type = "full";
  const auto add = [&](const char* type, const std::vector<std::string>& holes) {
    Part part = newPart(p, *catalogue().partKind(type));
    for (std::size_t i = 0; i < holes.size(); ++i) part.legs[i].in = Socket{"bb", holes[i]};
    p = edits::addPart(std::move(p), std::move(part));
  };
  const auto wire = [&](Socket from, Socket to) {
    Wire w;
    w.id = freeId(p, "w");
    w.from = std::move(from);
    w.to = std::move(to);
    p = edits::addWire(std::move(p), std::move(w));
  };
  for (int i = 0; i < 12; ++i) {
    const auto at = [&](char column, int row) { return column + std::to_string(5 * i + row); };
    add("button", {at('e', 1), at('f', 1), at('e', 3), at('f', 3)});
    add("resistor", {at('g', 3), at('g', 5)});
    add("led", {at('h', 5), at('h', 4)});
    wire({"bb", at('a', 1)}, {"bb", "lp" + std::to_string(i < 6 ? i + 3 : i + 26)});
    wire({"bb", at('j', 4)}, {"bb", "rn" + std::to_string(i < 6 ? i + 3 : i + 26)});
  }
  add("resistor", {"b61", "b63"});
  add("resistor", {"c61", "c63"});
  add("resistor", {"d61", "d63"});
  add("resistor", {"g61", "g63"});
  wire({"bb", "lp25"}, {"bb", "lp26"});
  wire({"bb", "rn25"}, {"bb", "rn26"});
  wire({"b1", "5V"}, {"bb", "lp1"});
  wire({"bb", "rn1"}, {"bb", "a61"});
  wire({"b1", "GND"}, {"bb", "a63"});
  wire({"bb", "rn2"}, {"bb", "f61"});
  wire({"b1", "GND2"}, {"bb", "f63"});
  return p;
}

// Of this thread alone: what else the machine does meanwhile is not the sweep's.
double processorSeconds() {
  timespec now{};
  clock_gettime(CLOCK_THREAD_CPUTIME_ID, &now);
  return static_cast<double>(now.tv_sec) + 1e-9 * static_cast<double>(now.tv_nsec);
}

void poseSweep(benchmark::State& state) {
  const Project p = panel();
  double poses = 0;
  std::vector<double> each;
  for (auto _ : state) {
    const double start = processorSeconds();
    Circuit circuit(p);
    const Sweep sweep(p, circuit);
    each.push_back((processorSeconds() - start) * 60);
    poses = sweep.poses();
  }
  std::nth_element(each.begin(), each.begin() + static_cast<long>(each.size() / 2), each.end());
  state.counters["poses"] = poses;
  state.counters["parts"] = static_cast<double>(p.parts->size());
  state.counters["frames_median"] = each[each.size() / 2];
}
BENCHMARK(poseSweep)->Name("pose sweep, 60 Hz frames (at most 2)")->MinTime(0.5);
BENCHMARK(newtonAgainstBareSolve)
    ->Name("Newton iteration against KLU refactor + solve")
    ->MinTime(0.3);
BENCHMARK(checkOfADemo)->Name("check of Berth signals")->MinTime(0.3);

}  // namespace

BENCHMARK_MAIN();
