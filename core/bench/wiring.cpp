#include "bench/wiring.h"

#include <algorithm>
#include <cmath>

#include "bench/breadboards.h"
#include "bench/identity.h"
#include "bench/lying.h"
#include "bench/taken.h"
#include "project/edits.h"

namespace ignavo {

Project withWire(const Project& project, const Shapes& shapes, const Socket& from, const Socket& to,
                 Taken* taken) {
  Wire wire;
  wire.id = taken ? taken->freeId("w") : freeId(project, "w");
  wire.from = from;
  wire.to = to;
  for (const Socket* end : {&wire.from, &wire.to}) {
    const BoardItem* board = project.board(end->owner);
    const BoardShape* shape = board ? shapes.board(board->type) : nullptr;
    const int pin = shape ? shape->pinIndex(end->point) : -1;
    if (pin < 0 || shape->pins[static_cast<std::size_t>(pin)].role != PinShape::Role::io) continue;
    const Nets nets(project, shapes);
    const Identities identities(project, nets, shapes);
    int colour = identities.ofPin(end->owner, end->point);
    if (colour < 0) colour = identities.firstFree();
    const auto& names = identityNames();
    if (colour < static_cast<int>(names.size()))
      wire.colour = names[static_cast<std::size_t>(colour)];
  }
  return edits::addWire(project, std::move(wire));
}

Project withBend(const Project& project, const Shapes& shapes, const std::string& id, Point at) {
  const Wire* wire = project.wire(id);
  if (!wire) return project;
  std::vector<Point> line{socketAt(project, shapes, wire->from).value_or(Point{})};
  line.insert(line.end(), wire->bends.begin(), wire->bends.end());
  line.push_back(socketAt(project, shapes, wire->to).value_or(Point{}));
  // Into the piece to which it adds the least length.
  std::size_t best = 0;
  double least = 1e18;
  const auto far = [](Point a, Point b) { return std::hypot(a.x - b.x, a.y - b.y); };
  for (std::size_t i = 0; i + 1 < line.size(); ++i) {
    const double more = far(line[i], at) + far(at, line[i + 1]) - far(line[i], line[i + 1]);
    if (more < least) least = more, best = i;
  }
  return edits::changeWire(project, id, [&](Wire& w) {
    w.bends.insert(w.bends.begin() + static_cast<std::ptrdiff_t>(best), at);
  });
}

std::optional<Socket> nearestTarget(const Project& project, const Shapes& shapes, Point p,
                                    double within, bool legs) {
  constexpr double nameWidth = 3.6, alongRail = 1.1, asideRail = 0.5;
  if (const auto near = nearestSocket(project, shapes, p, within, legs)) return near;
  for (const BoardItem& board : project.boards)
    if (const BoardShape* shape = shapes.board(board.type))
      for (const PinShape& pin : shape->pins) {
        const Point at = pin.at + board.at;
        if (p.x > at.x - nameWidth && p.x <= at.x && std::abs(p.y - at.y) <= 0.5)
          return Socket{board.id, pin.name};
      }
  for (const BreadboardItem& bb : project.breadboards)
    if (const BreadboardKind* kind = breadboardKind(bb.type))
      if (const auto hole = kind->nearest(p - bb.at, alongRail);
          hole && hole->rail >= 0 && std::abs((bb.at + kind->at(*hole)).x - p.x) <= asideRail)
        return Socket{bb.id, kind->address(*hole)};
  return std::nullopt;
}

Arranged withTable(const Project& project, const Shapes& shapes, const BoardItem& item) {
  Arranged out{project, roomFor(project, shapes, item), {item.id}};
  if (breadboardKind(item.type)) {
    out.project.breadboards.push_back(item);
    return out;
  }
  out.project.boards.push_back(item);
  Program program;
  program.board = item.id;
  out.project.programs.emplace_back(std::move(program));
  return out;
}

Obstacle roomFor(const Project& project, const Shapes& shapes, const BoardItem& item) {
  const auto sizeOf = [&](const BoardItem& i) -> Point {
    if (const BoardShape* s = shapes.board(i.type)) return {s->width, s->height};
    if (const BreadboardKind* k = breadboardKind(i.type)) return {k->width, k->height};
    return {};
  };
  const Point least = item.at, most = item.at + sizeOf(item);
  const auto meets = [&](Point a, Point b) {
    return least.x < b.x && a.x < most.x && least.y < b.y && a.y < most.y;
  };
  Obstacle o;
  for (const auto* list : {&project.boards, &project.breadboards})
    for (const BoardItem& other : *list)
      if (other.id != item.id && meets(other.at, other.at + sizeOf(other))) o.occupant = other.id;
  for (const auto& part : *project.parts) {
    if (!part->at) continue;  // those in holes go with their breadboard
    const auto lying = lyingOf(project, shapes, *part);
    if (lying && meets(lying->least(), lying->most())) o.occupant = part->id;
  }
  if (!o.occupant.empty()) o.code = Obstacle::Code::covers;
  return o;
}

std::string placeName(const Project& project, const Socket& socket) {
  if (project.part(socket.owner)) return socket.text();
  const bool several =
      project.breadboard(socket.owner) ? project.breadboards.size() > 1 : project.boards.size() > 1;
  return several ? socket.text() : socket.point;
}

}  // namespace ignavo
