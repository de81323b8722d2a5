#include <algorithm>
#include <cstdlib>
#include <set>
#include <tuple>

#include "bench/arranging.h"
#include "bench/breadboards.h"
#include "bench/relocating.h"
#include "check/remedies.h"
#include "check/rules/list.h"

namespace ignavo {

namespace {

// Nothing but this part's own legs is in the net.
bool alone(const CheckContext& c, int part, int net) {
  const Net& n = c.net(net);
  return n.pins.empty() && n.wires.empty() &&
         std::all_of(n.legs.begin(), n.legs.end(), [&](const LegRef& l) { return l.part == part; });
}

std::string rowText(const Project& project, const Socket& socket) {
  const BreadboardItem* bb = project.breadboard(socket.owner);
  const BreadboardKind* kind = bb ? breadboardKind(bb->type) : nullptr;
  const auto hole = kind ? kind->parse(socket.point) : std::nullopt;
  if (!hole) return socket.point;
  return hole->rail >= 0 ? "the " + kind->stripName(kind->stripOf(*hole))
                         : "row " + std::to_string(hole->number);
}

// Legs that end in a row of their own. Those that may stay open do not count
// as long as the part is joined at two places.
std::vector<int> looseLegs(const CheckContext& c, int p) {
  const PartKind* kind = c.circuit.kindOf(p);
  std::vector<int> loose;
  std::set<int> tied;
  for (int l = 0; l < static_cast<int>(kind->print.legs.size()); ++l) {
    const int net = c.circuit.nets().ofLeg({p, l});
    if (alone(c, p, net))
      loose.push_back(l);
    else
      tied.insert(net);
  }
  const bool onMat = std::none_of(c.part(p).legs.begin(), c.part(p).legs.end(),
                                  [](const Leg& l) { return l.in.has_value(); });
  if (onMat && tied.empty()) return {};  // it merely lies there
  if (tied.size() >= 2)
    std::erase_if(loose,
                  [&](int l) { return kind->print.legs[static_cast<std::size_t>(l)].mayStayOpen; });
  return loose;
}

// Something else that ends one or two rows beside a loose leg: they were meant to meet.
struct Neighbour {
  std::string name;
  Socket at;
  int part = -1;
  std::string leg;   // of that part
  std::string wire;  // or of a wire
  bool from = false;
};

// How many rows lie between two strips of one side, if that is what a hand may miss by; else 0.
int rowsApart(const std::optional<Strip>& a, const std::optional<Strip>& b) {
  constexpr int mostRows = 2, perRow = 2;  // strips: one to each side
  if (!a || !b || a->breadboard != b->breadboard) return 0;
  const int apart = std::abs(a->strip - b->strip);
  return apart % perRow == 0 && apart <= mostRows * perRow ? apart / perRow : 0;
}

// What says already why a leg of theirs is loose.
bool said(const CheckContext& c, int p) {
  return c.explained(c.part(p).id,
                     {"part-bypassed", "button-bridged", "button-along-trench", "short-circuit",
                      "rail-unfed", "no-common-ground", "leg-loose"});
}

// Is this end of a wire all there is in its row?
bool endsAlone(const CheckContext& c, const Socket& end) {
  const auto row = rowOf(c.project, end);
  const int net = c.circuit.nets().of(end);
  if (!row || net < 0) return false;
  int there = 0;
  for (const auto& wire : *c.project.wires)
    for (const Socket& e : {wire->from, wire->to}) there += rowOf(c.project, e) == row;
  for (const LegRef& l : c.net(net).legs)
    if (const Leg& leg = c.part(l.part).legs[static_cast<std::size_t>(l.leg)]; leg.in)
      there += rowOf(c.project, *leg.in) == row;
  return there == 1;
}

// Parts before wires; the nearest; of two that are as near, the upper one.
std::optional<Neighbour> neighbourOf(const CheckContext& c, int p, const Socket& at) {
  const auto row = rowOf(c.project, at);
  std::optional<Neighbour> best;
  std::pair<int, int> bestPlace;
  const auto offer = [&](const Socket& end, auto&& neighbour) {
    const auto there = rowOf(c.project, end);
    const int apart = rowsApart(row, there);
    if (apart == 0) return;
    const std::pair place{apart, there->strip};
    if (best && bestPlace <= place) return;
    if (auto made = neighbour()) best = std::move(made), bestPlace = place;
  };
  for (int other = 0; other < c.partCount(); ++other) {
    if (other == p || !c.circuit.kindOf(other) || c.isInstrument(other)) continue;
    for (const int l : looseLegs(c, other))
      if (const Leg& leg = c.part(other).legs[static_cast<std::size_t>(l)]; leg.in)
        // What is said of it already is asked last: it takes the longest.
        offer(*leg.in, [&] {
          return said(c, other) ? std::nullopt
                                : std::optional(Neighbour{
                                      c.part(other).name, *leg.in, other, leg.id, {}, false});
        });
  }
  if (best) return best;
  for (const auto& wire : *c.project.wires)
    for (const bool from : {true, false}) {
      const Socket& end = from ? wire->from : wire->to;
      offer(end, [&] {
        return endsAlone(c, end) ? std::optional(Neighbour{"A wire", end, -1, {}, wire->id, from})
                                 : std::nullopt;
      });
    }
  return best;
}

// The leg to its neighbour, or the neighbour to the leg.
void addRemedy(const CheckContext& c, Finding& f, const Part& part, const Leg& leg,
               const Neighbour& n) {
  const auto rowWord = [&](const Socket& s) { return rowText(c.project, s); };
  if (!n.wire.empty()) {
    if (const auto row = rowOf(c.project, *leg.in))
      for (std::size_t b = 0; b < c.project.breadboards.size(); ++b)
        if (c.project.breadboards[b].id == row->breadboard)
          if (auto made =
                  remedies::rewired(c.project, n.wire, n.from, {static_cast<int>(b), row->strip}))
            f.remedies.push_back({say("Move the wire to {}", rowWord(*leg.in)), std::move(*made)});
    return;
  }
  const auto plug = [&](const Part& moved, const std::string& legId, const Socket& to) {
    const BreadboardItem* bb = c.project.breadboard(to.owner);
    const BreadboardKind* kind = breadboardKind(bb->type);
    for (const Hole& hole : kind->holesOf(kind->stripOf(*kind->parse(to.point)))) {
      const Arranged a =
          plugged(c.project, catalogue(), moved.id, legId, {bb->id, kind->address(hole)});
      if (!a.clear()) continue;
      f.remedies.push_back({say("Move {} to {}", moved.name, rowWord(to)), a.project});
      return true;
    }
    return false;
  };
  if (!plug(part, leg.id, n.at)) plug(c.part(n.part), n.leg, *leg.in);
}

// A pin's wire that ends in the row of another of the part's legs, where supply or ground hold
// the level: it was meant for the loose leg, whose level changes.
void addMissedWire(const CheckContext& c, Finding& f, const Part& part, const Leg& loose) {
  const auto row = loose.in ? rowOf(c.project, *loose.in) : std::nullopt;
  if (!row) return;
  for (const auto& wire : *c.project.wires)
    for (const bool from : {true, false}) {
      const Socket &end = from ? wire->from : wire->to, &pin = from ? wire->to : wire->from;
      if (c.circuit.pinIndex(pin.owner, pin.point) < 0 ||
          !c.circuit.supplyVolts(c.circuit.nets().of(end)))
        continue;
      for (const Leg& leg : part.legs) {
        if (!leg.in || leg.id == loose.id || rowOf(c.project, *leg.in) != rowOf(c.project, end) ||
            !rowOf(c.project, end))
          continue;
        int index = 0;
        while (c.project.breadboards[static_cast<std::size_t>(index)].id != row->breadboard)
          ++index;
        auto made = remedies::rewired(c.project, wire->id, from, {index, row->strip});
        if (!made) continue;
        f.advice = say("The wire from {} ends in {}: was it meant for {}?", pin.point,
                       rowText(c.project, end), rowText(c.project, *loose.in));
        f.sockets.push_back(end);
        f.remedies.push_back(
            {say("Move the wire to {}", rowText(c.project, *loose.in)), std::move(*made)});
        return;
      }
    }
}

// Of several loose legs the one that is told: the first that a part cannot do without.
int toldOf(const PartKind& kind, const std::vector<int>& loose) {
  const auto it = std::find_if(loose.begin(), loose.end(), [&](int l) {
    return !kind.print.legs[static_cast<std::size_t>(l)].mayStayOpen;
  });
  return it == loose.end() ? loose.front() : *it;
}

// Parts with a loose leg by their places: those that are joined somewhere first, for they may
// tell what the others were meant for.
std::vector<int> inOrder(const CheckContext& c) {
  std::vector<std::pair<std::tuple<bool, std::string, int, std::string>, int>> order;
  for (int p = 0; p < c.partCount(); ++p) {
    const PartKind* kind = c.circuit.kindOf(p);
    if (!kind || kind->isInstrument()) continue;
    const std::vector<int> loose = looseLegs(c, p);
    if (loose.empty()) continue;
    const auto& in = c.part(p).legs[static_cast<std::size_t>(toldOf(*kind, loose))].in;
    const auto row = in ? rowOf(c.project, *in) : std::nullopt;
    order.push_back({{loose.size() == kind->print.legs.size(), row ? row->breadboard : "",
                      row ? row->strip : -1, c.part(p).id},
                     p});
  }
  std::sort(order.begin(), order.end());
  std::vector<int> out;
  out.reserve(order.size());
  for (const auto& [place, p] : order) out.push_back(p);
  return out;
}

void applyLegLoose(CheckContext& c) {
  for (const int p : inOrder(c)) {
    if (said(c, p)) continue;
    const PartKind* kind = c.circuit.kindOf(p);
    const Part& part = c.part(p);
    const std::vector<int> loose = looseLegs(c, p);
    Finding f;
    f.rule = "leg-loose";
    f.severity = Severity::warning;
    f.parts = {part.id};
    const int told = toldOf(*kind, loose);
    const Leg* leg = &part.legs[static_cast<std::size_t>(told)];
    const std::string meaning = kind->print.legs[static_cast<std::size_t>(told)].meaning;
    if (leg->in) f.sockets.push_back(*leg->in);
    for (int l : loose)
      if (const auto& in = part.legs[static_cast<std::size_t>(l)].in; in && l != told)
        f.sockets.push_back(*in);
    const bool all = loose.size() == kind->print.legs.size();
    if (all) {
      f.title = say("{} is not joined to anything", part.name);
      f.reason = say("No wire or other part is plugged into the rows of its legs.");
    } else if (leg->in) {
      const std::string row = rowText(c.project, *leg->in);
      // Legs that are not alike are named.
      const bool named = kind->print.polarised || kind->print.legs.size() == 3;
      f.title = say("{}’s path ends in {}", part.name, row);
      f.reason = !named ? say("One of its legs sits in {}, and nothing else is plugged in there.",
                              leg->in->point)
                 : meaning.find(',') == std::string::npos
                     ? say("Its {} sits in {}, and nothing else is plugged in there.", meaning,
                           leg->in->point)
                     : say("Its {}, sits in {}, and nothing else is plugged in there.", meaning,
                           leg->in->point);
      if (const auto near = neighbourOf(c, p, *leg->in)) {
        f.advice = say("{} ends in {}: were the two meant to meet?", near->name,
                       rowText(c.project, near->at));
        f.sockets.push_back(near->at);
        if (near->part >= 0) f.parts.push_back(c.part(near->part).id);
        addRemedy(c, f, part, *leg, *near);
      } else {
        if (kind->senses) addMissedWire(c, f, part, *leg);
        const auto beyond = acrossTrench(c.project, *leg->in);
        const bool cut = beyond && c.net(c.circuit.nets().of(*beyond)).used();
        if (f.remedies.empty())
          f.advice =
              cut ? say("Beyond the trench the row goes on, but its two sides are not joined.")
                  : say("A wire from that row takes the current on.");
      }
    } else {
      f.title = say("{}’s {} is in no hole", part.name, meaning);
      f.reason = say("So no current can go through it.");
    }
    f.figures = {{"amps", 0}};
    c.findings.push_back(std::move(f));
  }
}

}  // namespace

const Rule& legLooseRule() {
  static const Rule rule = darkening(
      {"leg-loose", Severity::warning, "A leg is in a row where nothing else is plugged in.",
       "A path that ends somewhere carries no current at all, not a little.",
       "Lay a wire from that row to where the current should go on.", false, applyLegLoose,
       Seeks::lostLeg});
  return rule;
}

}  // namespace ignavo
