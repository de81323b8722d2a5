#include <fmt/format.h>

#include <algorithm>

#include "check/rules/list.h"

namespace ignavo {

namespace {

std::string placeName(const CheckContext& c, int net) {
  const Net& n = c.net(net);
  if (n.strips.size() == 1 && n.pins.empty()) return n.name;
  return "the net of " + n.name;
}

// What lies across a short circuit is bypassed by it, and by nothing of its own.
bool acrossAShort(const CheckContext& c, int net) {
  return c.circuit.supplyVolts(net) &&
         std::any_of(c.findings.begin(), c.findings.end(),
                     [](const Finding& f) { return f.rule == "short-circuit"; });
}

void apply(CheckContext& c) {
  for (int p = 0; p < c.partCount(); ++p) {
    const PartKind* kind = c.circuit.kindOf(p);
    const Part& part = c.part(p);
    if (!kind) continue;
    const auto [a, b] = kind->readLegs;
    const int netA = c.circuit.nets().ofLeg({p, a}), netB = c.circuit.nets().ofLeg({p, b});
    if (netA != netB || netA < 0 || acrossAShort(c, netA) ||
        c.explained(part.id, {"short-circuit", "button-along-trench"}))
      continue;
    Finding f;
    f.rule = "part-bypassed";
    f.severity = Severity::warning;
    f.title = fmt::format("Both sides of {} are in {}", part.name, placeName(c, netA));
    f.reason =
        "They are joined already, so the current goes past the part and it does nothing. "
        "Put one leg into another row.";
    f.parts = {part.id};
    for (const Leg& leg : part.legs)
      if (leg.in) f.sockets.push_back(*leg.in);
    f.figures = {{"volts", 0}};
    c.findings.push_back(std::move(f));
  }
}

}  // namespace

const Rule& partBypassedRule() {
  static const Rule rule{
      "part-bypassed",
      Severity::warning,
      "Both legs of a part are in one net, so nothing flows through it.",
      "Current takes the way of least resistance: past the part, through the metal of the row.",
      "Put one of its legs into another row.",
      false,
      apply};
  return rule;
}

}  // namespace ignavo
