#include <algorithm>

#include "bench/relocating.h"
#include "check/remedies.h"
#include "check/rules/inputs.h"
#include "check/rules/list.h"
#include "explain/holding.h"

namespace ignavo {

namespace {

constexpr double pullOhms = 10e3;
constexpr double leastChangeVolts = 0.05;  // ten stages of an analog pin

// A track with a tap: it divides by itself, if both its ends are joined.
bool opensAtAnEnd(const PartKind& kind) {
  const auto& legs = kind.print.legs;
  return std::any_of(legs.begin(), legs.end(), [](const LegShape& l) { return l.mayStayOpen; });
}

bool measuresOnly(const PinUse& use) {
  return use.starts.empty() && use.measurers.size() == use.readers.size();
}

// What only measures the pin sees every change of its voltage.
bool changes(const InputLevels& levels, const PinUse& use) {
  return levels.changes() || (measuresOnly(use) && levels.max - levels.min > leastChangeVolts);
}

bool changesIn(const Project& project, const CircuitPin& pin, const PinUse& use) {
  Circuit circuit(project);
  const Sweep sweep(project, circuit);
  const InputLevels levels = levelsOf(circuit, sweep, circuit.pinIndex(pin.board, pin.name));
  return !levels.floats && changes(levels, use);
}

void addWaysToChange(const CheckContext& c, Finding& f, const CircuitPin& pin) {
  const Program* program = c.program(pin.board);
  const bool pulled = program && program->pulledUp(pin.name);
  std::vector<std::optional<Remedy>> tries;
  if (!pulled) tries.push_back(remedies::pullUp(c.project, pin.board, pin.name));
  if (pulled) {
    tries.push_back(remedies::noPull(c.project, pin.board, pin.name));
    if (auto down = remedies::resistorToGround(tries.back()->after, pin.board, pin.name, pullOhms))
      tries.push_back(Remedy{say("Pull-up off, 10 kΩ to GND"), std::move(down->after)});
  }
  tries.push_back(remedies::resistorToGround(c.project, pin.board, pin.name, pullOhms));
  tries.push_back(remedies::resistorToSupply(c.project, pin.board, pin.name, pullOhms));
  for (auto& remedy : tries)
    if (remedy && f.remedies.size() < 2 && readsBothLevels(remedy->after, pin))
      f.remedies.push_back(std::move(*remedy));
}

// A button or sensor whose row the pin shares with a supply: it is fed already, pressed or not.
struct FedRow {
  int part = -1;
  std::string wire;  // from the pin into that row
  bool wireFrom = false;
  Socket other;         // the leg whose level changes: of a button's other pair, a knob's tap
  std::string meaning;  // of that leg
};

FedRow fedRowOf(const CheckContext& c, const CircuitPin& pin) {
  if (!c.circuit.supplyVolts(pin.net)) return {};
  const Socket socket{pin.board, pin.name};
  for (const auto& wire : *c.project.wires) {
    if (wire->from != socket && wire->to != socket) continue;
    const auto strip = stripOf(c.project, wire->from == socket ? wire->to : wire->from);
    if (!strip) continue;
    for (int p = 0; p < c.partCount(); ++p) {
      const PartKind* kind = c.circuit.kindOf(p);
      if (!kind || (!kind->pressable && !kind->senses)) continue;
      const Part& part = c.part(p);
      FedRow found{p, wire->id, wire->to == socket, {}, {}};
      bool here = false;
      for (int l = 0; l < static_cast<int>(part.legs.size()); ++l) {
        const Leg& leg = part.legs[static_cast<std::size_t>(l)];
        if (!leg.in) continue;
        here = here || stripOf(c.project, *leg.in) == strip;
        const LegShape& shape = kind->print.legs[static_cast<std::size_t>(l)];
        if (c.circuit.nets().ofLeg({p, l}) != pin.net && (kind->pressable || !shape.mayStayOpen))
          found.other = *leg.in, found.meaning = shape.meaning;
      }
      if (here && !found.other.owner.empty()) return found;
    }
  }
  return {};
}

// The pin's wire goes to the other side.
void aboutFedRow(const CheckContext& c, Finding& f, const CircuitPin& pin, const PinUse& use,
                 const FedRow& row) {
  const std::string number = row.other.point.substr(row.other.point.find_first_of("0123456789"));
  f.reason = say("Its wire ends in a row that {} feeds already.", c.net(pin.net).name);
  f.reason.add(
      c.circuit.kindOf(row.part)->pressable
          ? say("Pressing {} joins that row to row {}: over there the wire would notice it.",
                c.part(row.part).name, number)
          : say("{} changes the level of row {}: there is its {}.", c.part(row.part).name, number,
                row.meaning));
  const auto strip = stripOf(c.project, row.other);
  if (!strip) return;
  int index = 0;
  while (c.project.breadboards[static_cast<std::size_t>(index)].id != strip->breadboard) ++index;
  if (auto made = remedies::rewired(c.project, row.wire, row.wireFrom, {index, strip->strip}))
    if (changesIn(*made, pin, use))
      f.remedies.push_back({say("Move the wire to the other side"), std::move(*made)});
}

// The tap of a knob, when the pin hangs on an end of its track instead.
const LegShape* tapMissed(const CheckContext& c, const CircuitPin& pin, int part) {
  const LegShape* tap = nullptr;
  bool onEnd = false;
  const auto& legs = c.circuit.kindOf(part)->print.legs;
  for (int l = 0; l < static_cast<int>(legs.size()); ++l) {
    const LegShape& leg = legs[static_cast<std::size_t>(l)];
    if (!leg.mayStayOpen) tap = &leg;
    onEnd = onEnd || (leg.mayStayOpen && c.circuit.nets().ofLeg({part, l}) == pin.net);
  }
  return onEnd ? tap : nullptr;
}

void applyInputStuck(CheckContext& c) {
  for (int p = 0; p < static_cast<int>(c.circuit.pins().size()); ++p) {
    const CircuitPin& pin = c.circuit.pins()[static_cast<std::size_t>(p)];
    const PinUse* use = c.use(pin);
    if (!use || !use->isRead() || !use->writers.empty()) continue;
    std::vector<int> sources = sourcesOn(c.circuit, pin.island);
    const FedRow fed = fedRowOf(c, pin);
    if (fed.part >= 0) sources = {fed.part};
    if (fed.part >= 0 && c.explained(c.part(fed.part).id, {"short-circuit"})) continue;
    if (sources.empty() || pressedWithoutEffect(c, sources)) continue;
    const InputLevels levels = levelsOf(c.circuit, c.sweep, p);
    if (levels.floats || changes(levels, *use) || !levels.seen()) continue;
    const std::vector<InputLevels> driven = levelsWhileDriven(c.circuit, c.sweep, p);
    if (std::any_of(driven.begin(), driven.end(),
                    [&](const InputLevels& l) { return changes(l, *use); }))
      continue;
    const std::string name = c.pinName(pin);
    if (c.pinExplained(name, {"pin-unwired", "short-circuit", "pin-fight"})) continue;
    if (c.explained(c.part(sources.front()).id, {"part-overload"})) continue;
    const Part& part = c.part(sources.front());
    const LegShape* tap = tapMissed(c, pin, sources.front());
    const bool button = c.circuit.kindOf(sources.front())->sweepable();
    const bool divides = !button && opensAtAnEnd(*c.circuit.kindOf(sources.front()));
    Finding f;
    f.rule = "input-stuck";
    f.severity = Severity::warning;
    f.pins = {name};
    for (int s : sources) f.parts.push_back(c.part(s).id);
    f.steps = use->reading();
    f.sockets = {{pin.board, pin.name}};
    f.title = say(levels.high && button ? "{} always reads high, whatever {} does"
                  : levels.high         ? "{} always reads high, whatever {} measures"
                  : button              ? "{} always reads low, whatever {} does"
                                        : "{} always reads low, whatever {} measures",
                  name, part.name);
    const std::string least = voltsText(levels.min), most = voltsText(levels.max);
    const Holding held =
        holdingOf(c.project, c.circuit, pin.net, c.sweep.posesOf(pin.island).front().state, name);
    f.reason = least != most ? say("Its voltage stays between {} and {}.", least, most)
               : held.to == Holding::To::nothing
                   ? say("Its voltage stays at {}.", least)
                   : say("Its voltage stays at {}: {}.", least, held.words);
    const Program* program = c.program(pin.board);
    if (fed.part >= 0)
      aboutFedRow(c, f, pin, *use, fed);
    else if (tap)
      f.reason = say(
          "It hangs on an end of {}. Supply and ground on its two ends and the pin on its {}, and "
          "turning it shows.",
          part.name, tap->meaning);
    else if (button && levels.high && program && program->pulledUp(pin.name))
      f.reason.add(say("The pull-up holds it up already, and the button brings 5 V too."));
    else if (button)
      f.reason.add(say("Nothing brings it to the other level while {} is up.", part.name));
    else if (divides)
      f.reason.add(say("Turning it shows once one of its ends has 5 V and the other ground."));
    else
      f.reason.add(say("A sensor needs a second resistor, to the other side of the supply."));
    f.figures = {{"least_volts", levels.min}, {"most_volts", levels.max}};
    if (fed.part < 0 && !tap && !divides) addWaysToChange(c, f, pin);
    c.findings.push_back(std::move(f));
  }
}

}  // namespace

const Rule& inputStuckRule() {
  static const Rule rule = ofInputs(
      {"input-stuck", Severity::warning,
       "A pin that is read cannot change, although a button or sensor hangs on it.",
       "The program looks at it again and again and always sees the same.",
       "Give the pin both levels: the button to one side of the supply, a resistor to the other.",
       true, applyInputStuck, Seeks::looseEnds, 10e3});
  return rule;
}

}  // namespace ignavo
