#include "format/wiring_language.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <functional>
#include <sstream>

#include "bench/arranging.h"
#include "bench/breadboards.h"
#include "bench/identity.h"
#include "bench/tidy.h"
#include "bench/wiring.h"
#include "format/wiring_words.h"
#include "parts/small_circuits.h"
#include "program/steps.h"
#include "project/edits.h"

namespace ignavo {

namespace {

using wiring::lower;
using wiring::Word;
using wiring::Words;

std::optional<double> number(const std::string& text) {
  double value = 0;
  const auto r = std::from_chars(text.data(), text.data() + text.size(), value);
  if (r.ec != std::errc() || r.ptr != text.data() + text.size()) return std::nullopt;
  return value;
}

// Reads one line against a project. Each statement is a function below.
class Line {
 public:
  Line(const Project& project, const std::string& line) : before_(project), words_(line) {
    out_.project = project;
  }
  Typed read();
  const std::vector<Completion>& offers() const { return words_.offers(); }

 private:
  using Statement = void (Line::*)();
  void fail(const std::string& why) { words_.fail(why); }
  void failAt(std::size_t position, const std::string& why) { words_.failAt(position, why); }
  bool bad() const { return words_.problem().has_value(); }
  std::string why(const Obstacle& o, const std::string& type = {}) const {
    std::string text = sentence(o, before_, catalogue(), type);
    if (!text.empty()) text[0] = static_cast<char>(std::tolower(text[0]));
    return text;
  }
  void take(const Arranged& arranged, std::size_t position, const std::string& type = {}) {
    if (!arranged.clear()) return failAt(position, why(arranged.obstacle, type));
    out_.project = arranged.project;
    out_.ids = arranged.ids;
  }

  // Things that are named in lines.
  std::optional<Socket> socket(const std::string& wanted);
  std::optional<Socket> pin();
  std::optional<Socket> socketOf(const Word& word, bool pinsFirst = false) const;
  std::optional<Socket> holeOf(const std::string& owner, const std::string& point) const;
  std::optional<Socket> pinOf(const std::string& owner, const std::string& point) const;
  void offerSockets();
  const Part* part();
  std::optional<double> coordinate();
  bool isAddress(const Word& word) const {
    return socketOf(word).has_value() || looksLikeHole(word);
  }
  static bool looksLikeHole(const Word& word);

  // Statements.
  void wire();
  void remove();
  void turnRound();
  void layAnotherWay();
  void move();
  void plug();
  void rename();
  void change();
  void lock(bool on);
  void tidy();
  void straighten();
  void bend();
  void freeRows();
  void pull();
  void colour();
  void addBoard();
  void addBreadboard();
  void title();
  void about();
  bool smallCircuitOnPin();
  bool newPartLine();
  bool step();
  bool property(const PartKind& kind, Part& part);
  void placePart(Part part, const PartKind& kind);

