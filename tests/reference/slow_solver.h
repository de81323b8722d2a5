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
  const auto diode = [](const electric::JunctionModel& m, double x) {
    return m.saturationAmps * std::expm1(std::min(x / m.emissionVolts, 200.0)) + 1e-12 * x;
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
      const double inner = diode(j.model, at(j.inner) - at(j.cathode));
      if (j.inner == n) sum += inner;
      if (j.cathode == n) sum -= inner;
      if (j.inner == j.anode) continue;
      const double series = (at(j.anode) - at(j.inner)) / j.model.seriesOhms;
      if (j.anode == n) sum += series;
      if (j.inner == n) sum -= series;
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
