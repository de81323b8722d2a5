#include "parts/meter.h"

#include "electric/solver.h"
#include "parts/part_network.h"
#include "project/indexing.h"

namespace ignavo {

std::optional<double> voltsBetween(const Nets& nets, const CircuitReading& reading,
                                   const Socket& red, const Socket& black) {
  const int a = nets.of(red), b = nets.of(black);
  if (a < 0 || b < 0) return std::nullopt;
  if (a == b) return 0.0;
  const auto& va = at(reading.nets, a);
  const auto& vb = at(reading.nets, b);
  return va && vb ? std::optional(*va - *vb) : std::nullopt;
}

std::optional<double> ohmsBetween(const Project& project, const Circuit& circuit,
                                  const CircuitState& state, const Socket& red,
                                  const Socket& black) {
  const int from = circuit.nets().of(red), to = circuit.nets().of(black);
  if (from < 0 || to < 0) return std::nullopt;
  if (from == to) return 0.0;
  electric::Network network;
  std::vector<int> nodes(circuit.nets().all().size(), -1);
  at(nodes, to) = 0;
  for (int& node : nodes)
    if (node < 0) node = network.addNode();
  const int source = network.addSource(at(nodes, from), meterVolts);
  for (int p = 0; p < static_cast<int>(project.parts->size()); ++p) {
    const PartKind* kind = circuit.kindOf(p);
    if (!kind || !kind->devices) continue;
    PartDevices devices = kind->devices(*at(*project.parts, p));
    devices.batteries.clear();
    std::vector<electric::Node> legs;
    for (int l = 0; l < static_cast<int>(kind->print.legs.size()); ++l)
      legs.push_back(at(nodes, circuit.nets().ofLeg({p, l})));
    const PartSlots slots = addPart(network, devices, std::move(legs));
    setPart(network, slots, devices, at(state.pressed, p) != 0, at(state.broken, p) != 0);
  }
  const electric::Solution s = electric::Solver(network).solve(network);
  const double amps = s.converged ? at(s.sourceAmps, source) : 0;
  if (amps <= meterVolts / meterMostOhms) return std::nullopt;
  return meterVolts / amps;
}

}  // namespace ignavo
