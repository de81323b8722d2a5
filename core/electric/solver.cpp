#include "electric/solver.h"

#include <klu.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "electric/tolerances.h"

namespace ignavo::electric {

namespace tol = tolerances;

namespace {

struct JunctionPoint {
  double amps = 0;
  double siemens = 0;
};

// Current and slope at a junction voltage; a straight line beyond the largest exponent.
JunctionPoint evaluate(const JunctionModel& m, double volts, double leak) {
  const double x = volts / m.emissionVolts;
  const double capped = std::min(x, tol::largestExponent);
  const double e = std::exp(capped);
  const double slope = m.saturationAmps * e / m.emissionVolts;
  const double amps = m.saturationAmps * (e - 1) + slope * (x - capped) * m.emissionVolts;
  return {amps + leak * volts, slope + leak};
}

// Shortens a step of the junction voltage that would overshoot its exponential:
// above the critical voltage the step becomes logarithmic.
double limited(const JunctionModel& m, double wanted, double last, bool& cut) {
  const double nvt = m.emissionVolts;
  const double critical = nvt * std::log(nvt / (std::sqrt(2.0) * m.saturationAmps));
  if (wanted <= critical || std::abs(wanted - last) <= 2 * nvt) return wanted;
  cut = true;
  if (last <= 0) return nvt * std::log(std::max(wanted / nvt, 1.0));
  const double growth = 1 + (wanted - last) / nvt;
  return growth > 0 ? last + nvt * std::log(growth) : critical;
}

double innerAmps(const Junction& j, const Solution& s) {
  if (j.open) return 0;
  return evaluate(j.model, s.volt(j.inner) - s.volt(j.cathode), tol::junctionLeakSiemens).amps;
}

}  // namespace

double Solution::conductorAmps(const Network& n, int index) const {
  const Conductor& c = n.conductors[static_cast<std::size_t>(index)];
  return c.siemens * (volt(c.a) - volt(c.b));
}

double kirchhoffError(const Network& network, const Solution& s) {
  std::vector<double> sum(static_cast<std::size_t>(network.nodes()), 0.0);
  const auto flow = [&](Node from, Node to, double amps) {
    sum[static_cast<std::size_t>(from)] -= amps;
    sum[static_cast<std::size_t>(to)] += amps;
  };
  for (std::size_t i = 0; i < network.conductors.size(); ++i)
    flow(network.conductors[i].a, network.conductors[i].b,
         s.conductorAmps(network, static_cast<int>(i)));
  for (const Junction& j : network.junctions) {
    if (j.open) continue;
    const double amps = innerAmps(j, s);
    flow(j.inner, j.cathode, amps);
    if (j.inner != j.anode)
      flow(j.anode, j.inner, (s.volt(j.anode) - s.volt(j.inner)) / j.model.seriesOhms);
  }
  for (std::size_t i = 0; i < network.sources.size(); ++i)
    flow(network.sources[i].minus, network.sources[i].plus, s.sourceAmps[i]);
  double worst = 0;
  for (std::size_t n = 1; n < sum.size(); ++n) worst = std::max(worst, std::abs(sum[n]));
  return worst;
}

double powerError(const Network& network, const Solution& s) {
  double balance = 0;
  for (std::size_t i = 0; i < network.sources.size(); ++i)
    balance +=
        s.sourceAmps[i] * (s.volt(network.sources[i].plus) - s.volt(network.sources[i].minus));
  for (std::size_t i = 0; i < network.conductors.size(); ++i) {
    const Conductor& c = network.conductors[i];
    balance -= s.conductorAmps(network, static_cast<int>(i)) * (s.volt(c.a) - s.volt(c.b));
  }
  for (const Junction& j : network.junctions)
    balance -= innerAmps(j, s) * (s.volt(j.anode) - s.volt(j.cathode));
  return balance;
}

// Matrix in compressed columns; devices know the positions of their entries.
struct Solver::Work {
  // Positions in `values` of the four entries of a two-terminal device; -1 at the reference.
  struct Quad {
    int aa = -1, ab = -1, ba = -1, bb = -1;
    void stamp(std::vector<double>& v, double g) const {
      if (aa >= 0) v[static_cast<std::size_t>(aa)] += g;
      if (bb >= 0) v[static_cast<std::size_t>(bb)] += g;
      if (ab >= 0) v[static_cast<std::size_t>(ab)] -= g;
      if (ba >= 0) v[static_cast<std::size_t>(ba)] -= g;
    }
  };
  struct SourceEntries {
    int plusColumn = -1, minusColumn = -1;  // branch row, node columns
    int plusRow = -1, minusRow = -1;        // node rows, branch column
    int diagonal = -1;
  };

