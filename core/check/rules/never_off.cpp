#include <fmt/format.h>

#include "check/rules/list.h"
#include "project/edits.h"

namespace ignavo {

namespace {

struct Switching {
  const Step* onUnderCondition = nullptr;
  const Step* condition = nullptr;
  bool off = false;  // some step can switch it off
};

void walk(const Steps& steps, const std::string& pin, const Step* condition, Switching& out) {
  for (const Step& step : steps) {
    const Expr *target = step.field("pin"), *to = step.field("to");
    if (target && target->text == pin) {
      const bool high = to && to->shape == Expr::Shape::text && to->text == "high";
      if (!high) out.off = true;
      if (high && condition && !out.onUnderCondition)
        out.onUnderCondition = &step, out.condition = condition;
    }
    for (const auto& [key, body] : step.bodies)
      walk(body, pin, step.field("test") ? &step : condition, out);
  }
}

// A step in the “otherwise” that sets the pin low.
Remedy offOtherwise(const Project& project, const CircuitPin& pin, const Step& condition) {
  Step low = newStep(*stepKind("set"));
  low.setField("pin", Expr::of(pin.name));
  low.setField("to", Expr::of(std::string("low")));
  const Steps* otherwise = condition.body("else");
  const edits::StepPlace place{edits::placeOf(project, condition.id).lane, condition.id, "else",
                               otherwise ? otherwise->size() : 0};
  return {fmt::format("Add “otherwise set {} low”", pin.name),
          edits::assignIds(edits::insertSteps(project, place, {low}))};
}

void apply(CheckContext& c) {
  for (int p : c.sweep.outputs()) {
    const CircuitPin& pin = c.circuit.pins()[static_cast<std::size_t>(p)];
    const Program* program = c.project.program(pin.board);
    bool lamp = pin.kind->lampPin == pin.name;
    for (int part : c.circuit.island(pin.island).parts) lamp = lamp || c.isLamp(part);
    if (!program || !lamp) continue;
    Switching s;
    for (const auto& lane : program->lanes) walk(lane->steps, pin.name, nullptr, s);
    if (!s.onUnderCondition || s.off) continue;
    const std::string name = c.pinName(pin);
    Finding f;
    f.rule = "never-off";
    f.severity = Severity::note;
    f.pins = {name};
    f.steps = {s.onUnderCondition->id};
    f.sockets = {{pin.board, pin.name}};
    f.title = fmt::format("Nothing ever sets {} low again", name);
    f.reason = fmt::format(
        "“{}” sets it high, and it stays so when that is over. An “otherwise” with “set {} low” "
        "switches it off.",
        phraseOf(*s.condition), pin.name);
    f.figures = {{"steps", 1}};
    if (s.condition->kind == "if") f.remedies.push_back(offOtherwise(c.project, pin, *s.condition));
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
      "An “otherwise” that sets the pin low.",
      true,
      apply};
  return rule;
}

}  // namespace ignavo
