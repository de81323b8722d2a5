#include "bench/nets.h"

#include <algorithm>
#include <numeric>

#include "bench/breadboards.h"

namespace ignavo {

IGNAVO_VALUE_DEFINED(Net);

namespace {

// Disjoint sets of nodes; each points towards the root of its set.
int rootOf(std::vector<int>& parents, int i) {
  auto at = [&](int k) -> int& { return parents[static_cast<std::size_t>(k)]; };
  while (at(i) != i) {
    at(i) = at(at(i));
    i = at(i);
  }
  return i;
}
void join(std::vector<int>& parents, int a, int b) {
  if (a < 0 || b < 0) return;
  a = rootOf(parents, a);
  b = rootOf(parents, b);
  // The smaller number becomes the root, so that the result does not depend on the order.
  parents[static_cast<std::size_t>(std::max(a, b))] = std::min(a, b);
}

template <typename T>
T& at(std::vector<T>& v, int i) {
  return v[static_cast<std::size_t>(i)];
}
template <typename T>
const T& at(const std::vector<T>& v, int i) {
  return v[static_cast<std::size_t>(i)];
}

}  // namespace

Nets::Nets(const Project& project, const Shapes& shapes) {
  int nodes = 0;
  owners_.reserve(project.boards.size() + project.breadboards.size() + project.parts->size());
  for (const BoardItem& b : project.boards) {
    const BoardShape* shape = shapes.board(b.type);
    owners_.push_back({b.id, nodes, shape, nullptr, nullptr});
    pinBase_.push_back(nodes);
    nodes += shape ? static_cast<int>(shape->pins.size()) : 0;
  }
  const int stripBase = nodes;
  for (const BreadboardItem& b : project.breadboards) {
    const BreadboardKind* kind = breadboardKind(b.type);
    owners_.push_back({b.id, nodes, nullptr, kind, nullptr});
    nodes += kind ? kind->strips() : 0;
  }
  std::vector<const Footprint*> prints;
  prints.reserve(project.parts->size());
  for (const auto& part : *project.parts) {
    const Footprint* print = prints.emplace_back(shapes.part(part->type));
    owners_.push_back({part->id, nodes, nullptr, nullptr, print});
    legBase_.push_back(nodes);
    nodes += print ? static_cast<int>(print->legs.size()) : 0;
  }
  std::stable_sort(owners_.begin(), owners_.end(),
                   [](const Owner& a, const Owner& b) { return a.id < b.id; });

  std::vector<int> parents(static_cast<std::size_t>(nodes));
  std::iota(parents.begin(), parents.end(), 0);
  joinAll(project, prints, parents);

  int nets = 0;
  for (int n = 0; n < nodes; ++n) nets += at(parents, n) == n ? 1 : 0;
  nets_.reserve(static_cast<std::size_t>(nets));
  netOfNode_.assign(static_cast<std::size_t>(nodes), -1);
  for (int n = 0; n < nodes; ++n) {
    const int root = rootOf(parents, n);
    if (at(netOfNode_, root) < 0) {
      at(netOfNode_, root) = static_cast<int>(nets_.size());
      nets_.emplace_back();
    }
    at(netOfNode_, n) = at(netOfNode_, root);
  }
  for (std::size_t b = 0; b < project.boards.size(); ++b)
    if (const BoardShape* shape = shapes.board(project.boards[b].type))
      for (int p = 0; p < static_cast<int>(shape->pins.size()); ++p)
        at(nets_, ofPin({static_cast<int>(b), p})).pins.push_back({static_cast<int>(b), p});
  int node = stripBase;
  for (std::size_t b = 0; b < project.breadboards.size(); ++b)
    if (const BreadboardKind* kind = breadboardKind(project.breadboards[b].type))
      for (int s = 0; s < kind->strips(); ++s)
        at(nets_, at(netOfNode_, node++)).strips.push_back({static_cast<int>(b), s});
  for (std::size_t i = 0; i < prints.size(); ++i)
    if (const Footprint* print = prints[i])
      for (int l = 0; l < static_cast<int>(print->legs.size()); ++l)
        at(nets_, ofLeg({static_cast<int>(i), l})).legs.push_back({static_cast<int>(i), l});
  for (std::size_t w = 0; w < project.wires->size(); ++w) {
    const int net = of((*project.wires)[w]->from);
    if (net >= 0) at(nets_, net).wires.push_back(static_cast<int>(w));
  }
  nameAll(project, shapes);
}

// What legs in holes, always-joined legs and wires make one.
void Nets::joinAll(const Project& project, const std::vector<const Footprint*>& prints,
                   std::vector<int>& parents) const {
  for (std::size_t i = 0; i < project.parts->size(); ++i) {
    const Part& part = *(*project.parts)[i];
    if (!prints[i]) continue;
    for (const Leg& leg : part.legs) {
      const int index = prints[i]->legIndex(leg.id);
      if (index >= 0 && leg.in) join(parents, legBase_[i] + index, nodeOf(*leg.in));
    }
    for (const auto& [a, b] : prints[i]->joined) join(parents, legBase_[i] + a, legBase_[i] + b);
  }
  for (const auto& wire : *project.wires) join(parents, nodeOf(wire->from), nodeOf(wire->to));
}

int Nets::nodeOf(const Socket& socket) const {
  const auto it = std::lower_bound(owners_.begin(), owners_.end(), socket.owner,
                                   [](const Owner& o, const std::string& id) { return o.id < id; });
  if (it == owners_.end() || it->id != socket.owner) return -1;
  int offset = -1;
  if (it->board) offset = it->board->pinIndex(socket.point);
  if (it->part) offset = it->part->legIndex(socket.point);
  if (it->breadboard)
    if (const auto hole = it->breadboard->parse(socket.point))
      offset = it->breadboard->stripOf(*hole);
  return offset < 0 ? -1 : it->base + offset;
}

int Nets::of(const Socket& socket) const {
  const int node = nodeOf(socket);
  return node < 0 ? -1 : at(netOfNode_, node);
}
int Nets::ofPin(PinRef pin) const { return at(netOfNode_, at(pinBase_, pin.board) + pin.pin); }
int Nets::ofLeg(LegRef leg) const { return at(netOfNode_, at(legBase_, leg.part) + leg.leg); }

void Nets::nameAll(const Project& project, const Shapes& shapes) {
  for (Net& net : nets_) net.name = nameOf(net, project, shapes);
}

// Who lends its name to a net: ground before supplies, pins and sources, rails, rows, legs; of
// equals the first.
std::string Nets::nameOf(const Net& net, const Project& project, const Shapes& shapes) const {
  using Role = PinShape::Role;
  double bestRank = 99;
  const PinRef* pin = nullptr;
  const StripRef* strip = nullptr;
  const LegRef* leg = nullptr;
  const auto offer = [&](double rank, const PinRef* p, const StripRef* s, const LegRef* l) {
    if (rank >= bestRank) return;
    bestRank = rank;
    pin = p, strip = s, leg = l;
  };
  const auto shapeOf = [&](const PinRef& p) -> const PinShape& {
    return at(shapes.board(at(project.boards, p.board).type)->pins, p.pin);
  };
  const auto legOf = [&](const LegRef& l) -> const LegShape& {
    return at(shapes.part((*at(*project.parts, l.part)).type)->legs, l.leg);
  };
  for (const PinRef& p : net.pins) {
    const PinShape& shape = shapeOf(p);
    // Of two supplies that are joined, the one with more volts.
    offer(shape.role == Role::ground   ? 0
          : shape.role == Role::supply ? 1 + 1 / (1 + shape.volts)
                                       : 3,
          &p, nullptr, nullptr);
  }
  for (const StripRef& s : net.strips)
    offer(breadboardKind(at(project.breadboards, s.breadboard).type)->isRail(s.strip) ? 4 : 5,
          nullptr, &s, nullptr);
  for (const LegRef& l : net.legs)
    offer(legOf(l).feeds != LegShape::Feeds::nothing ? 3 : 6, nullptr, nullptr, &l);
  if (pin) {
    const PinShape& shape = shapeOf(*pin);
    if (shape.role == Role::ground) return "GND";
    const std::string& name = shape.role == Role::supply ? shape.label : shape.name;
    return project.boards.size() > 1 ? at(project.boards, pin->board).id + " " + name : name;
  }
  if (strip) {
    const BreadboardItem& on = at(project.breadboards, strip->breadboard);
    const std::string& name = breadboardKind(on.type)->stripName(strip->strip);
    return project.breadboards.size() > 1 ? on.id + " " + name : name;
  }
  if (leg) {
    const std::string& id = legOf(*leg).id;
    return (*at(*project.parts, leg->part)).name + " " + (id == "-" ? "−" : id);
  }
  return {};
}

std::vector<Socket> Nets::sockets(int net, const Project& project, const Shapes& shapes) const {
  std::vector<Socket> out;
  if (net < 0) return out;
  const Net& n = at(nets_, net);
  for (const PinRef& p : n.pins) {
    const BoardItem& b = at(project.boards, p.board);
    out.push_back({b.id, at(shapes.board(b.type)->pins, p.pin).name});
  }
  for (const StripRef& s : n.strips) {
    const BreadboardItem& b = at(project.breadboards, s.breadboard);
    const BreadboardKind* kind = breadboardKind(b.type);
    for (const Hole& hole : kind->holesOf(s.strip)) out.push_back({b.id, kind->address(hole)});
  }
  for (const LegRef& l : n.legs) {
    const Part& part = *at(*project.parts, l.part);
    const LegShape& leg = at(shapes.part(part.type)->legs, l.leg);
    const Leg* held = part.leg(leg.id);
    if (!held || !held->in) out.push_back({part.id, leg.id});
  }
  return out;
}

}  // namespace ignavo
