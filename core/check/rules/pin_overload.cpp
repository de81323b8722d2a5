#include <algorithm>
#include <cmath>

#include "check/rules/list.h"
#include "check/trial.h"
#include "project/edits.h"

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

// The resistors that share its current, so large that the pin bears them.
std::optional<Remedy> largerResistors(const CheckContext& c, const CircuitPin& pin,
                                      const Peak& peak) {
  constexpr double share = 0.1;  // of the pin's current, to count
  const auto& parts = c.circuit.island(pin.island).parts;
  const IslandReading& r = c.circuit.solveIsland(pin.island, peak.state);
  std::vector<const Part*> resistors;
  for (std::size_t k = 0; k < parts.size(); ++k)
    if (c.circuit.kindOf(parts[k])->passes && std::abs(r.parts[k].amps) > share * peak.value)
      resistors.push_back(&c.part(parts[k]));
  if (resistors.empty()) return std::nullopt;
  double ohms = 0;
  for (const Part* part : resistors) ohms = std::max(ohms, part->number("ohms", 220));
  for (const double next : ownedOhms()) {
    if (next <= ohms) continue;
    Project after = c.project;
    std::vector<std::string> names;
    for (const Part* part : resistors) {
      names.push_back(part->name);
      after =
          edits::changePart(std::move(after), part->id, [&](Part& q) { q.setProp("ohms", next); });
    }
    if (exceeds(mostPinAmps(after, pin.board, pin.name), pin.kind->pinRatedAmps)) continue;
    return Remedy{say("Make {} {}", names, ohmsText(next)), std::move(after)};
  }
  return std::nullopt;
}

PinReading readingOf(const CheckContext& c, const CircuitPin& pin, int p, const Peak& peak) {
  const auto& members = c.circuit.island(pin.island).pins;
  const auto at = std::find(members.begin(), members.end(), p) - members.begin();
  return c.circuit.solveIsland(pin.island, peak.state).pins[static_cast<std::size_t>(at)];
}

// Beyond ground or supply a pin conducts, whatever it is told to do.
bool belowGround(const CheckContext& c, const CircuitPin& pin, int p, const Peak& peak) {
  return readingOf(c, pin, p, peak).volts.value_or(0) < 0;
}
bool throughProtection(const CheckContext& c, const CircuitPin& pin, int p, const Peak& peak) {
  constexpr double beyondVolts = 0.3;
  const PinReading r = readingOf(c, pin, p, peak);
  const double volts = r.volts.value_or(0);
  return volts < -beyondVolts || volts > r.supplyVolts + beyondVolts;
}

void applyPinOverload(CheckContext& c) {
  for (int p = 0; p < static_cast<int>(c.circuit.pins().size()); ++p) {
    if (c.cancelled()) return;
    const CircuitPin& pin = c.circuit.pins()[static_cast<std::size_t>(p)];
    const Peak& peak = c.sweep.pin(p).amps;
    const BoardKind& kind = *pin.kind;
    if (!c.wired(pin) || !peak.seen || !exceeds(peak.value, kind.pinRatedAmps)) continue;
    const std::string name = c.pinName(pin);
    if (c.pinExplained(name, {"led-overcurrent", "pin-fight", "motor-on-pin", "over-voltage"}))
      continue;
    // A part that is gone past explains a little too much current.
    if (!exceeds(peak.value, kind.pinMostAmps) && leadsPastAPart(c, pin.island)) continue;
    Finding f;
    f.rule = "pin-overload";
    f.severity = exceeds(peak.value, kind.pinMostAmps) ? Severity::danger : Severity::warning;
    f.pins = {name};
    f.pose = c.sweep.poseOf(pin.island, peak.state);
    const auto number = [](double amps) { return asNumber(amps * 1000); };
    f.title = f.severity == Severity::danger
                  ? say("Pin {} carries {}; above {} it is damaged", name, asAmps(peak.value),
                        number(kind.pinMostAmps))
                  : say("Pin {} carries {}; it is made for {}", name, asAmps(peak.value),
                        number(kind.pinRatedAmps));
    f.reason = f.severity == Severity::danger
                   ? say("For long it is made for {}.", asAmps(kind.pinRatedAmps))
                   : say("Above {} it is damaged.", asAmps(kind.pinMostAmps));
    if (!throughProtection(c, pin, p, peak))
      f.reason.add(say("Larger resistors help, or a pin of its own for each lamp."));
    else if (belowGround(c, pin, p, peak))
      f.reason.add(
          say("Something pulls it below 0 V, and all of that flows through the small diodes that "
              "protect it. Look which way round its battery is."));
    else
      f.reason.add(say(
          "Something lifts it above the board’s supply, and all of that flows through the small "
          "diodes that protect it. Look which way round its battery is."));
    f.figures = {
        {"amps", peak.value}, {"rated_amps", kind.pinRatedAmps}, {"most_amps", kind.pinMostAmps}};
    f.sockets = {{pin.board, pin.name}};
    if (auto made = largerResistors(c, pin, peak)) f.remedies.push_back(std::move(*made));
    c.findings.push_back(std::move(f));
  }
}

}  // namespace

const Rule& pinOverloadRule() {
  static const Rule rule = darkening(
      {"pin-overload", Severity::danger, "A pin carries more current than it is made for.",
       "The chip’s small switches are made for 20 mA; above 40 mA they burn and the pin is dead.",
       "Larger resistors, or a pin of its own for each lamp.", false, applyPinOverload});
  return rule;
}

}  // namespace ignavo
