#include "check/remedies.h"
#include "check/rules/list.h"

namespace ignavo {

namespace {

void applyCapacitorReversed(CheckContext& c) {
  for (int p = 0; p < c.partCount(); ++p) {
    const PartKind* kind = c.circuit.kindOf(p);
    const Part& part = c.part(p);
    if (!kind || !kind->stores || !kind->absoluteMaximum) continue;
    const double most = kind->absoluteMaximum(part).reverse;
    const Peak& peak = c.sweep.part(p).reverseVolts;
    if (most <= 0 || !peak.seen || peak.value <= most) continue;
    Finding f;
    f.rule = "capacitor-reversed";
    f.severity = Severity::danger;
    f.parts = {part.id};
    c.showPart(f, p);
    f.pose = c.sweep.poseOf(c.circuit.islandOfPart(p), peak.state);
    f.title = say("{} stands the other way round: −{}", part.name, asVolts(peak.value));
    f.reason =
        say("An electrolytic capacitor bears no voltage against its plus leg: it gets hot and can "
            "burst. Turned, it is fine.");
    f.figures = {{"volts", -peak.value}};
    if (auto r = remedies::turn(c.project, part.id)) f.remedies.push_back(std::move(*r));
    c.findings.push_back(std::move(f));
  }
}

}  // namespace

const Rule& capacitorReversedRule() {
  static const Rule rule{"capacitor-reversed",
                         Severity::danger,
                         "An electrolytic capacitor stands against its plus leg.",
                         "It gets hot inside, swells and can burst.",
                         "Turn it round: F does it in place.",
                         false,
                         applyCapacitorReversed};
  return rule;
}

}  // namespace ignavo
