#include "make/copied_steps.h"

#include <algorithm>
#include <set>

#include "bench/breadboards.h"
#include "bench/relocating.h"
#include "make/lane_copies.h"
#include "make/steps_beside.h"
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

std::set<std::string> pinsOf(const Program& program, const Lane& lane) {
  std::set<std::string> out;
  for (const PinUse& use : pinUses(alone(program, lane))) out.insert(use.pin);
  return out;
}

// Where a part of the fragment hangs.
struct Hanging {
  Socket pin;
  LegPlace leg;
};
// … and the fragment without the wires by which it does.
std::vector<Hanging> takeHangings(Project& fragment) {
  std::vector<Hanging> out;
  const Project whole = fragment;
  std::erase_if(fragment.wires.edit(), [&](const auto& wire) {
    const auto ends = toPin(whole, *wire);
    const auto leg = ends ? legAt(whole, ends->second) : std::nullopt;
    if (leg) out.push_back({ends->first, *leg});
    return leg.has_value();
  });
  return out;
}

// Pins of the board that things are pasted onto, each given once.
class FreePins {
 public:
  FreePins(const Project& project, const BoardItem& board, const Project& fragment)
      : kind_(*catalogue().boardKind(board.type)) {
    for (const auto& wire : *project.wires)
      for (const Socket& end : {wire->from, wire->to})
        if (end.owner == board.id) wired_.insert(end.point);
    std::vector<Lane> brought;
    for (const auto& program : fragment.programs) {
      for (const auto& lane : program->lanes) brought.push_back(withoutIds(*lane));
      for (const PinUse& use : pinUses(*program))
        needs_[{program->board, use.pin}] = {!use.dimmers.empty(), !use.measurers.empty()};
    }
    const Program* program = project.program(board.id);
    if (!program) return;
    for (const auto& lane : program->lanes) {
      const bool same =
          std::find(brought.begin(), brought.end(), withoutIds(*lane)) != brought.end();
      for (const std::string& pin : pinsOf(*program, *lane)) (same ? meant_ : used_).insert(pin);
    }
  }
  // The same where it is free, or used by nothing but the very lanes that come; else the next free
  // one. Empty: there is none.
  std::string like(const Socket& pin) {
    const Needs need = needs_.contains(pin) ? needs_.at(pin) : Needs{};
    const BoardPin* found = nullptr;
    for (const BoardPin& one : kind_.pins) {
      const bool same = one.name == pin.point;
      const bool free = !wired_.contains(one.name) && !used_.contains(one.name) &&
                        (same || !meant_.contains(one.name));
      const bool can = one.role == PinShape::Role::io && one.serial.empty() &&
                       (!need.dims || one.pwm) && (!need.measures || one.analog);
      if (free && can && (!found || same)) found = &one;
    }
    if (!found) return {};
    wired_.insert(found->name);
    return found->name;
  }

 private:
  // What a pin has to be able to do for the program.
  struct Needs {
    bool dims = false, measures = false;
  };
  const BoardKind& kind_;
  std::map<Socket, Needs> needs_;
  std::set<std::string> wired_, used_, meant_;
};

// The parts that came to be of those of the fragment, in its order; empty: that kind is not known.
std::vector<std::string> partsOf(const Project& fragment, const Arranged& arranged) {
  std::vector<std::string> out;
  auto next = arranged.ids.begin();
  for (const auto& part : *fragment.parts) {
    const bool known = catalogue().part(part->type) != nullptr && next != arranged.ids.end();
    out.push_back(known ? *next++ : std::string());
  }
  return out;
}

void layWire(Arranged& arranged, const std::string& part, std::size_t leg, const Socket& pin) {
  Project& p = arranged.project;
  const Part* held = p.part(part);
  if (!held || leg >= held->legs.size()) return;
  const Socket itself{held->id, held->legs[leg].id};
  const auto& in = held->legs[leg].in;
  Wire wire;
  wire.id = freeId(p, "w");
  wire.from = pin;
  wire.to = in ? freeInRow(p, *in).value_or(itself) : itself;
  arranged.ids.push_back(wire.id);
  p = edits::addWire(std::move(p), std::move(wire));
}

