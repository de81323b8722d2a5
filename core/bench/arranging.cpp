#include "bench/arranging.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "bench/breadboards.h"
#include "bench/lying.h"
#include "bench/relocating.h"
#include "bench/taken.h"
#include "bench/wiring.h"
#include "project/edits.h"

namespace ignavo {

namespace {

constexpr double bends = 0.75;     // how far a leg that stretches goes for one
constexpr double besideGap = 1.5;  // between a breadboard and the body of a part with leads

using Ids = std::set<std::string>;

Obstacle locked(const Part& part) {
  Obstacle o;
  o.code = Obstacle::Code::locked;
  o.occupant = part.id;
  return o;
}

// What a body beside the breadboard would lie on.
std::string under(const Project& project, const Shapes& shapes, Point least, Point most,
                  const std::string& moving) {
  for (const BreadboardItem& bb : project.breadboards)
    if (const BreadboardKind* k = breadboardKind(bb.type))
      if (overlaps(least, most, bb.at, bb.at + Point{k->width, k->height})) return bb.id;
  for (const BoardItem& board : project.boards)
    if (const BoardShape* s = shapes.board(board.type))
      if (overlaps(least, most, board.at, board.at + Point{s->width, s->height})) return board.id;
  for (const auto& part : *project.parts) {
    const Footprint* print = shapes.part(part->type);
    if (part->id == moving || !print || !print->leads) continue;
    if (const auto other = lyingOf(project, shapes, *part))
      if (overlaps(least, most, other->least(), other->most())) return part->id;
  }
  return {};
}

Obstacle bodyObstacle(const Project& project, const Shapes& shapes, const Part& part) {
  const Footprint* print = shapes.part(part.type);
  const auto lying = lyingOf(project, shapes, part);
  if (!print || !print->leads || !lying) return {};
  Obstacle o;
  o.occupant = under(project, shapes, lying->least(), lying->most(), part.id);
  if (!o.occupant.empty()) o.code = Obstacle::Code::covers;
  return o;
}

bool anyPlugged(const Part& part) {
  return std::any_of(part.legs.begin(), part.legs.end(), [](const Leg& l) { return l.in; });
}

// A body with leads, or a part that lies on the mat, moved as it lies.
void shiftBody(Arranged& out, const Shapes& shapes, const std::string& id, Point offset) {
  Part* part = partForEdit(out.project, id);
  part->at = part->at.value_or(Point{4, 36}) + offset;
  if (out.obstacle.clear()) out.obstacle = bodyObstacle(out.project, shapes, *part);
}

int turnNow(const Project& project, const Shapes& shapes, const Part& part) {
  const auto lying = lyingOf(project, shapes, part);
  const Footprint* print = shapes.part(part.type);
  if (!lying || print->leads) return part.turnDegrees;
  const auto& way = print->orientations.front();
  const double upright = std::atan2(way.back().y, way.back().x) * 180 / 3.14159265358979323846;
  const double degrees = lying->degrees - (print->stretches ? upright : 0);
  return ((static_cast<int>(std::lround(degrees / 90)) * 90) % 360 + 360) % 360;
}

}  // namespace

Obstacle reachOf(const Project& project, const Shapes& shapes, const Part& part) {
  const Footprint* print = shapes.part(part.type);
  if (!print || !print->stretches) return {};
  for (std::size_t a = 0; a < part.legs.size(); ++a)
    for (std::size_t b = a + 1; b < part.legs.size(); ++b) {
      if (!part.legs[a].in || !part.legs[b].in) continue;
      const auto one = socketAt(project, shapes, *part.legs[a].in);
      const auto other = socketAt(project, shapes, *part.legs[b].in);
      if (!one || !other) continue;
      const double d = std::hypot(one->x - other->x, one->y - other->y);
      if (d > print->reachMax + 1e-6)
        return {Obstacle::Code::outOfReach,
                part.legs[b].id,
                part.legs[b].in->point,
                {},
                d,
                print->reachMax};
      if (d < print->reachMin - 1e-6)
        return {Obstacle::Code::outOfReach,
                part.legs[b].id,
                part.legs[b].in->point,
                {},
                d,
                print->reachMin};
    }
  return {};
}

Arranged moved(const Project& project, const Shapes& shapes, const std::vector<std::string>& ids,
               Point offset) {
  const Ids chosen(ids.begin(), ids.end());
  Arranged out{project, {}, {}};
  for (const std::string& id : ids)
    if (const Part* part = project.part(id); part && part->locked) {
      out.obstacle = locked(*part);
      return out;
    }
  // Boards and breadboards first: what is plugged into them comes along by itself.
  for (auto* list : {&out.project.boards, &out.project.breadboards})
    for (BoardItem& item : *list)
      if (chosen.contains(item.id)) item.at = item.at + offset;
  for (std::size_t w = 0; w < project.wires->size(); ++w) {
    const Wire& wire = *(*project.wires)[w];
    if (!wire.bends.empty() && chosen.contains(wire.from.owner) && chosen.contains(wire.to.owner))
      for (Point& bend : out.project.wires.edit()[w].edit().bends) bend = bend + offset;
  }
  std::vector<Relocation> relocations;
  std::vector<std::string> bodies, toMat;
  for (const auto& held : *project.parts) {
    const Part& part = *held;
    const Footprint* print = shapes.part(part.type);
    if (!print) continue;
    const bool rides = std::any_of(part.legs.begin(), part.legs.end(), [&](const Leg& l) {
      return l.in && chosen.contains(l.in->owner);
    });
    if (print->leads && (chosen.contains(part.id) || rides)) {
      bodies.push_back(part.id);
      continue;
    }
    if (!chosen.contains(part.id) || rides) continue;
    const auto lying = lyingOf(project, shapes, part);
    Relocation r{part.id, {}};
    int holes = 0;
    std::string missing;
    for (std::size_t i = 0; i < lying->legs.size(); ++i) {
      const Leg* leg = part.leg(print->legs[i].id);
      const bool plugs = (leg && leg->in) || !anyPlugged(part);
      // From the mat the legs bend to the nearest holes, if they can.
      const double within = print->stretches && !anyPlugged(part) ? bends : exactly;
      const auto hole = plugs ? holeAt(project, lying->legs[i] + offset, within) : std::nullopt;
      holes += hole ? 1 : 0;
      if (plugs && !hole) missing = print->legs[i].id;
      r.sockets.push_back(hole);
    }
    if (holes == 0) {
      toMat.push_back(part.id);
      continue;
    }
    if (!missing.empty() && out.obstacle.clear())
      out.obstacle = {Obstacle::Code::noHole, missing, {}, {}, 0, 0};
    relocations.push_back(std::move(r));
  }
  // Legs in holes: to other holes, all at once, so that they do not stand in each other's way.
  if (!relocations.empty()) {
    const Obstacle before = out.obstacle;
    Arranged placedAll = relocated(out.project, shapes, relocations);
    if (!before.clear()) placedAll.obstacle = before;
    out = std::move(placedAll);
    for (const Relocation& r : relocations)
      if (Part* part = partForEdit(out.project, r.part);
          std::all_of(part->legs.begin(), part->legs.end(), [](const Leg& l) { return l.in; })) {
        part->at.reset();
        part->turnDegrees = 0;
      }
  }
  for (const std::string& id : bodies) shiftBody(out, shapes, id, offset);
  for (const auto* list : {&out.project.boards, &out.project.breadboards})
    for (const BoardItem& item : *list)
      if (chosen.contains(item.id) && out.obstacle.clear())
        out.obstacle = roomFor(out.project, shapes, item);
  for (const std::string& id : toMat) {
    const Part* before = project.part(id);
    const Footprint* print = shapes.part(before->type);
    const auto lying = lyingOf(project, shapes, *before);
    const int turn = anyPlugged(*before) ? turnNow(project, shapes, *before) : before->turnDegrees;
    Part* part = partForEdit(out.project, id);
    part->turnDegrees = turn;
    for (Leg& leg : part->legs) leg.in.reset();
    part->at = lying->legs.front() - turned(print->orientations.front().front(), turn) + offset;
    // A body on the breadboard that meets no hole is neither here nor there.
    const auto now = lyingOf(out.project, shapes, *part);
    for (const Point& leg : now->legs)
      if (out.obstacle.clear() &&
          !under(project, shapes, leg - Point{0.1, 0.1}, leg + Point{0.1, 0.1}, id).empty())
        out.obstacle = {Obstacle::Code::noHole, part->legs.front().id, {}, {}, 0, 0};
  }
  // Wires on their own: both ends by the same offset.
  for (std::size_t w = 0; w < project.wires->size(); ++w) {
    const Wire& wire = *(*out.project.wires)[w];
    if (!chosen.contains(wire.id) || !(wire.from == (*project.wires)[w]->from) ||
        !(wire.to == (*project.wires)[w]->to))
      continue;
    const Occupancy taken = occupancy(out.project);
    const auto from = socketAt(project, shapes, wire.from), to = socketAt(project, shapes, wire.to);
    const auto a = from ? holeAt(project, *from + offset) : std::nullopt;
    const auto b = to ? holeAt(project, *to + offset) : std::nullopt;
    if (!a || !b || project.part(wire.from.owner) || project.part(wire.to.owner)) continue;
    Wire& edited = out.project.wires.edit()[w].edit();
    edited.from = *a;
    edited.to = *b;
    for (Point& bend : edited.bends) bend = bend + offset;
    for (const Socket& s : {*a, *b})
      if (const auto it = taken.find(s);
          it != taken.end() && it->second.id != wire.id && out.obstacle.clear())
        out.obstacle = {Obstacle::Code::taken, {}, s.point, it->second.id, 0, 0};
  }
  out.ids = ids;
  return out;
}

Arranged turnedRound(const Project& project, const Shapes& shapes, const std::string& id) {
  const Part* part = project.part(id);
  const Footprint* print = part ? shapes.part(part->type) : nullptr;
  Arranged out{project, {}, {id}};
  if (!print) return out;
  if (part->locked) {
    out.obstacle = locked(*part);
    return out;
  }
  if (print->leads || !anyPlugged(*part)) {
    Part* edited = partForEdit(out.project, id);
    edited->turnDegrees = (edited->turnDegrees + 90) % 360;
    out.obstacle = bodyObstacle(out.project, shapes, *edited);
    return out;
  }
  const auto lying = lyingOf(project, shapes, *part);
  const int ways = static_cast<int>(print->orientations.size());
  int now = 0;
  for (int w = 0; w < ways; ++w) {
    const auto& way = print->orientations[static_cast<std::size_t>(w)];
    bool same = true;
    for (std::size_t i = 0; i < way.size(); ++i) {
      const Point d = lying->legs[i] - lying->legs[0] - way[i];
      same = same && std::hypot(d.x, d.y) < exactly;
    }
    if (same) now = w;
  }
  for (int step = 1; step < ways; ++step)
    // Around the first leg; else where another leg is now.
    for (const Point& anchor : lying->legs) {
      const auto& way = print->orientations[static_cast<std::size_t>((now + step) % ways)];
      Relocation r{id, {}};
      bool all = true;
      for (std::size_t i = 0; i < way.size(); ++i) {
        r.sockets.push_back(
            holeAt(project, anchor + way[i] - way[0], print->stretches ? bends : exactly));
        all = all && r.sockets.back();
      }
      if (!all) continue;
      Arranged turnedOut = relocated(project, shapes, {r});
      if (turnedOut.clear()) return turnedOut;
      if (out.obstacle.clear()) out.obstacle = turnedOut.obstacle;
    }
  if (out.obstacle.clear()) out.obstacle.code = Obstacle::Code::noHole;
  return out;
}

Arranged mirrored(const Project& project, const Shapes& shapes,
                  const std::vector<std::string>& parts) {
  Arranged out{project, {}, parts};
  for (const std::string& id : parts) {
    const Part* part = project.part(id);
    if (!part) continue;
    if (part->locked)
      out.obstacle = locked(*part);
    else
      *partForEdit(out.project, id) = flipped(*part, shapes);
  }
  return out;
}

Arranged plugged(const Project& project, const Shapes& shapes, const std::string& id,
                 const std::string& leg, const Socket& to) {
  Arranged out{project, {}, {id}};
  const Part* part = project.part(id);
  if (!part) return out;
  out.obstacle = part->locked ? locked(*part) : canPlug(project, shapes, *part, leg, to);
  Part* edited = partForEdit(out.project, id);
  if (Leg* held = edited->leg(leg)) held->in = to;
  const Footprint* print = shapes.part(part->type);
  if (print && !print->leads &&
      std::all_of(edited->legs.begin(), edited->legs.end(), [](const Leg& l) { return l.in; }))
    edited->at.reset();
  return out;
}

Arranged unplugged(const Project& project, const std::string& id, const std::string& leg) {
  Arranged out{project, {}, {id}};
  const Part* part = project.part(id);
  if (!part) return out;
  if (part->locked) out.obstacle = locked(*part);
  Part* edited = partForEdit(out.project, id);
  if (Leg* held = edited->leg(leg)) held->in.reset();
  return out;
}

Arranged linedUp(const Project& project, const Shapes& shapes,
                 const std::vector<std::string>& parts) {
  Arranged out{project, {}, parts};
  std::optional<double> column;
  for (const std::string& id : parts) {
    const Part* part = out.project.part(id);
    const auto lying = part ? lyingOf(out.project, shapes, *part) : std::nullopt;
    if (!lying || lying->legs.empty()) continue;
    double leftmost = lying->legs.front().x;
    for (const Point& leg : lying->legs) leftmost = std::min(leftmost, leg.x);
    if (!column) column = leftmost;
    if (std::abs(*column - leftmost) < exactly) continue;
    Arranged next = moved(out.project, shapes, {id}, {*column - leftmost, 0});
    out.project = std::move(next.project);
    if (!next.clear() && out.obstacle.clear()) out.obstacle = next.obstacle;
  }
  return out;
}

Point restingPlace(const Project& project, const Shapes& shapes, const Footprint& print,
                   const std::vector<std::optional<Socket>>& legs, const std::string& moving) {
  Point wanted{4, 36};
  for (const auto& socket : legs) {
    const auto at = socket ? socketAt(project, shapes, *socket) : std::nullopt;
    if (!at) continue;
    const BreadboardItem* bb = project.breadboard(socket->owner);
    const BreadboardKind* kind = bb ? breadboardKind(bb->type) : nullptr;
    const double right = kind ? bb->at.x + kind->width : at->x + 4;
    // The leads leave the body towards its resting ends; those point to the breadboard.
    wanted = {right + besideGap + print.bodyWidth / 2 + 3, std::round(at->y) + 1};
    break;
  }
  const Point half{print.bodyWidth / 2 + 0.5, print.bodyHeight / 2 + 0.5};
  for (int column = 0; column < 8; ++column)
    for (int k = 0; k < 40; ++k) {
      // At the wanted height first, then below and above it by turns.
      const double dy = (k + 1) / 2 * (k % 2 ? 1.0 : -1.0);
      const Point at{wanted.x + column * (print.bodyWidth + 2), wanted.y + dy};
      if (under(project, shapes, at - half, at + half, moving).empty()) return at;
    }
  return wanted;
}

Arranged placed(const Project& project, const Shapes& shapes, Part part,
                const std::vector<std::optional<Socket>>& sockets, const Taken* taken) {
  Arranged out{project, {}, {part.id}};
  const Footprint* print = shapes.part(part.type);
  if (!print) return out;
  for (std::size_t i = 0; i < part.legs.size() && i < sockets.size(); ++i) {
    part.legs[i].in = sockets[i];
    if (!sockets[i] || !out.obstacle.clear()) continue;
    if (!socketAt(project, shapes, *sockets[i]))
      out.obstacle = {Obstacle::Code::noSuchSocket, part.legs[i].id, sockets[i]->point, {}, 0, 0};
    else if (const auto there =
                 taken ? taken->occupantOf(*sockets[i]) : occupantOf(project, *sockets[i]))
      out.obstacle = {Obstacle::Code::taken, part.legs[i].id, sockets[i]->point, there->id, 0, 0};
    for (std::size_t k = 0; k < i; ++k)
      if (sockets[k] && *sockets[k] == *sockets[i] && out.obstacle.clear())
        out.obstacle = {Obstacle::Code::taken, part.legs[i].id, sockets[i]->point, part.id, 0, 0};
  }
  if (print->leads) part.at = restingPlace(project, shapes, *print, sockets);
  if (out.obstacle.clear()) out.obstacle = reachOf(project, shapes, part);
  out.project = edits::addPart(std::move(out.project), std::move(part));
  return out;
}

Arranged laidOnMat(const Project& project, const Shapes& shapes, Part part, Point at) {
  Arranged out{project, {}, {part.id}};
  for (Leg& leg : part.legs) leg.in.reset();
  part.at = at;
  const std::string id = part.id;
  out.project = edits::addPart(std::move(out.project), std::move(part));
  const Part* now = out.project.part(id);
  const auto lying = lyingOf(out.project, shapes, *now);
  if (!lying) return out;
  out.obstacle.occupant = under(project, shapes, lying->least(), lying->most(), id);
  if (!out.obstacle.occupant.empty()) out.obstacle.code = Obstacle::Code::covers;
  return out;
}

Arranged toFreeRows(const Project& project, const Shapes& shapes,
                    const std::vector<std::string>& parts) {
  Arranged out{project, {}, parts};
  for (const std::string& id : parts) {
    const Part* part = out.project.part(id);
    if (!part || !anyPlugged(*part) || shapes.part(part->type)->leads) continue;
    // Rows that something else than this part and its own wires uses.
    bool found = false;
    for (int k = 0; k < 130 && !found; ++k) {
      const double dy = (k + 1) / 2 * (k % 2 ? 1.0 : -1.0);
      Arranged tried = moved(out.project, shapes, {id}, {0, dy});
      if (!tried.clear()) {
        if (tried.obstacle.code == Obstacle::Code::locked) out.obstacle = tried.obstacle;
        continue;
      }
      std::set<Strip> mine;
      const Part* now = tried.project.part(id);
      for (const Leg& leg : now->legs)
        if (leg.in)
          if (const auto row = rowOf(tried.project, *leg.in)) mine.insert(*row);
      bool alone = true;
      for (const auto& other : *tried.project.parts)
        for (const Leg& leg : other->legs)
          if (other->id != id && leg.in)
            if (const auto row = rowOf(tried.project, *leg.in))
              alone = alone && !mine.contains(*row);
      // Wires that were there before it came.
      for (const auto& wire : *out.project.wires)
        for (const Socket& end : {wire->from, wire->to})
          if (const auto row = rowOf(out.project, end); row && mine.contains(*row) && k > 0)
            alone = false;
      if (!alone) continue;
      out.project = std::move(tried.project);
      found = true;
    }
    if (!found && out.obstacle.clear()) out.obstacle.code = Obstacle::Code::noRoom;
  }
  return out;
}

}  // namespace ignavo
