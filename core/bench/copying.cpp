#include <algorithm>
#include <cmath>
#include <set>

#include "bench/arranging.h"
#include "bench/breadboards.h"
#include "bench/lying.h"
#include "bench/relocating.h"
#include "project/edits.h"

namespace ignavo {

namespace {

using Ids = std::set<std::string>;

// What is taken: what was before, which many places are tried against, and what came since.
class TakenSoFar {
 public:
  explicit TakenSoFar(const Occupancy& before) : before_(before) {}

  const Occupant* by(const Socket& socket) const {
    for (const Occupancy* known : {&since_, &before_})
      if (const auto it = known->find(socket); it != known->end()) return &it->second;
    return nullptr;
  }
  void take(const Socket& socket, Occupant who) { since_[socket] = std::move(who); }

 private:
  const Occupancy& before_;
  Occupancy since_;
};

// Where a socket of the fragment comes to lie in the project, moved by an offset.
std::optional<Socket> landing(const Project& project, const Shapes& shapes, const Project& fragment,
                              const Socket& socket, Point offset,
                              const std::map<std::string, std::string>& renamed,
                              const TakenSoFar& taken) {
  if (const auto it = renamed.find(socket.owner); it != renamed.end())
    return Socket{it->second, socket.point};
  if (fragment.board(socket.owner)) {
    // A pin stays that pin, of the same board or else of the first one.
    const std::string board = project.board(socket.owner) ? socket.owner
                              : project.boards.empty()    ? std::string()
                                                          : project.boards.front().id;
    const Socket pin{board, socket.point};
    return socketAt(project, shapes, pin) ? std::optional<Socket>(pin) : std::nullopt;
  }
  const auto at = socketAt(fragment, shapes, socket);
  if (!at) return std::nullopt;
  const auto strip = stripOf(fragment, socket);
  for (const BreadboardItem& bb : project.breadboards) {
    const BreadboardKind* kind = breadboardKind(bb.type);
    if (!kind) continue;
    const auto hole = kind->nearest(*at + offset - bb.at, strip && strip->rail ? 0.75 : exactly);
    if (!hole) continue;
    // Rails are long: the free hole nearest to the place will do.
    if (hole->rail >= 0) {
      std::optional<Socket> best;
      double nearest = 1e9;
      for (const Hole& h : kind->holesOf(kind->stripOf(*hole))) {
        const Socket s{bb.id, kind->address(h)};
        const double d = std::abs((bb.at + kind->at(h)).y - (at->y + offset.y));
        if (!taken.by(s) && d < nearest) nearest = d, best = s;
      }
      return best;
    }
    return Socket{bb.id, kind->address(*hole)};
  }
  return std::nullopt;
}

// `onlyWhole`: what is refused once is not worked out any further.
Arranged pastedBy(const Project& project, const Shapes& shapes, const Project& fragment,
                  Point offset, const Occupancy& before, bool onlyWhole) {
  Arranged out{project, {}, {}};
  TakenSoFar taken(before);
  std::map<std::string, std::string> renamed;
  const auto refuse = [&](Obstacle o) {
    if (out.obstacle.clear()) out.obstacle = std::move(o);
  };
  for (const auto& held : *fragment.parts) {
    Part part = *held;
    const Footprint* print = shapes.part(part.type);
    if (!print) continue;
    std::string stem = part.id;
    while (stem.size() > 1 && std::isdigit(static_cast<unsigned char>(stem.back())))
      stem.pop_back();
    part.id = freeId(out.project, stem);
    part.name = freeName(out.project, part.name);
    part.locked = false;
    for (Leg& leg : part.legs) {
      if (!leg.in) continue;
      const auto to = landing(project, shapes, fragment, *leg.in, offset, renamed, taken);
      if (!to) {
        refuse({Obstacle::Code::noHole, leg.id, {}, {}, 0, 0});
        leg.in.reset();
        continue;
      }
      if (const Occupant* who = taken.by(*to))
        refuse({Obstacle::Code::taken, leg.id, to->point, who->id, 0, 0});
      taken.take(*to, {part.id, leg.id});
      leg.in = to;
    }
    if (onlyWhole && !out.clear()) return out;
    if (part.at) part.at = *part.at + offset;
    if (print->leads) {
      std::vector<std::optional<Socket>> sockets;
      for (const Leg& leg : part.legs) sockets.push_back(leg.in);
      const bool plugged = std::any_of(sockets.begin(), sockets.end(), [](auto& s) { return s; });
      if (plugged) part.at = restingPlace(out.project, shapes, *print, sockets);
    }
    renamed[held->id] = part.id;
    out.ids.push_back(part.id);
    out.project = edits::addPart(std::move(out.project), std::move(part));
  }
  for (const auto& held : *fragment.wires) {
    Wire wire = *held;
    const auto from = landing(project, shapes, fragment, wire.from, offset, renamed, taken);
    if (onlyWhole && !out.clear()) return out;
    if (from && !out.project.part(from->owner) && taken.by(*from) &&
        fragment.board(wire.from.owner))
      continue;  // the pin is taken: the wire is left out
    if (from && !out.project.part(from->owner)) {
      if (const Occupant* who = taken.by(*from))
        refuse({Obstacle::Code::taken, {}, from->point, who->id, 0, 0});
    }
    const auto to = landing(project, shapes, fragment, wire.to, offset, renamed, taken);
    if (!from || !to) {
      if (!fragment.board(wire.from.owner) && !fragment.board(wire.to.owner))
        refuse({Obstacle::Code::noHole, {}, {}, {}, 0, 0});
      continue;
    }
    if (const Occupant* who = out.project.part(to->owner) ? nullptr : taken.by(*to)) {
      if (fragment.board(wire.to.owner)) continue;
      refuse({Obstacle::Code::taken, {}, to->point, who->id, 0, 0});
    }
    wire.id = freeId(out.project, "w");
    wire.from = *from;
    wire.to = *to;
    for (Point& bend : wire.bends) bend = bend + offset;
    if (!out.project.part(from->owner)) taken.take(*from, {wire.id, "from"});
    if (!out.project.part(to->owner)) taken.take(*to, {wire.id, "to"});
    out.ids.push_back(wire.id);
    out.project = edits::addWire(std::move(out.project), std::move(wire));
  }
  return out;
}

std::optional<Point> firstPlace(const Project& fragment, const Shapes& shapes) {
  for (const auto& part : *fragment.parts)
    if (const auto lying = lyingOf(fragment, shapes, *part)) return lying->legs.front();
  for (const auto& wire : *fragment.wires)
    if (const auto at = socketAt(fragment, shapes, wire->from)) return at;
  return std::nullopt;
}

// Do the new things share a row with anything that was there before?
bool intrudes(const Project& before, const Occupancy& taken, const Arranged& after) {
  std::set<Strip> mine;
  const auto note = [&](const Socket& s) {
    if (const auto strip = stripOf(after.project, s); strip && !strip->rail) mine.insert(*strip);
  };
  const Ids fresh(after.ids.begin(), after.ids.end());
  for (const auto& part : *after.project.parts)
    if (fresh.contains(part->id))
      for (const Leg& leg : part->legs)
        if (leg.in) note(*leg.in);
  for (const auto& wire : *after.project.wires)
    if (fresh.contains(wire->id)) note(wire->from), note(wire->to);
  for (const auto& [socket, who] : taken)
    if (const auto strip = stripOf(before, socket); strip && mine.contains(*strip)) return true;
  return false;
}

// Does a new body lie over one that was there before?
bool covers(const Project& before, const Shapes& shapes, const Arranged& after) {
  constexpr double touching = 0.1;  // pitches that bodies may reach into each other
  const Ids fresh(after.ids.begin(), after.ids.end());
  for (const auto& part : *after.project.parts) {
    const auto mine =
        fresh.contains(part->id) ? lyingOf(after.project, shapes, *part) : std::nullopt;
    if (!mine) continue;
    for (const auto& other : *before.parts) {
      const auto lying = lyingOf(before, shapes, *other);
      if (!lying) continue;
      const Point in{touching, touching};
      if (overlaps(mine->least() + in, mine->most(), lying->least() + in, lying->most()))
        return true;
    }
  }
  return false;
}

}  // namespace

Project extract(const Project& project, const std::vector<std::string>& ids) {
  const Ids chosen(ids.begin(), ids.end());
  Project out;
  out.title = project.title;
  out.boards = project.boards;
  out.breadboards = project.breadboards;
  std::set<Strip> rows;
  for (const auto& part : *project.parts)
    if (chosen.contains(part->id)) {
      out.parts.edit().push_back(part);
      for (const Leg& leg : part->legs)
        if (leg.in)
          if (const auto strip = stripOf(project, *leg.in); strip && !strip->rail)
            rows.insert(*strip);
    }
  // Wires that were chosen, and those that run between the rows of the parts,
  // or from there to a rail.
  const auto belongs = [&](const Socket& end, bool& own) {
    if (chosen.contains(end.owner)) return own = true;
    const auto strip = stripOf(project, end);
    if (!strip) return false;
    if (rows.contains(*strip)) own = true;
    return strip->rail || rows.contains(*strip);
  };
  for (const auto& wire : *project.wires) {
    bool own = false;
    const bool from = belongs(wire->from, own), to = belongs(wire->to, own);
    if (chosen.contains(wire->id) || (from && to && own)) out.wires.edit().push_back(wire);
  }
  return out;
}

Arranged pasted(const Project& project, const Shapes& shapes, const Project& fragment,
                std::optional<Point> at) {
  const auto first = firstPlace(fragment, shapes);
  if (!first) return {project, {}, {}};
  const Occupancy taken = occupancy(project);
  if (at) return pastedBy(project, shapes, fragment, *at - *first, taken, false);
  // Below its own place first, then above; then beside it on another breadboard.
  std::vector<Point> offsets;
  for (int k = 1; k < 130; ++k)
    for (const double sign : {1.0, -1.0}) offsets.push_back({0, sign * k});
  for (const BreadboardItem& bb : project.breadboards)
    for (const BreadboardItem& from : fragment.breadboards) {
      const Point across = bb.at - from.at;
      for (int k = 0; k < 65; ++k)
        for (const double sign : {1.0, -1.0}) offsets.push_back({across.x, across.y + sign * k});
    }
  // On a crowded bench bodies may lie over each other; better so than nowhere.
  Arranged last{project, {}, {}};
  last.obstacle.code = Obstacle::Code::noRoom;
  for (const Point& offset : offsets) {
    Arranged tried = pastedBy(project, shapes, fragment, offset, taken, true);
    if (!tried.clear() || intrudes(project, taken, tried)) continue;
    if (!covers(project, shapes, tried)) return tried;
    if (!last.clear()) last = std::move(tried);
  }
  return last;
}

Arranged duplicated(const Project& project, const Shapes& shapes,
                    const std::vector<std::string>& ids) {
  return pasted(project, shapes, extract(project, ids));
}

}  // namespace ignavo