  const Project& before_;
  Words words_;
  Typed out_;
};

bool Line::looksLikeHole(const Word& word) {
  if (word.quoted || word.lower.size() < 2) return false;
  const char c = word.lower[0];
  return ((c >= 'a' && c <= 'z') && word.lower.size() <= 4 &&
          std::all_of(word.lower.begin() + 1, word.lower.end(),
                      [](char d) { return d >= '0' && d <= '9'; })) ||
         word.lower.find('.') != std::string::npos;
}

std::optional<Socket> Line::holeOf(const std::string& owner, const std::string& point) const {
  for (const BreadboardItem& bb : out_.project.breadboards) {
    const BreadboardKind* kind = breadboardKind(bb.type);
    if (!kind || !(owner.empty() || lower(bb.id) == owner)) continue;
    if (const auto hole = kind->parse(point)) return Socket{bb.id, kind->address(*hole)};
    // A rail without a number: its first free hole.
    if (kind->parse(point + "1") && point.size() == 2)
      for (int k = 1; k <= kind->railHoles; ++k)
        if (const Socket s{bb.id, point + std::to_string(k)};
            canWire(out_.project, catalogue(), s).clear())
          return s;
  }
  return std::nullopt;
}

std::optional<Socket> Line::pinOf(const std::string& owner, const std::string& point) const {
  for (const BoardItem& board : out_.project.boards) {
    const BoardShape* shape = catalogue().board(board.type);
    if (!shape || !(owner.empty() || lower(board.id) == owner)) continue;
    for (const PinShape& pin : shape->pins) {
      if (lower(pin.name) != point) continue;
      // Several pins are ground: any free one of them.
      if (pin.role == PinShape::Role::ground && point == "gnd" && owner.empty())
        for (const PinShape& other : shape->pins)
          if (other.role == pin.role &&
              canWire(out_.project, catalogue(), {board.id, other.name}).clear())
            return Socket{board.id, other.name};
      return Socket{board.id, pin.name};
    }
  }
  return std::nullopt;
}

// A hole, a pin or a leg as people type it; nothing when there is no such place.
// D4 is a pin and d4 a hole: where both exist, a capital letter means the pin.
std::optional<Socket> Line::socketOf(const Word& word, bool pinsFirst) const {
  const auto dot = word.text.rfind('.');
  const std::string owner = dot == std::string::npos ? "" : word.lower.substr(0, dot);
  const std::string point = dot == std::string::npos ? word.lower : word.lower.substr(dot + 1);
  const char first = word.text[dot == std::string::npos ? 0 : dot + 1];
  const auto hole = holeOf(owner, point), pin = pinOf(owner, point);
  if (pin && (pinsFirst || !hole || (first >= 'A' && first <= 'Z'))) return pin;
  if (hole) return hole;
  if (owner.empty()) return std::nullopt;
  for (const auto& part : *out_.project.parts)
    if (lower(part->id) == owner || lower(part->name) == owner)
      for (const Leg& leg : part->legs)
        if (lower(leg.id) == point) return Socket{part->id, leg.id};
  return std::nullopt;
}

// Where only a pin makes sense.
std::optional<Socket> Line::pin() {
  const auto found = words_.atEnd() ? std::nullopt : socketOf(*words_.peek(), true);
  if (!found || !out_.project.board(found->owner)) {
    offerSockets();
    fail(words_.atEnd() ? "here a pin is missing, such as D6"
                        : fmt::format("{} is no pin; D6 is one", words_.peek()->text));
    return std::nullopt;
  }
  words_.take();
  return found;
}

void Line::offerSockets() {
  const Nets nets(out_.project, catalogue());
  for (const BoardItem& board : out_.project.boards)
    if (const BoardShape* shape = catalogue().board(board.type))
      for (const PinShape& pin : shape->pins) {
        if (!canWire(out_.project, catalogue(), {board.id, pin.name}).clear()) continue;
        const std::string hangs = pinLabel(out_.project, nets, board.id, pin.name);
        words_.offer(pin.name, hangs.empty() ? "pin" : "pin · " + hangs);
      }
  // Holes once their column is typed: those of free rows first.
  if (words_.peek() && !words_.peek(1))
    for (const bool unused : {true, false})
      for (const BreadboardItem& bb : out_.project.breadboards)
        if (const BreadboardKind* kind = breadboardKind(bb.type))
          for (const Hole& hole : kind->allHoles()) {
            const std::string address = kind->address(hole);
            if (!address.starts_with(words_.peek()->lower)) continue;
            const Socket s{bb.id, address};
            const Net& net = nets.all()[static_cast<std::size_t>(nets.of(s))];
            if (net.used() == unused || !canWire(out_.project, catalogue(), s).clear()) continue;
            words_.offer(address, unused ? "free row" : net.name);
          }
  for (const auto& part : *out_.project.parts)
    for (const Leg& leg : part->legs)
      if (!leg.in) words_.offer(part->id + "." + leg.id, part->name + ", a leg in no hole");
}

std::optional<Socket> Line::socket(const std::string& wanted) {
  offerSockets();
  if (words_.atEnd()) {
    fail("here a " + wanted + " is missing, such as a14, D4 or GND");
    return std::nullopt;
  }
  const auto found = socketOf(*words_.peek());
  if (!found) {
    fail(fmt::format("there is no hole or pin {}", words_.peek()->text));
    return std::nullopt;
  }
  words_.take();
  return found;
}

// A part by its name or id; the longest name that fits.
const Part* Line::part() {
  for (const auto& p : *out_.project.parts)
    words_.offer(p->name,
                 catalogue().partKind(p->type) ? catalogue().partKind(p->type)->label : "");
  if (words_.atEnd()) {
    fail("here the name of a part is missing");
    return nullptr;
  }
  const Part* found = nullptr;
  std::size_t most = 0;
  const std::size_t from = words_.position();
  for (const auto& p : *out_.project.parts)
    for (const std::string& name : {p->name, p->id}) {
      const Words wanted(name);
      std::size_t n = 0;
      bool same = true;
      for (; wanted.peek(n); ++n) {
        const Word* typed = words_.peek(n);
        same = same && typed && typed->lower == wanted.peek(n)->lower;
      }
      if (words_.peek() && words_.peek()->quoted && words_.peek()->lower == lower(name))
        same = true, n = 1;
      if (!same || n <= most) continue;
      most = n;
      found = &*p;
    }
  if (!found) {
    fail(fmt::format("no part is called {}", words_.peek()->text));
    return nullptr;
  }
  words_.back(from + most);
  return found;
}

std::optional<double> Line::coordinate() {
  const auto value = words_.atEnd() ? std::nullopt : number(words_.peek()->text);
  if (!value || std::abs(*value) > 10000) {
    fail("here a number of holes is missing");
    return std::nullopt;
  }
  words_.take();
  return value;
}

// ---- statements

void Line::wire() {
  const std::size_t first = words_.position();
  const auto from = socket("place");
  if (!from) return;
  words_.accept("to");
  const std::size_t second = words_.position();
  const auto to = socket("second place");
  if (!to) return;
  if (const Obstacle o = canWire(out_.project, catalogue(), *from); !o.clear())
    return failAt(first, why(o));
  if (const Obstacle o = canWire(out_.project, catalogue(), *to); !o.clear())
    return failAt(second, why(o));
  if (*from == *to) return failAt(second, "both ends are in one hole");
  out_.project = withWire(out_.project, catalogue(), *from, *to);
  const std::string id = (*out_.project.wires).back()->id;
  out_.ids = {id};
  out_.name = fmt::format("lay a wire from {} to {}", from->point, to->point);
  for (const std::string& name : identityNames())
    if (words_.accept(name, "colour")) {
      out_.project =
          edits::changeWire(std::move(out_.project), id, [&](Wire& w) { w.colour = name; });
      break;
    }
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
      out_.name = "remove a wire";
      return;
    }
    const auto at = socket("place");
    if (!at) return;
    for (const auto& w : *before_.wires)
      if (w->from == *at || w->to == *at) {
        out_.project = edits::remove(std::move(out_.project), {w->id});
        out_.name = "remove a wire";
        return;
      }
    return failAt(position, fmt::format("no wire ends in {}", at->point));
  }
  const std::size_t position = words_.position();
  const Part* p = part();
  if (!p) return;
  if (p->locked) return failAt(position, p->name + " is locked; unlock it first");
  out_.name = "remove " + p->name;
  out_.project = edits::remove(std::move(out_.project), {std::string(p->id)});
}

