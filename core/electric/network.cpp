#include "electric/network.h"

#include <cmath>

namespace ignavo::electric {

JunctionModel JunctionModel::through(double volts, double amps, double emission, double ohms) {
  return {amps / std::expm1((volts - amps * ohms) / emission), emission, ohms};
}

int Network::addConductor(Node a, Node b, double siemens) {
  conductors.push_back({a, b, siemens});
  return static_cast<int>(conductors.size()) - 1;
}

int Network::addJunction(Node anode, Node cathode, const JunctionModel& model) {
  const Node inner = model.seriesOhms > 0 ? addNode() : anode;
  junctions.push_back({anode, inner, cathode, model, false});
  return static_cast<int>(junctions.size()) - 1;
}

int Network::addSource(Node plus, Node minus, double volts) {
  sources.push_back({plus, minus, volts});
  return static_cast<int>(sources.size()) - 1;
}

}  // namespace ignavo::electric
