#include "electric/balance.h"

#include <algorithm>
#include <cmath>

namespace ignavo::electric {

namespace tol = tolerances;

double junctionAmps(const Junction& j, const Solution& s, double leak) {
  if (j.open) return 0;
  return evaluate(j.model, s.volt(j.anode) - s.volt(j.cathode), leak).amps;
}

double capacitorAmps(const Capacitor& c, const Solution& s) {
  return c.open ? 0 : c.amps + c.siemens * (s.volt(c.a) - s.volt(c.b));
}
double batteryAmps(const Battery& e, const Solution& s) {
  return e.open ? 0 : (e.volts - (s.volt(e.plus) - s.volt(e.minus))) / e.ohms;
}
RegulatorPoint regulatorPoint(const Regulator& r, const Solution& s) {
  return evaluate(r, s.volt(r.in), s.volt(r.out), s.volt(r.reference));
}
BipolarPoint bipolarPoint(const Bipolar& q, const Solution& s, double leak) {
  return evaluate(q.model, s.volt(q.innerBase) - s.volt(q.emitter),
                  s.volt(q.innerBase) - s.volt(q.innerCollector), leak);
}
double mosfetAmps(const Mosfet& m, const Solution& s, double leak) {
  if (m.open) return 0;
  return evaluate(m.model, s.volt(m.gate) - s.volt(m.source), s.volt(m.drain) - s.volt(m.source),
                  leak)
      .amps;
}
MotorPoint motorPoint(const Motor& m, const Solution& s) {
  return m.open ? MotorPoint{} : evaluate(m, s.volt(m.a) - s.volt(m.b));
}

double imbalance(const Network& network, const Solution& s, bool leaking,
                 std::vector<double>& sum) {
  sum.resize(static_cast<std::size_t>(network.nodes()));
  for (std::size_t n = 0; n < sum.size(); ++n)
    sum[n] = leaking ? -network.leakOf(static_cast<Node>(n)) * s.volts[n] : 0;
  const auto flow = [&](Node from, Node to, double amps) {
    sum[static_cast<std::size_t>(from)] -= amps;
    sum[static_cast<std::size_t>(to)] += amps;
  };
  for (std::size_t i = 0; i < network.conductors.size(); ++i)
    flow(network.conductors[i].a, network.conductors[i].b,
         s.conductorAmps(network, static_cast<int>(i)));
  for (std::size_t i = 0; i < network.junctions.size(); ++i)
    flow(network.junctions[i].anode, network.junctions[i].cathode, s.junctionAmps[i]);
  for (std::size_t i = 0; i < network.sources.size(); ++i)
    flow(0, network.sources[i].plus, s.sourceAmps[i]);
  for (std::size_t i = 0; i < network.capacitors.size(); ++i)
    flow(network.capacitors[i].a, network.capacitors[i].b, s.capacitorAmps[i]);
  for (std::size_t i = 0; i < network.batteries.size(); ++i)
    flow(network.batteries[i].minus, network.batteries[i].plus, s.batteryAmps[i]);
  for (std::size_t i = 0; i < network.regulators.size(); ++i)
    flow(network.regulators[i].in, network.regulators[i].out, s.regulatorAmps[i]);
  for (std::size_t i = 0; i < network.bipolars.size(); ++i) {
    const Bipolar& q = network.bipolars[i];
    if (q.open) continue;
    flow(q.innerCollector, q.emitter, s.bipolarAmps[i].collector);
    flow(q.innerBase, q.emitter, s.bipolarAmps[i].base);
    flow(q.collector, q.innerCollector,
         (s.volt(q.collector) - s.volt(q.innerCollector)) / q.model.collectorOhms);
    flow(q.base, q.innerBase, (s.volt(q.base) - s.volt(q.innerBase)) / q.model.baseOhms);
  }
  for (std::size_t i = 0; i < network.mosfets.size(); ++i)
    flow(network.mosfets[i].drain, network.mosfets[i].source, s.mosfetAmps[i]);
  for (std::size_t i = 0; i < network.motors.size(); ++i)
    flow(network.motors[i].a, network.motors[i].b, s.motors[i].amps);
  double worst = 0;
  for (std::size_t n = 1; n < sum.size(); ++n) worst = std::max(worst, std::abs(sum[n]));
  return worst;
}

double kirchhoffError(const Network& network, const Solution& solution) {
  // Each current once more, whatever the solution says of them.
  Solution s = solution;
  for (std::size_t i = 0; i < network.junctions.size(); ++i)
    s.junctionAmps[i] = junctionAmps(network.junctions[i], s);
  for (std::size_t i = 0; i < network.capacitors.size(); ++i)
    s.capacitorAmps[i] = capacitorAmps(network.capacitors[i], s);
  for (std::size_t i = 0; i < network.batteries.size(); ++i)
    s.batteryAmps[i] = batteryAmps(network.batteries[i], s);
  for (std::size_t i = 0; i < network.regulators.size(); ++i)
    s.regulatorAmps[i] = regulatorPoint(network.regulators[i], s).amps;
  for (std::size_t i = 0; i < network.bipolars.size(); ++i) {
    const BipolarPoint p = bipolarPoint(network.bipolars[i], s);
    s.bipolarAmps[i] = {p.collectorAmps, p.baseAmps};
  }
  for (std::size_t i = 0; i < network.mosfets.size(); ++i)
    s.mosfetAmps[i] = mosfetAmps(network.mosfets[i], s);
  for (std::size_t i = 0; i < network.motors.size(); ++i)
    s.motors[i] = motorPoint(network.motors[i], s);
  std::vector<double> sum;
  return imbalance(network, s, false, sum);
}

double powerError(const Network& network, const Solution& s) {
  double balance = 0;
  for (std::size_t i = 0; i < network.sources.size(); ++i)
    balance += s.sourceAmps[i] * s.volt(network.sources[i].plus);
  for (std::size_t i = 0; i < network.conductors.size(); ++i) {
    const Conductor& c = network.conductors[i];
    balance -= s.conductorAmps(network, static_cast<int>(i)) * (s.volt(c.a) - s.volt(c.b));
  }
  for (const Junction& j : network.junctions)
    balance -= junctionAmps(j, s) * (s.volt(j.anode) - s.volt(j.cathode));
  for (const Capacitor& c : network.capacitors)
    balance -= capacitorAmps(c, s) * (s.volt(c.a) - s.volt(c.b));
  for (const Battery& e : network.batteries)
    balance += batteryAmps(e, s) * (s.volt(e.plus) - s.volt(e.minus));
  for (const Regulator& r : network.regulators)
    balance += regulatorPoint(r, s).amps * (s.volt(r.out) - s.volt(r.in));
  for (const Bipolar& q : network.bipolars) {
    if (q.open) continue;
    const BipolarPoint p = bipolarPoint(q, s);
    balance -= p.collectorAmps * (s.volt(q.collector) - s.volt(q.emitter)) +
               p.baseAmps * (s.volt(q.base) - s.volt(q.emitter));
  }
  for (const Mosfet& m : network.mosfets)
    balance -= mosfetAmps(m, s) * (s.volt(m.drain) - s.volt(m.source));
  for (const Motor& m : network.motors)
    balance -= motorPoint(m, s).amps * (s.volt(m.a) - s.volt(m.b));
  return balance;
}

}  // namespace ignavo::electric
