#include "bench/placing.h"

#include <cmath>
#include <string_view>
#include <unordered_set>

#include "bench/breadboards.h"
#include "bench/lying.h"
#include "bench/nets.h"
#include "bench/relocating.h"
#include "bench/taken.h"

namespace ignavo {

namespace {
constexpr double snapWithin = 0.75;  // a leg lands in a hole that is nearer than this, in pitches
constexpr double leadReach = 45;     // of a flexible lead, from the middle of the body

double distance(Point a, Point b) { return std::hypot(a.x - b.x, a.y - b.y); }
}  // namespace

Occupancy occupancy(const Project& project) {
  // Clips on legs take no hole. Looked up by id: a search for each leg would be one too many.
  std::unordered_set<std::string_view> parts;
  for (const auto& part : *project.parts) parts.insert(part->id);
  Occupancy taken;
  for (const auto& part : *project.parts)
    for (const Leg& leg : part->legs)
      if (leg.in && !parts.contains(leg.in->owner)) taken[*leg.in] = {part->id, leg.id};
  for (const auto& wire : *project.wires) {
    if (!parts.contains(wire->from.owner)) taken[wire->from] = {wire->id, "from"};
    if (!parts.contains(wire->to.owner)) taken[wire->to] = {wire->id, "to"};
  }
  return taken;
}

std::optional<Occupant> occupantOf(const Project& project, const Socket& socket) {
  const bool onTable = project.breadboard(socket.owner) || project.board(socket.owner);
  if (!onTable && project.part(socket.owner)) return std::nullopt;
  if (socket.point.empty()) return std::nullopt;
  // Most stand on one breadboard, in rows of two digits: the last letter tells nearly all apart.
  const auto there = [&, last = socket.point.back()](const Socket& s) {
    return !s.point.empty() && s.point.back() == last && s == socket;
  };
  for (const auto& wire : *project.wires) {
    if (there(wire->to)) return Occupant{wire->id, "to"};
    if (there(wire->from)) return Occupant{wire->id, "from"};
  }
  for (const auto& part : *project.parts)
    for (const Leg& leg : part->legs)
      if (leg.in && there(*leg.in)) return Occupant{part->id, leg.id};
  return std::nullopt;
}

std::optional<Point> socketAt(const Project& project, const Shapes& shapes, const Socket& socket) {
  if (const BreadboardItem* bb = project.breadboard(socket.owner)) {
    const BreadboardKind* kind = breadboardKind(bb->type);
    const auto hole = kind ? kind->parse(socket.point) : std::nullopt;
    if (hole) return bb->at + kind->at(*hole);
  } else if (const BoardItem* board = project.board(socket.owner)) {
    const BoardShape* shape = shapes.board(board->type);
    const int pin = shape ? shape->pinIndex(socket.point) : -1;
    if (pin >= 0) return board->at + shape->pins[static_cast<std::size_t>(pin)].at;
  } else if (const Part* part = project.part(socket.owner)) {
    const Footprint* print = shapes.part(part->type);
    const int index = print ? print->legIndex(socket.point) : -1;
    if (index < 0) return std::nullopt;
    if (const auto lying = lyingOf(project, shapes, *part))
      return lying->legs[static_cast<std::size_t>(index)];
  }
  return std::nullopt;
}

std::optional<Socket> nearestSocket(const Project& project, const Shapes& shapes, Point p,
                                    double within, bool legs) {
  std::optional<Socket> best;
  double nearest = within;
  for (const BreadboardItem& bb : project.breadboards) {
    const BreadboardKind* kind = breadboardKind(bb.type);
    if (!kind) continue;
    if (const auto hole = kind->nearest(p - bb.at, nearest)) {
      nearest = distance(kind->at(*hole) + bb.at, p);
      best = Socket{bb.id, kind->address(*hole)};
    }
  }
  for (const BoardItem& board : project.boards) {
    const BoardShape* shape = shapes.board(board.type);
    if (!shape) continue;
    for (const PinShape& pin : shape->pins) {
      const double d = distance(pin.at + board.at, p);
      if (d <= nearest) {
        nearest = d;
        best = Socket{board.id, pin.name};
      }
    }
  }
  for (const auto& part : *project.parts) {
    if (!legs) break;
    for (const Leg& leg : part->legs) {
      if (leg.in) continue;
      const auto at = socketAt(project, shapes, {part->id, leg.id});
      if (!at || distance(*at, p) > nearest) continue;
      nearest = distance(*at, p);
      best = Socket{part->id, leg.id};
    }
  }
  return best;
}

namespace {

// Checks and fills one leg of a placement.
void plug(const Project& project, const Shapes& shapes, const Occupancy& taken,
          const std::string& leg, Point at, double within, const std::string& moving,
          Placement& out) {
  const auto socket = nearestSocket(project, shapes, at, within);
  out.sockets.push_back(socket);
  if (!out.obstacle.clear()) return;
  if (!socket) {
    out.obstacle = {Obstacle::Code::noHole, leg, {}, {}, 0, 0};
    return;
  }
  const auto it = taken.find(*socket);
  if (it != taken.end() && it->second.id != moving)
    out.obstacle = {Obstacle::Code::taken, leg, socket->point, it->second.id, 0, 0};
}

}  // namespace

Placement layOut(const Project& project, const Shapes& shapes, const std::string& type, Point at,
                 int way, const std::string& moving) {
  Placement out;
  const Footprint* print = shapes.part(type);
  if (!print) {
    out.obstacle.code = Obstacle::Code::noSuchSocket;
    return out;
  }
  out.way = way % static_cast<int>(print->orientations.size());
  const auto& offsets = print->orientations[static_cast<std::size_t>(out.way)];
  const Occupancy taken = occupancy(project);
  // The first leg snaps to a hole; the others must then meet theirs.
  const auto first = nearestSocket(project, shapes, at, snapWithin);
  const Point base = first ? *socketAt(project, shapes, *first) : at;
  for (std::size_t i = 0; i < offsets.size(); ++i)
    plug(project, shapes, taken, print->legs[i].id, base + offsets[i],
         print->stretches ? snapWithin : exactly, moving, out);
  return out;
}

Placement layOutBest(const Project& project, const Shapes& shapes, const std::string& type,
                     Point at, int preferred) {
  const Footprint* print = shapes.part(type);
  if (!print) return layOut(project, shapes, type, at, 0);
  const Nets nets(project, shapes);
  const int ways = static_cast<int>(print->orientations.size());
  const auto joinsLegs = [&](const Placement& p) {
    for (std::size_t a = 0; a < p.sockets.size(); ++a)
      for (std::size_t b = a + 1; b < p.sockets.size(); ++b)
        if (p.sockets[a] && p.sockets[b] && nets.of(*p.sockets[a]) == nets.of(*p.sockets[b]) &&
            print->joined.empty())
          return true;
    return false;
  };
  Placement first = layOut(project, shapes, type, at, preferred);
  for (int i = 0; i < ways; ++i) {
    Placement p = layOut(project, shapes, type, at, preferred + i);
    if (p.obstacle.clear() && !joinsLegs(p)) return p;
  }
  return first;
}

Obstacle canPlug(const Project& project, const Shapes& shapes, const Part& part,
                 const std::string& leg, const Socket& to) {
  const auto at = socketAt(project, shapes, to);
  if (!at) return {Obstacle::Code::noSuchSocket, leg, to.point, {}, 0, 0};
  const auto there = occupantOf(project, to);
  if (there && !(there->id == part.id && there->what == leg))
    return {Obstacle::Code::taken, leg, to.point, there->id, 0, 0};
  const Footprint* print = shapes.part(part.type);
  if (!print) return {};
  if (print->leads) {
    const double d = part.at ? distance(*at, *part.at) : 0;
    if (d > leadReach) return {Obstacle::Code::outOfReach, leg, to.point, {}, d, leadReach};
  }
  if (!print->stretches) return {};
  for (const Leg& other : part.legs) {
    if (other.id == leg || !other.in) continue;
    const auto otherAt = socketAt(project, shapes, *other.in);
    if (!otherAt) continue;
    const double d = distance(*at, *otherAt);
    if (d > print->reachMax + 1e-6)
      return {Obstacle::Code::outOfReach, leg, to.point, {}, d, print->reachMax};
    if (d < print->reachMin - 1e-6)
      return {Obstacle::Code::outOfReach, leg, to.point, {}, d, print->reachMin};
  }
  return {};
}

Obstacle canWire(const Project& project, const Shapes& shapes, const Socket& to,
                 const std::string& wire, const Taken* taken) {
  if (!socketAt(project, shapes, to)) return {Obstacle::Code::noSuchSocket, {}, to.point, {}, 0, 0};
  if (project.part(to.owner)) return {};
  const auto there = taken ? taken->occupantOf(to) : occupantOf(project, to);
  if (there && there->id != wire) return {Obstacle::Code::taken, {}, to.point, there->id, 0, 0};
  return {};
}

Message sentence(const Obstacle& o, const Project& project, const Shapes& shapes,
                 const std::string& type) {
  const Say say("bench");
  const auto nameOf = [&](const std::string& id) -> Message {
    if (const Part* part = project.part(id)) return part->name;
    if (project.wire(id)) return say("a wire");
    if (project.breadboard(id)) return say("the breadboard");
    if (project.board(id)) return say("the board");
    return say("this part itself");
  };
  switch (o.code) {
    case Obstacle::Code::taken:
      return say("Hole {} is taken by {}", o.hole, nameOf(o.occupant));
    case Obstacle::Code::noHole: {
      const Footprint* print = shapes.part(type);
      const int leg = print ? print->legIndex(o.leg) : -1;
      return say("No hole for the {} here",
                 leg >= 0 ? Message("part", print->legs[static_cast<std::size_t>(leg)].meaning, {})
                          : say("leg"));
    }
    case Obstacle::Code::outOfReach:
      return o.pitches > o.limit ? say("{} is out of reach: the legs are {} holes long at most",
                                       o.hole, asNumber(std::floor(o.limit)))
                                 : say("The legs are too close together");
    case Obstacle::Code::noSuchSocket:
      return o.hole.empty() ? say("Nothing to plug into here")
                            : say("There is no hole or pin {}", o.hole);
    case Obstacle::Code::rowFull:
      return say("No free hole is left in {} for the wire that comes along", o.hole);
    case Obstacle::Code::noRoom:
      return say("No free rows are left on the breadboard");
    case Obstacle::Code::covers:
      return say("It would lie on {}", nameOf(o.occupant));
    case Obstacle::Code::locked:
      return say("{} is locked. L unlocks it", nameOf(o.occupant));
    case Obstacle::Code::none:
      break;
  }
  return {};
}

Part flipped(Part part, const Shapes& shapes) {
  const Footprint* print = shapes.part(part.type);
  if (!print) return part;
  for (const auto& [one, other] : print->mirror) {
    Leg* a = part.leg(print->legs[static_cast<std::size_t>(one)].id);
    Leg* b = part.leg(print->legs[static_cast<std::size_t>(other)].id);
    if (a && b) std::swap(a->in, b->in);
  }
  return part;
}

}  // namespace ignavo