// Variables, lists and pull-ups that lanes need, where they are missing.
Project withNames(Project p, const std::string& board, const Program& theirs,
                  const std::map<std::string, std::string>& pins) {
  for (auto& program : p.programs) {
    if (program->board != board) continue;
    Program& edited = program.edit();
    const auto add = [](auto& have, const auto& more) {
      for (const auto& one : more)
        if (std::none_of(have.begin(), have.end(),
                         [&](const auto& held) { return held.name == one.name; }))
          have.push_back(one);
    };
    add(edited.variables, theirs.variables);
    add(edited.lists, theirs.lists);
  }
  for (const PinSetting& setting : theirs.pins)
    if (pins.contains(setting.pin) && setting.pull == "up")
      p = edits::setPull(std::move(p), board, pins.at(setting.pin), true);
  return p;
}

// The lanes of a program whose pins all have a place; what stands there already is left.
void addLanes(PastedSteps& out, const Program& theirs, const std::string& board) {
  std::map<std::string, std::string> pins;
  for (const auto& [from, to] : out.pins)
    if (from.owner == theirs.board && !to.empty()) pins[from.point] = to;
  Project& p = out.arranged.project;
  bool added = false;
  for (const auto& lane : theirs.lanes) {
    const std::set<std::string> uses = pinsOf(theirs, *lane);
    if (!std::all_of(uses.begin(), uses.end(),
                     [&](const std::string& pin) { return pins.contains(pin); }))
      continue;
    Lane copy = withoutIds(*lane);
    renamePins(copy, pins);
    const Program* held = p.program(board);
    if (held && std::any_of(held->lanes.begin(), held->lanes.end(),
                            [&](const auto& one) { return withoutIds(*one) == copy; }))
      continue;
    p = edits::assignIds(edits::addLane(std::move(p), board, std::move(copy)));
    out.lanes.push_back(p.program(board)->lanes.back()->id);
    added = true;
  }
  if (added) p = withNames(std::move(p), board, theirs, pins);
}

// Does what was copied still hang there as it did? Else what the pin does is no concern of it.
bool hangsThere(const Project& project, const Part& original, const Socket& pin) {
  const Part* held = project.part(original.id);
  return held && *held == original &&
         std::any_of(project.wires->begin(), project.wires->end(), [&](const auto& wire) {
           const auto ends = toPin(project, *wire);
           const auto leg =
               ends && ends->first == pin ? legAt(project, ends->second) : std::nullopt;
           return leg && (*project.parts)[leg->part]->id == original.id;
         });
}

// Lanes that the fragment brings along, or that did so before.
std::set<std::string> broughtLanes(const Project& project, const Project& fragment,
                                   const std::string& board) {
  std::vector<Lane> brought;
  for (const auto& program : fragment.programs)
    for (const auto& lane : program->lanes) brought.push_back(withoutIds(*lane));
  std::set<std::string> out;
  if (const Program* program = project.program(board))
    for (const auto& lane : program->lanes)
      if (std::find(brought.begin(), brought.end(), withoutIds(*lane)) != brought.end())
        out.insert(lane->id);
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
      const std::set<std::string> uses = pinsOf(*program, *lane);
      const bool only = std::includes(mine.begin(), mine.end(), uses.begin(), uses.end());
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
  const std::vector<Hanging> hangings = takeHangings(bare);
  PastedSteps out;
  out.arranged = pasted(project, catalogue(), bare, at);
  const BoardItem* target = project.board(board);
  if (!target && !project.boards.empty()) target = &project.boards.front();
  if (!out.arranged.clear() || !target || !catalogue().boardKind(target->type)) return out;
  const std::vector<std::string> parts = partsOf(fragment, out.arranged);
  FreePins free(out.arranged.project, *target, fragment);
  std::map<std::string, std::string> beside;
  for (const auto& [pin, leg] : hangings) {
    if (!out.pins.contains(pin)) out.pins[pin] = free.like(pin);
    const std::string& to = out.pins.at(pin);
    if (to.empty())
      out.left.push_back(pin.point);
    else
      layWire(out.arranged, parts[leg.part], leg.leg, {target->id, to});
    if (!to.empty() && pin.owner == target->id &&
        hangsThere(project, *(*fragment.parts)[leg.part], pin))
      beside[pin.point] = to;
  }
  if (!beside.empty()) {
    StepsBeside added = withStepsBeside(out.arranged.project, target->id, beside,
                                        broughtLanes(project, fragment, target->id));
    out.arranged.project = std::move(added.project);
    out.steps = std::move(added.steps);
    out.lanes = std::move(added.lanes);
  }
  for (const auto& program : fragment.programs) addLanes(out, *program, target->id);
  return out;
}

}  // namespace ignavo
