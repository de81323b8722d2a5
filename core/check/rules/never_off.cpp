#include "check/rules/list.h"
#include "program/switching.h"
#include "project/edits.h"

namespace ignavo {

namespace {

// A step in the branch where there is none yet that sets the pin low.
Remedy offElsewhere(const Project& project, const CircuitPin& pin, const Step& condition,
                    Runs branch) {
  const Steps* there = bodyOf(condition, branch);
  const edits::StepPlace place{edits::placeOf(project, condition.id).lane, condition.id,
                               bodyKey(condition, branch), there ? there->size() : 0};
  const bool otherwise = branch == Runs::ifNot;
  const bool fresh = otherwise && (!there || there->empty());
  return {fresh       ? say("Add “otherwise set {} low”", pin.name)
          : otherwise ? say("Add “set {} low” to the otherwise", pin.name)
                      : say("Add “set {} low” before the otherwise", pin.name),
          edits::assignIds(edits::insertSteps(project, place, {settingStep(pin.name, false)}))};
}

void applyNeverOff(CheckContext& c) {
  for (int p : c.sweep.outputs()) {
    const CircuitPin& pin = c.circuit.pins()[static_cast<std::size_t>(p)];
    const Program* program = c.program(pin.board);
    bool lamp = pin.kind->lampPin == pin.name;
    for (int part : c.circuit.island(pin.island).parts) lamp = lamp || c.isLamp(part);
    if (!program || !lamp) continue;
    const Switching s = switchingOf(*program, pin.name);
    if (!s.highUnderTest || s.mayGoLow || s.highAnyway) continue;
    const std::string name = c.pinName(pin);
    if (c.pinExplained(name, {"pin-direction"})) continue;
    Finding f;
    f.rule = "never-off";
    f.severity = Severity::note;
    f.pins = {name};
    f.steps = {s.highUnderTest->id};
    f.sockets = {{pin.board, pin.name}};
    f.title = say("Nothing ever sets {} low again", name);
    const bool inOtherwise = s.branch == Runs::ifNot;
    f.reason = inOtherwise
                   ? say("The “otherwise” of “{}” sets it high, and it stays so when that is over. "
                         "“set {} low” in the other branch switches it off.",
                         phraseOf(*s.test), pin.name)
                   : say("“{}” sets it high, and it stays so when that is over. An “otherwise” "
                         "with “set {} low” switches it off.",
                         phraseOf(*s.test), pin.name);
    f.figures = {{"steps", 1}};
    if (isFork(*s.test))
      f.remedies.push_back(
          offElsewhere(c.project, pin, *s.test, inOtherwise ? Runs::ifSo : Runs::ifNot));
    c.findings.push_back(std::move(f));
  }
}

}  // namespace

const Rule& neverOffRule() {
  static const Rule rule{
      "never-off",
      Severity::note,
      "A lamp is switched on under a condition, and no step can ever switch it off.",
      "After the first press it is lit for good.",
      "A step in the other branch that sets the pin low.",
      true,
      applyNeverOff};
  return rule;
}

}  // namespace ignavo