void Line::turnRound() {
  const std::size_t position = words_.position();
  if (const Part* p = part()) {
    out_.name = "turn " + p->name;
    take(mirrored(out_.project, catalogue(), {p->id}), position);
  }
}

void Line::layAnotherWay() {
  const std::size_t position = words_.position();
  if (const Part* p = part()) {
    out_.name = "turn " + p->name;
    take(turnedRound(out_.project, catalogue(), p->id), position, p->type);
  }
}

void Line::move() {
  const std::size_t position = words_.position();
  const Part* p = part();
  if (!p) return;
  out_.name = "move " + p->name;
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
  const auto to = socket("hole for its first leg");
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
  for (const Leg& leg : p->legs) words_.offer(leg.id, "leg");
  if (words_.atEnd()) return fail("here a leg is missing, such as anode");
  const Leg* leg = nullptr;
  for (const Leg& l : p->legs)
    if (lower(l.id) == words_.peek()->lower) leg = &l;
  if (!leg) return fail(fmt::format("{} has no leg {}", p->name, words_.peek()->text));
  words_.take();
  words_.accept("into");
  const auto to = socket("hole");
  if (!to) return;
  out_.name = fmt::format("move a leg of {} to {}", p->name, to->point);
  take(plugged(out_.project, catalogue(), p->id, leg->id, *to), position, p->type);
}

