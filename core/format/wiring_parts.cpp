#include "format/wiring_line.h"

#include <fmt/format.h>

#include <algorithm>

#include "bench/breadboards.h"
#include "parts/small_circuits.h"
#include "program/names.h"
#include "program/steps.h"
#include "project/edits.h"

namespace ignavo::wiring {

// The next word is the value of a property, if it is within its limits.
void Line::setQuantity(Part& part, const PropKind& prop, double value) {
  if (value < prop.min || value > prop.max)
    return fail(say("{} goes from {} to {}", prop.label, quantityText(prop.min, prop.unit),
                    quantityText(prop.max, prop.unit)));
  words_.take();
  part.setProp(prop.key, value);
}

// A property of a part as one word: "red", "10k", "50%", "on", or "key value".
bool Line::property(const PartKind& kind, Part& part) {
  for (const PropKind& prop : kind.props) {
    if (prop.type == PropKind::Type::truth && words_.accept(prop.key, prop.label)) {
      part.setProp(prop.key, true);
      return true;
    }
    if (prop.type == PropKind::Type::choice)
      for (const std::string& choice : prop.choices)
        if (words_.accept(choice, prop.label)) {
          part.setProp(prop.key, choice);
          return true;
        }
    if (prop.type == PropKind::Type::choice && !words_.atEnd() && !words_.peek()->quoted)
      if (const std::string* choice = prop.choiceCalled(words_.peek()->lower)) {
        words_.take();
        part.setProp(prop.key, *choice);
        return true;
      }
  }
  for (const PropKind& prop : kind.props)
    if (prop.type == PropKind::Type::number && words_.accept(prop.key, prop.label)) {
      const auto value = words_.atEnd() ? std::nullopt : parseQuantity(words_.peek()->text);
      if (!value) {
        fail(say("Here a value for {} is missing", prop.key));
        return true;
      }
      setQuantity(part, prop, *value);
      return true;
    }
  if (words_.atEnd() || words_.peek()->quoted || isAddress(*words_.peek())) return false;
  const std::string text = words_.peek()->text;
  const auto value = parseQuantity(text);
  if (!value) return false;
  // A percentage or degrees set the knob; another quantity the first property that takes it.
  const bool percent = text.ends_with("%") || text.ends_with("C");
  const bool united = std::any_of(kind.props.begin(), kind.props.end(), [&](const PropKind& p) {
    return !p.unit.empty() && text.ends_with(p.unit);
  });
  for (const PropKind& prop : kind.props) {
    if (prop.type != PropKind::Type::number || percent != (prop.key == kind.knob)) continue;
    if (united && !text.ends_with(prop.unit)) continue;
    setQuantity(part, prop, *value);
    return true;
  }
  return false;
}

// "lamp on d6": parts and wires on free rows.
bool Line::smallCircuitOnPin() {
  const std::size_t from = words_.position();
  const SmallCircuit* found = nullptr;
  for (const SmallCircuit& c : smallCircuits()) {
    words_.offer(c.id + " on ", c.label);
    if (!words_.atEnd() && !found) found = smallCircuit(words_.peek()->lower);
  }
  if (!found || !words_.peek(1) || words_.peek(1)->lower != "on") return false;
  words_.take();
  words_.take();
  for (const PinChoice& choice : pinsFor(out_.project, *found))
    if (choice.free) words_.offer(choice.pin, say("free pin"));
  const std::size_t position = words_.position();
  const auto at = pin();
  if (!at) return true;
  const BoardItem* board = out_.project.board(at->owner);
  const BoardKind* kind = catalogue().boardKind(board->type);
  const BoardPin& held = kind->pins[static_cast<std::size_t>(kind->shape.pinIndex(at->point))];
  if (held.role != PinShape::Role::io) {
    failAt(position, say("This goes on a pin that can be switched or read, such as D6"));
    return true;
  }
  if (found->needs == SmallCircuit::Needs::analog && !held.analog) {
    failAt(position, say("{} cannot measure; A0 to A5 can", at->point));
    return true;
  }
  Composed made = compose(out_.project, *found, at->owner, at->point);
  if (!made.problem.empty()) {
    failAt(from, made.problem);
    return true;
  }
  out_.project = std::move(made.project);
  out_.ids = std::move(made.ids);
  out_.name = say("place {} on {}", found->noun, at->point);
  return true;
}

// Puts a new part where the line says: all its holes, its first hole, a row, the
// mat, or nothing, which means free rows.
void Line::placePart(Part part, const PartKind& kind) {
  const std::size_t position = words_.position();
  std::vector<std::optional<Socket>> sockets;
  std::string row;
  bool onMat = false;
  if (words_.accept("at", "a place on the mat, x y")) {
    const auto x = coordinate(), y = x ? coordinate() : std::nullopt;
    if (!y) return;
    part.at = Point{*x, *y};
    onMat = true;
    if (words_.accept("turned", "90, 180 or 270 degrees")) {
      const auto turn = coordinate();
      if (!turn) return;
      part.turnDegrees = static_cast<int>(*turn);
    }
  } else {
    while (!words_.atEnd() && words_.peek()->lower != "as" && words_.peek()->lower != "at" &&
           words_.peek()->lower != "locked") {
      const Word& word = *words_.peek();
      if (word.lower == "-" || word.lower == "none") {
        sockets.push_back(std::nullopt);
        words_.take();
        continue;
      }
      if (sockets.empty() && row.empty() && plainNumber(word.text)) {
        row = words_.take().text;
        continue;
      }
      if (sockets.size() >= part.legs.size() || !row.empty())
        return fail(say("{} has {} legs only", kind.label, part.legs.size()));
      const auto s = socket("Here a hole is missing, such as a14");
      if (!s) return;
      sockets.push_back(s);
    }
    if (words_.accept("at", "where its body lies, x y")) {
      const auto x = coordinate(), y = x ? coordinate() : std::nullopt;
      if (!y) return;
      part.at = Point{*x, *y};
    }
  }
  if (words_.accept("as", "a name")) {
    if (words_.atEnd()) return fail(say("Here the name is missing"));
    std::string name;
    if (words_.peek()->quoted) {
      name = words_.take().text;
    } else {
      while (!words_.atEnd() && words_.peek()->lower != "locked")
        name += (name.empty() ? "" : " ") + words_.take().text;
    }
    if (!isShort(name)) return;
    part.name = taken().freeName(plainLine(name));
  }
  if (words_.accept("locked", "is not moved by hand")) part.locked = true;
  const std::string id = part.id;
  out_.name = say("place {}", part.name);
  if (out_.project.parts->size() >= limits::parts) return fail(say("There are too many parts"));
  if (onMat) {
    const Point at = *part.at;
    return take(laidOnMat(out_.project, catalogue(), std::move(part), at), position);
  }
  // A row alone: "button 23" is in the columns where such a part usually goes.
  const bool wide =
      kind.print.orientations.front().size() > 1 && kind.print.orientations.front()[1].x > 2;
  if (!row.empty()) {
    const Word column{(wide && !kind.print.stretches ? "e" : "c") + row, {}, 0, 0, false};
    Word hole = column;
    hole.lower = lower(hole.text);
    const auto s = socketOf(hole);
    if (!s) return failAt(position, say("There is no row {}", row));
    sockets.push_back(s);
  }
  // Bare: the first rows with room.
  if (sockets.empty()) {
    for (const BreadboardItem& bb : out_.project.breadboards) {
      const BreadboardKind* k = breadboardKind(bb.type);
      for (int r = 1; k && r <= k->rows; ++r)
        for (const char* column : {"c", "e", "h", "g"}) {
          const Placement p = layOut(out_.project, catalogue(), kind.type,
                                     bb.at + k->at(*k->parse(column + std::to_string(r))), 0);
          if (!p.obstacle.clear()) continue;
          Arranged a = placed(out_.project, catalogue(), part, p.sockets);
          if (!a.clear()) continue;
          const Nets nets(out_.project, catalogue());
          const bool free = std::none_of(p.sockets.begin(), p.sockets.end(), [&](const auto& s) {
            return nets.all()[static_cast<std::size_t>(nets.of(*s))].used();
          });
          if (free) return take(a, position);
        }
    }
    return failAt(position, say("No free rows are left on a breadboard"));
  }
  if (sockets.size() == 1 && part.legs.size() > 1) {
    const auto at = socketAt(out_.project, catalogue(), *sockets[0]);
    const Placement p = at ? layOutBest(out_.project, catalogue(), kind.type, *at, 0) : Placement{};
    if (!p.obstacle.clear()) return failAt(position, why(p.obstacle, kind.type));
    return take(placed(out_.project, catalogue(), std::move(part), p.sockets), position, kind.type);
  }
  if (sockets.size() < part.legs.size()) {
    std::string legs;
    for (const LegShape& leg : kind.print.legs) legs += (legs.empty() ? "" : ", ") + leg.id;
    return fail(say("Here a hole is missing for the {}; its legs are {}",
                    kind.print.legs[sockets.size()].id, legs));
  }
  const auto at = part.at;
  Arranged a = placed(out_.project, catalogue(), std::move(part), sockets, &taken());
  if (at && kind.print.leads)
    a.project = edits::changePart(std::move(a.project), id, [&](Part& q) { q.at = at; });
  // The word that names the hole that is in the way.
  std::size_t culprit = position;
  for (std::size_t i = 0; i < sockets.size(); ++i)
    if (sockets[i] && sockets[i]->point == a.obstacle.hole) culprit = position + i;
  take(a, culprit, kind.type);
}

// "red led i14 i16", "220 c14 h14", "9v battery rp1 rn1".
bool Line::newPartLine() {
  const std::size_t from = words_.position();
  for (const PartKind* kind : catalogue().parts()) {
    if (!kind->props.empty())
      for (const std::string& choice : kind->props.front().choices)
        words_.offer(choice + " " + kind->typed.front() + " ", kind->what);
    // Values may stand before the name of the kind.
    words_.back(from);
    // Its own name and id are looked for once the kind is known.
    Part part = samplePart(*kind);
    bool named = false;
    for (int k = 0; k < 4 && !named; ++k) {
      for (const std::string& name : kind->typed)
        if (!named && words_.accept(name, kind->what)) named = true;
      if (named || words_.atEnd()) break;
      const Words before = words_;
      if (!property(*kind, part) || bad()) {
        words_ = before;
        break;
      }
    }
    if (!named) {
      words_.back(from);
      continue;
    }
    while (!bad() && property(*kind, part)) {
    }
    if (bad()) return true;
    part.id = taken().freeId(kind->idStem);
    part.name = newName(*kind, part, taken());
    placePart(std::move(part), *kind);
    return true;
  }
  words_.back(from);
  // A value alone is a resistor, or a capacitor if it is that small.
  if (words_.atEnd() || words_.peek()->quoted) return false;
  const auto value = parseQuantity(words_.peek()->text);
  if (!value || *value <= 0) return false;
  const PartKind* kind = catalogue().partKind(*value < 0.01 ? "capacitor" : "resistor");
  Part part = samplePart(*kind);
  part.id = taken().freeId(kind->idStem);
  part.name = newName(*kind, part, taken());
  if (!property(*kind, part)) return false;
  while (!bad() && property(*kind, part)) {
  }
  if (!bad()) placePart(std::move(part), *kind);
  return true;
}

// A variable, a list, or the sign of a lane, for its board's program.
bool Line::named() {
  std::string line = words_.rest();
  if (const auto name = parseName(line)) {
    if (!name->problem.empty()) return false;
    out_.name = say("declare {}", name->variable ? name->variable->name : name->list->name);
    out_.project = withName(std::move(out_.project), board_, *name);
  } else {
    while (!line.empty() && (line.back() == ':' || line.back() == ' ')) line.pop_back();
    const auto sign = parseSign(line, wordsOf(out_.project, board_));
    if (!sign) return false;
    Lane lane;
    lane.trigger = *sign;
    out_.name = say("add a lane");
    out_.project =
        declareNames(edits::addLane(std::move(out_.project), board_, std::move(lane)), board_);
  }
  while (!words_.atEnd()) words_.take();
  return true;
}

// Anything else that is a step goes to the end of its board's first lane.
bool Line::step() {
  if (!out_.project.board(board_)) return false;
  if (named()) return true;
  const ParsedStep parsed = parseStep(words_.rest(), wordsOf(out_.project, board_));
  if (!parsed.step) return false;
  while (!words_.atEnd()) words_.take();
  const auto firstLane = [&]() -> const Lane* {
    const Program* program = out_.project.program(board_);
    return program && !program->lanes.empty() ? &*program->lanes.front() : nullptr;
  };
  if (!firstLane()) {
    Lane lane;
    lane.trigger.on = "always";
    out_.project = edits::addLane(std::move(out_.project), board_, std::move(lane));
  }
  const Lane& lane = *firstLane();
  out_.name = say("add a step");
  out_.project = edits::assignIds(
      edits::insertSteps(out_.project, {lane.id, {}, {}, lane.steps.size()}, {*parsed.step}));
  out_.project = declareNames(std::move(out_.project), board_);
  return true;
}

}  // namespace ignavo::wiring
