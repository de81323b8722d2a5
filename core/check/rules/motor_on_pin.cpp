#include <algorithm>

#include "check/remedies.h"
#include "check/rules/list.h"
#include "explain/ohmic_path.h"
#include "parts/small_circuits.h"
#include "project/edits.h"

namespace ignavo {

namespace {

constexpr double directOhms = 100;  // a smaller resistor in between changes nothing

// The motor with transistor, gate resistor and diode on the same pin, under its old name.
std::optional<Remedy> withTransistor(const CheckContext& c, const Part& part,
                                     const CircuitPin& pin) {
  if (c.circuit.kindOf(c.partIndex(part.id))->moves != Moves::spin) return std::nullopt;
  std::vector<std::string> out{part.id};
  for (const auto& wire : *c.project.wires)
    for (const Socket& end : {wire->from, wire->to})
      if (end == Socket{pin.board, pin.name} || end.owner == part.id) out.push_back(wire->id);
  const Project without = edits::remove(c.project, out);
  Composed made = compose(without, *smallCircuit("motor"), pin.board, pin.name);
  if (!made.problem.empty()) return std::nullopt;
  for (const std::string& id : made.ids)
    if (const Part* motor = made.project.part(id); motor && motor->type == part.type)
      made.project = edits::changePart(std::move(made.project), id, [&](Part& q) {
        q.name = part.name;
        q.props = part.props;
      });
  return Remedy{say("Put a transistor and a diode in between"), std::move(made.project)};
}

// By wires, contacts and small resistors alone, and not over a supply: what hangs on 5 V is
// fed from there, whatever else a button joins to it.
bool fedBy(const CheckContext& c, int legNet, const CircuitPin& pin) {
  if (c.circuit.supplyVolts(legNet)) return false;
  const OhmicPath path = leastPath(c.circuit, legNet, pin.net, directOhms);
  return path.found() && std::none_of(path.edges.begin(), path.edges.end(), [&](int e) {
           const OhmicEdge& edge = c.circuit.edges()[static_cast<std::size_t>(e)];
           return c.circuit.supplyVolts(edge.netA) || c.circuit.supplyVolts(edge.netB);
         });
}

void applyMotorOnPin(CheckContext& c) {
  for (int p = 0; p < c.partCount(); ++p) {
    const PartKind* kind = c.circuit.kindOf(p);
    if (!kind) continue;
    const CircuitPin* pin = nullptr;
    for (const int leg : kind->powerLegs)
      for (int i = 0; i < static_cast<int>(c.circuit.pins().size()) && !pin; ++i) {
        const CircuitPin& tried = c.circuit.pins()[static_cast<std::size_t>(i)];
        if (c.circuit.supplyVolts(tried.net) || (c.programmed && !c.sweep.isOutput(i))) continue;
        if (fedBy(c, c.circuit.nets().ofLeg({p, leg}), tried)) pin = &tried;
      }
    if (!pin) continue;
    const Part& part = c.part(p);
    if (c.explained(part.id, {"part-bypassed"})) continue;
    Finding f;
    f.rule = "motor-on-pin";
    f.severity = Severity::danger;
    f.parts = {part.id};
    f.pins = {c.pinName(*pin)};
    f.sockets = {{pin->board, pin->name}};
    c.showPart(f, p);
    const PartSweep& s = c.sweep.part(p);
    const Peak& peak = s.amps.value > s.reverseAmps.value ? s.amps : s.reverseAmps;
    f.pose = peak.seen ? c.sweep.poseOf(c.circuit.islandOfPart(p), peak.state) : Pose{};
    f.title = say("{} takes more than pin {} can give", part.name, c.pinName(*pin));
    if (peak.value > 1e-3)
      f.reason = say("It draws {} here, and far more when it starts.", asAmps(peak.value));
    f.reason.add(say(
        "A pin is made for {} and is damaged above {}. A transistor lets the supply do the work.",
        asAmps(pin->kind->pinRatedAmps), asAmps(pin->kind->pinMostAmps)));
    f.figures = {{"amps", peak.value}, {"most_amps", pin->kind->pinMostAmps}};
    if (auto r = withTransistor(c, part, *pin)) f.remedies.push_back(std::move(*r));
    c.findings.push_back(std::move(f));
  }
}

}  // namespace

const Rule& motorOnPinRule() {
  static const Rule rule = takingPower(
      {"motor-on-pin", Severity::danger,
       "A motor, or the supply of a servo, hangs directly on a pin.",
       "A motor takes ten times what a pin can give, and more while it starts.",
       "Let the pin switch a transistor, and the transistor the motor; a servo’s red lead goes to "
       "5 V.",
       false, applyMotorOnPin, Seeks::itsRow});
  return rule;
}

}  // namespace ignavo
