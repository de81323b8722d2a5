#include "check/remedies.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "bench/breadboards.h"
#include "bench/placing.h"
#include "bench/relocating.h"
#include "program/steps.h"
#include "project/edits.h"

namespace ignavo::remedies {

namespace {

struct FreeHole {
  Socket socket;
  Point at;
  int strip = 0;  // breadboard and strip in one number
};

double distance(Point a, Point b) { return std::hypot(a.x - b.x, a.y - b.y); }

std::vector<FreeHole> holesOf(const Project& project, const std::vector<StripRef>& strips,
                              const Occupancy& taken) {
  std::vector<FreeHole> out;
  for (const StripRef& s : strips) {
    const BreadboardItem& bb = project.breadboards[static_cast<std::size_t>(s.breadboard)];
    const BreadboardKind* kind = breadboardKind(bb.type);
    for (const Hole& hole : kind->holesOf(s.strip)) {
      const Socket socket{bb.id, kind->address(hole)};
      if (!taken.contains(socket))
        out.push_back({socket, bb.at + kind->at(hole), s.breadboard * 1000 + s.strip});
    }
  }
  return out;
}

// Rows (not rails) that nothing uses.
std::vector<StripRef> freeRows(const Project& project, const Nets& nets) {
  std::vector<StripRef> out;
  for (const Net& net : nets.all()) {
    if (net.used()) continue;
    for (const StripRef& s : net.strips) {
      const BreadboardItem& bb = project.breadboards[static_cast<std::size_t>(s.breadboard)];
      if (s.strip < 2 * breadboardKind(bb.type)->rows) out.push_back(s);
    }
  }
  return out;
}

const Net& netAt(const Nets& nets, int index) {
  return nets.all()[static_cast<std::size_t>(index)];
}

Part newResistor(const Project& project, double ohms) {
  Part part = newPart(project, *catalogue().partKind("resistor"));
  part.setProp("ohms", ohms);
  return part;
}

Project placed(const Project& project, Part part, const Socket& a, const Socket& b) {
  part.legs[0].in = a;
  part.legs[1].in = b;
  return edits::addPart(project, std::move(part));
}

Project placeResistor(const Project& project, double ohms, const Socket& a, const Socket& b) {
  return placed(project, newResistor(project, ohms), a, b);
}

// How well a part with two legs lies between two holes; smaller is better.
// Straight and of middle length is what people would do.
std::optional<double> lie(const std::string& type, Point a, Point b) {
  const Footprint& print = catalogue().partKind(type)->print;
  const double d = distance(a, b);
  if (d < print.reachMin + 0.9 || d > print.reachMax) return std::nullopt;
  const double skew = std::min(std::abs(a.x - b.x), std::abs(a.y - b.y));
  return std::abs(d - 4) + 1.5 * skew;
}
std::optional<double> lie(Point a, Point b) { return lie("resistor", a, b); }

}  // namespace

std::optional<Remedy> turn(const Project& project, const std::string& part) {
  return Remedy{say("Turn it round"),
                edits::changePart(project, part, [](Part& p) { p = flipped(p, catalogue()); })};
}

std::optional<Remedy> changeResistor(const Project& project, const std::string& resistor,
                                     double ohms) {
  const Part* part = project.part(resistor);
  if (!part) return std::nullopt;
  return Remedy{say("Make {} {}", part->name, ohmsText(ohms)),
                edits::changePart(project, resistor, [&](Part& p) { p.setProp("ohms", ohms); })};
}

namespace {

// Takes a wire end out of the part's row, to a free row, and bridges the two
// with the resistor. Only when the wire is all that feeds that row.
std::optional<Project> behindWire(const Project& project, const Nets& nets, const Part& part,
                                  int leg, double ohms) {
  const Occupancy taken = occupancy(project);
  const int partIndex = [&] {
    for (std::size_t i = 0; i < project.parts->size(); ++i)
      if ((*project.parts)[i]->id == part.id) return static_cast<int>(i);
    return -1;
  }();
  const Socket& socket = *part.legs[static_cast<std::size_t>(leg)].in;
  const BreadboardItem* bb = project.breadboard(socket.owner);
  if (!bb || partIndex < 0) return std::nullopt;
  const BreadboardKind* kind = breadboardKind(bb->type);
  const int bbIndex = static_cast<int>(bb - project.breadboards.data());
  const int strip = kind->stripOf(*kind->parse(socket.point));
  // What else is in this very strip?
  std::vector<std::pair<std::string, bool>> ends;  // wire id, is its "from"
  for (const auto& [where, who] : taken) {
    if (where.owner != bb->id || kind->stripOf(*kind->parse(where.point)) != strip) continue;
    if (who.id == part.id) continue;
    if (!project.wire(who.id)) return std::nullopt;  // another part hangs there too
    ends.emplace_back(who.id, who.what == "from");
  }
  if (ends.size() != 1) return std::nullopt;
  const Wire* wire = project.wire(ends[0].first);
  const Socket& oldEnd = ends[0].second ? wire->from : wire->to;
  const Point oldAt = *socketAt(project, catalogue(), oldEnd);

  auto here = holesOf(project, {{bbIndex, strip}}, taken);
  FreeHole freed{oldEnd, oldAt, 0};
  here.push_back(freed);
  double best = 1e9;
  std::optional<Project> out;
  for (const FreeHole& other : holesOf(project, freeRows(project, nets), taken)) {
    for (const FreeHole& mine : here) {
      const auto cost = lie(other.at, mine.at);
      if (!cost || *cost + 0.05 * distance(oldAt, other.at) >= best) continue;
      // The wire goes beside the resistor's leg, in the same free row.
      std::optional<FreeHole> end;
      for (const FreeHole& w : holesOf(project, {{other.strip / 1000, other.strip % 1000}}, taken))
        if (!(w.socket == other.socket) &&
            (!end || distance(w.at, oldAt) < distance(end->at, oldAt)))
          end = w;
      if (!end) continue;
      best = *cost + 0.05 * distance(oldAt, other.at);
      Project p = edits::changeWire(project, wire->id, [&](Wire& w) {
        (ends[0].second ? w.from : w.to) = end->socket;
        w.bends.clear();
      });
      out = placeResistor(p, ohms, other.socket, mine.socket);
    }
  }
  return out;
}

// Takes the leg itself to a free row and bridges that with the old one.
std::optional<Project> behindLeg(const Project& project, const Nets& nets, const Part& part,
                                 int leg, double ohms) {
  const Occupancy taken = occupancy(project);
  const int index = leg;
  const Leg& held = part.legs[static_cast<std::size_t>(index)];
  const int net = nets.of(*held.in);
  auto here = holesOf(project, netAt(nets, net).strips, taken);
  const auto heldAt = socketAt(project, catalogue(), *held.in);
  if (project.breadboard(held.in->owner)) here.push_back({*held.in, *heldAt, 0});
  double best = 1e9;
  std::optional<Project> out;
  for (const FreeHole& moved : holesOf(project, freeRows(project, nets), taken)) {
    if (!canPlug(project, catalogue(), part, held.id, moved.socket).clear()) continue;
    for (const FreeHole& near :
         holesOf(project, {{moved.strip / 1000, moved.strip % 1000}}, taken)) {
      if (near.socket == moved.socket) continue;
      for (const FreeHole& mine : here) {
        const auto cost = lie(near.at, mine.at);
        if (!cost || *cost >= best) continue;
        best = *cost;
        const Project p = edits::changePart(project, part.id,
                                            [&](Part& q) { q.leg(held.id)->in = moved.socket; });
        out = placeResistor(p, ohms, near.socket, mine.socket);
      }
    }
  }
  return out;
}

}  // namespace

std::optional<Remedy> seriesResistor(const Project& project, const std::string& partId,
                                     double ohms) {
  const Part* part = project.part(partId);
  if (!part || part->legs.size() != 2 || !part->legs[0].in || !part->legs[1].in)
    return std::nullopt;
  const Nets nets(project, catalogue());
  for (int leg : {0, 1})
    if (auto p = behindWire(project, nets, *part, leg, ohms))
      return Remedy{say("Put {} in its path", ohmsText(ohms)), std::move(*p)};
  for (int leg : {0, 1})
    if (auto p = behindLeg(project, nets, *part, leg, ohms))
      return Remedy{say("Put {} in its path", ohmsText(ohms)), std::move(*p)};
  return std::nullopt;
}

namespace {

// Where a wire could end in a net: its free holes and pins.
std::vector<FreeHole> endsOf(const Project& project, const Net& net, const Occupancy& taken) {
  std::vector<FreeHole> out = holesOf(project, net.strips, taken);
  for (const PinRef& ref : net.pins) {
    const BoardItem& board = project.boards[static_cast<std::size_t>(ref.board)];
    const PinShape& pin = catalogue().board(board.type)->pins[static_cast<std::size_t>(ref.pin)];
    const Socket socket{board.id, pin.name};
    if (!taken.contains(socket)) out.push_back({socket, board.at + pin.at, -1});
  }
  return out;
}

Project withNewWire(Project project, const Socket& from, const Socket& to) {
  Wire wire;
  wire.id = freeId(project, "w");
  wire.from = from;
  wire.to = to;
  return edits::addWire(std::move(project), std::move(wire));
}

// Another pin that does the same, when the net itself has none free.
std::vector<FreeHole> sparePins(const Project& project, const Net& net, const Occupancy& taken) {
  std::vector<FreeHole> out;
  for (const PinRef& ref : net.pins) {
    const BoardItem& board = project.boards[static_cast<std::size_t>(ref.board)];
    const BoardShape& shape = *catalogue().board(board.type);
    const PinShape& own = shape.pins[static_cast<std::size_t>(ref.pin)];
    if (own.role == PinShape::Role::io) continue;
    for (const PinShape& pin : shape.pins)
      if (const Socket socket{board.id, pin.name};
          pin.role == own.role && pin.volts == own.volts && !taken.contains(socket))
        out.push_back({socket, board.at + pin.at, -1});
  }
  return out;
}

}  // namespace

std::optional<Project> wireBetween(const Project& project, int netA, int netB) {
  if (netA < 0 || netB < 0 || netA == netB) return std::nullopt;
  const Nets nets(project, catalogue());
  const Occupancy taken = occupancy(project);
  const auto ends = [&](int net) {
    auto out = endsOf(project, netAt(nets, net), taken);
    const auto spare = sparePins(project, netAt(nets, net), taken);
    out.insert(out.end(), spare.begin(), spare.end());
    return out;
  };
  double best = 1e9;
  const FreeHole *from = nullptr, *to = nullptr;
  const auto froms = ends(netA), tos = ends(netB);
  for (const FreeHole& a : froms)
    for (const FreeHole& b : tos)
      if (const double d = distance(a.at, b.at); d < best - 1e-9) best = d, from = &a, to = &b;
  if (!from) return std::nullopt;
  return withNewWire(project, from->socket, to->socket);
}

std::optional<Project> bridge(const Project& project, const Part& part, int netA, int netB) {
  if (netA < 0 || netB < 0 || netA == netB) return std::nullopt;
  const Nets nets(project, catalogue());
  const Occupancy taken = occupancy(project);
  const auto as = holesOf(project, netAt(nets, netA).strips, taken);
  double best = 1e9;
  std::optional<Project> out;
  for (const FreeHole& b : holesOf(project, netAt(nets, netB).strips, taken))
    for (const FreeHole& a : as)
      if (const auto cost = lie(part.type, a.at, b.at); cost && *cost < best) {
        best = *cost;
        out = placed(project, part, a.socket, b.socket);
      }
  if (out) return out;
  // Too far: to a free row, and a wire from there.
  auto ends = endsOf(project, netAt(nets, netB), taken);
  if (ends.empty()) ends = sparePins(project, netAt(nets, netB), taken);
  // A pin rather than a hole, where there is one.
  const auto pin = std::find_if(ends.begin(), ends.end(), [](auto& e) { return e.strip < 0; });
  if (ends.empty()) return std::nullopt;
  const Socket& end = pin == ends.end() ? ends.front().socket : pin->socket;
  for (const FreeHole& other : holesOf(project, freeRows(project, nets), taken))
    for (const FreeHole& a : as) {
      const auto cost = lie(part.type, a.at, other.at);
      if (!cost || *cost >= best) continue;
      const auto row = holesOf(project, {{other.strip / 1000, other.strip % 1000}}, taken);
      const FreeHole& near = row.front().socket == other.socket ? row.back() : row.front();
      best = *cost;
      out = withNewWire(placed(project, part, a.socket, other.socket), near.socket, end);
    }
  return out;
}

std::optional<Project> resistorForWire(const Project& project, const std::string& wireId,
                                       double ohms) {
  const Wire* wire = project.wire(wireId);
  if (!wire) return std::nullopt;
  const Project without = edits::remove(project, {wireId});
  const Nets nets(without, catalogue());
  const int from = nets.of(wire->from), to = nets.of(wire->to);
  const Part resistor = newResistor(project, ohms);
  auto made = bridge(without, resistor, from, to);
  return made ? made : bridge(without, resistor, to, from);  // from where there are holes
}

std::optional<Project> rewired(const Project& project, const std::string& wire, bool from,
                               const StripRef& row) {
  const Wire* held = project.wire(wire);
  if (!held) return std::nullopt;
  const Occupancy taken = occupancy(project);
  const auto at = socketAt(project, catalogue(), from ? held->from : held->to);
  double best = 1e9;
  std::optional<Socket> to;
  for (const FreeHole& hole : holesOf(project, {row}, taken))
    if (at && distance(*at, hole.at) < best) best = distance(*at, hole.at), to = hole.socket;
  if (!to) return std::nullopt;
  return edits::changeWire(project, wire, [&](Wire& w) { (from ? w.from : w.to) = *to; });
}

std::optional<Remedy> exchangeRows(const Project& project, const Leg& one, const Leg& other) {
  const auto a = one.in ? rowOf(project, *one.in) : std::nullopt;
  const auto b = other.in ? rowOf(project, *other.in) : std::nullopt;
  if (!a || !b || a->breadboard != b->breadboard) return std::nullopt;
  const BreadboardItem& bb = *project.breadboard(a->breadboard);
  const int index = static_cast<int>(&bb - project.breadboards.data());
  Occupancy taken = occupancy(project);
  struct End {
    std::string wire;
    bool from;
    int strip;  // where it goes
  };
  std::vector<End> ends;
  for (const auto& wire : *project.wires)
    for (const bool from : {true, false}) {
      const Socket& end = from ? wire->from : wire->to;
      const auto row = rowOf(project, end);
      if (row != a && row != b) continue;
      ends.push_back({wire->id, from, row == a ? b->strip : a->strip});
      taken.erase(end);
    }
  if (ends.empty()) return std::nullopt;
  Project after = project;
  for (const End& end : ends) {
    const auto holes = holesOf(project, {{index, end.strip}}, taken);
    if (holes.empty()) return std::nullopt;
    after = edits::changeWire(std::move(after), end.wire, [&](Wire& w) {
      (end.from ? w.from : w.to) = holes.front().socket;
      w.bends.clear();
    });
    taken.insert({holes.front().socket, {}});
  }
  const auto number = [](const Leg& leg) {
    return leg.in->point.substr(leg.in->point.find_first_of("0123456789"));
  };
  return Remedy{say("Exchange the wires of rows {} and {}", number(one), number(other)),
                std::move(after)};
}

namespace {
// To one of the board's pins that are fit for it.
template <typename Fits>
std::optional<Remedy> resistorTo(const Project& project, const std::string& board,
                                 const std::string& pin, double ohms, const std::string& name,
                                 Fits fits) {
  const Nets nets(project, catalogue());
  const BoardItem* item = project.board(board);
  const BoardShape* shape = item ? catalogue().board(item->type) : nullptr;
  if (!shape) return std::nullopt;
  for (const PinShape& p : shape->pins)
    if (fits(p))
      if (auto made = bridge(project, newResistor(project, ohms), nets.of({board, pin}),
                             nets.of({board, p.name})))
        return Remedy{say("Add {} to {}", ohmsText(ohms), name), std::move(*made)};
  return std::nullopt;
}
}  // namespace

std::optional<Remedy> resistorToGround(const Project& project, const std::string& board,
                                       const std::string& pin, double ohms) {
  return resistorTo(project, board, pin, ohms, "GND",
                    [](const PinShape& p) { return p.role == PinShape::Role::ground; });
}

std::optional<Remedy> resistorToSupply(const Project& project, const std::string& board,
                                       const std::string& pin, double ohms) {
  const BoardItem* item = project.board(board);
  const BoardKind* kind = item ? catalogue().boardKind(item->type) : nullptr;
  const BoardPin* held = kind ? kind->pin(pin) : nullptr;
  const SupplyKind* own = held ? kind->supply(held->supply) : nullptr;
  if (!own) return std::nullopt;
  return resistorTo(project, board, pin, ohms, own->label,
                    [&](const PinShape& p) { return p.name == own->pin; });
}

std::optional<Remedy> noPull(const Project& project, const std::string& board,
                             const std::string& pin) {
  return Remedy{say("Switch the pull-up off"), edits::setPull(project, board, pin, false)};
}

std::optional<Remedy> pullUp(const Project& project, const std::string& board,
                             const std::string& pin) {
  return Remedy{say("Use the pin’s own pull-up"), edits::setPull(project, board, pin, true)};
}

namespace {
// What was set for a pin comes along to the one that takes its place, unless that one has
// settings of its own.
Project takeSettings(Project p, const std::string& board, const std::string& from,
                     const std::string& to, bool label) {
  const Program* program = p.program(board);
  if (!program) return p;
  if (program->pulledUp(from) && !program->pulledUp(to)) {
    p = edits::setPull(std::move(p), board, from, false);
    p = edits::setPull(std::move(p), board, to, true);
  }
  const std::string called = p.program(board)->labelOf(from);
  if (label && !called.empty() && p.program(board)->labelOf(to).empty()) {
    p = edits::setPinLabel(std::move(p), board, from, {});
    p = edits::setPinLabel(std::move(p), board, to, called);
  }
  return p;
}

bool isPlugged(const Project& p, const Socket& pin) {
  for (const auto& wire : *p.wires)
    if (wire->from == pin || wire->to == pin) return true;
  return false;
}

// The board whose program holds this step or lane.
std::string boardOf(const Project& p, const std::string& id) {
  for (const auto& program : p.programs)
    for (const auto& lane : program->lanes) {
      bool found = lane->id == id;
      forEachStep(lane->steps, [&](const Step& s) { found = found || s.id == id; });
      if (found) return program->board;
    }
  return {};
}

bool uses(const Project& p, const std::string& board, const std::string& pin) {
  const auto all = pinUses(*p.program(board));
  return std::any_of(all.begin(), all.end(), [&](const PinUse& use) { return use.pin == pin; });
}
}  // namespace

Remedy movePin(const Project& project, const std::string& board, const std::string& from,
               const std::string& to) {
  std::vector<std::string> ids;
  if (const Program* program = project.program(board))
    for (const PinUse& use : pinUses(*program))
      if (use.pin == from) {
        ids = use.reading();
        ids.insert(ids.end(), use.writers.begin(), use.writers.end());
      }
  Project after = changePin(project, from, to, ids)->after;
  for (const auto& wire : *project.wires)
    after = edits::changeWire(std::move(after), wire->id, [&](Wire& w) {
      for (Socket* end : {&w.from, &w.to})
        if (*end == Socket{board, from}) *end = {board, to};
    });
  after = takeSettings(std::move(after), board, from, to, true);
  return {say("Take {} instead of {}", to, from), std::move(after)};
}

std::optional<Remedy> changePin(const Project& project, const std::string& from,
                                const std::string& to, const std::vector<std::string>& steps) {
  Project p = project;
  for (const std::string& id : steps)
    p = edits::changeStep(std::move(p), id, [&](Step& s) {
      for (auto& [key, value] : s.fields) {
        if (key == pinKey && value.text == from) value.text = to;
        renamePin(value, from, to);
      }
    });
  for (const std::string& id : steps)
    p = edits::changeLane(std::move(p), id, [&](Lane& lane) {
      if (lane.trigger.pin == from) lane.trigger.pin = to;
      for (auto& [key, value] : lane.trigger.fields) renamePin(value, from, to);
    });
  // What no step uses any more needs no pull-up; a label stays with what is wired there.
  const std::string board = steps.empty() ? std::string() : boardOf(p, steps.front());
  if (!board.empty() && !uses(p, board, from))
    p = takeSettings(std::move(p), board, from, to, !isPlugged(p, {board, from}));
  return Remedy{say("Change {} to {}", from, to), std::move(p)};
}

}  // namespace ignavo::remedies
