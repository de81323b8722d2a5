#include <algorithm>

#include "bench/breadboards.h"
#include "check/remedies.h"
#include "check/rules/list.h"
#include "explain/ohmic_path.h"

namespace ignavo {

namespace {

const BreadboardKind& kindOf(const CheckContext& c, const StripRef& s) {
  return *breadboardKind(c.project.breadboards[static_cast<std::size_t>(s.breadboard)].type);
}

constexpr double feedOhms =
    4.7e3;  // an output behind more than that holds a level, but feeds nothing

// Does a source (of a − rail: ground), a battery or an output hang on this net
// itself, or behind resistors and buttons?
bool fed(const CheckContext& c, int net, bool plus) {
  if (!c.net(net).pins.empty()) return true;
  for (const int reached : ohmicReach(c.circuit, net)) {
    if (plus ? c.circuit.isSupplyNet(reached) : c.circuit.isGroundNet(reached)) return true;
    for (const LegRef& leg : c.net(reached).legs) {
      const PartKind* kind = c.circuit.kindOf(leg.part);
      if (kind &&
          kind->print.legs[static_cast<std::size_t>(leg.leg)].feeds != LegShape::Feeds::nothing)
        return true;
    }
  }
  const auto& outputs = c.sweep.outputs();
  return std::any_of(outputs.begin(), outputs.end(), [&](int output) {
    const int pin = c.circuit.pins()[static_cast<std::size_t>(output)].net;
    return leastPath(c.circuit, net, pin, feedOhms).found();
  });
}

// A rail of the same sign that is fed, nearest first: the other half of a broken one, say.
std::optional<Project> feed(const CheckContext& c, const StripRef& rail, int net, bool plus) {
  const BreadboardKind& kind = kindOf(c, rail);
  std::vector<int> sources;
  for (int other = 0; other < static_cast<int>(c.circuit.nets().all().size()); ++other) {
    if (plus ? !c.circuit.isSupplyNet(other) : !c.circuit.isGroundNet(other)) continue;
    const auto& strips = c.net(other).strips;
    const bool samePlace = std::any_of(strips.begin(), strips.end(), [&](const StripRef& s) {
      return s.breadboard == rail.breadboard && kind.isPlusRail(s.strip) == plus &&
             kind.isRail(s.strip);
    });
    sources.insert(samePlace ? sources.begin() : sources.end(), other);
  }
  for (const int source : sources)
    if (auto made = remedies::wireBetween(c.project, net, source)) return made;
  return std::nullopt;
}

void report(CheckContext& c, int net, const StripRef& rail) {
  const BreadboardKind& kind = kindOf(c, rail);
  const std::string bb = c.project.breadboards[static_cast<std::size_t>(rail.breadboard)].id;
  const bool plus = kind.isPlusRail(rail.strip);
  Finding f;
  f.rule = "rail-unfed";
  f.severity = Severity::warning;
  // The holes that are used, so that they can be shown; the parts that need the rail.
  for (const LegRef& leg : c.net(net).legs) {
    if (c.isInstrument(leg.part)) continue;
    const Part& part = c.part(leg.part);
    if (std::find(f.parts.begin(), f.parts.end(), part.id) == f.parts.end())
      f.parts.push_back(part.id);
  }
  const Nets& nets = c.circuit.nets();
  for (const Socket& s : nets.sockets(net, c.project, catalogue()))
    if (s.owner == bb && kind.parse(s.point) && kind.parse(s.point)->rail >= 0)
      for (const auto& wire : *c.project.wires)
        if (wire->from == s || wire->to == s) f.sockets.push_back(s);
  for (const std::string& id : f.parts)
    for (const Leg& leg : c.project.part(id)->legs)
      if (leg.in && nets.of(*leg.in) == net) f.sockets.push_back(*leg.in);
  if (!f.sockets.empty()) f.mark = f.sockets.front();
  const std::string name = kind.stripName(rail.strip);
  const std::string source = plus ? "5 V" : "GND";
  constexpr std::size_t most = 3;
  const std::size_t told = f.parts.size() > most ? most - 1 : f.parts.size();
  Place::Several who;
  for (std::size_t i = 0; i < told; ++i) who.emplace_back(c.project.part(f.parts[i])->name);
  if (told < f.parts.size()) who.emplace_back(say("{} more", f.parts.size() - told));
  f.title = say("The {} is joined to nothing", name);
  f.reason = say(who.size() == 1 ? "{} is plugged in there, but no wire leads from it to {}."
                                 : "{} are plugged in there, but no wire leads from it to {}.",
                 who, source);
  if (kind.hasBreaks())
    f.reason.add(
        say("The rails of this breadboard have a break in the middle: each half needs a wire."));
  f.figures = {{"volts", 0}};
  if (auto made = feed(c, rail, net, plus))
    f.remedies.push_back({say("Join it to {}", source), std::move(*made)});
  c.findings.push_back(std::move(f));
}

void applyRailUnfed(CheckContext& c) {
  for (int n = 0; n < static_cast<int>(c.circuit.nets().all().size()); ++n) {
    const Net& net = c.net(n);
    if (std::all_of(net.legs.begin(), net.legs.end(),
                    [&](const LegRef& leg) { return c.isInstrument(leg.part); }))
      continue;
    const auto rail = std::find_if(net.strips.begin(), net.strips.end(),
                                   [&](const StripRef& s) { return kindOf(c, s).isRail(s.strip); });
    if (rail != net.strips.end() && !fed(c, n, kindOf(c, *rail).isPlusRail(rail->strip)))
      report(c, n, *rail);
  }
}

}  // namespace

const Rule& railUnfedRule() {
  static const Rule rule = darkening(
      {"rail-unfed", Severity::warning,
       "Parts use a rail that is joined to no supply, ground or pin.",
       "A rail is only a long row of joined holes: it has a voltage when a wire brings one.",
       "A wire from the rail to 5 V or GND; on a rail with a break, one for each half.", false,
       applyRailUnfed});
  return rule;
}

}  // namespace ignavo
