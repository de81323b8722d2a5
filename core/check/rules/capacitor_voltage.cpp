#include <fmt/format.h>

#include "check/rules/list.h"

namespace ignavo {

namespace {

void apply(CheckContext& c) {
  for (int p = 0; p < c.partCount(); ++p) {
    const PartKind* kind = c.circuit.kindOf(p);
    const Part& part = c.part(p);
    if (!kind || !kind->stores || !kind->bears) continue;
    const Peak& peak = c.sweep.part(p).volts;
    const double most = kind->bears(part).most;
    if (!peak.seen || peak.value <= most * (1 + 1e-9)) continue;
    if (c.explained(part.id, {"capacitor-reversed"})) continue;
    Finding f;
    f.rule = "capacitor-voltage";
    f.severity = Severity::danger;
    f.parts = {part.id};
    c.showPart(f, p);
    f.pose = c.sweep.poseOf(c.circuit.islandOfPart(p), peak.state);
    f.title = fmt::format("{} gets {}; it is made for {}", part.name, voltsText(peak.value),
                          voltsText(most));
    f.reason = "Above that its inside breaks through. Take one that is made for more volts.";
    f.figures = {{"volts", peak.value}, {"most_volts", most}};
    c.findings.push_back(std::move(f));
  }
}

}  // namespace

const Rule& capacitorVoltageRule() {
  static const Rule rule{"capacitor-voltage",
                         Severity::danger,
                         "A capacitor gets more volts than it is made for.",
                         "Its insulation breaks through; then it is a short circuit.",
                         "Take one that is made for more volts than the supply has.",
                         false,
                         apply};
  return rule;
}

}  // namespace ignavo
