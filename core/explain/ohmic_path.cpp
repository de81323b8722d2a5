#include "explain/ohmic_path.h"

#include <algorithm>
#include <cmath>

namespace ignavo {

namespace {

struct Search {
  const Circuit& circuit;
  int from, to;
  double max;
  const std::vector<int>& without;
  const CircuitState* state;

  bool open(const OhmicEdge& edge) const {
    if (std::find(without.begin(), without.end(), edge.part) != without.end()) return true;
    if (!state || !edge.contact) return false;
    return (state->pressed[static_cast<std::size_t>(edge.part)] != 0) != edge.whenPressed;
  }
  OhmicPath least(const std::vector<std::size_t>& withoutEdges, int depth) const;
};

OhmicPath Search::least(const std::vector<std::size_t>& withoutEdges, int depth) const {
  const std::size_t n = circuit.nets().all().size();
  std::vector<double> ohms(n, std::numeric_limits<double>::infinity());
  std::vector<int> via(n, -1), before(n, -1);
  std::vector<std::uint8_t> done(n, false);
  std::vector<int> reached{from};  // most nets never are
  ohms[static_cast<std::size_t>(from)] = 0;
  for (;;) {
    int best = -1;
    for (const int net : reached) {
      const auto i = static_cast<std::size_t>(net);
      if (done[i] || ohms[i] >= max) continue;
      const double least = best < 0 ? max : ohms[static_cast<std::size_t>(best)];
      // Of two alike, the one that comes first.
      if (best < 0 || ohms[i] < least || (ohms[i] == least && net < best)) best = net;
    }
    if (best < 0) return {};
    if (best == to) break;
    done[static_cast<std::size_t>(best)] = true;
    for (std::size_t e = 0; e < circuit.edges().size(); ++e) {
      const OhmicEdge& edge = circuit.edges()[e];
      if (edge.netA != best && edge.netB != best) continue;
      if (open(edge)) continue;
      if (std::find(withoutEdges.begin(), withoutEdges.end(), e) != withoutEdges.end()) continue;
      const auto next = static_cast<std::size_t>(edge.netA == best ? edge.netB : edge.netA);
      const double sum = ohms[static_cast<std::size_t>(best)] + edge.ohms;
      if (sum >= ohms[next]) continue;
      if (std::isinf(ohms[next])) reached.push_back(static_cast<int>(next));
      ohms[next] = sum;
      via[next] = static_cast<int>(e);
      before[next] = best;
    }
  }
  OhmicPath path;
  path.ohms = ohms[static_cast<std::size_t>(to)];
  for (int net = to; net != from; net = before[static_cast<std::size_t>(net)]) {
    path.edges.push_back(via[static_cast<std::size_t>(net)]);
    path.parts.push_back(circuit.edges()[static_cast<std::size_t>(path.edges.back())].part);
  }
  std::reverse(path.parts.begin(), path.parts.end());
  std::reverse(path.edges.begin(), path.edges.end());
  // A switch stands in one position at a time: a path through both is none.
  for (int a : path.edges)
    for (int b : path.edges) {
      const OhmicEdge& one = circuit.edges()[static_cast<std::size_t>(a)];
      const OhmicEdge& other = circuit.edges()[static_cast<std::size_t>(b)];
      if (one.part != other.part || !one.contact || one.whenPressed || !other.whenPressed) continue;
      if (depth > 6) return {};
      OhmicPath best;
      for (int left : {a, b}) {
        std::vector<std::size_t> fewer = withoutEdges;
        fewer.push_back(static_cast<std::size_t>(left));
        const OhmicPath p = least(fewer, depth + 1);
        if (p.ohms < best.ohms) best = p;
      }
      return best;
    }
  return path;
}

}  // namespace

OhmicPath leastPath(const Circuit& circuit, int from, int to, double most,
                    const std::vector<int>& without, const CircuitState* state) {
  if (from < 0 || to < 0) return {};
  if (from == to) return {0, {}, {}};
  return Search{circuit, from, to, most, without, state}.least({}, 0);
}

std::vector<int> ohmicReach(const Circuit& circuit, int from) {
  std::vector<int> out{from};
  for (std::size_t i = 0; i < out.size(); ++i) {
    if (circuit.supplyVolts(out[i])) continue;
    for (const OhmicEdge& edge : circuit.edges()) {
      if (edge.netA != out[i] && edge.netB != out[i]) continue;
      const PartKind* kind = circuit.kindOf(edge.part);
      if (kind && kind->shows != Shows::nothing) continue;
      const int next = edge.netA == out[i] ? edge.netB : edge.netA;
      if (std::find(out.begin(), out.end(), next) == out.end()) out.push_back(next);
    }
  }
  return out;
}

}  // namespace ignavo
