#include "explain/reach.h"

#include <algorithm>

#include "project/indexing.h"

namespace ignavo {

std::vector<int> legsBehind(const PartKind& kind, const Part& part, int leg) {
  std::vector<int> out;
  if (!kind.devices) return out;
  const auto pair = [&](int a, int b) {
    if (a == leg) out.push_back(b);
    if (b == leg) out.push_back(a);
  };
  const PartDevices d = kind.devices(part);
  for (const auto& [a, b] : kind.print.joined) pair(a, b);
  for (const auto& r : d.resistors) pair(r.a, r.b);
  for (const auto& s : d.contacts) pair(s.a, s.b);
  for (const auto& j : d.diodes) pair(j.anode, j.cathode);
  for (const auto& e : d.batteries) pair(e.plus, e.minus);
  for (const auto& m : d.motors) pair(m.a, m.b);
  for (const auto& m : d.mosfets) pair(m.drain, m.source);
  for (const auto& q : d.bipolars) pair(q.collector, q.emitter), pair(q.base, q.emitter);
  return out;
}

std::vector<int> netsBehind(const Project& project, const Circuit& circuit, int net,
                            int withoutPart) {
  std::vector<int> out{net};
  for (std::size_t i = 0; i < out.size(); ++i) {
    if (circuit.supplyVolts(out[i])) continue;
    for (const LegRef& leg : at(circuit.nets().all(), out[i]).legs) {
      if (leg.part == withoutPart) continue;
      const PartKind* kind = circuit.kindOf(leg.part);
      if (!kind || kind->stores) continue;
      for (const int l : legsBehind(*kind, *at(*project.parts, leg.part), leg.leg)) {
        const int next = circuit.nets().ofLeg({leg.part, l});
        if (std::find(out.begin(), out.end(), next) == out.end()) out.push_back(next);
      }
    }
  }
  return out;
}

PathEnds endsOf(const Circuit& circuit, const std::vector<int>& nets) {
  PathEnds out;
  for (const int net : nets) {
    if (const auto volts = circuit.supplyVolts(net)) (*volts > 0 ? out.plus : out.minus) = true;
    for (int p = 0; p < static_cast<int>(circuit.pins().size()); ++p)
      if (at(circuit.pins(), p).net == net) out.pins.push_back(p);
    for (const LegRef& leg : at(circuit.nets().all(), net).legs) {
      const PartKind* kind = circuit.kindOf(leg.part);
      if (!kind) continue;
      const auto feeds = at(kind->print.legs, leg.leg).feeds;
      out.plus = out.plus || feeds == LegShape::Feeds::plus;
      out.minus = out.minus || feeds == LegShape::Feeds::minus;
    }
  }
  return out;
}

bool isWired(const Nets& nets, const Socket& pin) {
  const int net = nets.of(pin);
  return net >= 0 && (!at(nets.all(), net).legs.empty() || !at(nets.all(), net).wires.empty());
}

PathBreak breakOf(const Project& project, const Circuit& circuit, int part, int lamp) {
  const PartKind* kind = circuit.kindOf(part);
  if (!kind) return {};
  std::vector<int> legs = kind->lamps.size() > 1 ? kind->lamps : std::vector{kind->readLegs.first};
  if (lamp >= 0) legs = {at(kind->lamps, lamp)};
  legs.push_back(kind->readLegs.second);
  for (const int leg : legs) {
    const std::vector<int> nets =
        netsBehind(project, circuit, circuit.nets().ofLeg({part, leg}), part);
    const PathEnds ends = endsOf(circuit, nets);
    if (!ends.plus && !ends.minus && ends.pins.empty()) return {part, leg, nets.back()};
  }
  return {};
}

}  // namespace ignavo