  int nodeCount = 0, n = 0;
  std::vector<int> columns, rows;
  std::vector<double> values, base, rhs, x, baseRhs;
  std::vector<Quad> conductors, inners, series;
  std::vector<SourceEntries> sources;
  std::vector<int> diagonal;
  std::vector<double> junctionVolts;
  std::vector<bool> sourceOn;
  double leak = tol::junctionLeakSiemens;
  double sourceScale = 1;
  bool freshPivots = true;
  klu_common common{};
  klu_symbolic* symbolic = nullptr;
  klu_numeric* numeric = nullptr;

  explicit Work(const Network& net);
  ~Work() {
    if (numeric) klu_free_numeric(&numeric, &common);
    if (symbolic) klu_free_symbolic(&symbolic, &common);
  }
  Work(const Work&) = delete;
  Work& operator=(const Work&) = delete;

  double nodeVolts(Node node) const {
    return node == 0 ? 0 : x[static_cast<std::size_t>(node - 1)];
  }
  void stampLinear(const Network& net);
  void stampJunctions(const Network& net);
  bool factorAndSolve();
  bool newtonStep(const Network& net, double& moved, bool& cut);
  bool newton(const Network& net, int& iterations);
  bool converge(const Network& net, int& iterations);
  void rest(const Network& net);
  Solution read(const Network& net, bool ok, int iterations) const;
};

Solver::Work::Work(const Network& net) : nodeCount(net.nodes()) {
  n = nodeCount - 1 + static_cast<int>(net.sources.size());
  std::map<std::pair<int, int>, int> position;  // (column, row), sorted as KLU wants them
  const auto need = [&](int row, int column) {
    if (row >= 0 && column >= 0) position[{column, row}] = 0;
  };
  const auto needQuad = [&](Node a, Node b) {
    need(a - 1, a - 1), need(b - 1, b - 1), need(a - 1, b - 1), need(b - 1, a - 1);
  };
  for (int i = 0; i < nodeCount - 1; ++i) need(i, i);
  for (const Conductor& c : net.conductors) needQuad(c.a, c.b);
  for (const Junction& j : net.junctions) needQuad(j.inner, j.cathode), needQuad(j.anode, j.inner);
  for (std::size_t k = 0; k < net.sources.size(); ++k) {
    const int branch = nodeCount - 1 + static_cast<int>(k);
    for (Node node : {net.sources[k].plus, net.sources[k].minus})
      need(branch, node - 1), need(node - 1, branch);
    need(branch, branch);
  }
  columns.assign(static_cast<std::size_t>(n) + 1, 0);
  for (auto& [key, index] : position) {
    index = static_cast<int>(rows.size());
    rows.push_back(key.second);
    ++columns[static_cast<std::size_t>(key.first) + 1];
  }
  for (std::size_t c = 1; c < columns.size(); ++c) columns[c] += columns[c - 1];
  const auto find = [&](int row, int column) {
    return row < 0 || column < 0 ? -1 : position.at({column, row});
  };
  const auto quad = [&](Node a, Node b) {
    return Quad{find(a - 1, a - 1), find(a - 1, b - 1), find(b - 1, a - 1), find(b - 1, b - 1)};
  };
  for (int i = 0; i < nodeCount - 1; ++i) diagonal.push_back(find(i, i));
  for (const Conductor& c : net.conductors) conductors.push_back(quad(c.a, c.b));
  for (const Junction& j : net.junctions) {
    inners.push_back(quad(j.inner, j.cathode));
    series.push_back(j.inner == j.anode ? Quad{} : quad(j.anode, j.inner));
  }
  for (std::size_t k = 0; k < net.sources.size(); ++k) {
    const int branch = nodeCount - 1 + static_cast<int>(k);
    const Source& s = net.sources[k];
    sources.push_back({find(branch, s.plus - 1), find(branch, s.minus - 1),
                       find(s.plus - 1, branch), find(s.minus - 1, branch), find(branch, branch)});
  }
  values.resize(rows.size());
  x.assign(static_cast<std::size_t>(n), 0.0);
  klu_defaults(&common);
  if (n > 0) symbolic = klu_analyze(n, columns.data(), rows.data(), &common);
}

void Solver::Work::rest(const Network& net) {
  std::fill(x.begin(), x.end(), 0.0);
  junctionVolts.assign(net.junctions.size(), 0.0);
}

void Solver::Work::stampLinear(const Network& net) {
  base.assign(rows.size(), 0.0);
  baseRhs.assign(static_cast<std::size_t>(n), 0.0);
  for (int d : diagonal) base[static_cast<std::size_t>(d)] += tol::nodeLeakSiemens;
  for (std::size_t i = 0; i < conductors.size(); ++i)
    conductors[i].stamp(base, net.conductors[i].siemens);
  for (std::size_t i = 0; i < series.size(); ++i)
    if (net.junctions[i].inner != net.junctions[i].anode)
      series[i].stamp(base, 1 / net.junctions[i].model.seriesOhms);
  for (std::size_t k = 0; k < sources.size(); ++k) {
    const SourceEntries& e = sources[k];
    const auto put = [&](int where, double v) {
      if (where >= 0) base[static_cast<std::size_t>(where)] += v;
    };
    put(e.plusRow, 1), put(e.minusRow, -1);
    if (sourceOn[k]) {
      put(e.plusColumn, 1), put(e.minusColumn, -1);
      baseRhs[static_cast<std::size_t>(nodeCount - 1) + k] = net.sources[k].volts * sourceScale;
    } else {
      put(e.diagonal, 1);
    }
  }
}

void Solver::Work::stampJunctions(const Network& net) {
  values = base;
  rhs = baseRhs;
  for (std::size_t i = 0; i < inners.size(); ++i) {
    const Junction& j = net.junctions[i];
    if (j.open) continue;
    const JunctionPoint p = evaluate(j.model, junctionVolts[i], leak);
    inners[i].stamp(values, p.siemens);
    const double constant = p.amps - p.siemens * junctionVolts[i];
    if (j.inner > 0) rhs[static_cast<std::size_t>(j.inner - 1)] -= constant;
    if (j.cathode > 0) rhs[static_cast<std::size_t>(j.cathode - 1)] += constant;
  }
}

bool Solver::Work::factorAndSolve() {
  if (!numeric || freshPivots) {
    if (numeric) klu_free_numeric(&numeric, &common);
    numeric = klu_factor(columns.data(), rows.data(), values.data(), symbolic, &common);
    freshPivots = false;
    if (!numeric) return false;
  } else if (!klu_refactor(columns.data(), rows.data(), values.data(), symbolic, numeric,
                           &common)) {
    freshPivots = true;
    return factorAndSolve();
  }
  return klu_solve(symbolic, numeric, n, 1, rhs.data(), &common) != 0;
}

bool Solver::Work::newtonStep(const Network& net, double& moved, bool& cut) {
  stampJunctions(net);
  if (!factorAndSolve()) return false;
  moved = 0;
  cut = false;
  for (std::size_t i = 0; i < x.size(); ++i) {
    if (!std::isfinite(rhs[i])) return false;
    if (static_cast<int>(i) < nodeCount - 1)
      moved = std::max(moved, std::abs(rhs[i] - x[i]) / (1 + std::abs(rhs[i])));
  }
  x.swap(rhs);
  for (std::size_t i = 0; i < net.junctions.size(); ++i) {
    const Junction& j = net.junctions[i];
    if (!j.open)
      junctionVolts[i] =
          limited(j.model, nodeVolts(j.inner) - nodeVolts(j.cathode), junctionVolts[i], cut);
  }
  return true;
}

bool Solver::Work::newton(const Network& net, int& iterations) {
  stampLinear(net);
  for (int k = 0; k < tol::newtonIterations; ++k) {
    double moved = 0;
    bool cut = false;
    ++iterations;
    if (!newtonStep(net, moved, cut)) return false;
    if (cut) continue;
    if (moved < tol::stepVolts) return true;
    if (k >= tol::settleAfter && kirchhoffError(net, read(net, true, 0)) < tol::settledAmps &&
        leak == tol::junctionLeakSiemens)
      return true;
  }
  return false;
}

// Plain Newton first; then with a leak across the junctions that is taken away
// by and by; then with the sources raised by and by.
bool Solver::Work::converge(const Network& net, int& iterations) {
  rest(net);
  freshPivots = true;
  if (newton(net, iterations)) return true;
  rest(net);
  bool ok = true;
  for (double g = 1e-2; ok && g > tol::junctionLeakSiemens; g /= 10) {
    leak = g;
    freshPivots = true;
    ok = newton(net, iterations);
  }
  leak = tol::junctionLeakSiemens;
  if (ok && newton(net, iterations)) return true;
  rest(net);
  ok = true;
  for (int k = 1; ok && k <= 20; ++k) {
    sourceScale = k / 20.0;
    freshPivots = true;
    ok = newton(net, iterations);
  }
  sourceScale = 1;
  return ok;
}

Solution Solver::Work::read(const Network& net, bool ok, int iterations) const {
  Solution s;
  s.converged = ok;
  s.iterations = iterations;
  s.volts.assign(static_cast<std::size_t>(nodeCount), 0.0);
  for (int i = 1; i < nodeCount; ++i) s.volts[static_cast<std::size_t>(i)] = nodeVolts(i);
  for (std::size_t k = 0; k < sources.size(); ++k)
    s.sourceAmps.push_back(sourceOn[k] ? -x[static_cast<std::size_t>(nodeCount - 1) + k] : 0.0);
  for (const Junction& j : net.junctions) s.junctionAmps.push_back(innerAmps(j, s));
  return s;
}

Solver::Solver(const Network& network) : work_(std::make_unique<Work>(network)) {}
Solver::~Solver() = default;
Solver::Solver(Solver&&) noexcept = default;
Solver& Solver::operator=(Solver&&) noexcept = default;

int Solver::unknowns() const { return work_->n; }

Solution Solver::solve(const Network& network) {
  Work& w = *work_;
  int iterations = 0;
  w.sourceOn.assign(network.sources.size(), true);
  // Sources that would have to absorb current are switched off, and on again
  // when their net sinks below their voltage; each round changes the set.
  Solution s;
  for (std::size_t round = 0; round <= 2 * network.sources.size(); ++round) {
    bool ok = w.n == 0 || w.converge(network, iterations);
    s = w.read(network, ok, iterations);
    if (!ok) return s;
    bool changed = false;
    for (std::size_t k = 0; k < network.sources.size(); ++k) {
      const Source& source = network.sources[k];
      const double across = s.volt(source.plus) - s.volt(source.minus);
      if (w.sourceOn[k] && s.sourceAmps[k] < -tol::absorbedAmps * (1 + 1e3 * source.volts)) {
        w.sourceOn[k] = false;
        changed = true;
      } else if (!w.sourceOn[k] && across < source.volts - tol::stepVolts) {
        w.sourceOn[k] = true;
        changed = true;
      }
    }
    if (!changed) break;
  }
  double largest = 0;
  for (double a : s.sourceAmps) largest = std::max(largest, std::abs(a));
  s.converged =
      kirchhoffError(network, s) <= std::max(tol::kirchhoffAmps, tol::kirchhoffRelative * largest);
  return s;
}

double Solver::resistanceAt(Node node) const {
  if (node == 0 || !work_->numeric) return 0;
  std::vector<double> unit(static_cast<std::size_t>(work_->n), 0.0);
  unit[static_cast<std::size_t>(node - 1)] = 1;
  klu_common common = work_->common;
  klu_solve(work_->symbolic, work_->numeric, work_->n, 1, unit.data(), &common);
  return unit[static_cast<std::size_t>(node - 1)];
}

void Solver::iterateOnce(const Network& network) {
  double moved = 0;
  bool cut = false;
  work_->newtonStep(network, moved, cut);
}

}  // namespace ignavo::electric
