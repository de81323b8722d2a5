#include <algorithm>

#include "check/remedies.h"
#include "check/rules/list.h"

namespace ignavo {

namespace {

// Two sides of the supply: a board's ground, or the minus of a battery.
struct Ground {
  std::string name;
  std::string part;       // of a battery
  std::vector<int> nets;  // a board may have several ground pins
};

std::vector<Ground> grounds(const CheckContext& c) {
  std::vector<Ground> out;
  for (std::size_t b = 0; b < c.project.boards.size(); ++b) {
    const BoardKind* kind = catalogue().boardKind(c.project.boards[b].type);
    if (!kind) continue;
    Ground ground{c.project.boards.size() > 1 ? "the ground of " + c.project.boards[b].id
                                              : std::string("the board’s ground"),
                  {},
                  {}};
    for (int p = 0; p < static_cast<int>(kind->pins.size()); ++p)
      if (kind->pins[static_cast<std::size_t>(p)].role == PinShape::Role::ground)
        ground.nets.push_back(c.circuit.nets().ofPin({static_cast<int>(b), p}));
    if (!ground.nets.empty()) out.push_back(std::move(ground));
  }
  for (int p = 0; p < c.partCount(); ++p) {
    const PartKind* kind = c.circuit.kindOf(p);
    if (!kind || !kind->devices) continue;
    for (const auto& e : kind->devices(c.part(p)).batteries)
      out.push_back(Ground{
          "the minus of " + c.part(p).name, c.part(p).id, {c.circuit.nets().ofLeg({p, e.minus})}});
  }
  return out;
}

bool anyOf(const std::vector<int>& nets, const std::vector<int>& wanted) {
  return std::any_of(nets.begin(), nets.end(), [&](int n) {
    return std::find(wanted.begin(), wanted.end(), n) != wanted.end();
  });
}

// Nets joined to these by metal, resistors, contacts, or batteries in a row.
std::vector<int> joinedTo(const CheckContext& c, std::vector<int> out) {
  for (std::size_t i = 0; i < out.size(); ++i) {
    const auto add = [&](int a, int b) {
      const int next = a == out[i] ? b : b == out[i] ? a : -1;
      if (next >= 0 && std::find(out.begin(), out.end(), next) == out.end()) out.push_back(next);
    };
    for (const OhmicEdge& e : c.circuit.edges()) add(e.netA, e.netB);
    for (int p = 0; p < c.partCount(); ++p)
      if (const PartKind* kind = c.circuit.kindOf(p); kind && kind->devices)
        for (const auto& b : kind->devices(c.part(p)).batteries)
          add(c.circuit.nets().ofLeg({p, b.plus}), c.circuit.nets().ofLeg({p, b.minus}));
  }
  return out;
}

// Does anything at all lead from one to the other: a gate, a lamp, a wire to a pin?
bool touches(const CheckContext& c, std::vector<int> open, const std::vector<int>& to) {
  for (std::size_t i = 0; i < open.size(); ++i) {
    const auto add = [&](int net) {
      if (net >= 0 && std::find(open.begin(), open.end(), net) == open.end()) open.push_back(net);
    };
    for (const LegRef& leg : c.net(open[i]).legs) {
      if (c.isInstrument(leg.part)) continue;
      for (int l = 0; l < static_cast<int>(c.part(leg.part).legs.size()); ++l)
        add(c.circuit.nets().ofLeg({leg.part, l}));
    }
    // A pin belongs to its board's ground, whatever it is used for.
    for (const PinRef& pin : c.net(open[i]).pins) {
      const BoardKind* kind =
          catalogue().boardKind(c.project.boards[static_cast<std::size_t>(pin.board)].type);
      for (int p = 0; p < static_cast<int>(kind->pins.size()); ++p)
        if (kind->pins[static_cast<std::size_t>(p)].role == PinShape::Role::ground)
          add(c.circuit.nets().ofPin({pin.board, p}));
    }
    if (anyOf(open, to)) return true;
  }
  return false;
}

void applyNoCommonGround(CheckContext& c) {
  const std::vector<Ground> all = grounds(c);
  for (std::size_t i = 0; i < all.size(); ++i)
    for (std::size_t j = i + 1; j < all.size(); ++j) {
      const Ground &a = all[i], &b = all[j];
      if (anyOf(joinedTo(c, a.nets), b.nets) || !touches(c, b.nets, a.nets)) continue;
      if (!b.part.empty() && c.explained(b.part, {"leg-loose", "rail-unfed", "no-common-ground"}))
        continue;
      Finding f;
      f.rule = "no-common-ground";
      f.severity = Severity::warning;
      for (const std::string& part : {b.part, a.part})
        if (!part.empty()) {
          f.parts.push_back(part);
          c.showPart(f, c.partIndex(part));
        }
      f.title = say("Two supplies without a common ground");
      f.reason = say(
          "Current that goes out from one must find its way back to it: {} and {} are not joined.",
          b.name, a.name);
      f.figures = {{"volts", 0}};
      if (auto made = remedies::wireBetween(c.project, b.nets.front(), a.nets.front()))
        f.remedies.push_back({say("Join the grounds"), std::move(*made)});
      if (f.parts.empty())
        for (const BoardItem& board : c.project.boards) f.sockets.push_back({board.id, "GND"});
      c.findings.push_back(std::move(f));
    }
}

}  // namespace

const Rule& noCommonGroundRule() {
  static const Rule rule = darkening(
      {"no-common-ground", Severity::warning,
       "Two supplies whose grounds are not joined, although signals go from one to the other.",
       "A voltage is always between two places: without a common ground a level means nothing.",
       "A wire between the two grounds; the plus sides stay apart.", false, applyNoCommonGround});
  return rule;
}

}  // namespace ignavo
