#include "format/wiring_line.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <functional>

#include "bench/breadboards.h"
#include "format/sound.h"
#include "parts/small_circuits.h"
#include "text/plain.h"

namespace ignavo::wiring {

std::optional<double> plainNumber(const std::string& text) {
  double value = 0;
  const auto r = std::from_chars(text.data(), text.data() + text.size(), value);
  if (r.ec != std::errc() || r.ptr != text.data() + text.size() || !std::isfinite(value))
    return std::nullopt;
  return value;
}

bool Line::looksLikeHole(const Word& word) {
  if (word.quoted || word.lower.size() < 2) return false;
  const char c = word.lower[0];
  return ((c >= 'a' && c <= 'z') && word.lower.size() <= 4 &&
          std::all_of(word.lower.begin() + 1, word.lower.end(),
                      [](char d) { return d >= '0' && d <= '9'; })) ||
         (word.lower.find('.') != std::string::npos && !parseQuantity(word.text));
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
  const auto on = [&](const BoardItem& board) -> std::optional<Socket> {
    const BoardShape* shape = catalogue().board(board.type);
    if (!shape || !(owner.empty() || lower(board.id) == owner)) return std::nullopt;
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
    return std::nullopt;
  };
  if (const BoardItem* own = out_.project.board(board_))
    if (const auto found = on(*own)) return found;
  for (const BoardItem& board : out_.project.boards)
    if (const auto found = on(board)) return found;
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
    fail(out_.project.boards.empty() ? say("A pin needs a board first: board tern")
         : words_.atEnd()            ? say("Here a pin is missing, such as D6")
                                     : say("{} is no pin; D6 is one", words_.peek()->text));
    return std::nullopt;
  }
  words_.take();
  return found;
}

bool Line::isShort(const std::string& name) {
  if (letterCount(name) > limits::nameLetters)
    fail(say("A name has {} letters at most", limits::nameLetters));
  return !bad();
}

void Line::offerSockets() {
  if (!words_.completing()) return;
  const Nets nets(out_.project, catalogue());
  for (const BoardItem& board : out_.project.boards)
    if (const BoardShape* shape = catalogue().board(board.type))
      for (const PinShape& pin : shape->pins) {
        if (!canWire(out_.project, catalogue(), {board.id, pin.name}).clear()) continue;
        const std::string hangs = pinLabel(out_.project, nets, board.id, pin.name);
        words_.offer((board.id == board_ ? "" : board.id + ".") + pin.name,
                     hangs.empty() ? say("pin") : say("pin · {}", hangs));
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
            words_.offer(address, unused ? say("free row") : Message(net.name));
          }
  for (const auto& part : *out_.project.parts)
    for (const Leg& leg : part->legs)
      if (!leg.in) words_.offer(part->id + "." + leg.id, say("{}, a leg in no hole", part->name));
}

std::optional<Socket> Line::socket(const char* missing) {
  offerSockets();
  if (words_.atEnd()) {
    fail(say(missing));
    return std::nullopt;
  }
  const auto found = socketOf(*words_.peek());
  if (!found) {
    fail(say("There is no hole or pin {}", words_.peek()->text));
    return std::nullopt;
  }
  words_.take();
  return found;
}

// A part by its name or id; the longest name that fits.
const Part* Line::part() {
  for (const auto& p : *out_.project.parts)
    words_.offer(p->name, catalogue().partKind(p->type)
                              ? Message(catalogue().partKind(p->type)->label)
                              : Message());
  if (words_.atEnd()) {
    fail(say("Here the name of a part is missing"));
    return nullptr;
  }
  const Part* found = nullptr;
  std::size_t most = 0;
  const std::size_t from = words_.position();
  for (const auto& p : *out_.project.parts)
    for (const std::string& name : {std::cref(p->name), std::cref(p->id)}) {
      // The first word decides for nearly all of them.
      const std::string whole = lower(name);
      const std::size_t begin = std::min(whole.find_first_not_of(" \t,\""), whole.size());
      if (whole.compare(begin, words_.peek()->lower.size(), words_.peek()->lower) != 0) continue;
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
    fail(say("No part is called {}", words_.peek()->text));
    return nullptr;
  }
  words_.back(from + most);
  return found;
}

std::optional<double> Line::coordinate() {
  const auto value = words_.atEnd() ? std::nullopt : plainNumber(words_.peek()->text);
  if (value && !(std::abs(*value) <= limits::farthestPitch)) {
    fail(say("A place is at most {} holes away", asNumber(limits::farthestPitch)));
    return std::nullopt;
  }
  if (!value) {
    fail(say("Here a number of holes is missing"));
    return std::nullopt;
  }
  words_.take();
  return value;
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
      {"line up", "parts in the column of the first: line up R1 R2", [](Line& l) { l.lineUp(); }},
      {"pull", "a pin’s own pull-up: pull up D2", [](Line& l) { l.pull(); }},
      {"label", "calls a pin what you like: label D4 Harbour light", [](Line& l) { l.label(); }},
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
        say("“{}” is nothing that can be placed or done. Try: wire D4 a14 · red led i14 "
            "i16 · 220 c14 h14",
            first->text));
  } else if (!bad() && !words_.atEnd() && first) {
    fail(say("“{}” is one word too many", words_.peek()->text));
  }
  if (!bad())
    if (const auto what = unsound(out_.project, before_)) {
      words_.back(0);
      fail(sentence(*what));
    }
  if (bad()) {
    out_.problem = words_.problem();
    out_.project = before_;
    out_.ids.clear();
  }
  return out_;
}

}  // namespace ignavo::wiring
