#include "electric/network.h"

#include "electric/tolerances.h"

#include <cmath>

namespace ignavo::electric {

JunctionModel JunctionModel::through(double volts, double amps, double emission, double ohms) {
  return {amps / std::expm1((volts - amps * ohms) / emission), emission, ohms, 0};
}

JunctionModel JunctionModel::breakdown(double volts) {
  JunctionModel m = through(0.5, 0.010, 2 * thermalVolts, 0.1);
  m.offsetVolts = volts - 0.5;
  return m;
}

double Network::leakOf(Node node) const {
  return loose.empty() || loose[static_cast<std::size_t>(node)] ? tolerances::nodeLeakSiemens : 0;
}

int Network::addConductor(Node a, Node b, double siemens) {
  conductors.push_back({a, b, siemens});
  return static_cast<int>(conductors.size()) - 1;
}

int Network::addJunction(Node anode, Node cathode, const JunctionModel& model) {
  junctions.push_back({anode, cathode, model, false});
  return static_cast<int>(junctions.size()) - 1;
}

int Network::addSource(Node plus, double volts) {
  sources.push_back({plus, volts});
  return static_cast<int>(sources.size()) - 1;
}

int Network::addBattery(Node plus, Node minus, double volts, double ohms) {
  batteries.push_back({plus, minus, volts, ohms, false});
  return static_cast<int>(batteries.size()) - 1;
}

int Network::addRegulator(Node in, Node out, Node reference, const RegulatorModel& model) {
  regulators.push_back({in, out, reference, model});
  return static_cast<int>(regulators.size()) - 1;
}

int Network::addBipolar(Node collector, Node base, Node emitter, const BipolarModel& model) {
  const Node innerCollector = addNode();
  const Node innerBase = addNode();
  bipolars.push_back({collector, base, emitter, innerCollector, innerBase, model, false});
  return static_cast<int>(bipolars.size()) - 1;
}

int Network::addMosfet(Node drain, Node gate, Node source, const MosfetModel& model) {
  mosfets.push_back({drain, gate, source, model, false});
  return static_cast<int>(mosfets.size()) - 1;
}

int Network::addMotor(Node a, Node b, const MotorModel& model) {
  motors.push_back({a, b, model, false, std::nullopt});
  return static_cast<int>(motors.size()) - 1;
}

int Network::addCapacitor(Node a, Node b, double farads, double ohms) {
  capacitors.push_back({a, b, farads, ohms, 0, 0, false});
  return static_cast<int>(capacitors.size()) - 1;
}

}  // namespace ignavo::electric
