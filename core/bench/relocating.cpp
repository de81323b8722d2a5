#include "bench/relocating.h"

#include <cmath>
#include <map>
#include <set>

#include "bench/breadboards.h"

namespace ignavo {

std::optional<Strip> stripOf(const Project& project, const Socket& socket) {
  const BreadboardItem* bb = project.breadboard(socket.owner);
  const BreadboardKind* kind = bb ? breadboardKind(bb->type) : nullptr;
  const auto hole = kind ? kind->parse(socket.point) : std::nullopt;
  if (!hole) return std::nullopt;
  return Strip{bb->id, kind->stripOf(*hole), hole->rail >= 0};
}

std::optional<Strip> rowOf(const Project& project, const Socket& socket) {
  const auto strip = stripOf(project, socket);
  return strip && !strip->rail ? strip : std::nullopt;
}

std::optional<Socket> acrossTrench(const Project& project, const Socket& socket) {
  const auto row = rowOf(project, socket);
  if (!row) return std::nullopt;
  const BreadboardKind& kind = *breadboardKind(project.breadboard(row->breadboard)->type);
  auto hole = *kind.parse(socket.point);
  constexpr int columns = 10;  // a … j
  hole.column = columns - 1 - hole.column;
  return Socket{row->breadboard, kind.address(hole)};
}

std::optional<Socket> holeAt(const Project& project, Point at, double within) {
  for (const BreadboardItem& bb : project.breadboards)
    if (const BreadboardKind* kind = breadboardKind(bb.type))
      if (const auto hole = kind->nearest(at - bb.at, within))
        return Socket{bb.id, kind->address(*hole)};
  return std::nullopt;
}

Part* partForEdit(Project& p, const std::string& id) {
  for (std::size_t i = 0; i < p.parts->size(); ++i)
    if ((*p.parts)[i]->id == id) return &p.parts.edit()[i].edit();
  return nullptr;
}

namespace {

using Ids = std::set<std::string>;

// The free hole of a row that is nearest to a point.
std::optional<Socket> freeHole(const Project& project, const Strip& row, Point near,
                               const Occupancy& taken) {
  const BreadboardItem* bb = project.breadboard(row.breadboard);
  const BreadboardKind* kind = bb ? breadboardKind(bb->type) : nullptr;
  if (!kind) return std::nullopt;
  std::optional<Socket> best;
  double nearest = 1e9;
  for (const Hole& hole : kind->holesOf(row.strip)) {
    const Socket socket{bb->id, kind->address(hole)};
    const Point at = bb->at + kind->at(hole);
    const double d = std::hypot(at.x - near.x, at.y - near.y);
    if (taken.contains(socket) || d >= nearest - 1e-9) continue;
    nearest = d;
    best = socket;
  }
  return best;
}

struct WireMove {
  Point offset;
  Strip row;  // where the leg has gone
};

// The rows that the moved parts are in: a wire that ends there is one of theirs.
std::set<Strip> rowsOf(const Project& project, const std::vector<Relocation>& all) {
  std::set<Strip> rows;
  for (const Relocation& r : all)
    for (const Leg& leg : project.part(r.part)->legs)
      if (leg.in)
        if (const auto row = rowOf(project, *leg.in)) rows.insert(*row);
  return rows;
}

// Which rows are left by legs, and where to: only rows that no other part uses.
std::map<Strip, WireMove> rowsLeft(const Project& project, const Shapes& shapes,
                                   const std::vector<Relocation>& all) {
  Ids moving;
  for (const Relocation& r : all) moving.insert(r.part);
  std::set<Strip> shared;
  for (const auto& part : *project.parts)
    if (!moving.contains(part->id))
      for (const Leg& leg : part->legs)
        if (leg.in)
          if (const auto row = rowOf(project, *leg.in)) shared.insert(*row);
  std::map<Strip, WireMove> left;
  for (const Relocation& r : all) {
    const Part* part = project.part(r.part);
    const Footprint* print = shapes.part(part->type);
    for (std::size_t i = 0; i < r.sockets.size(); ++i) {
      const Leg* leg = part->leg(print->legs[i].id);
      if (!leg || !leg->in || !r.sockets[i]) continue;
      const auto from = rowOf(project, *leg->in), to = rowOf(project, *r.sockets[i]);
      if (!from || !to || shared.contains(*from) || *from == *to) continue;
      Point offset =
          *socketAt(project, shapes, *r.sockets[i]) - *socketAt(project, shapes, *leg->in);
      // On the same side of the trench a wire keeps its column.
      if (from->breadboard == to->breadboard && (from->strip - to->strip) % 2 == 0) offset.x = 0;
      left.try_emplace(*from, WireMove{offset, *to});
    }
  }
  return left;
}

}  // namespace

Arranged relocated(const Project& project, const Shapes& shapes,
                   const std::vector<Relocation>& all) {
  Arranged out{project, {}, {}};
  const std::map<Strip, WireMove> left = rowsLeft(project, shapes, all);
  const std::set<Strip> own = rowsOf(project, all);
  Ids moving;
  for (const Relocation& r : all) moving.insert(r.part), out.ids.push_back(r.part);

  // What stays, with the wire ends that follow taken out.
  Occupancy taken;
  struct End {
    std::size_t wire;
    bool from;
    WireMove move;
  };
  std::vector<End> ends, aside;
  const auto endOf = [&](const Occupant& who, const WireMove& move) {
    std::size_t w = 0;
    while ((*project.wires)[w]->id != who.id) ++w;
    return End{w, who.what == "from", move};
  };
  for (const auto& [socket, who] : occupancy(project)) {
    if (moving.contains(who.id)) continue;
    const auto row = rowOf(project, socket);
    const auto it = row && project.wire(who.id) ? left.find(*row) : left.end();
    if (it == left.end()) {
      taken[socket] = who;
      continue;
    }
    ends.push_back(endOf(who, it->second));
  }
  // First the legs: they go exactly where they were sent.
  for (const Relocation& r : all) {
    const Part* part = project.part(r.part);
    const Footprint* print = shapes.part(part->type);
    Part* edited = partForEdit(out.project, r.part);
    for (std::size_t i = 0; i < r.sockets.size(); ++i) {
      Leg* leg = edited->leg(print->legs[i].id);
      leg->in = r.sockets[i];
      if (!r.sockets[i]) continue;
      const auto it = taken.find(*r.sockets[i]);
      const auto row = rowOf(project, *r.sockets[i]);
      // A wire of its own steps aside within its row.
      if (it != taken.end() && row && own.contains(*row) && project.wire(it->second.id))
        aside.push_back(endOf(it->second, {{}, *row}));
      else if (it != taken.end() && out.obstacle.clear())
        out.obstacle = {Obstacle::Code::taken, leg->id, r.sockets[i]->point, it->second.id, 0, 0};
      taken[*r.sockets[i]] = {r.part, leg->id};
    }
    if (out.obstacle.clear()) out.obstacle = reachOf(out.project, shapes, *edited);
  }
  // Then the wire ends: by the same offset, or to a free hole of the same row.
  std::vector<End> second = aside;
  const auto put = [&](const End& e, const Socket& to) {
    Wire& wire = out.project.wires.edit()[e.wire].edit();
    (e.from ? wire.from : wire.to) = to;
    taken[to] = {wire.id, e.from ? "from" : "to"};
  };
  for (const End& e : ends) {
    const Wire& wire = *(*project.wires)[e.wire];
    const Point at = *socketAt(project, shapes, e.from ? wire.from : wire.to) + e.move.offset;
    const auto hole = holeAt(project, at);
    const auto row = hole ? rowOf(project, *hole) : std::nullopt;
    if (row && *row == e.move.row && !taken.contains(*hole))
      put(e, *hole);
    else
      second.push_back(e);
  }
  for (const End& e : second) {
    const Wire& wire = *(*project.wires)[e.wire];
    const Point at = *socketAt(project, shapes, e.from ? wire.from : wire.to) + e.move.offset;
    if (const auto hole = freeHole(project, e.move.row, at, taken)) {
      put(e, *hole);
    } else if (out.obstacle.clear()) {
      out.obstacle.code = Obstacle::Code::rowFull;
      out.obstacle.hole = breadboardKind(project.breadboard(e.move.row.breadboard)->type)
                              ->stripName(e.move.row.strip);
    }
  }
  // Bends of wires that went as a whole go with them.
  for (std::size_t w = 0; w < project.wires->size(); ++w) {
    const Wire& before = *(*project.wires)[w];
    const Wire& after = *(*out.project.wires)[w];
    if (before.bends.empty() || before.from == after.from || before.to == after.to) continue;
    const Point offset =
        *socketAt(out.project, shapes, after.from) - *socketAt(project, shapes, before.from);
    for (Point& bend : out.project.wires.edit()[w].edit().bends) bend = bend + offset;
  }
  return out;
}

}  // namespace ignavo
