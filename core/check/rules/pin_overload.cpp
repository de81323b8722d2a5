#include <fmt/format.h>

#include "check/rules/list.h"

namespace ignavo {

namespace {

// Some net of the island has a part in it that is gone past.
bool leadsPastAPart(const CheckContext& c, int island) {
  for (int part : c.circuit.island(island).parts)
    for (int leg = 0; leg < static_cast<int>(c.part(part).legs.size()); ++leg)
      for (const LegRef& other : c.net(c.circuit.nets().ofLeg({part, leg})).legs)
        if (c.explained(c.part(other.part).id, {"part-bypassed"})) return true;
  return false;
}

void apply(CheckContext& c) {
  for (int p : c.sweep.outputs()) {
    const CircuitPin& pin = c.circuit.pins()[static_cast<std::size_t>(p)];
    const Peak& peak = c.sweep.pin(p).amps;
    const BoardKind& kind = *pin.kind;
    if (!peak.seen || peak.value <= kind.pinRatedAmps * (1 + 1e-9)) continue;
    const std::string name = c.pinName(pin);
    if (c.pinExplained(name, {"led-overcurrent", "pin-fight", "motor-on-pin", "over-voltage"}))
      continue;
    // A part that is gone past explains a little too much current.
    if (peak.value <= kind.pinMostAmps && leadsPastAPart(c, pin.island)) continue;
    Finding f;
    f.rule = "pin-overload";
    f.severity = peak.value > kind.pinMostAmps ? Severity::danger : Severity::warning;
    f.pins = {name};
    f.pose = c.sweep.poseOf(pin.island, peak.state);
    f.title = fmt::format("Pin {} carries {}; {} is meant for always", name, milliamps(peak.value),
                          milliamps(kind.pinRatedAmps));
    f.reason = fmt::format(
        "Above {} the pin is damaged. Give each lamp a pin of its own, or larger resistors.",
        milliamps(kind.pinMostAmps));
    f.figures = {
        {"amps", peak.value}, {"rated_amps", kind.pinRatedAmps}, {"most_amps", kind.pinMostAmps}};
    f.sockets = {{pin.board, pin.name}};
    c.findings.push_back(std::move(f));
  }
}

}  // namespace

const Rule& pinOverloadRule() {
  static const Rule rule{
      "pin-overload",
      Severity::danger,
      "A pin carries more current than it is made for.",
      "The chip’s small switches are made for 20 mA; above 40 mA they burn and the pin is dead.",
      "Larger resistors, or a pin of its own for each lamp.",
      false,
      apply};
  return rule;
}

}  // namespace ignavo
