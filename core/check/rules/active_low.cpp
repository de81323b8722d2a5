#include <algorithm>

#include "check/rules/inputs.h"
#include "check/rules/list.h"
#include "explain/holding.h"
#include "project/edits.h"

namespace ignavo {

namespace {

// Does this expression ask for "pin is low" and nothing else about the pin?
bool asksForLow(const Expr& e, const std::string& pin) {
  const Expr* asked = operandOf(e, 0);
  const std::string* read = asked ? pinRead(*asked) : nullptr;
  if (read && *read == pin) {
    if (negates(e)) return true;
    if (asksEqual(e)) {
      const Expr* with = operandOf(e, 1);
      return with && with->shape == Expr::Shape::truth && !with->truth;
    }
  }
  if (const std::string* own = pinRead(e); own && *own == pin) return false;
  return std::all_of(e.args.begin(), e.args.end(),
                     [&](const auto& arg) { return asksForLow(arg.second, pin); });
}

// The program knows it already: all its tests ask for low.
bool programKnows(const CheckContext& c, const PinUse& use) {
  // A lane that each press starts says so on its sign: pressing is what goes low.
  for (const std::string& id : use.starts)
    for (const auto& program : c.project.programs)
      for (const auto& lane : program->lanes)
        if (lane->id == id && triggerKind(lane->trigger.on)->edge == TriggerKind::Edge::rise)
          return false;
  return std::all_of(use.readers.begin(), use.readers.end(), [&](const std::string& id) {
    const Step* step = c.project.step(id);
    const Lane* lane = c.project.lane(id);
    if (!step && !lane) return false;
    const Fields& fields = step ? step->fields : lane->trigger.fields;
    return std::all_of(fields.begin(), fields.end(),
                       [&](const auto& field) { return asksForLow(field.second, use.pin); });
  });
}

// Asks for the opposite of what was asked of the pin: every level turned round.
Expr turnedRound(const Expr& e, const std::string& pin) {
  const auto reads = [&](const Expr* x) {
    const std::string* read = x ? pinRead(*x) : nullptr;
    return read && !measures(*x) && *read == pin;
  };
  Expr out = e;
  const Expr *asked = operandOf(e, 0), *with = operandOf(e, 1);
  if ((asksEqual(e) || asksUnequal(e)) && reads(asked) && with &&
      with->shape == Expr::Shape::truth) {
    for (auto& [key, arg] : out.args)
      if (key == secondOperand) arg.truth = !arg.truth;
    return out;
  }
  if (negates(e) && reads(asked)) return *asked;
  if (reads(&e)) return negationOf(e);
  for (auto& arg : out.args) arg.second = turnedRound(arg.second, pin);
  return out;
}

Remedy askForLow(const CheckContext& c, const PinUse& use) {
  Project after = c.project;
  for (const std::string& id : use.readers)
    after = edits::changeStep(std::move(after), id, [&](Step& s) {
      for (auto& [key, field] : s.fields) field = turnedRound(field, use.pin);
    });
  for (const std::string& id : use.readers)
    after = edits::changeLane(std::move(after), id, [&](Lane& lane) {
      for (auto& [key, field] : lane.trigger.fields) field = turnedRound(field, use.pin);
    });
  for (const std::string& id : use.starts)
    after = edits::changeLane(std::move(after), id, [](Lane& lane) {
      using Edge = TriggerKind::Edge;
      const bool rises = triggerKind(lane.trigger.on)->edge == Edge::rise;
      lane.trigger.on = triggerAt(rises ? Edge::fall : Edge::rise);
    });
  return {say("Ask for low instead"), std::move(after)};
}

std::optional<double> voltsAt(const CheckContext& c, int p, const CircuitState& state) {
  const CircuitPin& pin = c.circuit.pins()[static_cast<std::size_t>(p)];
  const auto& members = c.circuit.island(pin.island).pins;
  const auto place = std::find(members.begin(), members.end(), p) - members.begin();
  return c.circuit.solveIsland(pin.island, state).pins[static_cast<std::size_t>(place)].volts;
}

void applyActiveLow(CheckContext& c) {
  for (int p = 0; p < static_cast<int>(c.circuit.pins().size()); ++p) {
    const CircuitPin& pin = c.circuit.pins()[static_cast<std::size_t>(p)];
    const PinUse* use = c.use(pin);
    if (!use || !use->isRead() || !use->writers.empty() || programKnows(c, *use)) continue;
    if (c.sweep.pin(p).floating.seen || c.sweep.posesOf(pin.island).empty()) continue;
    for (int part : sourcesOn(c.circuit, pin.island)) {
      if (!c.circuit.kindOf(part)->pressable) continue;
      const CircuitState up = c.sweep.posesOf(pin.island).front().state;
      CircuitState held = up;
      held.pressed[static_cast<std::size_t>(part)] = 1;
      const double supply = pin.supplyVolts();
      const double before = voltsAt(c, p, up).value_or(0), then = voltsAt(c, p, held).value_or(0);
      if (before < pin.kind->highShare * supply || then > pin.kind->lowShare * supply) continue;
      const Part& button = c.part(part);
      const std::string name = c.pinName(pin);
      Finding f;
      f.rule = "active-low";
      f.severity = Severity::note;
      f.parts = {button.id};
      f.pins = {name};
      f.steps = use->reading();
      f.pose = c.sweep.poseOf(pin.island, held);
      c.showPart(f, part);
      f.title = say("{} reads low while {} is held", name, button.name);
      // A sentence may begin with a name, and not with "the pull-up".
      const Holding by = holdingOf(c.project, c.circuit, pin.net, up, name);
      f.reason = by.parts.empty()
                     ? say("Its pull-up holds {} high, and pressing joins it to GND.", name)
                     : say("{}, and pressing joins it to GND.", by.words);
      f.reason.add(
          use->starts.empty()
              ? say("So “if {} is low” means: {} is held.", name, button.name)
              : say("So “Each time {} goes low” means: {} is pressed.", name, button.name));
      f.figures = {{"volts_up", before}, {"volts_held", then}};
      if (Remedy asked = askForLow(c, *use); !(asked.after == c.project))
        f.remedies.push_back(std::move(asked));
      c.findings.push_back(std::move(f));
      break;
    }
  }
}

}  // namespace

const Rule& activeLowRule() {
  static const Rule rule{
      "active-low",
      Severity::note,
      "Pressed reads low here.",
      "With a pull-up everything is the other way round: high means that nobody presses.",
      "Ask for low in the program, or take a pull-down and join the button to 5 V.",
      true,
      applyActiveLow};
  return rule;
}

}  // namespace ignavo
