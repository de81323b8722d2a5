#include <fmt/format.h>

#include <algorithm>

#include "bench/placing.h"
#include "check/remedies.h"
#include "check/rules/lamps.h"
#include "check/rules/list.h"
#include "check/trial.h"
#include "project/edits.h"

namespace ignavo {

namespace {

constexpr double darkAmps = 1e-6;  // below this in all poses a lamp stays dark

Project turned(Project project, const std::vector<std::string>& ids) {
  for (const std::string& id : ids)
    project =
        edits::changePart(std::move(project), id, [](Part& p) { p = flipped(p, catalogue()); });
  return project;
}

void apply(CheckContext& c) {
  for (int p = 0; p < c.partCount(); ++p) {
    const PartKind* kind = c.circuit.kindOf(p);
    const Part& part = c.part(p);
    if (!kind || !kind->print.polarised || kind->shows != Shows::light) continue;
    if (kind->lamps.size() != 1) continue;
    if (c.cancelled && c.cancelled()) return;
    if (c.sweep.part(p).amps.value >= darkAmps) continue;
    if (c.explained(part.id, {"leg-loose", "part-bypassed", "led-reversed", "rail-unfed"}))
      continue;
    // Turned alone, or else together with the dark ones in its own chain.
    std::vector<std::string> chain{part.id};
    double would = bestAmps(turned(c.project, chain), part.id);
    if (would < darkAmps) {
      for (int other : c.circuit.island(c.circuit.islandOfPart(p)).parts) {
        const PartKind* k = c.circuit.kindOf(other);
        if (other != p && k && k->print.polarised && k->shows == Shows::light &&
            k->lamps.size() == 1 && c.sweep.part(other).amps.value < darkAmps)
          chain.push_back(c.part(other).id);
      }
      if (chain.size() > 1) would = bestAmps(turned(c.project, chain), part.id);
    }
    if (would < darkAmps) continue;

    Finding f;
    f.rule = "led-reversed";
    f.severity = Severity::warning;
    f.parts = chain;
    const int island = c.circuit.islandOfPart(p);
    const Peak& peak = c.sweep.part(p).volts;
    f.pose = c.sweep.poseOf(island, peak.state);
    std::string source;
    for (int pin : c.circuit.island(island).pins)
      if (const CircuitPin& held = c.circuit.pins()[static_cast<std::size_t>(pin)];
          f.pose.contains(c.pinName(held)) && source.empty()) {
        source = c.pinName(held);
        f.pins.push_back(source);
      }
    if (source.empty()) source = "5 V";
    f.title = fmt::format("{} faces against the current", part.name);
    f.reason = fmt::format(
        "{} reaches its short leg, so no current can flow and it stays dark whatever the program "
        "does. Turned, it gets {}.",
        source, milliamps(would));
    const bool burns = kind->burnsAmps > 0 && exceeds(would, kind->burnsAmps);
    if (burns) {
      f.reason.pop_back();
      f.reason += " and burns out: it needs a resistor as well.";
    }
    f.figures = {{"amps", c.sweep.part(p).amps.value},
                 {"amps_turned", would},
                 {"reverse_volts", peak.value}};
    for (const Leg& leg : part.legs)
      if (leg.in) f.sockets.push_back(*leg.in);
    if (burns && chain.size() == 1) {
      if (auto made = limited(turned(c.project, chain), part.id, 0, nullptr, c.cancelled))
        f.remedies.push_back(
            {fmt::format("Turn it round, with {} in its path", ohmsText(made->ohms)),
             std::move(made->remedy.after)});
    } else if (chain.size() == 1) {
      if (auto r = remedies::turn(c.project, part.id)) f.remedies.push_back(std::move(*r));
    } else {
      f.remedies.push_back({"Turn them round", turned(c.project, chain)});
    }
    c.findings.push_back(std::move(f));
  }
}

}  // namespace

const Rule& ledReversedRule() {
  static const Rule rule{
      "led-reversed",
      Severity::warning,
      "A lamp stays dark in all combinations and would light if it were turned.",
      "A lamp lets current through in one direction only: from its long leg to its short one.",
      "Turn it round: F does it in place.",
      false,
      apply};
  return rule;
}

}  // namespace ignavo
