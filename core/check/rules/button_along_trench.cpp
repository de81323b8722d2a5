#include <algorithm>

#include "bench/arranging.h"
#include "bench/relocating.h"
#include "check/rules/list.h"

namespace ignavo {

namespace {

bool sharesARow(const Project& project, const Part& part, const PartKind& kind) {
  const auto& pairs = kind.print.joined;
  for (const int a : {pairs[0].first, pairs[0].second})
    for (const int b : {pairs[1].first, pairs[1].second}) {
      const Leg &one = part.legs[static_cast<std::size_t>(a)],
                &other = part.legs[static_cast<std::size_t>(b)];
      if (!one.in || !other.in) continue;
      const auto row = rowOf(project, *one.in);
      if (row && row == rowOf(project, *other.in)) return true;
    }
  return false;
}

void applyButtonAlongTrench(CheckContext& c) {
  for (int p = 0; p < c.partCount(); ++p) {
    const PartKind* kind = c.circuit.kindOf(p);
    if (!kind || !kind->pressable || kind->print.joined.size() < 2) continue;
    const Part& part = c.part(p);
    if (!sharesARow(c.project, part, *kind)) continue;
    Finding f;
    f.rule = "button-along-trench";
    f.severity = Severity::warning;
    f.parts = {part.id};
    c.showPart(f, p);
    f.title = say("{} does not stand across the trench", part.name);
    f.reason =
        say("Both its pairs of legs are in the same rows, so it is as if it were pressed all the "
            "time. Across the trench each pair has a row of its own.");
    f.figures = {{"ohms", 0}};
    const Arranged turned = turnedRound(c.project, catalogue(), part.id);
    if (turned.clear() && !sharesARow(turned.project, *turned.project.part(part.id), *kind))
      f.remedies.push_back({say("Lay it across the trench"), turned.project});
    c.findings.push_back(std::move(f));
  }
}

}  // namespace

const Rule& buttonAlongTrenchRule() {
  static const Rule rule = ofInputs(
      {"button-along-trench", Severity::warning,
       "Both pairs of a button’s legs are in the same five holes.",
       "The row joins what the button should join: it is pressed for ever.",
       "Lay the button across the trench, so that its left legs and right legs are in different "
       "halves.",
       false, applyButtonAlongTrench});
  return rule;
}

}  // namespace ignavo
