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

double imbalance(const Network& network, const Solution& s, double leak, double nodeLeak) {
  std::vector<double> sum(static_cast<std::size_t>(network.nodes()), 0.0);
  for (std::size_t n = 0; n < sum.size(); ++n) sum[n] = -nodeLeak * s.volts[n];
  const auto flow = [&](Node from, Node to, double amps) {
    sum[static_cast<std::size_t>(from)] -= amps;
    sum[static_cast<std::size_t>(to)] += amps;
  };
  for (std::size_t i = 0; i < network.conductors.size(); ++i)
    flow(network.conductors[i].a, network.conductors[i].b,
         s.conductorAmps(network, static_cast<int>(i)));
  for (const Junction& j : network.junctions) {
    if (j.open) continue;
    flow(j.anode, j.cathode, junctionAmps(j, s, leak));
  }
  for (std::size_t i = 0; i < network.sources.size(); ++i)
    flow(0, network.sources[i].plus, s.sourceAmps[i]);
  for (const Capacitor& c : network.capacitors) flow(c.a, c.b, capacitorAmps(c, s));
  for (const Battery& e : network.batteries) flow(e.minus, e.plus, batteryAmps(e, s));
  for (const Bipolar& q : network.bipolars) {
    if (q.open) continue;
    const BipolarPoint p = bipolarPoint(q, s, leak);
    flow(q.innerCollector, q.emitter, p.collectorAmps);
    flow(q.innerBase, q.emitter, p.baseAmps);
    flow(q.collector, q.innerCollector,
         (s.volt(q.collector) - s.volt(q.innerCollector)) / q.model.collectorOhms);
    flow(q.base, q.innerBase, (s.volt(q.base) - s.volt(q.innerBase)) / q.model.baseOhms);
  }
  for (const Mosfet& m : network.mosfets) flow(m.drain, m.source, mosfetAmps(m, s, leak));
  for (const Motor& m : network.motors) flow(m.a, m.b, motorPoint(m, s).amps);
  double worst = 0;
  for (std::size_t n = 1; n < sum.size(); ++n) worst = std::max(worst, std::abs(sum[n]));
  return worst;
}

double kirchhoffError(const Network& network, const Solution& s) {
  return imbalance(network, s, tol::junctionLeakSiemens, 0);
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