void Line::rename() {
  const Part* p = part();
  if (!p) return;
  words_.accept("as", "a new name");
  const std::string name = words_.rest();
  if (name.empty()) return fail("here the new name is missing");
  if (name.size() > 60) return fail("a name has 60 letters at most");
  const std::string plain = words_.peek()->quoted ? words_.peek()->text : name;
  while (!words_.atEnd()) words_.take();
  const std::string id = p->id, free = freeName(out_.project, plain);
  out_.name = "name " + free;
  out_.ids = {id};
  out_.project = edits::changePart(std::move(out_.project), id, [&](Part& q) { q.name = free; });
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
  }
  for (const PropKind& prop : kind.props)
    if (prop.type == PropKind::Type::number && words_.accept(prop.key, prop.label)) {
      const auto value = words_.atEnd() ? std::nullopt : parseQuantity(words_.peek()->text);
      if (!value) {
        fail(fmt::format("here a value for {} is missing", prop.key));
        return true;
      }
      if (*value < prop.least || *value > prop.most) {
        fail(fmt::format("{} goes from {} to {}", prop.label, quantityText(prop.least, prop.unit),
                         quantityText(prop.most, prop.unit)));
        return true;
      }
      words_.take();
      part.setProp(prop.key, *value);
      return true;
    }
  if (words_.atEnd() || words_.peek()->quoted || isAddress(*words_.peek())) return false;
  const std::string text = words_.peek()->text;
  const auto value = parseQuantity(text);
  if (!value) return false;
  // A percentage or degrees set the knob; another quantity the first property that takes it.
  const bool percent = text.ends_with("%") || text.ends_with("C");
  for (const PropKind& prop : kind.props) {
    if (prop.type != PropKind::Type::number || percent != (prop.key == kind.knob)) continue;
    if (*value < prop.least || *value > prop.most) {
      fail(fmt::format("{} goes from {} to {}", prop.label, quantityText(prop.least, prop.unit),
                       quantityText(prop.most, prop.unit)));
      return true;
    }
    words_.take();
    part.setProp(prop.key, *value);
    return true;
  }
  return false;
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
      fail(words_.atEnd() ? "here a value is missing, such as 330 or green"
                          : fmt::format("{} has no value {}", p->name, words_.peek()->text));
    return;
  }
  while (!bad() && !words_.atEnd() && property(*kind, changed)) {
  }
  // A name that was made from the property goes with it.
  if (changed.name == before && kind->nameOf(changed) != before)
    changed.name = freeName(out_.project, kind->nameOf(changed));
  out_.name = "change " + p->name;
  out_.ids = {changed.id};
  out_.project =
      edits::changePart(std::move(out_.project), changed.id, [&](Part& q) { q = changed; });
}

void Line::lock(bool on) {
  if (const Part* p = part()) {
    out_.name = (on ? "lock " : "unlock ") + p->name;
    const std::string id = p->id;
    out_.project = edits::changePart(std::move(out_.project), id, [&](Part& q) { q.locked = on; });
  }
}

void Line::tidy() {
  words_.accept("wires");
  out_.name = "tidy the wires";
  out_.project = tidied(out_.project, catalogue(), {});
}

void Line::straighten() {
  words_.accept("wires");
  out_.name = "take out the bends";
  out_.project = straightened(out_.project, {});
}

