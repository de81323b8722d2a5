#include "check/rules/switching.h"

namespace ignavo {

namespace {

struct Under {
  const Step* test = nullptr;
  Runs branch = Runs::again;
};

void walk(const Steps& steps, const std::string& pin, const Under& under, Switching& out) {
  for (const Step& step : steps) {
    if (pinWritten(step) == pin) {
      out.written = true;
      const Expr* to = levelOf(step);
      const auto level = silencesPin(step) ? std::optional(false)
                         : to              ? namedLevel(*to)
                                           : std::nullopt;
      const bool high = level && *level, low = level && !*level;
      if (!low) out.mayGoHigh = true;
      if (!high) out.mayGoLow = true;
      if (low && !out.low) out.low = &step;
      const bool first = (high && !out.highUnderTest) || (low && !out.lowUnderTest);
      if (under.test && first) {
        (high ? out.highUnderTest : out.lowUnderTest) = &step;
        if (!out.test) out.test = under.test, out.branch = under.branch;
      }
    }
    for (const auto& [key, body] : step.bodies)
      walk(body, pin, forkTestOf(step) ? Under{&step, runsOf(step, key)} : under, out);
  }
}

}  // namespace

Switching switchingOf(const Program& program, const std::string& pin) {
  Switching out;
  for (const auto& lane : program.lanes) {
    walk(lane->steps, pin, {}, out);
    // What is kept at a signal goes either way, but where that is written out.
    const Expr* kept = keptOf(lane->trigger);
    if (!kept || lane->trigger.pin != pin) continue;
    const bool known = kept->shape == Expr::Shape::truth;
    out.written = true;
    out.mayGoHigh = out.mayGoHigh || !known || kept->truth;
    out.mayGoLow = out.mayGoLow || !known || !kept->truth;
  }
  return out;
}

}  // namespace ignavo
