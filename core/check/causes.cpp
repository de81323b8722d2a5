#include "check/causes.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>
#include <tuple>

#include "bench/arranging.h"
#include "bench/breadboards.h"
#include "bench/relocating.h"
#include "check/remedies.h"
#include "project/edits.h"

namespace ignavo {

namespace {

// Something that may have been meant: the mend, and how it is told.
struct Proposal {
  Remedy remedy;
  std::string words;            // follows the finding's reason
  std::optional<Socket> place;  // where it leads to
  // How near at hand it is; of mends that do as much the likelier one was meant.
  enum Likely { otherPole, twoRowsOff, itsPole, toWhatWaits, toItsPin, oneRowOff, anyway };
  Likely likely = anyway;
};

std::string keyOf(const Finding& f) {
  std::set<std::string> who(f.parts.begin(), f.parts.end());
  who.insert(f.pins.begin(), f.pins.end());
  who.insert(f.steps.begin(), f.steps.end());
  std::string key = f.rule;
  for (const std::string& id : who) key += " " + id;
  return key;
}

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

// A loose leg may have missed a row by one or two.
void proposeRows(const CheckContext& c, const Part& part, const Leg& leg,
                 std::vector<Proposal>& out) {
  const auto row = rowOf(c.project, *leg.in);
  if (!row) return;
  const BreadboardKind& kind = *breadboardKind(c.project.breadboard(row->breadboard)->type);
  constexpr int perRow = 2;  // strips: one to each side
  for (const int rows : {1, -1, 2, -2}) {
    const int strip = row->strip + rows * perRow;
    if (strip < 0 || kind.isRail(strip)) continue;
    for (const Hole& hole : kind.holesOf(strip)) {
      const Socket to{row->breadboard, kind.address(hole)};
      if (!c.net(c.circuit.nets().of(to)).used()) break;
      const Arranged moved = plugged(c.project, catalogue(), part.id, leg.id, to);
      if (!moved.clear()) continue;
      out.push_back({{fmt::format("Move {} to row {}", part.name, hole.number), moved.project},
                     fmt::format("Row {} lies beside it: was it meant to end there?", hole.number),
                     to,
                     std::abs(rows) == 1 ? Proposal::oneRowOff : Proposal::twoRowsOff});
      break;
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
  Remedy remedy{fmt::format("Lay a wire from {} to {}", fromWords, where), std::move(*made)};
  const auto& legs = c.net(to).legs;
  std::string words = fmt::format("Is a wire to {} missing?", where);
  if (!supply && !legs.empty())
    words = fmt::format("Is a wire to {}, where {} ends, missing?", where,
                        c.part(legs.front().part).name);
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
      out.push_back({{fmt::format("Move the wire from {} to {}", c.pinName(other), f.pins.front()),
                      std::move(after)},
                     fmt::format("Is the wire on {} meant for it?", c.pinName(other)),
                     from,
                     Proposal::anyway});
    }
  }
}

// Ground, and the strongest supply: of the pins that a board has for them, those that are wired.
int pole(const CheckContext& c, bool plus) {
  const auto rank = [&](int net) {
    return std::pair(c.circuit.supplyVolts(net).value_or(0), !c.net(net).wires.empty());
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
  const int ground = pole(c, false), supply = pole(c, true);
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
      if (alone || f.rule == "led-dark") proposeWires(c, f, p, l, out);
      const auto row = rowOfNet(c, net);
      const LegShape& shape = c.circuit.kindOf(p)->print.legs[static_cast<std::size_t>(l)];
      const std::string meaning = shape.meaning.substr(0, shape.meaning.find(','));
      for (std::size_t k = before; k < out.size() && row; ++k)
        out[k].words =
            fmt::format("{}’s {} ends in {}. {}", part.name, meaning, row->first, out[k].words);
    }
  }
}

// A resistor on one of its parts may have quite another value than is usual there.
void proposeValues(const CheckContext& c, const Finding& f, std::vector<Proposal>& out) {
  const bool lamp = f.rule == "led-dark";
  const double ohms = lamp ? 220 : 10e3;
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
               fmt::format("{} has {}; {} is usual here.", resistor.name,
                           ohmsText(resistor.number(value->key, value->otherwise)), ohmsText(ohms)),
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

std::vector<Proposal> proposalsFor(const CheckContext& c, const Finding& f) {
  std::vector<Proposal> out;
  if (f.rule == "leg-loose" && f.remedies.empty() && !f.sockets.empty()) {
    const int p = c.partIndex(f.parts.front());
    const auto& legs = c.part(p).legs;
    for (int l = 0; l < static_cast<int>(legs.size()); ++l) {
      const Leg& leg = legs[static_cast<std::size_t>(l)];
      if (leg.in != f.sockets.front()) continue;
      proposeRows(c, c.part(p), leg, out);
      proposeWires(c, f, p, l, out);
    }
  } else if ((f.rule == "input-stuck" || f.rule == "led-dark") && f.remedies.empty()) {
    proposeLooseEnds(c, f, out);
    proposeValues(c, f, out);
  } else if (f.rule == "resistor-hot" && f.remedies.empty()) {
    proposeValues(c, f, out);
  } else if (f.rule == "pin-unwired" && f.pins.size() == 1) {
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

bool counts(const Finding& f) { return f.severity != Severity::note; }

// What was found at first, by keys: telling findings together changes whom they name.
struct Known {
  std::set<std::string> all;
  std::vector<std::string> left;  // of those that are still told, in their order
};

// Which of the findings a mend takes away with the first one; nothing where it does not take
// that away, or brings up others.
std::optional<std::vector<std::size_t>> takenAway(
    const Known& known, std::size_t cause, const std::optional<std::vector<Finding>>& after) {
  if (!after) return std::nullopt;
  std::set<std::string> stays;
  for (const Finding& f : *after) {
    stays.insert(keyOf(f));
    if (counts(f) && !known.all.contains(keyOf(f))) return std::nullopt;
  }
  if (stays.contains(known.left[cause])) return std::nullopt;
  std::vector<std::size_t> gone;
  for (std::size_t i = 0; i < known.left.size(); ++i)
    if (i != cause && !stays.contains(known.left[i])) gone.push_back(i);
  return gone;
}

// The gravest of them says why it matters; the cause and its mend are told with it.
std::size_t adopt(std::vector<Finding>& all, std::size_t cause, Proposal& p,
                  const std::vector<std::size_t>& gone) {
  std::size_t told = cause;
  for (const std::size_t i : gone)
    if (all[i].severity > all[told].severity) told = i;
  Finding& f = all[told];
  if (told == cause) {
    f.remedies.clear();
    f.advice = p.words;
  } else {
    f.advice = all[cause].title + ". " + p.words;
  }
  f.remedies.insert(f.remedies.begin(), std::move(p.remedy));
  // What it is about stays where its mark is.
  if (f.parts.empty() && !f.mark && !f.sockets.empty()) f.mark = f.sockets.front();
  if (p.place) f.sockets.push_back(*p.place);
  const auto include = [&](const Finding& other) {
    for (const auto& [from, to] : {std::pair{&other.parts, &f.parts}, {&other.pins, &f.pins}})
      for (const std::string& id : *from)
        if (std::find(to->begin(), to->end(), id) == to->end()) to->push_back(id);
  };
  include(all[cause]);
  for (const std::size_t i : gone) include(all[i]);
  return told;
}

// Of a mend that is a finding's own already: what is graver stays beside it.
void keepGraver(const std::vector<Finding>& all, std::size_t cause,
                std::vector<std::size_t>& gone) {
  std::erase_if(gone, [&](std::size_t i) { return all[i].severity > all[cause].severity; });
}

}  // namespace

void keepCauses(const CheckContext& c, const Judge& judge) {
  constexpr double mostSolved = 40e3;  // parts, in all combinations of all trials together
  constexpr double mostTrials = 24;
  constexpr int mostFindings = 4;  // where much is open, nothing can be told from one mend
  std::vector<Finding>& all = c.findings;
  if (std::count_if(all.begin(), all.end(), counts) > mostFindings) return;
  int trials = static_cast<int>(
      std::min(mostTrials, mostSolved / std::max(1.0, c.sweep.poses() * c.partCount())));
  Known known;
  for (const Finding& f : all) known.left.push_back(keyOf(f));
  known.all.insert(known.left.begin(), known.left.end());
  const auto weight = [&](const std::vector<std::size_t>& list) {
    return std::count_if(list.begin(), list.end(), [&](std::size_t i) { return counts(all[i]); });
  };
  for (std::size_t cause = 0; cause < all.size(); ++cause) {
    if (!counts(all[cause]) || all[cause].meant) continue;
    const bool alone = std::count_if(all.begin(), all.end(), counts) < 2;
    std::vector<Proposal> proposals = proposalsFor(c, all[cause]);
    Proposal* best = nullptr;
    std::vector<std::size_t> most;
    int asGood = 0;  // mends that do as much and are as likely
    const auto worth = [&](const Proposal& p, const std::vector<std::size_t>& gone) {
      // A leg that misses its row by one is the commonest of all.
      return std::tuple(p.likely == Proposal::oneRowOff, weight(gone), p.likely);
    };
    for (Proposal& p : proposals) {
      if (alone && p.words.empty()) continue;
      if (trials-- <= 0 || c.cancelled()) return;
      auto gone = takenAway(known, cause, judge(p.remedy.after));
      if (!gone) continue;
      if (p.words.empty()) keepGraver(all, cause, *gone);
      // Two loose ends that are joined are no longer loose; that alone is no mend.
      const auto tells = [&](std::size_t i) {
        return counts(all[i]) && all[i].rule != "leg-loose";
      };
      if (p.likely == Proposal::toWhatWaits && std::none_of(gone->begin(), gone->end(), tells))
        continue;
      if (best && worth(p, *gone) == worth(*best, most)) ++asGood;
      if (best && worth(p, *gone) <= worth(*best, most)) continue;
      best = &p, most = std::move(*gone), asGood = 1;
    }
    // By itself it tells what was meant only where nothing else could have been.
    if (!best || (weight(most) == 0 && (asGood > 1 || best->words.empty()))) continue;
    const std::size_t told = best->words.empty() ? cause : adopt(all, cause, *best, most);
    // What would break is told in any case.
    std::erase_if(most, [&](std::size_t i) { return all[i].severity == Severity::danger; });
    most.push_back(cause);
    std::sort(most.begin(), most.end());
    std::size_t at = cause;
    for (std::size_t k = most.size(); k-- > 0;) {
      if (most[k] == told) continue;
      all.erase(all.begin() + static_cast<std::ptrdiff_t>(most[k]));
      known.left.erase(known.left.begin() + static_cast<std::ptrdiff_t>(most[k]));
      if (most[k] <= at) --at;
    }
    cause = at;
  }
}

}  // namespace ignavo