void Line::bend() {
  words_.accept("wire");
  const std::size_t position = words_.position();
  std::string id;
  if (!words_.atEnd() && out_.project.wire(words_.peek()->text)) {
    id = words_.take().text;
  } else {
    const auto at = socket("end of a wire");
    if (!at) return;
    for (const auto& w : *out_.project.wires)
      if (w->from == *at || w->to == *at) id = w->id;
    if (id.empty()) return failAt(position, fmt::format("no wire ends in {}", at->point));
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
  out_.name = "bend a wire";
  out_.ids = {id};
  out_.project = withBend(out_.project, catalogue(), id, at);
}

void Line::freeRows() {
  const std::size_t position = words_.position();
  if (const Part* p = part()) {
    out_.name = fmt::format("move {} to free rows", p->name);
    take(toFreeRows(out_.project, catalogue(), {p->id}), position, p->type);
  }
}

void Line::pull() {
  const bool up = words_.accept("up", "a pin’s own pull-up on");
  if (!up && !words_.accept("off", "a pin’s own pull-up off"))
    return fail("pull up or pull off, then a pin: pull up D2");
  const auto at = pin();
  if (!at) return;
  out_.name = (up ? "pull up " : "no pull-up on ") + at->point;
  out_.project = edits::setPull(std::move(out_.project), at->owner, at->point, up);
}

void Line::colour() {
  const auto at = pin();
  if (!at) return;
  for (const std::string& name : identityNames())
    if (words_.accept(name, "colour")) {
      bool any = false;
      for (const auto& w : *before_.wires)
        if (w->from == *at || w->to == *at) {
          any = true;
          out_.project =
              edits::changeWire(std::move(out_.project), w->id, [&](Wire& q) { q.colour = name; });
        }
      if (!any) return fail(fmt::format("no wire ends in {}", at->point));
      out_.name = fmt::format("colour {}", at->point);
      return;
    }
  fail("here a colour is missing: " + fmt::format("{}", fmt::join(identityNames(), ", ")));
}

void Line::addBoard() {
  BoardItem item;
  for (const BoardKind* kind : catalogue().boards()) {
    if (!words_.accept(kind->type, kind->label)) continue;
    item.type = kind->type;
    break;
  }
  if (item.type.empty()) return fail("here a kind of board is missing, such as tern");
  item.id = freeId(out_.project, "b");
  item.at = {2, 3};
  if (!words_.atEnd() && words_.peek()->lower != "at") item.id = words_.take().text;
  if (words_.accept("at", "its place, x y")) {
    const auto x = coordinate(), y = x ? coordinate() : std::nullopt;
    if (!y) return;
    item.at = {*x, *y};
  }
  if (bad()) return;
  if (out_.project.hasId(item.id) || item.id.find('.') != std::string::npos)
    return fail(fmt::format("the id {} is taken", item.id));
  if (out_.project.boards.size() >= limits::boards) return fail("there are too many boards");
  out_.name = "add a board";
  out_.ids = {item.id};
  Program program;
  program.board = item.id;
  out_.project.programs.emplace_back(std::move(program));
  out_.project.boards.push_back(std::move(item));
}

void Line::addBreadboard() {
  BreadboardItem item;
  for (const BreadboardKind& kind : breadboardKinds())
    if (item.type.empty() && words_.accept(kind.type, kind.name)) item.type = kind.type;
  if (item.type.empty()) return fail("here a size is missing: half, full or mini");
  item.id = out_.project.hasId("bb") ? freeId(out_.project, "bb") : "bb";
  item.at = {14, 2};
  for (const BreadboardItem& other : out_.project.breadboards)
    if (const BreadboardKind* kind = breadboardKind(other.type))
      item.at.x = std::max(item.at.x, other.at.x + kind->width + 2);
  if (!words_.atEnd() && words_.peek()->lower != "at") item.id = words_.take().text;
  if (words_.accept("at", "its place, x y")) {
    const auto x = coordinate(), y = x ? coordinate() : std::nullopt;
    if (!y) return;
    item.at = {*x, *y};
  }
  if (bad()) return;
  if (out_.project.hasId(item.id) || item.id.find('.') != std::string::npos)
    return fail(fmt::format("the id {} is taken", item.id));
  if (out_.project.breadboards.size() >= limits::breadboards)
    return fail("there are too many breadboards");
  out_.name = "add a breadboard";
  out_.ids = {item.id};
  out_.project.breadboards.push_back(std::move(item));
}

void Line::title() {
  const std::string text = words_.rest();
  if (text.empty()) return fail("here the title is missing");
  out_.project.title = words_.peek()->quoted ? words_.peek()->text : text;
  while (!words_.atEnd()) words_.take();
  out_.name = "rename the project";
}

void Line::about() {
  const std::string text = words_.rest();
  if (text.empty()) return fail("here a sentence about the project is missing");
  out_.project.about = words_.peek()->quoted ? words_.peek()->text : text;
  while (!words_.atEnd()) words_.take();
  out_.name = "describe the project";
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
    if (choice.free) words_.offer(choice.pin, "free pin");
  const std::size_t position = words_.position();
  const auto at = pin();
  if (!at) return true;
  const BoardItem* board = out_.project.board(at->owner);
  const BoardKind* kind = catalogue().boardKind(board->type);
  const BoardPin& held = kind->pins[static_cast<std::size_t>(kind->shape.pinIndex(at->point))];
  if (held.role != PinShape::Role::io) {
    failAt(position, "this goes on a pin that can be switched or read, such as D6");
    return true;
  }
  if (found->needs == SmallCircuit::Needs::analog && !held.analog) {
    failAt(position, fmt::format("{} cannot measure; A0 to A5 can", at->point));
    return true;
  }
  Composed made = compose(out_.project, *found, at->owner, at->point);
  if (!made.problem.empty()) {
    failAt(from, made.problem);
    return true;
  }
  out_.project = std::move(made.project);
  out_.ids = std::move(made.ids);
  out_.name = fmt::format("place {} on {}", found->noun, at->point);
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
      if (sockets.empty() && row.empty() && number(word.text)) {
        row = words_.take().text;
        continue;
      }
      if (sockets.size() >= part.legs.size() || !row.empty())
        return fail(fmt::format("{} has {} legs only", kind.label, part.legs.size()));
      const auto s = socket("hole");
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
    if (words_.atEnd()) return fail("here the name is missing");
    std::string name;
    if (words_.peek()->quoted) {
      name = words_.take().text;
    } else {
      while (!words_.atEnd() && words_.peek()->lower != "locked")
        name += (name.empty() ? "" : " ") + words_.take().text;
    }
    part.name = freeName(out_.project, name.substr(0, 60));
  }
  if (words_.accept("locked", "is not moved by hand")) part.locked = true;
  const std::string id = part.id;
  out_.name = "place " + part.name;
  if (out_.project.parts->size() >= limits::parts) return fail("there are too many parts");
  if (onMat) {
    const Point at = *part.at;
    return take(laidOnMat(out_.project, catalogue(), std::move(part), at), position);
  }
  // A row alone: "button 23" is in the columns where such a part usually goes.
  const bool wide = kind.print.ways.front().size() > 1 && kind.print.ways.front()[1].x > 2;
  if (!row.empty()) {
    const Word column{(wide && !kind.print.stretches ? "e" : "c") + row, {}, 0, 0, false};
    Word hole = column;
    hole.lower = lower(hole.text);
    const auto s = socketOf(hole);
    if (!s) return failAt(position, fmt::format("there is no row {}", row));
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
    return failAt(position, "no free rows are left on a breadboard");
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
    return fail(fmt::format("here a hole is missing for the {}; its legs are {}",
                            kind.print.legs[sockets.size()].id, legs));
  }
  const auto at = part.at;
  Arranged a = placed(out_.project, catalogue(), std::move(part), sockets);
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
    for (const std::string& choice :
         kind->props.empty() ? std::vector<std::string>() : kind->props.front().choices)
      if (kind->props.front().key != "contacts" && kind->props.front().key != "position")
        words_.offer(choice + " " + kind->typed.front() + " ", kind->what);
    // Values may stand before the name of the kind.
    words_.back(from);
    Part part = newPart(out_.project, *kind);
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
    const Part fresh = newPart(out_.project, *kind);
    if (part.name == fresh.name && !kind->passes)
      part.name = freeName(out_.project, kind->nameOf(part));
    placePart(std::move(part), *kind);
    return true;
  }
  words_.back(from);
  // A value alone is a resistor, or a capacitor if it is that small.
  if (words_.atEnd() || words_.peek()->quoted) return false;
  const auto value = parseQuantity(words_.peek()->text);
  if (!value || *value <= 0) return false;
  const PartKind* kind = catalogue().partKind(*value < 0.01 ? "capacitor" : "resistor");
  Part part = newPart(out_.project, *kind);
  if (!property(*kind, part)) return false;
  if (!bad()) placePart(std::move(part), *kind);
  return true;
}

