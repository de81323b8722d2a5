#include "parts/part_network.h"

#include "project/indexing.h"

namespace ignavo {

PartSlots addPart(electric::Network& network, const PartDevices& d,
                  std::vector<electric::Node> legNodes) {
  PartSlots slots;
  slots.legNodes = std::move(legNodes);
  const auto node = [&](int leg) { return at(slots.legNodes, leg); };

  for (const auto& r : d.resistors)
    slots.resistors.push_back(network.addConductor(node(r.a), node(r.b), 1 / r.ohms));
  for (const auto& c : d.contacts)
    slots.contacts.push_back(network.addConductor(node(c.a), node(c.b), 0));
  for (const auto& j : d.diodes)
    slots.junctions.push_back(network.addJunction(node(j.anode), node(j.cathode), j.model));
  for (const auto& e : d.batteries) {
    slots.batteries.push_back(network.addBattery(node(e.plus), node(e.minus), e.volts, e.ohms));
    slots.ties.push_back(network.addConductor(node(e.minus), 0, 0));
  }
  for (const auto& q : d.bipolars)
    slots.bipolars.push_back(
        network.addBipolar(node(q.collector), node(q.base), node(q.emitter), q.model));
  for (const auto& m : d.mosfets)
    slots.mosfets.push_back(
        network.addMosfet(node(m.drain), node(m.gate), node(m.source), m.model));
  for (const auto& m : d.motors)
    slots.motors.push_back(network.addMotor(node(m.a), node(m.b), m.model));
  for (const auto& c : d.capacitors)
    slots.capacitors.push_back(network.addCapacitor(node(c.a), node(c.b), c.farads, c.ohms));
  return slots;
}

void setPart(electric::Network& network, const PartSlots& slots, const PartDevices& d, bool pressed,
             bool broken) {
  for (std::size_t k = 0; k < slots.resistors.size(); ++k)
    at(network.conductors, slots.resistors[k]).siemens = broken ? 0 : 1 / d.resistors[k].ohms;
  for (std::size_t k = 0; k < slots.contacts.size(); ++k)
    at(network.conductors, slots.contacts[k]).siemens =
        !broken && pressed == d.contacts[k].whenPressed ? 1 / d.contacts[k].ohms : 0;
  for (int j : slots.junctions) at(network.junctions, j).open = broken;
  for (int e : slots.batteries) at(network.batteries, e).open = broken;
  for (int q : slots.bipolars) at(network.bipolars, q).open = broken;
  for (int m : slots.mosfets) at(network.mosfets, m).open = broken;
  for (int m : slots.motors) at(network.motors, m).open = broken;
  for (int c : slots.capacitors) at(network.capacitors, c).open = broken;
}

void addLegAmps(const electric::Network& network, const PartSlots& slots, const PartDevices& d,
                const electric::Solution& s, std::vector<double>& legs) {
  const auto flow = [&](int from, int to, double amps) {
    at(legs, from) += amps;
    at(legs, to) -= amps;
  };
  for (std::size_t k = 0; k < slots.resistors.size(); ++k)
    flow(d.resistors[k].a, d.resistors[k].b, s.conductorAmps(network, slots.resistors[k]));
  for (std::size_t k = 0; k < slots.contacts.size(); ++k)
    flow(d.contacts[k].a, d.contacts[k].b, s.conductorAmps(network, slots.contacts[k]));
  for (std::size_t k = 0; k < slots.junctions.size(); ++k) {
    const double amps = at(s.junctionAmps, slots.junctions[k]);
    flow(d.diodes[k].anode, d.diodes[k].cathode, amps);
  }
  for (std::size_t k = 0; k < slots.batteries.size(); ++k)
    flow(d.batteries[k].minus, d.batteries[k].plus, at(s.batteryAmps, slots.batteries[k]));
  for (std::size_t k = 0; k < slots.bipolars.size(); ++k) {
    const electric::BipolarAmps& q = at(s.bipolarAmps, slots.bipolars[k]);
    flow(d.bipolars[k].collector, d.bipolars[k].emitter, q.collector);
    flow(d.bipolars[k].base, d.bipolars[k].emitter, q.base);
  }
  for (std::size_t k = 0; k < slots.mosfets.size(); ++k)
    flow(d.mosfets[k].drain, d.mosfets[k].source, at(s.mosfetAmps, slots.mosfets[k]));
  for (std::size_t k = 0; k < slots.motors.size(); ++k) {
    const electric::MotorPoint& m = at(s.motors, slots.motors[k]);
    flow(d.motors[k].a, d.motors[k].b, m.amps);
  }
  for (std::size_t k = 0; k < slots.capacitors.size(); ++k)
    flow(d.capacitors[k].a, d.capacitors[k].b, at(s.capacitorAmps, slots.capacitors[k]));
}

}  // namespace ignavo
