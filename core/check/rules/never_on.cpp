#include "check/rules/lamps.h"
#include "check/rules/list.h"
#include "explain/never.h"
#include "program/switching.h"
#include "project/edits.h"

namespace ignavo {

namespace {

// What a pin switches: the first part behind it that shows something, or the board's own lamp.
std::optional<std::string> shownOn(const CheckContext& c, const CircuitPin& pin) {
  for (int part : c.circuit.island(pin.island).parts) {
    const PartKind* kind = c.circuit.kindOf(part);
    if (kind && kind->shows != Shows::nothing) return c.part(part).name;
  }
  if (pin.kind->lampPin == pin.name) return "the board’s own lamp";
  return std::nullopt;
}

// “set D3 low” under a test that has no otherwise plainly lacks its partner: high where the test
// holds, low where it does not.
std::optional<Remedy> partner(const Project& project, const CircuitPin& pin, const Switching& s) {
  if (!s.lowUnderTest || s.branch != Runs::ifSo) return std::nullopt;
  const Steps* otherwise = bodyOf(*s.test, Runs::ifNot);
  if (!otherwise || !otherwise->empty()) return std::nullopt;
  const edits::StepPlace place{edits::placeOf(project, s.test->id).lane, s.test->id,
                               bodyKey(*s.test, Runs::ifNot), 0};
  return Remedy{
      say("Add “otherwise set {} high”", pin.name),
      edits::assignIds(edits::insertSteps(project, place, {settingStep(pin.name, true)}))};
}

void applyNeverOn(CheckContext& c) {
  for (int p : c.sweep.outputs()) {
    const CircuitPin& pin = c.circuit.pins()[static_cast<std::size_t>(p)];
    const Program* program = c.program(pin.board);
    const auto shown = shownOn(c, pin);
    if (!program || !shown) continue;
    const std::string name = c.pinName(pin);
    const auto never = neverSet(*program, pin.name, name, true);
    if (!never) continue;
    // A lamp that goes on when its pin is low needs no high; nor is anything amiss where another
    // pin of its own feeds it.
    bool works = false;
    for (int part : c.circuit.island(pin.island).parts) {
      const PartKind* kind = c.circuit.kindOf(part);
      if (!kind || kind->shows == Shows::nothing) continue;
      const PartSweep& sweep = c.sweep.part(part);
      works = works || std::max(sweep.amps.value, sweep.reverseAmps.value) > darkAmps;
      for (const Peak& lamp : sweep.lamps) works = works || lamp.value > darkAmps;
    }
    if (works || c.pinExplained(name, {"pin-fight", "pin-direction", "pin-unwired"})) continue;
    Finding f;
    f.rule = "never-on";
    f.severity = Severity::warning;
    f.pins = {name};
    f.steps = {never->step};
    f.sockets = {{pin.board, pin.name}};
    for (int part : c.circuit.island(pin.island).parts)
      if (c.isLamp(part) ||
          (c.circuit.kindOf(part) && c.circuit.kindOf(part)->shows != Shows::nothing))
        f.parts.push_back(c.part(part).id);
    f.title = never->title;
    f.reason = say("{}, so {} never comes on.", never->because, *shown);
    f.figures = {{"steps", 1}};
    if (auto made = partner(c.project, pin, switchingOf(*program, pin.name)))
      f.remedies.push_back(std::move(*made));
    c.findings.push_back(std::move(f));
  }
}

}  // namespace

const Rule& neverOnRule() {
  static const Rule rule{
      "never-on",
      Severity::warning,
      "The pin of a lamp, sounder or motor is written, but no step can ever set it high.",
      "The circuit is fine, and one searches it for a fault that is in the program.",
      "A step that sets the pin high, where it is to come on.",
      true,
      applyNeverOn};
  return rule;
}

}  // namespace ignavo
