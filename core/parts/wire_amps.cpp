#include "parts/wire_amps.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "bench/breadboards.h"
#include "project/indexing.h"

namespace ignavo {

namespace {

// Pieces of metal without a wire in between: strips, pins, legs that are in no hole.
class Spots {
 public:
  Spots(const Project& project) : project_(project) {}

  int of(const Socket& socket) {
    std::string place = socket.point;
    if (const BreadboardItem* bb = project_.breadboard(socket.owner)) {
      const BreadboardKind* kind = breadboardKind(bb->type);
      const auto hole = kind ? kind->parse(socket.point) : std::nullopt;
      if (!hole) return -1;
      place = std::to_string(kind->stripOf(*hole));
    } else if (const BoardItem* board = project_.board(socket.owner)) {
      // The grounds of a board are one piece of metal.
      const BoardKind* kind = catalogue().boardKind(board->type);
      const int pin = kind ? kind->shape.pinIndex(socket.point) : -1;
      if (pin < 0) return -1;
      if (at(kind->pins, pin).role == PinShape::Role::ground) place = "ground";
    } else if (const Part* part = project_.part(socket.owner)) {
      const Leg* leg = part->leg(socket.point);
      if (leg && leg->in) return of(*leg->in);
    }
    const auto [it, fresh] =
        spots_.try_emplace({socket.owner, place}, static_cast<int>(spots_.size()));
    return it->second;
  }
  int count() const { return static_cast<int>(spots_.size()); }

 private:
  const Project& project_;
  std::map<std::pair<std::string, std::string>, int> spots_;
};

struct Metal {
  int a, b;
  int wire;  // -1: inside a part
};

// What one net's metal carries: potentials of its spots by Gauss, each piece alike.
void shareOut(const std::vector<Metal>& metal, const std::vector<int>& members,
              const std::vector<double>& into, int reference, std::vector<double>& out) {
  const std::size_t n = members.size();
  std::map<int, std::size_t> place;
  for (std::size_t i = 0; i < n; ++i) place[members[i]] = i;
  std::vector<std::vector<double>> m(n, std::vector<double>(n + 1, 0.0));
  for (const Metal& e : metal) {
    const std::size_t a = place.at(e.a), b = place.at(e.b);
    m[a][a] += 1, m[b][b] += 1, m[a][b] -= 1, m[b][a] -= 1;
  }
  for (std::size_t i = 0; i < n; ++i) m[i][n] = at(into, members[i]);
  std::fill(m[place.at(reference)].begin(), m[place.at(reference)].end(), 0.0);
  m[place.at(reference)][place.at(reference)] = 1;
  for (std::size_t k = 0; k < n; ++k) {
    std::size_t best = k;
    for (std::size_t r = k; r < n; ++r)
      if (std::abs(m[r][k]) > std::abs(m[best][k])) best = r;
    std::swap(m[k], m[best]);
    if (std::abs(m[k][k]) < 1e-12) continue;
    for (std::size_t r = 0; r < n; ++r) {
      if (r == k || m[r][k] == 0) continue;
      const double f = m[r][k] / m[k][k];
      for (std::size_t c = k; c <= n; ++c) m[r][c] -= f * m[k][c];
    }
  }
  const auto level = [&](int spot) {
    const std::size_t i = place.at(spot);
    return std::abs(m[i][i]) < 1e-12 ? 0.0 : m[i][n] / m[i][i];
  };
  for (const Metal& e : metal)
    if (e.wire >= 0) at(out, e.wire) = level(e.a) - level(e.b);
}

}  // namespace

std::vector<double> wireAmps(const Project& project, const Circuit& circuit,
                             const CircuitReading& reading) {
  std::vector<double> out(project.wires->size(), 0.0);
  if (!reading.converged || reading.parts.size() != project.parts->size()) return out;
  Spots spots(project);
  std::map<int, std::vector<Metal>> metal;  // by net
  for (int w = 0; w < static_cast<int>(out.size()); ++w) {
    const Wire& wire = *at(*project.wires, w);
    const int a = spots.of(wire.from), b = spots.of(wire.to);
    const int net = circuit.nets().of(wire.from);
    if (a >= 0 && b >= 0 && net >= 0 && a != b) metal[net].push_back({a, b, w});
  }
  std::vector<std::pair<int, double>> flows;  // spot, amps into it
  for (int p = 0; p < static_cast<int>(project.parts->size()); ++p) {
    const Part& part = *at(*project.parts, p);
    const PartKind* kind = circuit.kindOf(p);
    const PartReading& r = at(reading.parts, p);
    if (!kind) continue;
    const auto spotOf = [&](int leg) { return spots.of({part.id, at(part.legs, leg).id}); };
    for (int l = 0; l < static_cast<int>(part.legs.size()); ++l)
      if (static_cast<std::size_t>(l) < r.legs.size()) flows.push_back({spotOf(l), -at(r.legs, l)});
    for (const auto& [a, b] : kind->print.joined)
      if (spotOf(a) >= 0 && spotOf(b) >= 0 && spotOf(a) != spotOf(b))
        metal[circuit.nets().ofLeg({p, a})].push_back({spotOf(a), spotOf(b), -1});
  }
  std::map<int, int> references;  // of nets that a board feeds or takes from
  for (int p = 0; p < static_cast<int>(circuit.pins().size()); ++p) {
    const CircuitPin& pin = at(circuit.pins(), p);
    flows.push_back({spots.of({pin.board, pin.name}), at(reading.pins, p).amps});
  }
  for (const BoardItem& board : project.boards)
    if (const BoardKind* kind = catalogue().boardKind(board.type))
      for (const BoardPin& pin : kind->pins)
        if (pin.role != PinShape::Role::io)
          references.try_emplace(circuit.nets().of({board.id, pin.name}),
                                 spots.of({board.id, pin.name}));
  std::vector<double> into(static_cast<std::size_t>(spots.count()), 0.0);
  for (const auto& [spot, amps] : flows)
    if (spot >= 0) at(into, spot) += amps;
  for (const auto& [net, pieces] : metal) {
    std::vector<int> members;
    for (const Metal& e : pieces) members.insert(members.end(), {e.a, e.b});
    std::sort(members.begin(), members.end());
    members.erase(std::unique(members.begin(), members.end()), members.end());
    const auto given = references.find(net);
    const bool inside = given != references.end() &&
                        std::binary_search(members.begin(), members.end(), given->second);
    shareOut(pieces, members, into, inside ? given->second : members.front(), out);
  }
  return out;
}

}  // namespace ignavo
