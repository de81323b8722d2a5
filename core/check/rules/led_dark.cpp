#include <algorithm>

#include "check/remedies.h"
#include "check/rules/lamps.h"
#include "check/rules/list.h"
#include "check/trial.h"
#include "explain/reach.h"

namespace ignavo {

namespace {

// A way to something that gives, or takes; and to a pin that is no output now.
struct Reached {
  bool plus = false, minus = false, undriven = false;
};
Reached reachedFrom(const CheckContext& c, int net, int withoutPart) {
  const PathEnds ends = endsOf(c.circuit, netsBehind(c.project, c.circuit, net, withoutPart));
  Reached out{ends.plus, ends.minus, false};
  for (const int p : ends.pins) {
    if (!c.sweep.isOutput(p)) {
      out.undriven = true;
      continue;
    }
    const int island = c.circuit.pins()[static_cast<std::size_t>(p)].island;
    for (const SweptPose& pose : c.sweep.posesOf(island)) {
      const PinDrive drive = pose.state.pins[static_cast<std::size_t>(p)];
      out.plus = out.plus || drive == PinDrive::high;
      out.minus = out.minus || drive == PinDrive::low;
    }
  }
  return out;
}

// A part that merely lies there.
bool liesApart(const CheckContext& c, int p) {
  for (int l = 0; l < static_cast<int>(c.part(p).legs.size()); ++l) {
    const Net& net = c.net(c.circuit.nets().ofLeg({p, l}));
    if (!net.pins.empty() || !net.wires.empty() || !net.strips.empty()) return false;
  }
  return true;
}

// What takes the volts in the lamp's path and lets nothing through: the break in it.
struct Block {
  int part = -1;
  double volts = 0;  // first read leg to second
};
Block blockIn(const CheckContext& c, int lamp) {
  Block out;
  const int island = c.circuit.islandOfPart(lamp);
  const auto& parts = c.circuit.island(island).parts;
  for (const SweptPose& pose : c.sweep.posesOf(island)) {
    const IslandReading& r = c.circuit.solveIsland(island, pose.state);
    for (std::size_t k = 0; k < parts.size(); ++k) {
      const double volts = r.parts[k].volts.value_or(0);
      if (parts[k] == lamp || c.isLamp(parts[k]) || std::abs(r.parts[k].amps) >= darkAmps) continue;
      const bool gives =
          c.circuit.kindOf(parts[k])->print.legs.front().feeds != LegShape::Feeds::nothing;
      if (!gives && std::abs(volts) > std::abs(out.volts) + 1e-3) out = {parts[k], volts};
    }
  }
  return out;
}

void aboutBlock(const CheckContext& c, Finding& f, int lamp, double lampVolts) {
  constexpr double leastVolts = 0.5;
  const Block block = blockIn(c, lamp);
  if (block.part < 0 || std::abs(block.volts) < leastVolts) {
    f.reason = say(
        "Its path leads to both sides of the supply, but something in it lets no current through. "
        "{} across it at most.",
        asVolts(lampVolts));
    return;
  }
  const Part& part = c.part(block.part);
  const PartKind& kind = *c.circuit.kindOf(block.part);
  f.parts.push_back(part.id);
  c.showPart(f, block.part);
  if (kind.stores) {
    f.reason =
        say("Its path leads to both sides of the supply, but {} lets no steady current through.",
            part.name);
  } else if (kind.print.polarised && kind.print.legs.size() == 2 && block.volts < 0) {
    f.reason =
        say("Its path leads to both sides of the supply, but {} lies in it against the current.",
            part.name);
    if (auto made = remedies::turn(c.project, part.id);
        made && c.mayTry() && bestAmps(made->after, c.part(lamp).id) >= darkAmps)
      f.remedies.push_back({say("Turn {} round", part.name), std::move(made->after)});
  } else {
    f.reason =
        say("Its path leads to both sides of the supply, but {} lets no current through: it has {} "
            "across it.",
            part.name, asVolts(std::abs(block.volts)));
  }
}

// Motors and buzzers that get nothing, whichever way round they lie.
void applyOthers(CheckContext& c) {
  for (int p = 0; p < c.partCount(); ++p) {
    const PartKind* kind = c.circuit.kindOf(p);
    const PartSweep& s = c.sweep.part(p);
    if (!kind || kind->shows == Shows::nothing || c.isLamp(p) || kind->moves == Moves::tone ||
        !s.volts.seen || std::max(s.amps.value, s.reverseAmps.value) >= darkAmps ||
        lampExplained(c, p) || liesApart(c, p))
      continue;
    const Part& part = c.part(p);
    const auto behind = [&](int leg) {
      return reachedFrom(c, c.circuit.nets().ofLeg({p, leg}), p);
    };
    const auto [first, second] = kind->readLegs;
    const Reached a = behind(first), b = behind(second);
    if ((a.undriven && !(a.plus && a.minus)) || (b.undriven && !(b.plus && b.minus))) continue;
    const bool turns = kind->shows == Shows::turning;
    Finding f;
    f.rule = "led-dark";
    f.severity = Severity::warning;
    f.parts = {part.id};
    c.showPart(f, p);
    f.title = turns                         ? say("{} stands still in every combination", part.name)
              : kind->shows == Shows::sound ? say("{} stays silent in every combination", part.name)
                                            : say("{} stays dark in every combination", part.name);
    if (!a.plus && !b.plus)
      f.reason = say("Neither of its sides reaches 5 V, a battery’s plus or a pin that goes high.");
    else if (!a.minus && !b.minus)
      f.reason = say("Neither of its sides reaches ground or a pin that goes low.");
    else if (auto turned = remedies::turn(c.project, part.id);
             kind->print.polarised && part.legs.size() == 2 && turned && c.mayTry() &&
             bestAmps(turned->after, part.id) >= darkAmps) {
      f.reason = turns ? say("It faces against the current. Turned, it turns.")
                       : say("It faces against the current. Turned, it sounds.");
      f.remedies.push_back(std::move(*turned));
    } else
      aboutBlock(c, f, p, s.volts.value);
    f.figures = {{"amps", 0}, {"volts", s.volts.value}};
    c.findings.push_back(std::move(f));
  }
}

void applyLedDark(CheckContext& c) {
  applyOthers(c);
  for (int p = 0; p < c.partCount(); ++p) {
    if (c.cancelled()) return;
    if (!c.isLamp(p) || !c.sweep.part(p).volts.seen) continue;
    const PartKind& kind = *c.circuit.kindOf(p);
    const Part& part = c.part(p);
    const PartSweep& s = c.sweep.part(p);
    const bool any = std::any_of(s.lamps.begin(), s.lamps.end(),
                                 [](const Peak& l) { return l.value >= darkAmps; });
    if (any || lampExplained(c, p) || liesApart(c, p)) continue;
    const std::size_t lamps = kind.lamps.size();
    const auto legs = [&](bool anodes) {
      Reached out;
      for (std::size_t l = 0; l < (anodes ? lamps : std::size_t(1)); ++l) {
        const int leg = anodes ? kind.lamps[l] : kind.readLegs.second;
        const Reached one = reachedFrom(c, c.circuit.nets().ofLeg({p, leg}), p);
        out.plus = out.plus || one.plus;
        out.minus = out.minus || one.minus;
        out.undriven = out.undriven || one.undriven;
      }
      return out;
    };
    const Reached front = legs(true), back = legs(false);
    // A pin that nothing has switched yet is no fault of the circuit.
    if ((front.undriven && !front.plus) || (back.undriven && !back.minus)) continue;
    Finding f;
    f.rule = "led-dark";
    f.severity = Severity::warning;
    f.parts = {part.id};
    c.showPart(f, p);
    f.title = say("{} stays dark in every combination", part.name);
    const std::string anode = kind.print.legs[static_cast<std::size_t>(kind.lamps[0])].meaning,
                      cathode =
                          kind.print.legs[static_cast<std::size_t>(kind.readLegs.second)].meaning;
    if (!front.plus && front.minus)
      f.reason =
          say("The path behind its {} reaches neither 5 V nor a pin that goes high, only ground.",
              anode);
    else if (!front.plus)
      f.reason = say("The path behind its {} reaches neither 5 V nor a pin that goes high.", anode);
    else if (!back.minus && back.plus)
      f.reason =
          say("The path behind its {} reaches neither ground nor a pin that goes low, only 5 V.",
              cathode);
    else if (!back.minus)
      f.reason =
          say("The path behind its {} reaches neither ground nor a pin that goes low.", cathode);
    else
      aboutBlock(c, f, p, s.volts.value);
    f.figures = {{"amps", std::max(0.0, s.amps.value)}, {"volts", s.volts.value}};
    c.findings.push_back(std::move(f));
  }
}

}  // namespace

const Rule& ledDarkRule() {
  static const Rule rule = darkening(
      {"led-dark", Severity::warning,
       "A lamp, buzzer or motor gets less than 1 µA in all combinations, and nothing else that is "
       "found explains it.",
       "It stays dark, silent or still whatever the program does.",
       "Follow its path from leg to leg to where it ends, and join it to the other side of the "
       "supply.",
       false, applyLedDark, Seeks::looseEnds, 220});
  return rule;
}

}  // namespace ignavo
