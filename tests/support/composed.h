#pragma once
#include <QString>
#include <algorithm>
#include <random>

#include "bench/arranging.h"
#include "check/finding.h"
#include "format/wiring_language.h"
#include "parts/circuit.h"
#include "parts/small_circuits.h"
#include "support/build.h"

// Benches as people build them, with programs that use them, and what goes wrong with them.
namespace ignavo::test {

using Placed = std::vector<std::pair<const SmallCircuit*, std::string>>;

// One of the ways in which people make an output do something, from what there is to be read.
inline std::string laneFor(const std::string& pin, bool dims, const Placed& placed,
                           std::mt19937& random) {
  const std::string on = "set " + pin + " high\n", off = "set " + pin + " low\n";
  std::vector<std::string> lanes = {
      "Round and round:\n  " + on + "  wait 0.7\n  " + off + "  wait 0.7\n",
      "Round and round:\n  repeat 3 times\n    " + on + "    wait 0.2\n    " + off +
          "    wait 0.2\n  wait 1\n",
      "When power comes on:\n  keep going round\n    " + on + "    wait 0.3\n    " + off +
          "    wait 0.3\n"};
  for (const auto& [circuit, input] : placed) {
    if (circuit->written) continue;
    const bool low = circuit->id == "button-up";
    if (circuit->needs == SmallCircuit::Needs::analog) {
      if (dims) lanes.push_back("Round and round:\n  dim " + pin + " to level of " + input + "\n");
      lanes.push_back("Round and round:\n  if level of " + input + " ≥ 60\n    " + on +
                      "  otherwise\n    " + off);
      continue;
    }
    const std::string held = input + (low ? " is low" : " is high");
    lanes.push_back("Round and round:\n  set " + pin + (low ? " not " : " ") + input + "\n");
    lanes.push_back("Round and round:\n  " + off + "  if " + held + "\n    " + on +
                    "  wait 0.05\n");
    lanes.push_back("Round and round:\n  if " + held + "\n    flip " + pin +
                    "\n    wait 0.2\n  otherwise\n    " + off + "  wait 0.03\n");
    lanes.push_back("Round and round:\n  if " + held + "\n    " + on + "    wait 1\n    " + off +
                    "  wait 0.03\n");
    lanes.push_back("Each time " + input + (low ? " goes low" : " goes high") +
                    ":\n  wait 0.02\n  if " + held + "\n    flip " + pin + "\n");
    lanes.push_back("Round and round:\n  if " + held + "\n    repeat 5 times\n      " + on +
                    "      wait 0.1\n      " + off + "      wait 0.1\n");
  }
  return lanes[random() % lanes.size()];
}

// Everything that was put on a pin is used: outputs switch at a pace that is seen or heard,
// inputs together switch the board's own lamp.
inline std::string programFor(const Placed& placed, std::mt19937& random) {
  std::string text, test;
  for (const auto& [circuit, pin] : placed) {
    if (!circuit->written) {
      test += (test.empty() ? "" : " or ") +
              (circuit->needs == SmallCircuit::Needs::analog ? "level of " + pin + " > 50" : pin);
      continue;
    }
    const bool sounds = circuit->shows == "piezo", angle = circuit->shows == "servo";
    const BoardKind& board = *catalogue().boardKind("tern");
    const auto& shape = board.pins[static_cast<std::size_t>(board.shape.pinIndex(pin))];
    if (!sounds && !angle) {
      text += laneFor(pin, shape.pwm, placed, random);
      continue;
    }
    text += "Round and round:\n  set " + pin + " high\n  wait " + (sounds ? "0.0005" : "0.0015") +
            "\n  set " + pin + " low\n  wait " + (sounds ? "0.0005" : "0.0185") + "\n";
  }
  if (!test.empty())
    text += "Round and round:\n  if " + test +
            "\n    set D13 high\n  otherwise\n    set D13 low\n  wait 0.02\n";
  return text;
}

// Small circuits on any pins, side by side.
inline Project composedBench(std::mt19937& random, int most, bool full, Placed& placed) {
  Project p = emptyProject();
  if (full) p.breadboards[0].type = "full";
  for (int wanted = 1 + static_cast<int>(random() % static_cast<unsigned>(most)); wanted > 0;
       --wanted) {
    const SmallCircuit& circuit = smallCircuits()[random() % smallCircuits().size()];
    // One motor is what the cable bears.
    if (circuit.id == "motor" && std::any_of(placed.begin(), placed.end(), [](const auto& u) {
          return u.first->id == "motor" || u.first->id == "servo";
        }))
      continue;
    std::vector<std::string> free;
    for (const PinChoice& choice : pinsFor(p, circuit))
      if (choice.free && choice.pin != "D13" && choice.pin != "D0" && choice.pin != "D1")
        free.push_back(choice.pin);
    if (free.empty()) continue;
    const std::string pin = free[random() % free.size()];
    Composed made = compose(p, circuit, "b1", pin);
    if (!made.problem.empty()) continue;
    p = std::move(made.project);
    placed.emplace_back(&circuit, pin);
  }
  return p;
}

inline Project programmed(Project p, const Placed& placed, std::mt19937& random) {
  const WiringText lanes = readWiring(programFor(placed, random));
  if (!lanes.problems.empty()) return {};
  p.programs[0].edit().lanes = lanes.project.programs[0]->lanes;
  return edits::assignIds(std::move(p));
}

inline QString told(const Project& p, const Finding& f) {
  return QString::fromStdString(f.rule + ": " + inWords(f.title) + ". " + inWords(f.reason) + "\n" +
                                writeWiring(p));
}

// What goes wrong on a table, somewhere on a sound bench. Empty words: nothing could be done.
struct Planted {
  Project project;
  QString words;
};
inline Planted plant(const Project& p, std::mt19937& random) {
  const auto& parts = *p.parts;
  const Part& part = *parts[random() % parts.size()];
  if (p.wires->empty()) return {};
  switch (random() % 6) {
    case 0:  // a wire is missing
      if (!p.wires->empty()) {
        const Wire& wire = *(*p.wires)[random() % p.wires->size()];
        return {edits::remove(p, {wire.id}),
                QString::fromStdString("without " + wire.from.point + " – " + wire.to.point)};
      }
      break;
    case 1:  // turned round
      if (part.type == "led" || part.type == "diode")
        return {edits::changePart(p, part.id, [](Part& q) { q = flipped(q, catalogue()); }),
                QString::fromStdString(part.name + " turned")};
      break;
    case 2: {  // a leg one row off
      const Leg& leg = part.legs[random() % part.legs.size()];
      if (!leg.in || leg.in->owner != "bb" || leg.in->point[1] == 'p' || leg.in->point[1] == 'n')
        break;
      const int row = std::stoi(leg.in->point.substr(1)) + (random() % 2 ? 1 : -1);
      const Socket to{"bb", leg.in->point[0] + std::to_string(row)};
      if (row < 1 || row > 30 || occupancy(p).contains(to)) break;
      return {edits::changePart(p, part.id, [&](Part& q) { q.leg(leg.id)->in = to; }),
              QString::fromStdString(part.name + ", " + leg.id + " in " + to.point)};
    }
    case 3:  // another value
      if (part.type == "resistor") {
        const double ohms = random() % 2 ? 1 : 1e7;
        return {edits::changePart(p, part.id, [&](Part& q) { q.setProp("ohms", ohms); }),
                QString::fromStdString(part.name + " of " + ohmsText(ohms))};
      }
      break;
    case 4: {  // a wire that ends one row off
      const Wire& wire = *(*p.wires)[random() % p.wires->size()];
      const Socket& end = wire.to.owner == "bb" ? wire.to : wire.from;
      if (end.owner != "bb" || !std::isdigit(static_cast<unsigned char>(end.point[1]))) break;
      const int row = std::stoi(end.point.substr(1)) + (random() % 2 ? 1 : -1);
      const Socket to{"bb", end.point[0] + std::to_string(row)};
      if (row < 1 || row > 30 || occupancy(p).contains(to)) break;
      return {
          edits::changeWire(p, wire.id, [&](Wire& w) { (wire.to == end ? w.to : w.from) = to; }),
          QString::fromStdString("the wire in " + end.point + " in " + to.point)};
    }
    default:  // a wire on the pin beside
      for (const auto& wire : *p.wires) {
        if (wire->from.owner != "b1" || random() % 2) continue;
        const BoardKind& board = *catalogue().boardKind("tern");
        const int next = board.shape.pinIndex(wire->from.point) + 1;
        if (next >= static_cast<int>(board.pins.size())) continue;
        const BoardPin& pin = board.pins[static_cast<std::size_t>(next)];
        const Socket to{"b1", pin.name};
        if (occupancy(p).contains(to) || pin.role != PinShape::Role::io) continue;
        return {edits::changeWire(p, wire->id, [&](Wire& w) { w.from = to; }),
                QString::fromStdString(wire->from.point + " on " + pin.name)};
      }
  }
  return {};
}

// A bench with a button and two lamps, whatever else stands on it.
struct Signalled {
  Project project;
  std::string button, held, up, first, second;  // pins, and the tests of the button
  bool made = false;
};
inline Signalled signalledBench(std::mt19937& random) {
  Signalled out;
  Placed placed;
  Project p = composedBench(random, 1, true, placed);
  const auto add = [&](const char* id) {
    const SmallCircuit& circuit = *smallCircuit(id);
    std::vector<std::string> free;
    for (const PinChoice& choice : pinsFor(p, circuit))
      if (choice.free && choice.pin != "D13" && choice.pin != "D0" && choice.pin != "D1")
        free.push_back(choice.pin);
    if (free.empty()) return std::string();
    const std::string pin = free[random() % free.size()];
    Composed composed = compose(p, circuit, "b1", pin);
    if (!composed.problem.empty()) return std::string();
    p = std::move(composed.project);
    return pin;
  };
  const bool low = random() % 2;
  out.button = add(low ? "button-up" : "button");
  out.first = add("lamp");
  out.second = add("lamp");
  out.made = !out.button.empty() && !out.first.empty() && !out.second.empty();
  out.held = out.button + (low ? " is low" : " is high");
  out.up = out.button + (low ? " is high" : " is low");
  const WiringText lanes =
      readWiring(programFor(placed, random) + "Round and round:\n  wait 0.03\n");
  p.programs[0].edit().lanes = lanes.project.programs[0]->lanes;
  out.project = edits::assignIds(std::move(p));
  return out;
}
inline void forgetIds(Steps& steps) {
  for (Step& step : steps) {
    step.id.clear();
    for (auto& [key, body] : step.bodies) forgetIds(body);
  }
}
inline Project withLane(Project p, const std::string& lane) {
  const WiringText read = readWiring(lane);
  for (const auto& l : read.project.programs[0]->lanes) {
    Lane fresh = *l;
    fresh.id.clear();
    forgetIds(fresh.steps);
    p = edits::addLane(std::move(p), "b1", std::move(fresh));
  }
  return edits::assignIds(std::move(p));
}

// Whether nothing that is joined differs.
inline bool sameCircuit(const Project& a, const Project& b) { return joined(a) == joined(b); }

}  // namespace ignavo::test
