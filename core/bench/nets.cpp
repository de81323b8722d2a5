#include "bench/nets.h"

#include <numeric>

#include "bench/breadboards.h"

namespace ignavo {

IGNAVO_VALUE_DEFINED(Net);

namespace {

class UnionFind {
 public:
  explicit UnionFind(int n) : parent_(static_cast<std::size_t>(n)) {
    std::iota(parent_.begin(), parent_.end(), 0);
  }
  int root(int i) {
    auto at = [&](int k) -> int& { return parent_[static_cast<std::size_t>(k)]; };
    while (at(i) != i) {
      at(i) = at(at(i));
      i = at(i);
    }
    return i;
  }
  void join(int a, int b) {
    if (a < 0 || b < 0) return;
    a = root(a);
    b = root(b);
    // The smaller number becomes the root, so that the result does not depend on the order.
    if (a < b)
      parent_[static_cast<std::size_t>(b)] = a;
    else
      parent_[static_cast<std::size_t>(a)] = b;
  }

 private:
  std::vector<int> parent_;
};

template <typename T>
T& at(std::vector<T>& v, int i) {
  return v[static_cast<std::size_t>(i)];
}
template <typename T>
const T& at(const std::vector<T>& v, int i) {
  return v[static_cast<std::size_t>(i)];
}

}  // namespace

Nets::Nets(const Project& project, const Shapes& shapes) : shapes_(&shapes) {
  int nodes = 0;
  using What = Owner::What;
  for (std::size_t i = 0; i < project.boards.size(); ++i) {
    const BoardItem& b = project.boards[i];
    const BoardShape* shape = shapes.board(b.type);
    owners_[b.id] = {nodes, static_cast<int>(i), What::board, b.type};
    pinBase_.push_back(nodes);
    nodes += shape ? static_cast<int>(shape->pins.size()) : 0;
  }
  const int stripBase = nodes;
  for (std::size_t i = 0; i < project.breadboards.size(); ++i) {
    const BreadboardItem& b = project.breadboards[i];
    const BreadboardKind* kind = breadboardKind(b.type);
    owners_[b.id] = {nodes, static_cast<int>(i), What::breadboard, b.type};
    nodes += kind ? kind->strips() : 0;
  }
  for (std::size_t i = 0; i < project.parts->size(); ++i) {
    const Part& part = *(*project.parts)[i];
    const Footprint* print = shapes.part(part.type);
    owners_[part.id] = {nodes, static_cast<int>(i), What::part, part.type};
    legBase_.push_back(nodes);
    nodes += print ? static_cast<int>(print->legs.size()) : 0;
  }

  UnionFind sets(nodes);
  for (std::size_t i = 0; i < project.parts->size(); ++i) {
    const Part& part = *(*project.parts)[i];
    const Footprint* print = shapes.part(part.type);
    if (!print) continue;
    for (const Leg& leg : part.legs) {
      const int index = print->legIndex(leg.id);
      if (index >= 0 && leg.in) sets.join(legBase_[i] + index, nodeOf(*leg.in));
    }
    for (const auto& [a, b] : print->joined) sets.join(legBase_[i] + a, legBase_[i] + b);
  }
  for (const auto& wire : *project.wires) sets.join(nodeOf(wire->from), nodeOf(wire->to));

  netOfNode_.assign(static_cast<std::size_t>(nodes), -1);
  for (int n = 0; n < nodes; ++n) {
    const int root = sets.root(n);
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
  for (std::size_t i = 0; i < project.parts->size(); ++i)
    if (const Footprint* print = shapes.part((*project.parts)[i]->type))
      for (int l = 0; l < static_cast<int>(print->legs.size()); ++l)
        at(nets_, ofLeg({static_cast<int>(i), l})).legs.push_back({static_cast<int>(i), l});
  for (std::size_t w = 0; w < project.wires->size(); ++w) {
    const int net = of((*project.wires)[w]->from);
    if (net >= 0) at(nets_, net).wires.push_back(static_cast<int>(w));
  }
  nameAll(project, shapes);
}

int Nets::nodeOf(const Socket& socket) const {
  const auto it = owners_.find(socket.owner);
  if (it == owners_.end()) return -1;
  const Owner& owner = it->second;
  int offset = -1;
  switch (owner.what) {
    case Owner::What::board:
      if (const BoardShape* s = shapes_->board(owner.type)) offset = s->pinIndex(socket.point);
      break;
    case Owner::What::breadboard:
      if (const BreadboardKind* kind = breadboardKind(owner.type))
        if (const auto hole = kind->parse(socket.point)) offset = kind->stripOf(*hole);
      break;
    case Owner::What::part:
      if (const Footprint* f = shapes_->part(owner.type)) offset = f->legIndex(socket.point);
      break;
  }
  return offset < 0 ? -1 : owner.base + offset;
}

int Nets::of(const Socket& socket) const {
  const int node = nodeOf(socket);
  return node < 0 ? -1 : at(netOfNode_, node);
}
int Nets::ofPin(PinRef pin) const { return at(netOfNode_, at(pinBase_, pin.board) + pin.pin); }
int Nets::ofLeg(LegRef leg) const { return at(netOfNode_, at(legBase_, leg.part) + leg.leg); }

void Nets::nameAll(const Project& project, const Shapes& shapes) {
  using Role = PinShape::Role;
  const bool several = project.boards.size() > 1;
  for (Net& net : nets_) {
    double bestRank = 99;
    const auto offer = [&](double rank, std::string name) {
      if (rank >= bestRank) return;
      bestRank = rank;
      net.name = std::move(name);
    };
    for (const PinRef& p : net.pins) {
      const BoardItem& board = at(project.boards, p.board);
      const PinShape& pin = at(shapes.board(board.type)->pins, p.pin);
      const std::string prefix = several ? board.id + " " : std::string();
      switch (pin.role) {
        case Role::ground:
          offer(0, "GND");
          break;
        case Role::supply:  // of two that are joined, the one with more volts
          offer(1 + 1 / (1 + pin.volts), prefix + pin.label);
          break;
        default:
          offer(3, prefix + pin.name);
      }
    }
    for (const StripRef& s : net.strips) {
      const BreadboardKind* kind = breadboardKind(at(project.breadboards, s.breadboard).type);
      const std::string name = kind->stripName(s.strip);
      const std::string where =
          project.breadboards.size() > 1 ? at(project.breadboards, s.breadboard).id + " " : "";
      offer(s.strip >= 2 * kind->rows ? 4 : 5, where + name);
    }
    for (const LegRef& l : net.legs) {
      const Part& part = *at(*project.parts, l.part);
      const LegShape& leg = at(shapes.part(part.type)->legs, l.leg);
      const bool feeds = leg.feeds != LegShape::Feeds::nothing;
      offer(feeds ? 3 : 6, part.name + " " + (leg.id == "-" ? "−" : leg.id));
    }
  }
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
