#include "format/wiring_line.h"

#include <fmt/format.h>

#include <algorithm>

#include "bench/breadboards.h"
#include "bench/identity.h"
#include "bench/tidy.h"
#include "bench/wiring.h"
#include "project/edits.h"
#include "text/plain.h"

namespace ignavo::wiring {

void Line::wire() {
  const std::size_t first = words_.position();
  const auto from = socket("Here a place is missing, such as a14, D4 or GND");
  if (!from) return;
  words_.accept("to");
  const std::size_t second = words_.position();
  const auto to = socket("Here the second place is missing, such as a14, D4 or GND");
  if (!to) return;
  if (const Obstacle o = canWire(out_.project, catalogue(), *from, {}, &taken()); !o.clear())
    return failAt(first, why(o));
  if (const Obstacle o = canWire(out_.project, catalogue(), *to, {}, &taken()); !o.clear())
    return failAt(second, why(o));
  if (*from == *to) return failAt(second, say("Both ends are in one hole"));
  out_.project = withWire(out_.project, catalogue(), *from, *to, &taken());
  const std::string id = (*out_.project.wires).back()->id;
  out_.ids = {id};
  out_.name = say("lay a wire from {} to {}", from->point, to->point);
  if (const auto name = colourName())
    out_.project =
        edits::changeWire(std::move(out_.project), id, [&](Wire& w) { w.colour = *name; });
  if (words_.accept("auto", "the colour of its net"))
    out_.project =
        edits::changeWire(std::move(out_.project), id, [](Wire& w) { w.colour = "auto"; });
  if (words_.accept("by", "bends of the wire, as places x y"))
    while (!words_.atEnd()) {
      const auto x = coordinate(), y = x ? coordinate() : std::nullopt;
      if (!y) return;
      out_.project = edits::changeWire(std::move(out_.project), id, [&](Wire& w) {
        w.bends.push_back({*x, *y});
      });
    }
}

void Line::remove() {
  // A wire by its id, or by one of its ends.
  if (words_.accept("wire", "a wire, by one of its ends")) {
    const std::size_t position = words_.position();
    if (!words_.atEnd() && out_.project.wire(words_.peek()->text)) {
      out_.project = edits::remove(std::move(out_.project), {words_.take().text});
      out_.name = say("remove a wire");
      return;
    }
    const auto at = socket("Here a place is missing, such as a14, D4 or GND");
    if (!at) return;
    for (const auto& w : *before_.wires)
      if (w->from == *at || w->to == *at) {
        out_.project = edits::remove(std::move(out_.project), {w->id});
        out_.name = say("remove a wire");
        return;
      }
    return failAt(position, say("No wire ends in {}", at->point));
  }
  const std::size_t position = words_.position();
  const Part* p = part();
  if (!p) return;
  if (p->locked) return failAt(position, say("{} is locked; unlock it first", p->name));
  out_.name = say("remove {}", p->name);
  out_.project = edits::remove(std::move(out_.project), {std::string(p->id)});
}

void Line::turnRound() {
  const std::size_t position = words_.position();
  if (const Part* p = part()) {
    out_.name = say("turn {}", p->name);
    take(mirrored(out_.project, catalogue(), {p->id}), position);
  }
}

void Line::layAnotherWay() {
  const std::size_t position = words_.position();
  if (const Part* p = part()) {
    out_.name = say("turn {}", p->name);
    take(turnedRound(out_.project, catalogue(), p->id), position, p->type);
  }
}

void Line::move() {
  const std::size_t position = words_.position();
  const Part* p = part();
  if (!p) return;
  out_.name = say("move {}", p->name);
  static constexpr std::tuple<const char*, int, int> ways[] = {
      {"down", 0, 1}, {"up", 0, -1}, {"right", 1, 0}, {"left", -1, 0}};
  for (const auto& [word, dx, dy] : ways)
    if (words_.accept(word, "so many holes")) {
      double holes = 1;
      if (!words_.atEnd()) holes = coordinate().value_or(1);
      if (!bad())
        take(moved(out_.project, catalogue(), {p->id}, {dx * holes, dy * holes}), position,
             p->type);
      return;
    }
  words_.accept("to", "another hole for its first leg");
  const auto to = socket("Here a hole for its first leg is missing, such as a14");
  if (!to) return;
  const auto there = socketAt(out_.project, catalogue(), *to);
  const auto here = socketAt(out_.project, catalogue(), {p->id, p->legs.front().id});
  if (there && here)
    take(moved(out_.project, catalogue(), {p->id}, *there - *here), position, p->type);
}

void Line::plug() {
  const std::size_t position = words_.position();
  const Part* p = part();
  if (!p) return;
  for (const Leg& leg : p->legs) words_.offer(leg.id, say("leg"));
  if (words_.atEnd()) return fail(say("Here a leg is missing, such as anode"));
  const Leg* leg = nullptr;
  for (const Leg& l : p->legs)
    if (lower(l.id) == words_.peek()->lower) leg = &l;
  if (!leg) return fail(say("{} has no leg {}", p->name, words_.peek()->text));
  words_.take();
  words_.accept("into");
  const auto to = socket("Here a hole is missing, such as a14");
  if (!to) return;
  out_.name = say("move a leg of {} to {}", p->name, to->point);
  take(plugged(out_.project, catalogue(), p->id, leg->id, *to), position, p->type);
}

void Line::rename() {
  const Part* p = part();
  if (!p) return;
  words_.accept("as", "a new name");
  const std::string name = words_.takeRest();
  if (name.empty()) return fail(say("Here the new name is missing"));
  if (!isShort(name)) return;
  const std::string id = p->id, free = freeName(out_.project, name);
  out_.name = say("name {}", free);
  out_.ids = {id};
  out_.project = edits::changePart(std::move(out_.project), id, [&](Part& q) { q.name = free; });
}

void Line::change() {
  const Part* p = part();
  if (!p) return;
  words_.accept("to");
  const PartKind* kind = catalogue().partKind(p->type);
  Part changed = *p;
  const std::string before = kind->nameOf(changed);
  if (!property(*kind, changed)) {
    if (!bad())
      fail(words_.atEnd() ? say("Here a value is missing, such as 330 or green")
                          : say("{} has no value {}", p->name, words_.peek()->text));
    return;
  }
  while (!bad() && !words_.atEnd() && property(*kind, changed)) {
  }
  // A name that was made from the property goes with it.
  if (changed.name == before && kind->nameOf(changed) != before)
    changed.name = freeName(out_.project, kind->nameOf(changed));
  out_.name = say("change {}", p->name);
  out_.ids = {changed.id};
  out_.project =
      edits::changePart(std::move(out_.project), changed.id, [&](Part& q) { q = changed; });
}

void Line::lock(bool on) {
  if (const Part* p = part()) {
    out_.name = on ? say("lock {}", p->name) : say("unlock {}", p->name);
    const std::string id = p->id;
    out_.project = edits::changePart(std::move(out_.project), id, [&](Part& q) { q.locked = on; });
  }
}

void Line::tidy() {
  words_.accept("wires");
  out_.name = say("tidy the wires");
  out_.project = tidied(out_.project, catalogue(), {});
}

void Line::straighten() {
  words_.accept("wires");
  out_.name = say("take out the bends");
  out_.project = straightened(out_.project, {});
}

void Line::bend() {
  words_.accept("wire");
  const std::size_t position = words_.position();
  std::string id;
  if (!words_.atEnd() && out_.project.wire(words_.peek()->text)) {
    id = words_.take().text;
  } else {
    const auto at = socket("Here an end of a wire is missing, such as a14 or D4");
    if (!at) return;
    for (const auto& w : *out_.project.wires)
      if (w->from == *at || w->to == *at) id = w->id;
    if (id.empty()) return failAt(position, say("No wire ends in {}", at->point));
  }
  words_.accept("by", "a place beside a hole, or x y");
  Point at;
  const auto hole = words_.atEnd() ? std::nullopt : socketOf(*words_.peek());
  if (hole) {
    words_.take();
    at = *socketAt(out_.project, catalogue(), *hole) + Point{0, 0.5};
  } else {
    const auto x = coordinate(), y = x ? coordinate() : std::nullopt;
    if (!y) return;
    at = {*x, *y};
  }
  out_.name = say("bend a wire");
  out_.ids = {id};
  out_.project = withBend(out_.project, catalogue(), id, at);
}

void Line::freeRows() {
  const std::size_t position = words_.position();
  if (const Part* p = part()) {
    out_.name = say("move {} to free rows", p->name);
    take(toFreeRows(out_.project, catalogue(), {p->id}), position, p->type);
  }
}

void Line::lineUp() {
  const std::size_t position = words_.position();
  std::vector<std::string> parts;
  while (parts.empty() || !words_.atEnd()) {
    const Part* p = part();
    if (!p) return;
    parts.push_back(p->id);
  }
  if (parts.size() < 2) return fail(say("Here the second part is missing: line up R1 R2"));
  out_.name = say("line up parts");
  take(linedUp(out_.project, catalogue(), parts), position, out_.project.part(parts[1])->type);
}

// A pin that a program can use: no supply.
std::optional<Socket> Line::programPin() {
  const std::size_t position = words_.position();
  const auto at = pin();
  if (!at) return std::nullopt;
  const BoardItem* board = out_.project.board(at->owner);
  const BoardShape* shape = board ? catalogue().board(board->type) : nullptr;
  const int index = shape ? shape->pinIndex(at->point) : -1;
  if (index >= 0 && shape->pins[static_cast<std::size_t>(index)].role == PinShape::Role::io)
    return at;
  failAt(position, say("{} is no pin that a program can use", at->point));
  return std::nullopt;
}

void Line::pull() {
  const bool up = words_.accept("up", "a pin’s own pull-up on");
  if (!up && !words_.accept("off", "a pin’s own pull-up off"))
    return fail(say("Pull up or pull off, then a pin: pull up D2"));
  const auto at = programPin();
  if (!at) return;
  out_.name = up ? say("pull up {}", at->point) : say("no pull-up on {}", at->point);
  out_.project = edits::setPull(std::move(out_.project), at->owner, at->point, up);
}

void Line::label() {
  const auto at = programPin();
  if (!at) return;
  words_.accept("as", "a label");
  if (words_.accept("off", "it is called by what hangs on it again") && words_.atEnd()) {
    out_.name = say("take the label off {}", at->point);
    out_.project = edits::setPinLabel(std::move(out_.project), at->owner, at->point, {});
    return;
  }
  const std::string text = words_.takeRest();
  if (text.empty()) return fail(say("Here the label is missing"));
  if (letterCount(text) > limits::nameLetters)
    return fail(say("A label has {} letters at most", limits::nameLetters));
  out_.name = say("label {} {}", at->point, text);
  out_.project = edits::setPinLabel(std::move(out_.project), at->owner, at->point, text);
}

std::optional<std::string> Line::colourName() {
  for (const std::string& name : identityNames())
    if (words_.accept(name, "colour")) return name;
  if (words_.atEnd() || words_.peek()->quoted) return std::nullopt;
  auto called = identityCalled(words_.peek()->lower);
  if (called) words_.take();
  return called;
}

void Line::colour() {
  const auto at = pin();
  if (!at) return;
  const auto name = colourName();
  if (!name)
    return fail(
        say("Here a colour is missing: {}", fmt::format("{}", fmt::join(identityNames(), ", "))));
  bool any = false;
  for (const auto& w : *before_.wires)
    if (w->from == *at || w->to == *at) {
      any = true;
      out_.project =
          edits::changeWire(std::move(out_.project), w->id, [&](Wire& q) { q.colour = *name; });
    }
  if (!any) return fail(say("No wire ends in {}", at->point));
  out_.name = say("colour {}", at->point);
}

void Line::addBoard() {
  BoardItem item;
  for (const BoardKind* kind : catalogue().boards())
    if (item.type.empty() && words_.accept(kind->type, kind->label)) item.type = kind->type;
  if (item.type.empty()) return fail(say("Here a kind of board is missing, such as tern"));
  item.id = freeId(out_.project, "b");
  item.at = {2, 3};
  addTable(std::move(item));
  out_.name = say("add a board");
  if (!bad() && out_.project.boards.size() > limits::boards) fail(say("There are too many boards"));
}

void Line::addBreadboard() {
  BreadboardItem item;
  for (const BreadboardKind& kind : breadboardKinds())
    if (item.type.empty() && words_.accept(kind.type, kind.name)) item.type = kind.type;
  if (item.type.empty()) return fail(say("Here a size is missing: half, full or mini"));
  item.id = out_.project.hasId("bb") ? freeId(out_.project, "bb") : "bb";
  item.at = {14, 2};
  for (const BreadboardItem& other : out_.project.breadboards)
    if (const BreadboardKind* kind = breadboardKind(other.type))
      item.at.x = std::max(item.at.x, other.at.x + kind->width + 2);
  addTable(std::move(item));
  out_.name = say("add a breadboard");
  if (!bad() && out_.project.breadboards.size() > limits::breadboards)
    fail(say("There are too many breadboards"));
}

void Line::addTable(BoardItem item) {
  const std::size_t position = words_.position();
  if (!words_.atEnd() && words_.peek()->lower != "at") item.id = words_.take().text;
  if (words_.accept("at", "its place, x y")) {
    const auto x = coordinate(), y = x ? coordinate() : std::nullopt;
    if (!y) return;
    item.at = {*x, *y};
  }
  if (bad()) return;
  if (out_.project.hasId(item.id) || item.id.find('.') != std::string::npos)
    return failAt(position, say("The id {} is taken", item.id));
  take(withTable(out_.project, catalogue(), item), position);
}

void Line::title() {
  const std::string text = words_.takeRest();
  if (text.empty()) return fail(say("Here the title is missing"));
  out_.project.title = text;
  out_.name = say("rename the project");
}

void Line::about() {
  const std::string text = words_.takeRestInLines();
  if (text.empty()) return fail(say("Here a sentence about the project is missing"));
  out_.project.about = text;
  out_.name = say("describe the project");
}

}  // namespace ignavo::wiring
