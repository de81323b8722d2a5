#include "make/copied_steps.h"

#include <algorithm>
#include <functional>
#include <set>

#include "bench/breadboards.h"
#include "bench/relocating.h"
#include "parts/catalogue.h"
#include "parts/kinds.h"
#include "program/facts.h"
#include "program/own_steps.h"
#include "program/steps.h"
#include "project/edits.h"

// A part hangs on a pin where a wire leads from one of its rows straight there. Pasted, the row of
// the same leg is looked for, and a wire laid from there to the pin that takes the other's place.
namespace ignavo {

namespace {

const BoardPin* ioPin(const Project& project, const Socket& socket) {
  const BoardItem* board = project.board(socket.owner);
  const BoardKind* kind = board ? catalogue().boardKind(board->type) : nullptr;
  if (!kind) return nullptr;
  for (const BoardPin& pin : kind->pins)
    if (pin.name == socket.point) return pin.role == PinShape::Role::io ? &pin : nullptr;
  return nullptr;
}

// The leg of a part that a place is one with: itself, or plugged into the same five holes.
struct LegPlace {
  std::size_t part = 0, leg = 0;
};
std::optional<LegPlace> legAt(const Project& project, const Socket& place) {
  const auto strip = stripOf(project, place);
  for (std::size_t p = 0; p < project.parts->size(); ++p) {
    const Part& part = *(*project.parts)[p];
    for (std::size_t l = 0; l < part.legs.size(); ++l) {
      if (place == Socket{part.id, part.legs[l].id}) return LegPlace{p, l};
      if (!part.legs[l].in || !strip || strip->rail) continue;
      if (stripOf(project, *part.legs[l].in) == strip) return LegPlace{p, l};
    }
  }
  return std::nullopt;
}

// The pin that a wire leads to, and its other end; nothing: it leads to none.
std::optional<std::pair<Socket, Socket>> toPin(const Project& project, const Wire& wire) {
  if (ioPin(project, wire.from)) return std::pair{wire.from, wire.to};
  if (ioPin(project, wire.to)) return std::pair{wire.to, wire.from};
  return std::nullopt;
}

Program alone(const Program& program, const Lane& lane) {
  Program out = program;
  out.lanes = {Cow<Lane>(lane)};
  return out;
}

bool runsOwnSteps(const Program& program, const Lane& lane) {
  bool out = isOwn(lane);
  forEachStep(lane.steps, [&](const Step& s) { out = out || ownRun(program, s); });
  return out;
}

// A free hole of that row; nothing: there is none, or it is in no breadboard.
std::optional<Socket> freeInRow(const Project& project, const Socket& place) {
  const BreadboardItem* bb = project.breadboard(place.owner);
  const BreadboardKind* kind = bb ? breadboardKind(bb->type) : nullptr;
  const auto strip = stripOf(project, place);
  if (!kind || !strip) return std::nullopt;
  const Occupancy taken = occupancy(project);
  for (const Hole& hole : kind->holesOf(strip->strip)) {
    const Socket socket{bb->id, kind->address(hole)};
    if (!taken.contains(socket)) return socket;
  }
  return std::nullopt;
}

void collectTexts(const Expr& e, std::set<std::string>& all) {
  all.insert(e.text);
  for (const auto& [key, inner] : e.args) collectTexts(inner, all);
}

// Everything that is called by a name in it, and more.
std::set<std::string> textsOf(const std::vector<Cow<Lane>>& lanes) {
  std::set<std::string> all;
  for (const auto& lane : lanes) {
    for (const auto& [key, value] : lane->trigger.fields) collectTexts(value, all);
    forEachStep(lane->steps, [&](const Step& s) {
      for (const auto& [key, value] : s.fields) collectTexts(value, all);
    });
  }
  return all;
}

void renamePin(Lane& lane, const std::string& from, const std::string& to) {
  if (lane.trigger.pin == from) lane.trigger.pin = to;
  for (auto& [key, value] : lane.trigger.fields) ignavo::renamePin(value, from, to);
  const std::function<void(Steps&)> all = [&](Steps& steps) {
    for (Step& s : steps) {
      s.id.clear();
      for (auto& [key, value] : s.fields) {
        if (key == pinKey && value.text == from) value.text = to;
        ignavo::renamePin(value, from, to);
      }
      for (auto& [key, body] : s.bodies) all(body);
    }
  };
  all(lane.steps);
}

// All at once: one may take the name of another.
void renamePins(Lane& lane, const std::map<std::string, std::string>& to) {
  for (const auto& [from, pin] : to) renamePin(lane, from, "\1" + from);
  for (const auto& [from, pin] : to) renamePin(lane, "\1" + from, pin);
}

// What a pin has to be able to do for a program.
struct Needs {
  bool dims = false, measures = false;
};
std::map<std::string, Needs> needsOf(const Program& program) {
  std::map<std::string, Needs> out;
  for (const PinUse& use : pinUses(program))
    out[use.pin] = {!use.dimmers.empty(), !use.measurers.empty()};
  return out;
}

}  // namespace

Project copiedWithSteps(const Project& project, const std::vector<std::string>& ids) {
  Project out = extract(project, ids);
  std::map<std::string, std::set<std::string>> pins;  // by board
  for (const auto& wire : *project.wires) {
    const auto ends = toPin(project, *wire);
    if (!ends || !legAt(out, ends->second)) continue;
    if (!out.wire(wire->id)) out.wires.edit().push_back(wire);
    pins[ends->first.owner].insert(ends->first.point);
  }
  for (const auto& [board, mine] : pins) {
    const Program* program = project.program(board);
    if (!program) continue;
    Program kept;
    kept.board = board;
    for (const auto& lane : program->lanes) {
      if (runsOwnSteps(*program, *lane)) continue;
      const std::vector<PinUse> uses = pinUses(alone(*program, *lane));
      const bool only = std::all_of(uses.begin(), uses.end(), [&, &m = mine](const PinUse& use) {
        return m.contains(use.pin);
      });
      if (!uses.empty() && only) kept.lanes.push_back(lane);
    }
    const std::set<std::string> named = textsOf(kept.lanes);
    for (const Variable& v : program->variables)
      if (named.contains(v.name)) kept.variables.push_back(v);
    for (const NumberList& l : program->lists)
      if (named.contains(l.name)) kept.lists.push_back(l);
    for (const PinSetting& setting : program->pins)
      if (mine.contains(setting.pin)) kept.pins.push_back(setting);
    out.programs.emplace_back(std::move(kept));
  }
  return out;
}

PastedSteps pastedWithSteps(const Project& project, const Project& fragment,
                            const std::string& board, std::optional<Point> at) {
  // Parts first; wires to pins are laid anew.
  Project bare = fragment;
  std::vector<std::pair<Socket, LegPlace>> hangs;
  std::erase_if(bare.wires.edit(), [&](const auto& wire) {
    const auto ends = toPin(fragment, *wire);
    const auto leg = ends ? legAt(fragment, ends->second) : std::nullopt;
    if (leg) hangs.emplace_back(ends->first, *leg);
    return leg.has_value();
  });
  PastedSteps out;
  out.arranged = pasted(project, catalogue(), bare, at);
  if (!out.arranged.clear() || out.arranged.ids.size() < fragment.parts->size()) return out;
  Project& p = out.arranged.project;
  const BoardItem* target = project.board(board);
  if (!target && !project.boards.empty()) target = &project.boards.front();
  const BoardKind* kind = target ? catalogue().boardKind(target->type) : nullptr;
  if (!kind || hangs.empty()) return out;

  const Program* mine = project.program(target->id);
  std::set<std::string> used;
  if (mine)
    for (const PinUse& use : pinUses(*mine)) used.insert(use.pin);
  for (const auto& wire : *p.wires)
    for (const Socket& end : {wire->from, wire->to})
      if (end.owner == target->id) used.insert(end.point);
  const Program* theirs = fragment.programs.empty() ? nullptr : &*fragment.programs.front();
  const std::map<std::string, Needs> needs =
      theirs ? needsOf(*theirs) : std::map<std::string, Needs>{};
  const auto chosen = [&](const std::string& pin) -> const std::string& {
    if (const auto it = out.pins.find(pin); it != out.pins.end()) return it->second;
    const auto need = needs.contains(pin) ? needs.at(pin) : Needs{};
    const auto fits = [&](const BoardPin& one) {
      return one.role == PinShape::Role::io && one.serial.empty() && !used.contains(one.name) &&
             (!need.dims || one.pwm) && (!need.measures || one.analog);
    };
    const BoardPin* found = nullptr;
    for (const BoardPin& one : kind->pins)
      if (fits(one) && (!found || one.name == pin)) found = &one;
    if (found) used.insert(found->name);
    return out.pins[pin] = found ? found->name : std::string();
  };
  for (const auto& [pin, leg] : hangs) {
    const std::string& to = chosen(pin.point);
    if (to.empty()) {
      out.left.push_back(pin.point);
      continue;
    }
    // The nth of the parts came to be the nth that is new.
    const Part* part = p.part(out.arranged.ids[leg.part]);
    const Leg* held = part && leg.leg < part->legs.size() ? &part->legs[leg.leg] : nullptr;
    if (!held) continue;
    const Socket end = held->in ? freeInRow(p, *held->in).value_or(Socket{part->id, held->id})
                                : Socket{part->id, held->id};
    Wire wire;
    wire.id = freeId(p, "w");
    wire.from = {target->id, to};
    wire.to = end;
    out.arranged.ids.push_back(wire.id);
    p = edits::addWire(std::move(p), std::move(wire));
  }
  if (!theirs) return out;
  std::map<std::string, std::string> to;
  for (const auto& [from, pin] : out.pins)
    if (!pin.empty()) to[from] = pin;
  for (const auto& lane : theirs->lanes) {
    const std::vector<PinUse> uses = pinUses(alone(*theirs, *lane));
    const bool all = std::all_of(uses.begin(), uses.end(),
                                 [&](const PinUse& use) { return to.contains(use.pin); });
    if (!all) continue;
    Lane copy = *lane;
    copy.id.clear();
    renamePins(copy, to);
    p = edits::assignIds(edits::addLane(std::move(p), target->id, std::move(copy)));
    out.lanes.push_back(p.program(target->id)->lanes.back()->id);
  }
  if (out.lanes.empty()) return out;
  for (auto& program : p.programs) {
    if (program->board != target->id) continue;
    Program& edited = program.edit();
    const auto add = [](auto& have, const auto& more) {
      for (const auto& one : more)
        if (std::none_of(have.begin(), have.end(),
                         [&](const auto& held) { return held.name == one.name; }))
          have.push_back(one);
    };
    add(edited.variables, theirs->variables);
    add(edited.lists, theirs->lists);
  }
  for (const PinSetting& setting : theirs->pins)
    if (to.contains(setting.pin) && setting.pull == "up")
      p = edits::setPull(std::move(p), target->id, to.at(setting.pin), true);
  return out;
}

}  // namespace ignavo
