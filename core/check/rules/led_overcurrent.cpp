#include <cmath>

#include "check/rules/lamps.h"
#include "check/rules/list.h"

namespace ignavo {

namespace {

constexpr double noteAmps = 0.020, warningAmps = 0.025, dangerAmps = 0.030;

// A resistor that would do its work if the current did not go past it: then that is the cause,
// and what was found of it is told here.
bool takeCause(CheckContext& c, Finding& f, int p, std::size_t lamp) {
  for (auto it = c.findings.begin(); it != c.findings.end(); ++it) {
    if (it->rule != "part-bypassed" || it->remedies.empty() || !c.mayTry()) continue;
    const double then = lampAmps(it->remedies.front().after, c.part(p).id, lamp);
    const Part* resistor = c.project.part(it->parts.front());
    if (then <= 0 || then > noteAmps || !resistor) continue;
    f.reason = say(
        "{} is there to limit the current, but its two sides are joined, so the current goes past "
        "it. Apart, it makes it {}.",
        resistor->name, asAmps(then));
    f.parts.push_back(resistor->id);
    f.sockets.insert(f.sockets.end(), it->sockets.begin(), it->sockets.end());
    f.figures.push_back({"remedy_amps", then});
    f.remedies = std::move(it->remedies);
    c.findings.erase(it);
    return true;
  }
  return false;
}

void applyLedOvercurrent(CheckContext& c) {
  for (int p = 0; p < c.partCount(); ++p) {
    const PartKind* kind = c.circuit.kindOf(p);
    if (!kind || kind->shows != Shows::light) continue;
    const Part& part = c.part(p);
    std::size_t lamp = 0;
    for (std::size_t l = 1; l < kind->lamps.size(); ++l)
      if (lampPeak(c.sweep.part(p), l).value > lampPeak(c.sweep.part(p), lamp).value) lamp = l;
    const Peak& peak = lampPeak(c.sweep.part(p), lamp);
    if (!peak.seen || !exceeds(peak.value, noteAmps)) continue;
    const int island = c.circuit.islandOfPart(p);
    Finding f;
    f.rule = "led-overcurrent";
    f.severity = exceeds(peak.value, dangerAmps)    ? Severity::danger
                 : exceeds(peak.value, warningAmps) ? Severity::warning
                                                    : Severity::note;
    f.parts = {part.id};
    f.pose = c.sweep.poseOf(island, peak.state);
    const auto& members = c.circuit.island(island);
    const IslandReading r = c.circuit.solveIsland(island, peak.state);
    double volts = 0;
    for (std::size_t k = 0; k < members.parts.size(); ++k)
      if (members.parts[k] == p) volts = r.parts[k].volts.value_or(0);
    std::string source = "5 V";
    for (std::size_t k = 0; k < members.pins.size(); ++k) {
      const CircuitPin& pin = c.circuit.pins()[static_cast<std::size_t>(members.pins[k])];
      if (std::abs(r.pins[k].amps) < 0.2 * peak.value) continue;
      f.pins.push_back(c.pinName(pin));
      source = c.pinName(pin);
    }
    const Quantity now = asAmps(peak.value);
    const Message name = kind->lamps.size() > 1
                             ? say("{} ({})", part.name,
                                   kind->print.legs[static_cast<std::size_t>(kind->lamps[lamp])].id)
                             : Message(part.name);
    f.title = f.severity == Severity::danger ? say("{} gets {}; above 30 it burns out", name, now)
                                             : say("{} gets {}; it is made for 20", name, now);
    const Part* resistor = resistorWith(c, island, peak.value, peak.state);
    f.reason = resistor ? say("{} in its path has only {}.", resistor->name,
                              ohmsText(resistor->number("ohms", 220)))
                        : say("Nothing limits the current from {}.", source);
    for (std::size_t k = 0; k < members.pins.size(); ++k)
      if (exceeds(std::abs(r.pins[k].amps),
                  c.circuit.pins()[static_cast<std::size_t>(members.pins[k])].kind->pinMostAmps)) {
        f.reason.add(say(
            "Pin {} itself may give {} at most.",
            c.pinName(c.circuit.pins()[static_cast<std::size_t>(members.pins[k])]),
            asAmps(c.circuit.pins()[static_cast<std::size_t>(members.pins[k])].kind->pinMostAmps)));
        break;
      }
    f.figures = {{"amps", peak.value}, {"volts", volts}, {"rated_amps", kind->ratedAmps}};
    for (const Leg& leg : part.legs)
      if (leg.in) f.sockets.push_back(*leg.in);
    if (resistor || !takeCause(c, f, p, lamp))
      if (auto made = c.mayTry() ? limited(c.project, part.id, lamp, resistor, c.cancelled)
                                 : std::nullopt) {
        f.reason.add(say("{} makes it {}.", ohmsText(made->ohms), asAmps(made->amps)));
        f.figures.push_back({"remedy_ohms", made->ohms});
        f.figures.push_back({"remedy_amps", made->amps});
        f.remedies.push_back(std::move(made->remedy));
      }
    c.findings.push_back(std::move(f));
  }
}

}  // namespace

const Rule& ledOvercurrentRule() {
  static const Rule rule{
      "led-overcurrent",
      Severity::danger,
      "More current through an LED than it is made for.",
      "An LED takes as much as it can get; above 30 mA it burns out within seconds.",
      "Put a resistor in its path; the smallest value that leaves at most 15 mA is offered.",
      false,
      applyLedOvercurrent};
  return rule;
}

}  // namespace ignavo