// Anything else that is a step goes to the end of the first lane.
bool Line::step() {
  const ParsedStep parsed = parseStep(words_.rest());
  if (!parsed.step) return false;
  if (out_.project.programs.empty()) return false;
  while (!words_.atEnd()) words_.take();
  if (out_.project.programs.front()->lanes.empty()) {
    Lane lane;
    lane.trigger.on = "always";
    out_.project = edits::addLane(std::move(out_.project), out_.project.programs.front()->board,
                                  std::move(lane));
  }
  const Lane& lane = *out_.project.programs.front()->lanes.front();
  out_.name = "add a step";
  out_.project = edits::assignIds(
      edits::insertSteps(out_.project, {lane.id, {}, {}, lane.steps.size()}, {*parsed.step}));
  return true;
}

Typed Line::read() {
  const Word* first = words_.peek();
  if (!first || first->text[0] == '#') {
    out_.empty = true;
    if (first) return out_;
  }
  // "a lamp on D6" is as good as "lamp on D6".
  if (first && words_.peek(1) && (first->lower == "a" || first->lower == "an")) words_.take();
  struct Row {
    const char* word;
    const char* means;
    std::function<void(Line&)> run;
  };
  static const Row rows[] = {
      {"wire", "joins two holes, pins or legs: wire D4 a14", [](Line& l) { l.wire(); }},
      {"remove", "takes a part or a wire off the bench", [](Line& l) { l.remove(); }},
      {"turn", "exchanges the ends of a part in place", [](Line& l) { l.turnRound(); }},
      {"lay", "lays a part another way", [](Line& l) { l.layAnotherWay(); }},
      {"move", "to another hole, with its wires", [](Line& l) { l.move(); }},
      {"plug", "one leg into another hole: plug Red lamp anode i9", [](Line& l) { l.plug(); }},
      {"name", "gives a part a name: name R1 as Lamp resistor", [](Line& l) { l.rename(); }},
      {"change", "a value of a part: change R1 330", [](Line& l) { l.change(); }},
      {"lock", "a part is then not moved by hand", [](Line& l) { l.lock(true); }},
      {"unlock", "a part can be moved again", [](Line& l) { l.lock(false); }},
      {"tidy", "lays all wires round the parts", [](Line& l) { l.tidy(); }},
      {"straighten", "takes the bends out of all wires", [](Line& l) { l.straighten(); }},
      {"bend", "a wire, beside a hole: bend D4 by a8", [](Line& l) { l.bend(); }},
      {"free", "moves a part to free rows", [](Line& l) { l.freeRows(); }},
      {"pull", "a pin’s own pull-up: pull up D2", [](Line& l) { l.pull(); }},
      {"colour", "of a pin and its wire: colour D4 sky", [](Line& l) { l.colour(); }},
      {"board", "another board: board tern", [](Line& l) { l.addBoard(); }},
      {"breadboard", "another breadboard: breadboard full", [](Line& l) { l.addBreadboard(); }},
      {"title", "of the project", [](Line& l) { l.title(); }},
      {"about", "a sentence about the project", [](Line& l) { l.about(); }}};
  bool done = false;
  for (const Row& row : rows)
    if (words_.accept(row.word, row.means)) {
      row.run(*this);
      done = true;
      break;
    }
  if (!done) done = smallCircuitOnPin();
  if (!done) done = newPartLine();
  if (!done) done = step();
  if (!done && first) {
    words_.back(0);
    fail(
        fmt::format("“{}” is nothing that can be placed or done. Try: wire D4 a14 · red led i14 "
                    "i16 · 220 c14 h14",
                    first->text));
  } else if (!bad() && !words_.atEnd() && first) {
    fail(fmt::format("“{}” is one word too many", words_.peek()->text));
  }
  if (bad()) {
    out_.problem = words_.problem();
    out_.project = before_;
    out_.ids.clear();
  }
  return out_;
}

}  // namespace

