#include "electric/newton.h"

#include <algorithm>
#include <cmath>

#include "electric/balance.h"

namespace ignavo::electric {

namespace tol = tolerances;

Newton::Newton(const Network& net)
    : nodeCount(net.nodes()), n(net.nodes() - 1), groups(static_cast<std::size_t>(net.nodes())) {
  Elimination::Entries entries;
  const auto need = [&](int row, int column) {
    if (row >= 0 && column >= 0) entries[{column, row}] = 0;
  };
  const auto needQuad = [&](Node a, Node b) {
    need(a - 1, a - 1), need(b - 1, b - 1), need(a - 1, b - 1), need(b - 1, a - 1);
  };
  const auto needNine = [&](Node a, Node b, Node c) {
    needQuad(a, b), needQuad(b, c), needQuad(a, c);
  };
  for (int i = 0; i < n; ++i) need(i, i);
  for (const Conductor& c : net.conductors) needQuad(c.a, c.b);
  for (const Junction& j : net.junctions) needQuad(j.anode, j.cathode);
  for (const Battery& e : net.batteries) needQuad(e.plus, e.minus);
  for (const Motor& m : net.motors) needQuad(m.a, m.b);
  for (const Capacitor& c : net.capacitors) needQuad(c.a, c.b);
  for (const Bipolar& q : net.bipolars) {
    needNine(q.innerCollector, q.innerBase, q.emitter);
    needQuad(q.collector, q.innerCollector), needQuad(q.base, q.innerBase);
  }
  for (const Mosfet& m : net.mosfets) needNine(m.drain, m.gate, m.source);
  for (const Regulator& r : net.regulators) needNine(r.in, r.out, r.reference);
  for (const Source& source : net.sources) sourceRows.push_back(source.plus - 1);
  // Rows that no bent curve touches.
  std::vector<std::uint8_t> steady(static_cast<std::size_t>(n), true);
  const auto bent = [&](std::initializer_list<Node> nodes) {
    for (Node node : nodes)
      if (node > 0) steady[static_cast<std::size_t>(node - 1)] = false;
  };
  for (const Junction& j : net.junctions) bent({j.anode, j.cathode});
  for (const Motor& m : net.motors) bent({m.a, m.b});
  for (const Bipolar& q : net.bipolars) bent({q.innerCollector, q.innerBase, q.emitter});
  for (const Mosfet& m : net.mosfets) bent({m.drain, m.gate, m.source});
  for (const Regulator& r : net.regulators) bent({r.in, r.out, r.reference});
  order.emplace(n, std::move(entries), sourceRows, steady);
  const auto quad = [&](Node a, Node b) {
    return Quad{order->position(a - 1, a - 1), order->position(a - 1, b - 1),
                order->position(b - 1, a - 1), order->position(b - 1, b - 1)};
  };
  const auto nine = [&](Node a, Node b, Node c) {
    const Node nodes[] = {a, b, c};
    Nine out{};
    for (int r = 0; r < 3; ++r)
      for (int k = 0; k < 3; ++k) out.at[r][k] = order->position(nodes[r] - 1, nodes[k] - 1);
    return out;
  };
  for (int i = 0; i < n; ++i) diagonal.push_back(order->position(i, i));
  for (const Conductor& c : net.conductors) conductors.push_back(quad(c.a, c.b));
  for (const Junction& j : net.junctions) {
    junctions.push_back(quad(j.anode, j.cathode));
    models.emplace_back(j.model);
    criticals.push_back(criticalVolts(j.model.saturationAmps, j.model.emissionVolts));
  }
  for (const Battery& e : net.batteries) batteries.push_back(quad(e.plus, e.minus));
  for (const Motor& m : net.motors) motors.push_back(quad(m.a, m.b));
  for (const Capacitor& c : net.capacitors) capacitors.push_back(quad(c.a, c.b));
  for (const Bipolar& q : net.bipolars) {
    bipolars.push_back(nine(q.innerCollector, q.innerBase, q.emitter));
    collectorOhms.push_back(quad(q.collector, q.innerCollector));
    baseOhms.push_back(quad(q.base, q.innerBase));
    bipolarCriticals.push_back(criticalVolts(q.model.saturationAmps, thermalVolts));
  }
  for (const Mosfet& m : net.mosfets) mosfets.push_back(nine(m.drain, m.gate, m.source));
  for (const Regulator& r : net.regulators) regulators.push_back(nine(r.in, r.out, r.reference));
  for (int i = 0; i < n; ++i) {
    allRows.push_back(i);
    if (!order->isSteady(i)) bentRows.push_back(i);
  }
  values.resize(order->entries());
  x.assign(static_cast<std::size_t>(n), 0.0);
  rest(net);
}

void Newton::rest(const Network& net) {
  std::fill(x.begin(), x.end(), 0.0);
  junctionVolts.assign(net.junctions.size(), 0.0);
  near.assign(net.junctions.size(), {});
  walked.assign(net.junctions.size(), 0);
  tried.assign(net.junctions.size(), 0);
  lines.assign(net.junctions.size(), {});
  motorLines.assign(net.motors.size(), {});
  regulatorLines.assign(net.regulators.size(), {});
  bipolarLines.assign(net.bipolars.size(), {});
  mosfetLines.assign(net.mosfets.size(), {});
  onLines = false;
  motorVolts.assign(net.motors.size(), 0.0);
  regulatorVolts.assign(net.regulators.size(), {});
  bipolarVolts.assign(net.bipolars.size(), {});
  mosfetVolts.assign(net.mosfets.size(), {});
}

// What hangs on junctions alone begins at zero: an exponential that goes out is walked down
// in steps of n·Vt, but comes on at once.
void Newton::restWhatHangs(const Network& net) {
  constexpr double leastSiemens = 1e-9;
  constexpr double litSiemens = 1e-6;
  // Nothing was opened or closed: nothing hangs that did not.
  const std::size_t conductorCount = net.conductors.size();
  const auto joins = [&](std::size_t i) {
    if (i < conductorCount) return net.conductors[i].siemens > leastSiemens;
    const Capacitor& c = net.capacitors[i - conductorCount];
    return !c.open && c.siemens > leastSiemens;
  };
  bool same = joined.size() == conductorCount + net.capacitors.size();
  for (std::size_t i = 0; same && i < joined.size(); ++i) same = (joined[i] != 0) == joins(i);
  if (same) return;
  joined.resize(conductorCount + net.capacitors.size());
  for (std::size_t i = 0; i < joined.size(); ++i) joined[i] = joins(i) ? 1 : 0;
  groups.clear();
  for (const Source& source : net.sources)
    if (source.gives != Source::Gives::nothing) groups.join(source.plus, 0);
  for (std::size_t i = 0; i < conductorCount; ++i)
    if (joins(i)) groups.join(net.conductors[i].a, net.conductors[i].b);
  for (const Battery& e : net.batteries)
    if (!e.open) groups.join(e.plus, e.minus);
  for (const Regulator& r : net.regulators) groups.join(r.out, r.reference);
  for (std::size_t i = 0; i < net.capacitors.size(); ++i)
    if (joins(conductorCount + i)) groups.join(net.capacitors[i].a, net.capacitors[i].b);
  for (const Motor& m : net.motors)
    if (!m.open) groups.join(m.a, m.b);
  for (int i = 1; i < nodeCount; ++i)
    if (groups.of(i) != 0) x[static_cast<std::size_t>(i - 1)] = 0;
  litVolts.resize(net.junctions.size(), 0.0);
  hung.resize(net.junctions.size(), 0);
  for (std::size_t i = 0; i < net.junctions.size(); ++i) {
    const Junction& j = net.junctions[i];
    const bool hangs = groups.of(j.anode) != 0 || groups.of(j.cathode) != 0;
    if (hangs && !hung[i] && models[i].at(junctionVolts[i], 0).siemens > litSiemens)
      litVolts[i] = junctionVolts[i];
    if (hangs) junctionVolts[i] = 0;
    // What is joined again will stand about where it stood.
    if (!hangs && hung[i]) junctionVolts[i] = litVolts[i];
    hung[i] = hangs ? 1 : 0;
  }
}

void Newton::stampLinear(const Network& net) {
  base.assign(values.size(), 0.0);
  baseRhs.assign(static_cast<std::size_t>(n), 0.0);
  for (std::size_t i = 0; i < diagonal.size(); ++i)
    base[static_cast<std::size_t>(diagonal[i])] += net.leakOf(static_cast<Node>(i) + 1);
  for (std::size_t i = 0; i < conductors.size(); ++i)
    if (const double g = net.conductors[i].siemens; g != 0) conductors[i].stamp(base, g);
  for (std::size_t i = 0; i < capacitors.size(); ++i) {
    const Capacitor& c = net.capacitors[i];
    if (c.open) continue;
    capacitors[i].stamp(base, c.siemens);
    inject(baseRhs, c.a, c.b, c.amps);
  }
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
  sourceVolts.clear();
  for (const Source& source : net.sources) sourceVolts.push_back(source.volts);
  begun = base;
  begunRhs = baseRhs;
  if (!searching) begins = order->begin(begun, begunRhs);
}

void Newton::stampJunctions(const Network& net) {
  values = begun;
  rhs = begunRhs;
  for (std::size_t i = 0; i < junctions.size(); ++i) {
    const Junction& j = net.junctions[i];
    if (j.open) continue;
    const auto& line = lines[i];
    junctions[i].stamp(values, line.at.siemens);
    inject(rhs, j.anode, j.cathode, line.at.amps - line.at.siemens * line.volts);
  }
  stampActive(net);
}

void Newton::stampActive(const Network& net) {
  for (std::size_t i = 0; i < motors.size(); ++i) {
    const Motor& m = net.motors[i];
    if (m.open) continue;
    const auto& [volts, p] = motorLines[i];
    motors[i].stamp(values, p.siemens);
    inject(rhs, m.a, m.b, p.amps - p.siemens * volts);
  }
  for (std::size_t i = 0; i < regulators.size(); ++i) {
    const Regulator& r = net.regulators[i];
    const auto& [volts, p] = regulatorLines[i];
    const double byReference = -p.byIn - p.byOut;
    const double slopes[3] = {p.byIn, p.byOut, byReference};
    for (int k = 0; k < 3; ++k) {
      regulators[i].add(values, 0, k, slopes[k]);
      regulators[i].add(values, 1, k, -slopes[k]);
    }
    inject(rhs, r.in, r.out,
           p.amps - p.byIn * volts.in - p.byOut * volts.out - byReference * volts.reference);
  }
  for (std::size_t i = 0; i < bipolars.size(); ++i) {
    const Bipolar& q = net.bipolars[i];
    if (q.open) continue;
    const auto& p = bipolarLines[i].at;
    const auto [be, bc] = bipolarLines[i].volts;
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
    const auto& p = mosfetLines[i].at;
    const auto [gs, ds] = mosfetLines[i].volts;
    const double d[3] = {p.byDrain, p.byGate, -p.byDrain - p.byGate};
    for (int k = 0; k < 3; ++k) {
      mosfets[i].add(values, 0, k, d[k]);
      mosfets[i].add(values, 2, k, -d[k]);
    }
    inject(rhs, m.drain, m.source, p.amps - p.byGate * gs - p.byDrain * ds);
  }
}

// Linearises the devices where they stand now. True when each does there what its line
// said: the answer is then that of the devices, and no node would move any further.
bool Newton::relinearise(const Network& net) {
  bool straight = share == 1;
  // A device that misses its line by some amps moves its nodes by no more than that over
  // its own slope.
  const auto judge = [&](double said, double does, double slope) {
    const double miss = std::abs(does - said);
    straight = straight && miss <= tol::lineAmps && miss <= slope * tol::stepVolts;
  };
  for (std::size_t i = 0; i < net.junctions.size(); ++i) {
    auto& line = lines[i];
    const double by = junctionVolts[i] - line.volts;
    // Where it has hardly moved the same line does.
    if (net.junctions[i].open || std::abs(by) < tol::sameLineVolts) continue;
    const TwoTerminalPoint next = models[i].at(junctionVolts[i], leak, near[i]);
    judge(line.at.amps + line.at.siemens * by, next.amps, std::min(line.at.siemens, next.siemens));
    line = {junctionVolts[i], next};
  }
  for (std::size_t i = 0; i < net.motors.size(); ++i) {
    if (net.motors[i].open) continue;
    auto& line = motorLines[i];
    const MotorPoint next = evaluate(net.motors[i], motorVolts[i]);
    judge(line.at.amps + line.at.siemens * (motorVolts[i] - line.volts), next.amps,
          std::min(line.at.siemens, next.siemens));
    line = {motorVolts[i], next};
  }
  for (std::size_t i = 0; i < net.regulators.size(); ++i) {
    const Three v = regulatorVolts[i];
    auto& line = regulatorLines[i];
    const RegulatorPoint next = evaluate(net.regulators[i], v.in, v.out, v.reference);
    // Its parts are straight: on the same one its line holds.
    straight = straight && line.at.byIn == next.byIn && line.at.byOut == next.byOut;
    line = {v, next};
  }
  for (std::size_t i = 0; i < net.bipolars.size(); ++i) {
    if (net.bipolars[i].open) continue;
    const auto [be, bc] = bipolarVolts[i];
    bipolarLines[i] = {bipolarVolts[i], evaluate(net.bipolars[i].model, be, bc, leak)};
    straight = false;
  }
  for (std::size_t i = 0; i < net.mosfets.size(); ++i) {
    if (net.mosfets[i].open) continue;
    const auto [gs, ds] = mosfetVolts[i];
    auto& line = mosfetLines[i];
    const MosfetPoint next = evaluate(net.mosfets[i].model, gs, ds, leak);
    judge(line.at.amps + line.at.byGate * (gs - line.volts.first) +
              line.at.byDrain * (ds - line.volts.second),
          next.amps, std::min(line.at.byDrain, next.byDrain));
    line = {mosfetVolts[i], next};
  }
  return straight;
}

// The voltages at which the devices are linearised next. As long as they move, the
// answer is not that of the devices, even if the nodes have come to rest.
void Newton::followJunctions(const Network& net, double& moved, bool& cut) {
  const auto between = [&](Node a, Node b) { return nodeVolts(a) - nodeVolts(b); };
  const auto note = [&](double held, double next) {
    const double by = std::abs(next - held), scale = 1 + std::abs(next);
    if (by > moved * scale) moved = by / scale;
  };
  const auto follow = [&](double& held, double next) {
    note(held, next);
    held = next;
  };
  // Curves with a bend can throw Newton to and fro: then it goes part of the way.
  const auto yield = [&](double& held, double next) {
    note(held, next);
    held += share * (next - held);
  };
  for (std::size_t i = 0; i < net.junctions.size(); ++i) {
    const Junction& j = net.junctions[i];
    if (j.open) continue;
    const double next = between(j.anode, j.cathode), off = j.model.offsetVolts;
    if (j.model.seriesOhms > 0) {
      // With a resistance in series the curve is steep nowhere. But one that goes out is
      // walked down in steps of n·Vt: after a few it is tried at zero, once.
      double& held = junctionVolts[i];
      const double down = held - next, step = j.model.emissionVolts;
      walked[i] = down > 0.5 * step && down < 1.5 * step ? walked[i] + 1 : 0;
      const bool goesOut = walked[i] == tol::walkedSteps && !tried[i];
      follow(held, goesOut ? 0 : next);
      if (goesOut) tried[i] = 1, cut = true;
      continue;
    }
    follow(junctionVolts[i], off + limitedStep(criticals[i], j.model.emissionVolts, next - off,
                                               junctionVolts[i] - off, cut));
  }
  for (std::size_t i = 0; i < net.motors.size(); ++i)
    yield(motorVolts[i], between(net.motors[i].a, net.motors[i].b));
  for (std::size_t i = 0; i < net.regulators.size(); ++i) {
    const Regulator& r = net.regulators[i];
    Three& v = regulatorVolts[i];
    follow(v.in, nodeVolts(r.in));
    follow(v.out, nodeVolts(r.out));
    follow(v.reference, nodeVolts(r.reference));
  }
  for (std::size_t i = 0; i < net.bipolars.size(); ++i) {
    const Bipolar& q = net.bipolars[i];
    auto& [be, bc] = bipolarVolts[i];
    const double critical = bipolarCriticals[i];
    follow(be, limitedStep(critical, thermalVolts, between(q.innerBase, q.emitter), be, cut));
    follow(bc,
           limitedStep(critical, thermalVolts, between(q.innerBase, q.innerCollector), bc, cut));
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
    const double nextGs = between(m.gate, m.source), nextDs = between(m.drain, m.source);
    // Shut at both ends, before and after, it only leaks.
    const double most = std::max(std::max(gs, gs - ds), std::max(nextGs, nextGs - nextDs));
    if (most <= m.model.thresholdVolts) {
      follow(gs, nextGs), follow(ds, nextDs);
      continue;
    }
    yield(gs, nextGs);
    yield(ds, leap(nextDs, ds));
  }
}

bool Newton::factorAndSolve() {
  factored = false;
  if (searching) {
    if (!pivoted) pivoted = std::make_unique<PivotedLu>(*order, sourceRows);
    return factored = pivoted->factor(values, sourceOn) &&
                      pivoted->solve(values, rhs, sourceVolts, delivered);
  }
  singular = !begins || !order->factor(values, sourceOn);
  if (singular) return false;
  order->solve(values, rhs, sourceVolts, delivered);
  return factored = true;
}

bool Newton::step(const Network& net, double& moved, bool& cut) {
  stampJunctions(net);
  if (!factorAndSolve()) return false;
  moved = 0;
  cut = false;
  for (int i : searching ? allRows : bentRows) {
    const auto k = static_cast<std::size_t>(i);
    if (!std::isfinite(rhs[k])) return false;
    const double by = std::abs(rhs[k] - x[k]), scale = 1 + std::abs(rhs[k]);
    if (by > moved * scale) moved = by / scale;
  }
  x.swap(rhs);
  followJunctions(net, moved, cut);
  return true;
}

bool Newton::iterate(const Network& net, int& iterations) {
  onLines = false;
  stampLinear(net);
  const auto settled = [&] {
    if (!searching) order->finish(values, x);
  };
  share = 1;
  walked.assign(net.junctions.size(), 0);
  tried.assign(net.junctions.size(), 0);
  relinearise(net);
  for (int k = 0; k < tol::newtonIterations; ++k) {
    double moved = 0;
    bool cut = false;
    ++iterations;
    share = tol::shareOfStep(k);
    if (!step(net, moved, cut)) return false;
    const bool straight = relinearise(net);
    if (cut) continue;
    if (straight || moved < tol::stepVolts) return settled(), onLines = true;
    if (k < tol::settleAfter) continue;
    settled();
    read(net, true, 0, scratch);
    if (imbalance(net, scratch, true, sums) < tol::settledAmps) return true;
  }
  return false;
}

// Plain Newton first; then with a search for pivots; then with a leak across the
// junctions that is taken away by and by; then with the sources raised by and by.
bool Newton::converge(const Network& net, int& iterations) {
  searching = false;
  rest(net);
  if (iterate(net, iterations)) return true;
  searching = true;
  rest(net);
  if (iterate(net, iterations)) return true;
  rest(net);
  bool ok = true;
  for (double g = 1e-2; ok && g > tol::junctionLeakSiemens; g /= 10) {
    leak = g;
    forgetLines();
    ok = iterate(net, iterations);
  }
  leak = tol::junctionLeakSiemens;
  forgetLines();
  if (ok && iterate(net, iterations)) return true;
  rest(net);
  ok = true;
  for (int k = 1; ok && k <= 20; ++k) {
    Network raised = net;
    for (Source& source : raised.sources) source.volts *= k / 20.0;
    for (Battery& battery : raised.batteries) battery.volts *= k / 20.0;
    for (Regulator& regulator : raised.regulators) regulator.model.volts *= k / 20.0;
    ok = iterate(raised, iterations);
  }
  return ok;
}

void Newton::read(const Network& net, bool ok, int iterations, Solution& s) const {
  s.converged = ok;
  s.iterations = iterations;
  s.sourceAmps.clear(), s.junctionAmps.clear(), s.batteryAmps.clear(), s.bipolarAmps.clear();
  s.regulatorAmps.clear();
  s.mosfetAmps.clear(), s.motors.clear(), s.capacitorAmps.clear();
  s.volts.assign(static_cast<std::size_t>(nodeCount), 0.0);
  for (int i = 1; i < nodeCount; ++i) s.volts[static_cast<std::size_t>(i)] = nodeVolts(i);
  for (std::size_t k = 0; k < sourceRows.size(); ++k)
    s.sourceAmps.push_back(sourceOn[k] && ok ? delivered[k] : 0.0);
  s.junctionAmps.reserve(net.junctions.size());
  const auto between = [&](Node a, Node b) { return nodeVolts(a) - nodeVolts(b); };
  // So near, a curve is its tangent to within a tenth of a nanoamp.
  const auto onLine = [&](double by) { return onLines && std::abs(by) < tol::stepVolts; };
  for (std::size_t i = 0; i < net.junctions.size(); ++i) {
    const Junction& j = net.junctions[i];
    const double volts = between(j.anode, j.cathode), by = volts - lines[i].volts;
    s.junctionAmps.push_back(j.open       ? 0
                             : onLine(by) ? lines[i].at.amps + lines[i].at.siemens * by
                                          : models[i].at(volts, leak).amps);
  }
  for (const Capacitor& c : net.capacitors) s.capacitorAmps.push_back(capacitorAmps(c, s));
  for (const Battery& e : net.batteries) s.batteryAmps.push_back(batteryAmps(e, s));
  for (const Regulator& r : net.regulators) s.regulatorAmps.push_back(regulatorPoint(r, s).amps);
  for (const Bipolar& q : net.bipolars) {
    const BipolarPoint p = q.open ? BipolarPoint{} : bipolarPoint(q, s, leak);
    s.bipolarAmps.push_back({p.collectorAmps, p.baseAmps});
  }
  for (const Mosfet& m : net.mosfets) s.mosfetAmps.push_back(mosfetAmps(m, s, leak));
  for (std::size_t i = 0; i < net.motors.size(); ++i) {
    const Motor& m = net.motors[i];
    const double by = between(m.a, m.b) - motorLines[i].volts;
    s.motors.push_back(!m.open && onLine(by) ? motorLines[i].at : motorPoint(m, s));
    if (!m.open && onLine(by)) s.motors.back().amps += s.motors.back().siemens * by;
  }
}

}  // namespace ignavo::electric
