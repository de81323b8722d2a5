#include "parts/measuring.h"

#include <fmt/format.h>

#include <cmath>

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

std::string displayOf(const Project& project, const Circuit& circuit, const CircuitState& state,
                      int index, const PartReading* reading, bool powered) {
  const Part& part = *at(*project.parts, index);
  const Measures what = circuit.kindOf(index)->measures(part);
  const std::string nothing = "–";
  const auto rounded = [](double value, int digits) {
    const double least = 0.5 * std::pow(10.0, -digits);  // no "-0.00"
    return fmt::format("{:.{}f}", std::abs(value) < least ? 0.0 : value, digits);
  };
  if (what == Measures::volts) {
    if (reading && !reading->volts && powered) return nothing;
    return rounded(reading ? reading->volts.value_or(0) : 0, 2) + " V";
  }
  if (what == Measures::amps) {
    const double amps = reading ? reading->amps : 0;
    return std::abs(amps) < 0.9995 ? rounded(amps * 1000, 1) + " mA" : rounded(amps, 2) + " A";
  }
  const auto &red = part.legs[0].in, &black = part.legs[1].in;
  if (powered || !red || !black) return nothing;
  const auto ohms = ohmsBetween(project, circuit, state, *red, *black);
  if (what == Measures::continuity) return ohms && *ohms < meterBeepsOhms ? "joined" : "apart";
  if (!ohms) return "open";
  return ohmsText(*ohms < 10 ? std::round(*ohms * 10) / 10 : std::round(*ohms));
}

}  // namespace ignavo
