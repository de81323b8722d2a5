#pragma once
#include <cmath>
#include <vector>

#include "electric/network.h"

namespace ignavo::test {

// A second way through time, as naive as can be: explicit Euler on the voltages of the
// capacitors, and in each step every other node by bisection, over and over. For networks
// of conductors, junctions, sources and capacitors only.
inline std::vector<double> afterTinySteps(const electric::Network& net, double seconds, int steps) {
  std::vector<double> held(net.capacitors.size(), 0.0);
  std::vector<double> v(static_cast<std::size_t>(net.nodes()), 0.0);
  const auto at = [&](int n) { return v[static_cast<std::size_t>(n)]; };
  const auto diode = [](const electric::JunctionModel& m, double x) {
    double low = 0, high = 1;
    if (x <= 0) return 0.0;
    for (int i = 0; i < 40; ++i) {
      const double amps = (low + high) / 2;
      const double volts = m.emissionVolts * std::log1p(amps / m.saturationAmps);
      (volts + amps * m.seriesOhms > x ? high : low) = amps;
    }
    return low;
  };
  const auto intoCapacitor = [&](std::size_t k) {
    const auto& c = net.capacitors[k];
    return (at(c.a) - at(c.b) - held[k]) / c.ohms;
  };
  const auto outOf = [&](int n) {
    double sum = 0;
    for (const auto& c : net.conductors) {
      if (c.a == n) sum += c.siemens * (at(c.a) - at(c.b));
      if (c.b == n) sum -= c.siemens * (at(c.a) - at(c.b));
    }
    for (const auto& j : net.junctions) {
      if (j.anode == n) sum += diode(j.model, at(j.anode) - at(j.cathode));
      if (j.cathode == n) sum -= diode(j.model, at(j.anode) - at(j.cathode));
    }
    for (std::size_t k = 0; k < net.capacitors.size(); ++k) {
      if (net.capacitors[k].a == n) sum += intoCapacitor(k);
      if (net.capacitors[k].b == n) sum -= intoCapacitor(k);
    }
    return sum;
  };
  for (const auto& s : net.sources) v[static_cast<std::size_t>(s.plus)] = s.volts;
  for (int step = 0; step < steps; ++step) {
    for (int round = 0; round < 5; ++round)
      for (int n = 1; n < net.nodes(); ++n) {
        bool fixed = false;
        for (const auto& s : net.sources) fixed = fixed || s.plus == n;
        if (fixed) continue;
        double low = -1, high = 6;
        double& x = v[static_cast<std::size_t>(n)];
        for (int i = 0; i < 40; ++i) {
          x = (low + high) / 2;
          (outOf(n) > 0 ? high : low) = x;
        }
      }
    for (std::size_t k = 0; k < held.size(); ++k)
      held[k] += seconds / steps * intoCapacitor(k) / net.capacitors[k].farads;
  }
  return held;
}

}  // namespace ignavo::test
