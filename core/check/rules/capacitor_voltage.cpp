#include <algorithm>
#include <iterator>

#include "check/rules/list.h"
#include "project/edits.h"

namespace ignavo {

namespace {

// What capacitors are sold for, in volts.
constexpr double soldFor[] = {6.3, 10, 16, 25, 50, 100, 250, 400};

void applyCapacitorVoltage(CheckContext& c) {
  for (int p = 0; p < c.partCount(); ++p) {
    const PartKind* kind = c.circuit.kindOf(p);
    const Part& part = c.part(p);
    if (!kind || !kind->stores || !kind->absoluteMaximum) continue;
    const Peak& peak = c.sweep.part(p).volts;
    const double most = kind->absoluteMaximum(part).max;
    if (!peak.seen || peak.value <= most * (1 + 1e-9)) continue;
    if (c.explained(part.id, {"capacitor-reversed"})) continue;
    Finding f;
    f.rule = "capacitor-voltage";
    f.severity = Severity::danger;
    f.parts = {part.id};
    c.showPart(f, p);
    f.pose = c.sweep.poseOf(c.circuit.islandOfPart(p), peak.state);
    f.title = say("{} gets {}; it is made for {}", part.name, asVolts(peak.value), asVolts(most));
    f.reason = say("Above that its inside breaks through. Take one that is made for more volts.");
    f.figures = {{"volts", peak.value}, {"most_volts", most}};
    const auto next = std::find_if(std::begin(soldFor), std::end(soldFor),
                                   [&](double volts) { return volts > peak.value; });
    if (next != std::end(soldFor))
      f.remedies.push_back(
          {say("Take one for {}", asVolts(*next)),
           edits::changePart(c.project, part.id, [&](Part& q) { q.setProp("volts", *next); })});
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
                         applyCapacitorVoltage};
  return rule;
}

}  // namespace ignavo
