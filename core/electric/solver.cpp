#include "electric/solver.h"

#include <klu.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "electric/balance.h"
#include "electric/tolerances.h"

namespace ignavo::electric {

namespace tol = tolerances;

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
  // Positions of a three-terminal device, rows and columns in the order of its terminals.
  struct Nine {
    int at[3][3];
    void add(std::vector<double>& v, int row, int column, double g) const {
      if (at[row][column] >= 0) v[static_cast<std::size_t>(at[row][column])] += g;
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
  std::vector<Quad> conductors, inners, series, batteries, motors;
  std::vector<Quad> collectorOhms, baseOhms;
  std::vector<Nine> bipolars, mosfets;
  std::vector<SourceEntries> sources;
  std::vector<int> diagonal;
  std::vector<double> junctionVolts, motorVolts;
  struct Pair {
    double first = 0, second = 0;
  };
  std::vector<Pair> bipolarVolts;  // base–emitter, base–collector
  std::vector<Pair> mosfetVolts;   // gate–source, drain–source
  std::vector<bool> sourceOn;
  double leak = tol::junctionLeakSiemens;
  double share = 1;  // of a step that motors and MOSFETs take
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
  // A current that flows from one node to another through a device.
  static void inject(std::vector<double>& amps, Node from, Node to, double value) {
    if (from > 0) amps[static_cast<std::size_t>(from - 1)] -= value;
    if (to > 0) amps[static_cast<std::size_t>(to - 1)] += value;
  }
  void stampLinear(const Network& net);
  void stampJunctions(const Network& net);
  void stampActive(const Network& net);
  void followJunctions(const Network& net, double& moved, bool& cut);
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
  for (const Battery& e : net.batteries) needQuad(e.plus, e.minus);
  for (const Motor& m : net.motors) needQuad(m.a, m.b);
  const auto needNine = [&](Node a, Node b, Node c) {
    needQuad(a, b), needQuad(b, c), needQuad(a, c);
  };
  for (const Bipolar& q : net.bipolars) {
    needNine(q.innerCollector, q.innerBase, q.emitter);
    needQuad(q.collector, q.innerCollector), needQuad(q.base, q.innerBase);
  }
  for (const Mosfet& m : net.mosfets) needNine(m.drain, m.gate, m.source);
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
  const auto nine = [&](Node a, Node b, Node c) {
    const Node nodes[] = {a, b, c};
    Nine out{};
    for (int r = 0; r < 3; ++r)
      for (int k = 0; k < 3; ++k) out.at[r][k] = find(nodes[r] - 1, nodes[k] - 1);
    return out;
  };
  for (const Battery& e : net.batteries) batteries.push_back(quad(e.plus, e.minus));
  for (const Motor& m : net.motors) motors.push_back(quad(m.a, m.b));
  for (const Bipolar& q : net.bipolars) {
    bipolars.push_back(nine(q.innerCollector, q.innerBase, q.emitter));
    collectorOhms.push_back(quad(q.collector, q.innerCollector));
    baseOhms.push_back(quad(q.base, q.innerBase));
  }
  for (const Mosfet& m : net.mosfets) mosfets.push_back(nine(m.drain, m.gate, m.source));
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
  motorVolts.assign(net.motors.size(), 0.0);
  bipolarVolts.assign(net.bipolars.size(), {});
  mosfetVolts.assign(net.mosfets.size(), {});
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
  for (std::size_t i = 0; i < batteries.size(); ++i) {
    const Battery& e = net.batteries[i];
    if (e.open) continue;
    batteries[i].stamp(base, 1 / e.ohms);
    inject(baseRhs, e.minus, e.plus, e.volts / e.ohms);
  }
  for (std::size_t i = 0; i < bipolars.size(); ++i) {
    collectorOhms[i].stamp(base, 1 / net.bipolars[i].model.collectorOhms);
    baseOhms[i].stamp(base, 1 / net.bipolars[i].model.baseOhms);
  }
  for (std::size_t k = 0; k < sources.size(); ++k) {
    const SourceEntries& e = sources[k];
    const auto put = [&](int where, double v) {
      if (where >= 0) base[static_cast<std::size_t>(where)] += v;
    };
    put(e.plusRow, 1), put(e.minusRow, -1);
    if (sourceOn[k]) {
      put(e.plusColumn, 1), put(e.minusColumn, -1);
      baseRhs[static_cast<std::size_t>(nodeCount - 1) + k] = net.sources[k].volts;
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
    const TwoTerminalPoint p = evaluate(j.model, junctionVolts[i], leak);
    inners[i].stamp(values, p.siemens);
    inject(rhs, j.inner, j.cathode, p.amps - p.siemens * junctionVolts[i]);
  }
  stampActive(net);
}

void Solver::Work::stampActive(const Network& net) {
  for (std::size_t i = 0; i < motors.size(); ++i) {
    const Motor& m = net.motors[i];
    if (m.open) continue;
    const MotorPoint p = evaluate(m.model, motorVolts[i]);
    motors[i].stamp(values, p.siemens);
    inject(rhs, m.a, m.b, p.amps - p.siemens * motorVolts[i]);
  }
  for (std::size_t i = 0; i < bipolars.size(); ++i) {
    const Bipolar& q = net.bipolars[i];
    if (q.open) continue;
    const auto [be, bc] = bipolarVolts[i];
    const BipolarPoint p = evaluate(q.model, be, bc, leak);
    // Terminals: collector, base, emitter; Vbe = Vb − Ve, Vbc = Vb − Vc.
    const double c[3] = {-p.cByBc, p.cByBe + p.cByBc, -p.cByBe};
    const double b[3] = {-p.bByBc, p.bByBe + p.bByBc, -p.bByBe};
    for (int k = 0; k < 3; ++k) {
      bipolars[i].add(values, 0, k, c[k]);
      bipolars[i].add(values, 1, k, b[k]);
      bipolars[i].add(values, 2, k, -c[k] - b[k]);
    }
    inject(rhs, q.innerCollector, q.emitter, p.collectorAmps - p.cByBe * be - p.cByBc * bc);
    inject(rhs, q.innerBase, q.emitter, p.baseAmps - p.bByBe * be - p.bByBc * bc);
  }
  for (std::size_t i = 0; i < mosfets.size(); ++i) {
    const Mosfet& m = net.mosfets[i];
    if (m.open) continue;
    const auto [gs, ds] = mosfetVolts[i];
    const MosfetPoint p = evaluate(m.model, gs, ds, leak);
    const double d[3] = {p.byDrain, p.byGate, -p.byDrain - p.byGate};
    for (int k = 0; k < 3; ++k) {
      mosfets[i].add(values, 0, k, d[k]);
      mosfets[i].add(values, 2, k, -d[k]);
    }
    inject(rhs, m.drain, m.source, p.amps - p.byGate * gs - p.byDrain * ds);
  }
}

// The voltages at which the devices are linearised next. As long as they move, the
// answer is not that of the devices, even if the nodes have come to rest.
void Solver::Work::followJunctions(const Network& net, double& moved, bool& cut) {
  const auto between = [&](Node a, Node b) { return nodeVolts(a) - nodeVolts(b); };
  const auto follow = [&](double& held, double next) {
    moved = std::max(moved, std::abs(next - held) / (1 + std::abs(next)));
    held = next;
  };
  // Curves with a bend can throw Newton to and fro: then it goes part of the way.
  const auto yield = [&](double& held, double next) {
    moved = std::max(moved, std::abs(next - held) / (1 + std::abs(next)));
    held += share * (next - held);
  };
  for (std::size_t i = 0; i < net.junctions.size(); ++i) {
    const Junction& j = net.junctions[i];
    if (!j.open)
      follow(junctionVolts[i], limitedStep(j.model.saturationAmps, j.model.emissionVolts,
                                           between(j.inner, j.cathode), junctionVolts[i], cut));
  }
  for (std::size_t i = 0; i < net.motors.size(); ++i)
    yield(motorVolts[i], between(net.motors[i].a, net.motors[i].b));
  for (std::size_t i = 0; i < net.bipolars.size(); ++i) {
    const Bipolar& q = net.bipolars[i];
    auto& [be, bc] = bipolarVolts[i];
    const double is = q.model.saturationAmps;
    follow(be, limitedStep(is, thermalVolts, between(q.innerBase, q.emitter), be, cut));
    follow(bc, limitedStep(is, thermalVolts, between(q.innerBase, q.innerCollector), bc, cut));
  }
  // A square law needs no more than to be kept from leaping.
  const auto leap = [&](double wanted, double last) {
    if (std::abs(wanted - last) <= tol::mosfetStepVolts) return wanted;
    cut = true;
    return last + std::copysign(tol::mosfetStepVolts, wanted - last);
  };
  for (std::size_t i = 0; i < net.mosfets.size(); ++i) {
    const Mosfet& m = net.mosfets[i];
    auto& [gs, ds] = mosfetVolts[i];
    yield(gs, leap(between(m.gate, m.source), gs));
    yield(ds, leap(between(m.drain, m.source), ds));
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
  followJunctions(net, moved, cut);
  return true;
}

bool Solver::Work::newton(const Network& net, int& iterations) {
  stampLinear(net);
  for (int k = 0; k < tol::newtonIterations; ++k) {
    double moved = 0;
    bool cut = false;
    ++iterations;
    share = tol::shareOfStep(k);
    // The order of pivots that suited the first point may not suit this one.
    if (k % tol::settleAfter == tol::settleAfter - 1) freshPivots = true;
    if (!newtonStep(net, moved, cut)) return false;
    if (cut) continue;
    if (moved < tol::stepVolts) return true;
    if (k >= tol::settleAfter &&
        imbalance(net, read(net, true, 0), leak, tol::nodeLeakSiemens) < tol::settledAmps)
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
    Network raised = net;
    for (Source& source : raised.sources) source.volts *= k / 20.0;
    for (Battery& battery : raised.batteries) battery.volts *= k / 20.0;
    freshPivots = true;
    ok = newton(raised, iterations);
  }
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
  for (const Battery& e : net.batteries) s.batteryAmps.push_back(batteryAmps(e, s));
  for (const Bipolar& q : net.bipolars) {
    const BipolarPoint p = q.open ? BipolarPoint{} : bipolarPoint(q, s);
    s.bipolarAmps.push_back({p.collectorAmps, p.baseAmps});
  }
  for (const Mosfet& m : net.mosfets) s.mosfetAmps.push_back(mosfetAmps(m, s));
  for (const Motor& m : net.motors) s.motors.push_back(motorPoint(m, s));
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
