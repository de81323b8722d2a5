#include "check/rules/switching.h"

namespace ignavo {

namespace {

struct Under {
  const Step* test = nullptr;
  std::string branch;
};

void walk(const Steps& steps, const std::string& pin, const Under& under, Switching& out) {
  for (const Step& step : steps) {
    const StepKind* kind = stepKind(step.kind);
    const Expr *target = step.field("pin"), *to = step.field("to");
    if (kind && target && target->text == pin) {
      out.written = true;
      const bool plain = to && to->shape == Expr::Shape::text;
      const bool high = plain && to->text == "high", low = plain && to->text == "low";
      if (!low) out.mayGoHigh = true;
      if (!high) out.mayGoLow = true;
      if (low && !out.low) out.low = &step;
      const bool first = (high && !out.highUnderTest) || (low && !out.lowUnderTest);
      if (under.test && first) {
        (high ? out.highUnderTest : out.lowUnderTest) = &step;
        if (!out.test) out.test = under.test, out.branch = under.branch;
      }
    }
    const bool tests = kind && kind->slot("test");
    for (const auto& [key, body] : step.bodies)
      walk(body, pin, tests ? Under{&step, key} : under, out);
  }
}

}  // namespace

Switching switchingOf(const Program& program, const std::string& pin) {
  Switching out;
  for (const auto& lane : program.lanes) walk(lane->steps, pin, {}, out);
  return out;
}

}  // namespace ignavo
