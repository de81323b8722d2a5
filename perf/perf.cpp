// Ratios, each measured within one run: how much faster than real time the
// simulator is, and how much a Newton iteration costs against the bare linear
// solve that it cannot do without.
#include <benchmark/benchmark.h>
#include <klu.h>

#include <chrono>
#include <cmath>
#include <map>
#include <random>

#include "check/finding.h"
#include "demos.h"
#include "electric/solver.h"
#include "format/project_file.h"
#include "run/kernel.h"
#include "support/build.h"

using namespace ignavo;
using namespace ignavo::test;

namespace {

using Clock = std::chrono::steady_clock;
double seconds(Clock::duration d) { return std::chrono::duration<double>(d).count(); }

void runAgainstRealTime(benchmark::State& state, const Project& project, double simulated,
                        bool skipping) {
  const auto shared = std::make_shared<const Project>(project);
  double total = 0;
  for (auto _ : state) {
    Kernel kernel(shared);
    kernel.allowSkipping(skipping);
    kernel.advance(static_cast<Nanoseconds>(simulated * 1e9));
    benchmark::DoNotOptimize(kernel.trace().end());
    total += simulated;
  }
  state.counters["times_real_time"] = benchmark::Counter(total, benchmark::Counter::kIsRate);
}

void blinkSkipping(benchmark::State& state) {
  runAgainstRealTime(state, beacon().program(ignavo::test::blink), 1e6, true);
}
void blinkEveryEdge(benchmark::State& state) {
  runAgainstRealTime(state, beacon().program(ignavo::test::blink), 2000, false);
}
void noWaits(benchmark::State& state) {
  runAgainstRealTime(state, beacon().program("set d4 high\nset d4 low\n"), 1000, true);
}
void noWaitsEveryEdge(benchmark::State& state) {
  runAgainstRealTime(state, beacon().program("set d4 high\nset d4 low\n"), 1, false);
}

// A ladder of resistors and lamps with 40 unknowns.
electric::Network ladder() {
  electric::Network n;
  const auto red = electric::JunctionModel::through(1.90, 0.010, 2 * electric::thermalVolts, 5);
  electric::Node last = n.addNode();
  n.addSource(last, 0, 5);
  while (n.nodes() - 1 + 1 < 40 - 1) {
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
    n = net.nodes() - 1 + static_cast<int>(net.sources.size());
    std::map<std::pair<int, int>, double> entries;
    const auto add = [&](int a, int b, double v) {
      if (a >= 0 && b >= 0) entries[{b, a}] += v;
    };
    const auto quad = [&](int a, int b, double g) {
      add(a - 1, a - 1, g), add(b - 1, b - 1, g), add(a - 1, b - 1, -g), add(b - 1, a - 1, -g);
    };
    for (const auto& c : net.conductors) quad(c.a, c.b, c.siemens);
    for (const auto& j : net.junctions) {
      const double v = s.volt(j.inner) - s.volt(j.cathode);
      quad(j.inner, j.cathode,
           j.model.saturationAmps / j.model.emissionVolts * std::exp(v / j.model.emissionVolts) +
               1e-12);
      if (j.inner != j.anode) quad(j.anode, j.inner, 1 / j.model.seriesOhms);
    }
    for (std::size_t k = 0; k < net.sources.size(); ++k) {
      const int branch = net.nodes() - 1 + static_cast<int>(k);
      add(branch, net.sources[k].plus - 1, 1), add(net.sources[k].plus - 1, branch, 1),
          add(branch, branch, 0);
    }
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

BENCHMARK(blinkSkipping)->Name("blink: times real time")->MinTime(0.3);
BENCHMARK(blinkEveryEdge)->Name("blink, every edge simulated")->MinTime(0.3);
BENCHMARK(noWaits)->Name("a pin without waits: times real time")->MinTime(0.3);
BENCHMARK(noWaitsEveryEdge)->Name("a pin without waits, every edge simulated")->MinTime(0.3);
BENCHMARK(newtonAgainstBareSolve)
    ->Name("Newton iteration against KLU refactor + solve")
    ->MinTime(0.3);
BENCHMARK(checkOfADemo)->Name("check of Berth signals")->MinTime(0.3);

}  // namespace

BENCHMARK_MAIN();
