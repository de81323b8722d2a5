#include "parts/part_network.h"

#include "project/indexing.h"

namespace ignavo {

PartSlots addPart(electric::Network& network, const PartDevices& d,
                  std::vector<electric::Node> legNodes) {
  PartSlots slots;
  slots.legNodes = std::move(legNodes);
  const auto node = [&](int leg) { return at(slots.legNodes, leg); };

  using Of = PartSlots::Flow::Of;
  const auto flow = [&](Of of, int from, int to, int device) {
    slots.flows.push_back({of, from, to, device});
  };
  for (const auto& r : d.resistors) {
    slots.resistors.push_back(network.addConductor(node(r.a), node(r.b), 1 / r.ohms));
    flow(Of::conductor, r.a, r.b, slots.resistors.back());
  }
  for (const auto& c : d.contacts) {
    slots.contacts.push_back(network.addConductor(node(c.a), node(c.b), 0));
    flow(Of::conductor, c.a, c.b, slots.contacts.back());
  }
  for (const auto& j : d.diodes) {
    slots.junctions.push_back(network.addJunction(node(j.anode), node(j.cathode), j.model));
    flow(Of::junction, j.anode, j.cathode, slots.junctions.back());
  }
  for (const auto& e : d.batteries) {
    slots.batteries.push_back(network.addBattery(node(e.plus), node(e.minus), e.volts, e.ohms));
    slots.ties.push_back(network.addConductor(node(e.minus), 0, 0));
    flow(Of::battery, e.minus, e.plus, slots.batteries.back());
  }
  for (const auto& q : d.bipolars) {
    slots.bipolars.push_back(
        network.addBipolar(node(q.collector), node(q.base), node(q.emitter), q.model));
    flow(Of::collector, q.collector, q.emitter, slots.bipolars.back());
    flow(Of::base, q.base, q.emitter, slots.bipolars.back());
  }
  for (const auto& m : d.mosfets) {
    slots.mosfets.push_back(
        network.addMosfet(node(m.drain), node(m.gate), node(m.source), m.model));
    flow(Of::mosfet, m.drain, m.source, slots.mosfets.back());
  }
  for (const auto& m : d.motors) {
    slots.motors.push_back(network.addMotor(node(m.a), node(m.b), m.model));
    flow(Of::motor, m.a, m.b, slots.motors.back());
  }
  for (const auto& c : d.capacitors) {
    slots.capacitors.push_back(network.addCapacitor(node(c.a), node(c.b), c.farads, c.ohms));
    flow(Of::capacitor, c.a, c.b, slots.capacitors.back());
  }
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

void addLegAmps(const electric::Network& network, const PartSlots& slots,
                const electric::Solution& s, std::vector<double>& legs) {
  using Of = PartSlots::Flow::Of;
  for (const PartSlots::Flow& f : slots.flows) {
    double amps = 0;
    switch (f.of) {
      case Of::conductor:
        amps = s.conductorAmps(network, f.device);
        break;
      case Of::junction:
        amps = at(s.junctionAmps, f.device);
        break;
      case Of::battery:
        amps = at(s.batteryAmps, f.device);
        break;
      case Of::collector:
        amps = at(s.bipolarAmps, f.device).collector;
        break;
      case Of::base:
        amps = at(s.bipolarAmps, f.device).base;
        break;
      case Of::mosfet:
        amps = at(s.mosfetAmps, f.device);
        break;
      case Of::motor:
        amps = at(s.motors, f.device).amps;
        break;
      case Of::capacitor:
        amps = at(s.capacitorAmps, f.device);
        break;
    }
    at(legs, f.from) += amps;
    at(legs, f.to) -= amps;
  }
}

}  // namespace ignavo
