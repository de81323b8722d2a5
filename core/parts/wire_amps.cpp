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

}  // namespace

WireMetal::WireMetal(const Project& project, const Circuit& circuit)
    : wires_(project.wires->size()), parts_(project.parts->size()) {
  Spots spots(project);
  std::map<int, NetMetal> metal;  // by net; its pieces name spots at first
  for (int w = 0; w < static_cast<int>(wires_); ++w) {
    const Wire& wire = *at(*project.wires, w);
    const int a = spots.of(wire.from), b = spots.of(wire.to);
    const int net = circuit.nets().of(wire.from);
    if (a >= 0 && b >= 0 && net >= 0 && a != b) metal[net].pieces.push_back({a, b, w});
  }
  for (int p = 0; p < static_cast<int>(parts_); ++p) {
    const Part& part = *at(*project.parts, p);
    const PartKind* kind = circuit.kindOf(p);
    if (!kind) continue;
    const auto spotOf = [&](int leg) { return spots.of({part.id, at(part.legs, leg).id}); };
    for (int l = 0; l < static_cast<int>(part.legs.size()); ++l)
      if (const int spot = spotOf(l); spot >= 0) legs_.push_back({spot, p, l});
    for (const auto& [a, b] : kind->print.joined)
      if (spotOf(a) >= 0 && spotOf(b) >= 0 && spotOf(a) != spotOf(b))
        metal[circuit.nets().ofLeg({p, a})].pieces.push_back({spotOf(a), spotOf(b), -1});
  }
  std::map<int, int> references;  // of nets that a board feeds or takes from
  for (int p = 0; p < static_cast<int>(circuit.pins().size()); ++p) {
    const CircuitPin& pin = at(circuit.pins(), p);
    if (const int spot = spots.of({pin.board, pin.name}); spot >= 0) pins_.push_back({spot, p});
  }
  for (const BoardItem& board : project.boards)
    if (const BoardKind* kind = catalogue().boardKind(board.type))
      for (const BoardPin& pin : kind->pins)
        if (pin.role != PinShape::Role::io)
          references.try_emplace(circuit.nets().of({board.id, pin.name}),
                                 spots.of({board.id, pin.name}));
  spots_ = spots.count();
  for (auto& [net, all] : metal) {
    for (const Piece& e : all.pieces) all.spots.insert(all.spots.end(), {e.a, e.b});
    std::sort(all.spots.begin(), all.spots.end());
    all.spots.erase(std::unique(all.spots.begin(), all.spots.end()), all.spots.end());
    const auto place = [&](int spot) {
      const auto it = std::lower_bound(all.spots.begin(), all.spots.end(), spot);
      return it != all.spots.end() && *it == spot ? static_cast<int>(it - all.spots.begin()) : -1;
    };
    if (const auto given = references.find(net); given != references.end())
      all.reference = std::max(0, place(given->second));
    for (Piece& e : all.pieces) e = {place(e.a), place(e.b), e.wire};
    nets_.push_back(std::move(all));
  }
}

// What one net's metal carries: potentials of its spots by Gauss, each piece alike.
void WireMetal::shareOut(const NetMetal& net, const std::vector<double>& into,
                         std::vector<double>& out) {
  const std::size_t n = net.spots.size();
  std::vector<std::vector<double>> m(n, std::vector<double>(n + 1, 0.0));
  for (const Piece& e : net.pieces) {
    const auto a = static_cast<std::size_t>(e.a), b = static_cast<std::size_t>(e.b);
    m[a][a] += 1, m[b][b] += 1, m[a][b] -= 1, m[b][a] -= 1;
  }
  for (std::size_t i = 0; i < n; ++i) m[i][n] = at(into, net.spots[i]);
  const auto reference = static_cast<std::size_t>(net.reference);
  std::fill(m[reference].begin(), m[reference].end(), 0.0);
  m[reference][reference] = 1;
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
  const auto level = [&](int place) {
    const auto i = static_cast<std::size_t>(place);
    return std::abs(m[i][i]) < 1e-12 ? 0.0 : m[i][n] / m[i][i];
  };
  for (const Piece& e : net.pieces)
    if (e.wire >= 0) at(out, e.wire) = level(e.a) - level(e.b);
}

std::vector<double> WireMetal::amps(const CircuitReading& reading) const {
  std::vector<double> out(wires_, 0.0);
  if (!reading.converged || reading.parts.size() != parts_) return out;
  std::vector<double> into(static_cast<std::size_t>(spots_), 0.0);
  for (const Leg& leg : legs_) {
    const std::vector<double>& amps = at(reading.parts, leg.part).legs;
    if (static_cast<std::size_t>(leg.leg) < amps.size()) at(into, leg.spot) -= at(amps, leg.leg);
  }
  for (const Pin& pin : pins_) at(into, pin.spot) += at(reading.pins, pin.pin).amps;
  for (const NetMetal& net : nets_) shareOut(net, into, out);
  return out;
}

}  // namespace ignavo
