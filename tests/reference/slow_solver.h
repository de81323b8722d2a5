#pragma once
#include <algorithm>
#include <cmath>
#include <vector>

#include "electric/network.h"

namespace ignavo::test {

// A deliberately naive second solver: node by node, each by bisection, until
// nothing moves. Empty when it did not come to rest. Sources must stand between a node and the
// reference.
inline std::vector<double> slowVolts(const electric::Network& net, int sweeps = 4000) {
  std::vector<double> v(static_cast<std::size_t>(net.nodes()), 0.0);
  std::vector<bool> fixed(v.size(), false);
  fixed[0] = true;
  for (const auto& s : net.sources) {
    v[static_cast<std::size_t>(s.plus)] = s.volts;
    fixed[static_cast<std::size_t>(s.plus)] = true;
  }
  const auto at = [&](int n) { return v[static_cast<std::size_t>(n)]; };
  // The junction's own voltage by bisection, so that it and the series resistance share x.
  const auto diode = [](const electric::JunctionModel& m, double x) {
    const double over = x - m.offsetVolts;
    const auto through = [&](double u) {
      return m.saturationAmps *
             (std::exp(std::min(u / m.emissionVolts, 200.0)) - (m.offsetVolts > 0 ? 0 : 1));
    };
    if (m.seriesOhms <= 0 || over <= 0) return through(over) + 1e-12 * x;
    double low = std::min(over, 0.0) - 1, high = std::max(over, 0.0) + 1;
    for (int i = 0; i < 60; ++i) {
      const double u = (low + high) / 2;
      (u + through(u) * m.seriesOhms > over ? high : low) = u;
    }
    return (over - low) / m.seriesOhms + 1e-12 * x;
  };
  // Current out of node n.
  const auto outOf = [&](int n) {
    double sum = 1e-12 * at(n);
    for (const auto& c : net.conductors) {
      if (c.a == n) sum += c.siemens * (at(c.a) - at(c.b));
      if (c.b == n) sum -= c.siemens * (at(c.a) - at(c.b));
    }
    for (const auto& j : net.junctions) {
      if (j.open) continue;
      if (j.anode != n && j.cathode != n) continue;
      const double amps = diode(j.model, at(j.anode) - at(j.cathode));
      if (j.anode == n) sum += amps;
      if (j.cathode == n) sum -= amps;
    }
    for (const auto& e : net.batteries) {
      const double out = (e.volts - at(e.plus) + at(e.minus)) / e.ohms;
      if (e.plus == n) sum -= out;
      if (e.minus == n) sum += out;
    }
    for (const auto& q : net.bipolars) {
      const double vt = 0.02585, is = q.model.saturationAmps;
      const double f = is * std::expm1(std::min((at(q.innerBase) - at(q.emitter)) / vt, 200.0));
      const double r =
          is * std::expm1(std::min((at(q.innerBase) - at(q.innerCollector)) / vt, 200.0));
      const double leakE = 1e-12 * (at(q.innerBase) - at(q.emitter));
      const double leakC = 1e-12 * (at(q.innerBase) - at(q.innerCollector));
      const double toE = f / q.model.forwardBeta + leakE, toC = r / q.model.reverseBeta + leakC;
      if (q.innerBase == n) sum += toE + toC;
      if (q.innerCollector == n) sum += f - r - toC;
      if (q.emitter == n) sum -= f - r + toE;
      const double c = (at(q.collector) - at(q.innerCollector)) / q.model.collectorOhms;
      const double b = (at(q.base) - at(q.innerBase)) / q.model.baseOhms;
      if (q.collector == n) sum += c;
      if (q.innerCollector == n) sum -= c;
      if (q.base == n) sum += b;
      if (q.innerBase == n) sum -= b;
    }
    for (const auto& m : net.mosfets) {
      const bool turned = at(m.drain) < at(m.source);
      const int d = turned ? m.source : m.drain, s = turned ? m.drain : m.source;
      const double over = at(m.gate) - at(s) - m.model.thresholdVolts, ds = at(d) - at(s);
      const double k = m.model.ampsPerSquareVolt;
      double amps = 1e-12 * ds;
      if (over > 0) amps += ds < over ? k * (over * ds - ds * ds / 2) : k * over * over / 2;
      if (d == n) sum += amps;
      if (s == n) sum -= amps;
    }
    for (const auto& m : net.motors) {
      if (m.a != n && m.b != n) continue;
      // Speed by bisection.
      const double across = at(m.a) - at(m.b), k = m.model.newtonMetresPerAmp;
      const double t = m.model.frictionNewtonMetres + m.model.loadNewtonMetres;
      double lo = -1e5, hi = 1e5;
      for (int i = 0; i < 70; ++i) {
        const double w = (lo + hi) / 2;
        (k * w + m.model.ohms * t * std::tanh(w / 10) / k > across ? hi : lo) = w;
      }
      const double amps = t * std::tanh((lo + hi) / 20) / k;
      if (m.a == n) sum += amps;
      if (m.b == n) sum -= amps;
    }
    return sum;
  };
  for (int sweep = 0; sweep < sweeps; ++sweep) {
    double moved = 0;
    for (int n = 1; n < net.nodes(); ++n) {
      if (fixed[static_cast<std::size_t>(n)]) continue;
      double& x = v[static_cast<std::size_t>(n)];
      const double before = x;
      double low = -20, high = 20;
      for (int k = 0; k < 60; ++k) {
        x = (low + high) / 2;
        (outOf(n) > 0 ? high : low) = x;
      }
      moved = std::max(moved, std::abs(x - before));
    }
    if (moved < 1e-12) break;
  }
  for (int n = 1; n < net.nodes(); ++n)
    if (!fixed[static_cast<std::size_t>(n)] && std::abs(outOf(n)) > 1e-9) return {};
  return v;
}

}  // namespace ignavo::test
