#include "check/proposals.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>
#include <tuple>

#include "bench/arranging.h"
#include "bench/breadboards.h"
#include "bench/placing.h"
#include "bench/relocating.h"
#include "bench/wiring.h"
#include "check/remedies.h"
#include "project/edits.h"

namespace ignavo {

namespace {

// A place of a net on a breadboard that can be told, "row 26".
std::optional<std::pair<std::string, Socket>> rowOfNet(const CheckContext& c, const Net& net) {
  for (const StripRef& s : net.strips) {
    const BreadboardItem& bb = c.project.breadboards[static_cast<std::size_t>(s.breadboard)];
    const BreadboardKind& kind = *breadboardKind(bb.type);
    if (kind.isRail(s.strip)) continue;
    const Hole hole = kind.holesOf(s.strip).front();
    return std::pair{"row " + std::to_string(hole.number), Socket{bb.id, kind.address(hole)}};
  }
  return std::nullopt;
}

constexpr int stripsPerRow = 2;  // one to each side of the trench

// A loose leg may have missed a row by one or two.
void proposeRows(const CheckContext& c, const Part& part, const Leg& leg,
                 std::vector<Proposal>& out) {
  const auto row = rowOf(c.project, *leg.in);
  if (!row) return;
  const BreadboardKind& kind = *breadboardKind(c.project.breadboard(row->breadboard)->type);
  for (const int rows : {1, -1, 2, -2}) {
    const int strip = row->strip + rows * stripsPerRow;
    if (strip < 0 || kind.isRail(strip)) continue;
    for (const Hole& hole : kind.holesOf(strip)) {
      const Socket to{row->breadboard, kind.address(hole)};
      if (!c.net(c.circuit.nets().of(to)).used()) break;
      const Arranged moved = plugged(c.project, catalogue(), part.id, leg.id, to);
      if (!moved.clear()) continue;
      out.push_back({{say("Move {} to row {}", part.name, hole.number), moved.project},
                     say("Row {} lies beside it: was it meant to end there?", hole.number),
                     to,
                     std::abs(rows) == 1 ? Proposal::oneRowOff : Proposal::twoRowsOff});
      break;
    }
  }
}

// A wire whose end in `row` may have been meant for another strip of that breadboard.
void proposeStrip(const CheckContext& c, const Wire& wire, bool from, const Strip& row, int strip,
                  bool likely, std::vector<Proposal>& out) {
  const BreadboardItem& bb = *c.project.breadboard(row.breadboard);
  const BreadboardKind& kind = *breadboardKind(bb.type);
  const int index = static_cast<int>(&bb - c.project.breadboards.data());
  auto made = remedies::rewired(c.project, wire.id, from, {index, strip});
  if (!made) return;
  const Hole is = kind.holesOf(row.strip).front(), meant = kind.holesOf(strip).front();
  out.push_back({{say("Move the wire to row {}", meant.number), std::move(*made)},
                 say("The wire from {} ends in row {}: was it meant for row {}?",
                     (from ? wire.to : wire.from).point, is.number, meant.number),
                 from ? wire.from : wire.to,
                 likely ? Proposal::oneRowOff : Proposal::twoRowsOff});
}

// A wire that ends one or two rows beside a loose leg may have been meant for its row.
void proposeWireEnds(const CheckContext& c, const Leg& leg, std::vector<Proposal>& out) {
  const auto row = rowOf(c.project, *leg.in);
  if (!row) return;
  for (const auto& wire : *c.project.wires)
    for (const bool from : {true, false}) {
      const Socket& end = from ? wire->from : wire->to;
      const auto at = rowOf(c.project, end);
      if (!at || at->breadboard != row->breadboard) continue;
      const int strips = std::abs(at->strip - row->strip);
      if (strips != stripsPerRow && strips != 2 * stripsPerRow) continue;
      // A wire that serves nothing where it is was plugged in wrongly sooner than another.
      const bool idle = c.net(c.circuit.nets().of(end)).legs.empty();
      proposeStrip(c, *wire, from, *at, row->strip, idle && strips == stripsPerRow, out);
    }
}

// The free hole of a row that is nearest to the trench.
std::optional<Socket> besideTrench(const Project& project, const Socket& of) {
  const auto row = rowOf(project, of);
  if (!row) return std::nullopt;
  const BreadboardKind& kind = *breadboardKind(project.breadboard(row->breadboard)->type);
  std::vector<Hole> holes = kind.holesOf(row->strip);
  if (row->strip % stripsPerRow == 0) std::reverse(holes.begin(), holes.end());  // e before a
  const Occupancy taken = occupancy(project);
  for (const Hole& hole : holes)
    if (const Socket at{row->breadboard, kind.address(hole)}; !taken.contains(at)) return at;
  return std::nullopt;
}

// A row was perhaps taken for one, though the trench cuts it in two.
void proposeAcross(const CheckContext& c, const Leg& leg, std::vector<Proposal>& out) {
  const auto other = acrossTrench(c.project, *leg.in);
  const int from = c.circuit.nets().of(*leg.in), to = other ? c.circuit.nets().of(*other) : -1;
  if (to < 0 || to == from || !c.net(to).used()) return;
  const auto here = besideTrench(c.project, *leg.in), there = besideTrench(c.project, *other);
  if (!here || !there) return;
  const int number =
      breadboardKind(c.project.breadboard(other->owner)->type)->parse(other->point)->number;
  out.push_back(
      {{say("Join both sides of row {}", number), withWire(c.project, catalogue(), *here, *there)},
       say("The trench cuts row {} in two: was it meant to go on beyond it?", number),
       other,
       Proposal::toItsPin});
}

// The wires of its pins may have missed a row that something is plugged into by one or two.
void proposePinRows(const CheckContext& c, const Finding& f, std::vector<Proposal>& out) {
  for (const Socket& pin : f.sockets) {
    if (c.circuit.pinIndex(pin.owner, pin.point) < 0) continue;
    for (const auto& wire : *c.project.wires) {
      if (wire->from != pin && wire->to != pin) continue;
      const bool from = wire->to == pin;  // which end is in a row
      const auto row = rowOf(c.project, from ? wire->from : wire->to);
      if (!row) continue;
      const BreadboardKind& kind = *breadboardKind(c.project.breadboard(row->breadboard)->type);
      for (const int rows : {1, -1, 2, -2}) {
        const int strip = row->strip + rows * stripsPerRow;
        if (strip < 0 || kind.isRail(strip)) continue;
        const Socket there{row->breadboard, kind.address(kind.holesOf(strip).front())};
        if (!c.net(c.circuit.nets().of(there)).legs.empty())
          proposeStrip(c, *wire, from, *row, strip, std::abs(rows) == 1, out);
      }
    }
  }
}

// A wire may be missing between a net and another: one that ends in a row, or the supply.
void proposeWire(const CheckContext& c, int from, int to, const std::string& fromWords,
                 Proposal::Likely likely, std::vector<Proposal>& out) {
  const auto row = rowOfNet(c, c.net(to));
  const bool supply = c.circuit.supplyVolts(to).has_value();
  if (from == to || (!row && !supply)) return;
  auto made = remedies::wireBetween(c.project, from, to);
  if (!made) return;
  const std::string where = supply ? c.net(to).name : row->first;
  Remedy remedy{say("Lay a wire from {} to {}", fromWords, where), std::move(*made)};
  const auto& legs = c.net(to).legs;
  Message words = say("Is a wire to {} missing?", where);
  if (!supply && !legs.empty())
    words = say("Is a wire to {}, where {} ends, missing?", where, c.part(legs.front().part).name);
  out.push_back({std::move(remedy), std::move(words),
                 row ? std::optional(row->second) : std::nullopt, likely});
}

// The wire on a pin that another finding is about may have been meant for this one.
void proposeOtherPin(const CheckContext& c, const Finding& f, std::vector<Proposal>& out) {
  const Socket& pin = f.sockets.front();
  for (const CircuitPin& other : c.circuit.pins()) {
    const Socket from{other.board, other.name};
    const bool suspect = std::any_of(c.findings.begin(), c.findings.end(), [&](const Finding& g) {
      return &g != &f && std::find(g.pins.begin(), g.pins.end(), c.pinName(other)) != g.pins.end();
    });
    if (!suspect || other.board != pin.owner || from == pin) continue;
    for (const auto& wire : *c.project.wires) {
      if (wire->from != from && wire->to != from) continue;
      Project after = edits::changeWire(c.project, wire->id,
                                        [&](Wire& w) { (w.from == from ? w.from : w.to) = pin; });
      out.push_back(
          {{say("Move the wire from {} to {}", c.pinName(other), f.pins.front()), std::move(after)},
           say("Is the wire on {} meant for it?", c.pinName(other)),
           from,
           Proposal::anyway});
    }
  }
}

// Ground, and the strongest supply, of a board that the net belongs to already: of the pins that
// it has for them, those that are wired.
int pole(const CheckContext& c, bool plus, int of) {
  const auto rank = [&](int net) {
    return std::tuple(c.circuit.belongTogether(net, of), c.circuit.supplyVolts(net).value_or(0),
                      !c.net(net).wires.empty());
  };
  int best = -1;
  for (int net = 0; net < static_cast<int>(c.circuit.nets().all().size()); ++net)
    if (plus ? c.circuit.isSupplyNet(net) : c.circuit.isGroundNet(net))
      if (best < 0 || rank(net) > rank(best)) best = net;
  return best;
}

// A wire from a part's leg may be missing: to what else lacks something, or to a pole.
void proposeWires(const CheckContext& c, const Finding& f, int part, int leg,
                  std::vector<Proposal>& out) {
  const int from = c.circuit.nets().ofLeg({part, leg});
  const auto row = rowOfNet(c, c.net(from));
  if (!row || c.circuit.supplyVolts(from)) return;
  std::set<int> waiting;
  for (const Finding& other : c.findings)
    for (const std::string& id : other.parts)
      if (const int p = c.partIndex(id); &other != &f && p >= 0)
        for (int l = 0; l < static_cast<int>(c.part(p).legs.size()); ++l)
          waiting.insert(c.circuit.nets().ofLeg({p, l}));
  const int ground = pole(c, false, from), supply = pole(c, true, from);
  for (const int net : waiting)
    if (c.net(net).pins.empty() && !c.circuit.supplyVolts(net))
      proposeWire(c, from, net, row->first, Proposal::toWhatWaits, out);
  // A button or sensor goes to either; of all else that could, what is no plus goes to ground.
  const PartKind& kind = *c.circuit.kindOf(part);
  const LegShape& shape = kind.print.legs[static_cast<std::size_t>(leg)];
  const bool plus = shape.meaning.starts_with("plus");
  const auto likely = [&](bool its) {
    return its && !kind.sweepable() && !kind.senses ? Proposal::itsPole : Proposal::otherPole;
  };
  if (ground >= 0) proposeWire(c, from, ground, row->first, likely(!plus), out);
  if (supply >= 0) proposeWire(c, from, supply, row->first, likely(plus), out);
}

// Legs of its parts that end nowhere may be why.
void proposeLooseEnds(const CheckContext& c, const Finding& f, std::vector<Proposal>& out) {
  const bool gets = f.pins.empty();  // a part that gets nothing, not a pin that is given nothing
  for (const std::string& id : f.parts) {
    const int p = c.partIndex(id);
    if (p < 0) continue;
    const Part& part = c.part(p);
    for (int l = 0; l < static_cast<int>(part.legs.size()); ++l) {
      const Leg& leg = part.legs[static_cast<std::size_t>(l)];
      const Net& net = c.net(c.circuit.nets().ofLeg({p, l}));
      const bool alone = net.legs.size() == 1 && net.wires.empty() && net.pins.empty();
      const std::size_t before = out.size();
      if (alone && leg.in) proposeRows(c, part, leg, out);
      if (alone || gets) proposeWires(c, f, p, l, out);
      const auto row = rowOfNet(c, net);
      const LegShape& shape = c.circuit.kindOf(p)->print.legs[static_cast<std::size_t>(l)];
      const std::string meaning = shape.meaning.substr(0, shape.meaning.find(','));
      for (std::size_t k = before; k < out.size() && row; ++k)
        out[k].words =
            Sentences(say("{}’s {} ends in {}.", part.name, meaning, row->first)).add(out[k].words);
    }
  }
}

// A resistor on one of its parts may have quite another value than is usual there.
void proposeValues(const CheckContext& c, const Finding& f, double ohms,
                   std::vector<Proposal>& out) {
  std::set<int> tried;
  for (const std::string& id : f.parts) {
    const int p = c.partIndex(id);
    for (int l = 0; p >= 0 && l < static_cast<int>(c.part(p).legs.size()); ++l) {
      const int net = c.circuit.nets().ofLeg({p, l});
      if (c.circuit.supplyVolts(net)) continue;
      for (const LegRef& leg : c.net(net).legs) {
        const PartKind* kind = c.circuit.kindOf(leg.part);
        const PropKind* value = kind ? kind->prop("ohms") : nullptr;
        if (!value || kind->senses || !tried.insert(leg.part).second) continue;
        const Part& resistor = c.part(leg.part);
        if (auto made = remedies::changeResistor(c.project, resistor.id, ohms))
          out.push_back(
              {std::move(*made),
               say("{} has {}; {} is usual here.", resistor.name,
                   ohmsText(resistor.number(value->key, value->defaultValue)), ohmsText(ohms)),
               resistor.legs.front().in, Proposal::otherPole});
      }
    }
  }
}

// A pin that is read asks for something that gives it a level, one that is written for
// anything else.
bool suits(const CheckContext& c, int net, const PinUse& use) {
  const auto& legs = c.net(net).legs;
  return std::any_of(legs.begin(), legs.end(), [&](const LegRef& leg) {
    const PartKind* kind = c.circuit.kindOf(leg.part);
    return kind && (kind->senses || kind->sweepable()) == use.writers.empty();
  });
}

}  // namespace

std::vector<Proposal> proposalsFor(const CheckContext& c, const Finding& f) {
  std::vector<Proposal> out;
  const Rule* rule = ruleOf(f.rule);
  const Seeks seeks = rule ? rule->seeks : Seeks::nothing;
  if (seeks == Seeks::lostLeg && f.remedies.empty() && !f.sockets.empty()) {
    const int p = c.partIndex(f.parts.front());
    const auto& legs = c.part(p).legs;
    for (int l = 0; l < static_cast<int>(legs.size()); ++l) {
      const Leg& leg = legs[static_cast<std::size_t>(l)];
      if (leg.in != f.sockets.front()) continue;
      proposeRows(c, c.part(p), leg, out);
      proposeWireEnds(c, leg, out);
      proposeAcross(c, leg, out);
      proposeWires(c, f, p, l, out);
    }
  } else if (seeks == Seeks::looseEnds && f.remedies.empty()) {
    proposeLooseEnds(c, f, out);
    proposeValues(c, f, rule->usualOhms, out);
  } else if (seeks == Seeks::itsRow) {
    proposePinRows(c, f, out);
    if (f.remedies.empty() && rule->usualOhms > 0)
      proposeValues(c, f, rule->usualOhms, out);
    else if (!f.remedies.empty())
      out.push_back({f.remedies.front(), {}, {}, Proposal::otherPole});
  } else if (seeks == Seeks::value && f.remedies.empty()) {
    proposeValues(c, f, rule->usualOhms, out);
  } else if (seeks == Seeks::itsPart && f.pins.size() == 1) {
    const Socket& pin = f.sockets.front();
    const int from = c.circuit.nets().of(pin);
    const int index = c.circuit.pinIndex(pin.owner, pin.point);
    const PinUse* use = c.use(c.circuit.pins()[static_cast<std::size_t>(index)]);
    for (int net = 0; net < static_cast<int>(c.circuit.nets().all().size()); ++net)
      if (c.net(net).pins.empty() && !c.circuit.supplyVolts(net) && suits(c, net, *use))
        proposeWire(c, from, net, f.pins.front(), Proposal::toItsPin, out);
    proposeOtherPin(c, f, out);
  } else if (!f.remedies.empty()) {
    out.push_back({f.remedies.front(), {}, {}, Proposal::anyway});
  }
  return out;
}

}  // namespace ignavo