Typed typeLine(const Project& project, const std::string& line) {
  return Line(project, line).read();
}

std::vector<Completion> completeLine(const Project& project, const std::string& line) {
  Line reader(project, line);
  (void)reader.read();
  std::vector<Completion> out = reader.offers();
  if (out.size() > 40) out.resize(40);
  return out;
}

WiringText readWiring(const std::string& text) {
  WiringText out;
  out.project = Project{};
  bool table = false;
  std::istringstream lines(text);
  std::string line;
  std::string block;  // indented lines of a lane
  int number = 0, blockLine = 0;
  std::string trigger;
  const auto flush = [&] {
    if (trigger.empty()) return;
    const ParsedSteps steps = parseSteps(block);
    if (steps.badLine > 0)
      out.problems.push_back({blockLine + steps.badLine, {0, 0, steps.problem}});
    if (out.project.programs.empty()) {
      out.problems.push_back({blockLine, {0, 0, "a program needs a board first: board tern"}});
    } else {
      Lane lane;
      lane.trigger.on = trigger;
      lane.steps = steps.steps;
      out.project = edits::addLane(std::move(out.project), out.project.programs.back()->board,
                                   std::move(lane));
    }
    trigger.clear();
    block.clear();
  };
  while (std::getline(lines, line)) {
    ++number;
    if (!line.empty() && line.back() == '\r') line.pop_back();
    const std::size_t begin = line.find_first_not_of(" \t");
    if (!trigger.empty()) {
      if (begin == std::string::npos || begin > 0) {
        // Two spaces belong to the lane, further ones to its bodies.
        block += (begin == std::string::npos ? std::string()
                                             : line.substr(std::min<std::size_t>(2, begin))) +
                 "\n";
        continue;
      }
      flush();
    }
    std::string head = begin == std::string::npos ? std::string() : lower(line.substr(begin));
    while (!head.empty() && (head.back() == ' ' || head.back() == ':')) head.pop_back();
    const TriggerKind* lane = nullptr;
    for (const TriggerKind& kind : triggerKinds())
      if (lower(kind.sign) == head) lane = &kind;
    if (lane) {
      trigger = lane->on;
      blockLine = number;
      continue;
    }
    if (text.size() > limits::fileBytes) {
      out.problems.push_back({number, {0, 0, "the text is larger than 8 MB"}});
      return out;
    }
    // The table is laid with what a new project has, unless the text says otherwise.
    const bool lays = head.starts_with("board") || head.starts_with("breadboard") ||
                      head.starts_with("title") || head.starts_with("about") ||
                      head.starts_with("#") || head.empty();
    if (!lays && !table) {
      if (out.project.boards.empty() && out.project.breadboards.empty()) {
        const std::string title = out.project.title, about = out.project.about;
        out.project = emptyProject();
        for (auto& program : out.project.programs) program.edit().lanes.clear();
        if (!title.empty()) out.project.title = title;
        out.project.about = about;
      }
      table = true;
    }
    Typed typed = typeLine(out.project, line);
    if (typed.problem)
      out.problems.push_back({number, *typed.problem});
    else
      out.project = std::move(typed.project);
  }
  flush();
  if (out.project.boards.empty() && out.project.breadboards.empty() && out.project.parts->empty()) {
    const std::string title = out.project.title;
    out.project = emptyProject();
    if (!title.empty()) out.project.title = title;
  }
  // A program without a lane gets the empty one.
  for (auto& program : out.project.programs)
    if (program->lanes.empty()) {
      Lane lane;
      lane.trigger.on = "always";
      out.project = edits::addLane(std::move(out.project), program->board, std::move(lane));
    }
  return out;
}

}  // namespace ignavo
