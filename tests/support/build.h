#pragma once
#include <set>
#include <string>
#include <vector>

#include "parts/catalogue.h"
#include "program/names.h"
#include "program/own_steps.h"
#include "project/edits.h"
#include "support/phrases.h"

// Small circuits as one expression, for tests.
namespace ignavo::test {

class Bench {
 public:
  Bench() : p_(emptyProject()) {}
  explicit Bench(Project p) : p_(std::move(p)) {}

  Bench& part(const std::string& type, const std::string& id,
              const std::vector<std::string>& holes) {
    Part part = newPart(p_, *catalogue().partKind(type));
    part.id = id;
    part.name = id;
    for (std::size_t i = 0; i < holes.size(); ++i)
      if (!holes[i].empty()) part.legs[i].in = Socket{"bb", holes[i]};
    p_ = edits::addPart(std::move(p_), std::move(part));
    return *this;
  }
  Bench& led(const std::string& id, const std::string& anode, const std::string& cathode,
             const std::string& colour = "red") {
    part("led", id, {anode, cathode});
    return prop(id, "colour", colour);
  }
  Bench& resistor(const std::string& id, double ohms, const std::string& a, const std::string& b) {
    part("resistor", id, {a, b});
    return prop(id, "ohms", ohms);
  }
  // Across the trench with its upper legs in this row.
  Bench& button(const std::string& id, int row) {
    const std::string up = std::to_string(row), down = std::to_string(row + 2);
    return part("button", id, {"e" + up, "f" + up, "e" + down, "f" + down});
  }
  Bench& prop(const std::string& id, const std::string& key, PropValue value) {
    p_ = edits::changePart(std::move(p_), id, [&](Part& q) { q.setProp(key, value); });
    return *this;
  }
  // A board beside the first, with a program of its own.
  Bench& board(const std::string& id) {
    p_.boards.push_back({id, "tern", {2, 40.0 * static_cast<double>(p_.boards.size())}, {}});
    return *this;
  }
  // "D4" is a pin of the board, "b2.D4" one of another board, anything else a hole.
  Bench& wire(const std::string& a, const std::string& b) {
    Wire w;
    w.id = freeId(p_, "w");
    w.from = socket(a);
    w.to = socket(b);
    p_ = edits::addWire(std::move(p_), std::move(w));
    return *this;
  }
  // Steps as typed text, in a lane of their own: "always", or the lane's sign.
  Bench& lane(const std::string& trigger, const std::string& text,
              const std::string& board = "b1") {
    Lane lane;
    lane.trigger.on = trigger;
    Vocabulary words{programPins(p_, board), p_.program(board)};
    if (const auto sign = parseSign(trigger, words)) lane.trigger = *sign;
    addOwnStep(words, lane.trigger);
    const ParsedSteps read = parseSteps(text, words);
    if (read.badLine > 0) {
      std::fprintf(stderr, "line %d: %s\n%s", read.badLine, inWords(read.problem).c_str(),
                   text.c_str());
      std::abort();
    }
    lane.steps = read.steps;
    if (fresh_) p_.programs[0].edit().lanes.clear();
    fresh_ = false;
    p_ = declareNames(edits::addLane(std::move(p_), board, std::move(lane)), board);
    return *this;
  }
  // "variable berth is 0", "list levels is 90, 70, 50"
  Bench& name(const std::string& line, const std::string& board = "b1") {
    p_ = withName(std::move(p_), board, *parseName(line));
    return *this;
  }
  Bench& program(const std::string& text) { return lane("always", text); }
  Bench& pullUp(const std::string& pin) {
    p_ = edits::setPull(std::move(p_), "b1", pin, true);
    return *this;
  }
  operator Project() const { return p_; }  // NOLINT: implicit by intent
  Project get() const { return p_; }

  static Socket socket(const std::string& s) {
    if (const auto dot = s.find('.'); dot != std::string::npos)
      return {s.substr(0, dot), s.substr(dot + 1)};
    const bool pin = catalogue().board("tern")->pinIndex(s) >= 0;
    return {pin ? "b1" : "bb", s};
  }

 private:
  Project p_;
  bool fresh_ = true;
};

// A motor that D9 switches through a transistor, with its diode.
inline Bench winch(const char* program) {
  return Bench()
      .part("nmos", "q1", {"a10", "a11", "a12"})
      .part("motor", "motor1", {"j20", "j21"})
      .part("diode", "d1", {"h21", "h20"})
      .resistor("r1", 10e3, "b10", "b14")
      .wire("D9", "c10")
      .wire("b11", "f21")
      .wire("5V", "f20")
      .wire("GND", "b12")
      .wire("GND2", "a14")
      .program(program);
}
// At half the time, 500 times a second.
inline const char* dimmed = "set d9 high\nwait 0.001\nset d9 low\nwait 0.001\n";

// The landing beacon: D4, 220 Ω, red lamp, ground.
inline Bench beacon() {
  return Bench()
      .resistor("r1", 220, "c9", "h9")
      .led("led1", "i9", "i11")
      .wire("GND", "ln4")
      .wire("ln23", "rn23")
      .wire("D4", "a9")
      .wire("j11", "rn10");
}
inline const char* blink = "set D4 high\nwait 0.5\nset D4 low\nwait 0.5\n";

// Which legs and pins are joined: a circuit, whatever its holes are. Parts go by
// their ids, or by their names.
inline std::set<std::set<std::string>> joined(const Project& p, bool byName = false) {
  std::set<std::set<std::string>> out;
  const Nets nets(p, catalogue());
  for (const Net& net : nets.all()) {
    std::set<std::string> members;
    for (const LegRef& l : net.legs) {
      const Part& part = *(*p.parts)[static_cast<std::size_t>(l.part)];
      members.insert((byName ? part.name : part.id) + "/" +
                     part.legs[static_cast<std::size_t>(l.leg)].id);
    }
    for (const PinRef& pin : net.pins)
      members.insert("pin " + std::to_string(pin.board) + " " + std::to_string(pin.pin));
    if (members.size() > 1 && !net.legs.empty()) out.insert(members);
  }
  return out;
}

// The id of the part of that name; empty: there is none.
inline std::string partNamed(const Project& p, const std::string& name) {
  for (const auto& part : *p.parts)
    if (part->name == name) return part->id;
  return {};
}

}  // namespace ignavo::test
