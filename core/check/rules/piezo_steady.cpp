#include <algorithm>

#include "bench/placing.h"
#include "check/rules/list.h"
#include "program/pace.h"
#include "project/edits.h"

namespace ignavo {

namespace {

constexpr double slowestHertz = 20;  // the lowest that is heard as a tone

// The output that moves a passive sounder: one of its island that any step sets.
const CircuitPin* driver(const CheckContext& c, int part) {
  for (int p : c.circuit.island(c.circuit.islandOfPart(part)).pins)
    if (c.sweep.isOutput(p)) return &c.circuit.pins()[static_cast<std::size_t>(p)];
  return nullptr;
}

// In its holes, its plus leg away from ground.
Project withBuzzer(const CheckContext& c, int index) {
  const Part& piezo = c.part(index);
  Part buzzer = piezo;
  const Part fresh = newPart(c.project, *catalogue().partKind("buzzer"));
  buzzer.type = fresh.type;
  buzzer.props = fresh.props;
  if (piezo.name.starts_with(c.circuit.kindOf(index)->label)) buzzer.name = fresh.name;
  if (c.circuit.isGroundNet(c.circuit.nets().ofLeg({index, 0})))
    std::swap(buzzer.legs[0].in, buzzer.legs[1].in);
  return edits::changePart(c.project, piezo.id, [&](Part& p) { p = buzzer; });
}

void applyPiezoSteady(CheckContext& c) {
  for (int p = 0; p < c.partCount(); ++p) {
    const PartKind* kind = c.circuit.kindOf(p);
    if (!kind || kind->moves != Moves::tone) continue;
    const Part& part = c.part(p);
    const CircuitPin* pin = driver(c, p);
    if (!pin || c.explained(part.id, {"leg-loose", "part-bypassed", "rail-unfed"})) continue;
    const Program* program = c.program(pin->board);
    if (!program) continue;
    const double period = shortestPeriodSeconds(compile(*program), pin->name);
    if (period <= 1 / slowestHertz) continue;
    const std::string name = c.pinName(*pin);
    Finding f;
    f.rule = "piezo-steady";
    f.severity = Severity::warning;
    f.parts = {part.id};
    f.pins = {name};
    c.showPart(f, p);
    if (const PinUse* use = c.use(*pin)) f.steps = use->writers;
    f.title = say("{} only clicks: {} changes too slowly for a tone", part.name, name);
    f.reason = say(
        "A piezo moves when its voltage changes; at a steady level it is silent. On and off every "
        "half millisecond gives 1000 Hz. A buzzer would sound by itself.");
    f.figures = {{"hertz", std::isfinite(period) ? 1 / period : 0}};
    f.remedies.push_back({say("Take a buzzer instead"), withBuzzer(c, p)});
    c.findings.push_back(std::move(f));
  }
}

}  // namespace

const Rule& piezoSteadyRule() {
  static const Rule rule{
      "piezo-steady",
      Severity::warning,
      "A passive sounder hangs on a pin that never changes faster than 20 times a second.",
      "It clicks once when the pin goes high, and that is all that is heard.",
      "Switch the pin on and off quickly, or take a buzzer, which sounds by itself.",
      true,
      applyPiezoSteady};
  return rule;
}

}  // namespace ignavo
