#include "check/rules/list.h"
#include "project/edits.h"

namespace ignavo {

namespace {

void applyResistorHot(CheckContext& c) {
  for (int p = 0; p < c.partCount(); ++p) {
    const PartKind* kind = c.circuit.kindOf(p);
    if (!kind || !kind->ratedWatts || !kind->passes) continue;
    const Part& part = c.part(p);
    const Peak& peak = c.sweep.part(p).watts;
    const double rated = kind->ratedWatts(part);
    if (!peak.seen || !exceeds(peak.value, rated)) continue;
    if (c.explained(part.id, {"short-circuit", "pin-fight"})) continue;
    const PartReading r = c.reading(p, peak.state);
    Finding f;
    f.rule = "resistor-hot";
    f.severity = exceeds(peak.value, 2 * rated) ? Severity::danger : Severity::warning;
    f.parts = {part.id};
    c.showPart(f, p);
    f.pose = c.sweep.poseOf(c.circuit.islandOfPart(p), peak.state);
    f.title = say("{} turns {} into heat; it is made for {}", part.name, asWatts(peak.value),
                  asWatts(rated));
    f.reason = say("{} across {} let {} through.", asVolts(std::abs(r.volts.value_or(0))),
                   kind->shortText(part), asAmps(r.amps));
    f.reason.add(f.severity == Severity::danger ? say("Above twice its rating it smokes.")
                                                : say("It gets too hot to touch."));
    f.figures = {{"watts", peak.value}, {"rated_watts", rated}, {"amps", r.amps}};
    for (const double watts : {0.5, 1.0, 2.0, 5.0}) {
      if (watts < peak.value) continue;
      f.remedies.push_back(
          {say("Take one made for {}", asWatts(watts)),
           edits::changePart(c.project, part.id, [&](Part& q) { q.setProp("watts", watts); })});
      break;
    }
    c.findings.push_back(std::move(f));
  }
}

}  // namespace

const Rule& resistorHotRule() {
  static const Rule rule{
      "resistor-hot",
      Severity::danger,
      "A resistor turns more power into heat than it is made for.",
      "It browns, smells and changes its value; at twice its rating it smokes.",
      "More ohms, if the circuit allows it; else one that is made for more watts.",
      false,
      applyResistorHot,
      Seeks::value,
      10e3};
  return rule;
}

}  // namespace ignavo
