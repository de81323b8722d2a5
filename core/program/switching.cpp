#include "program/switching.h"

namespace ignavo {

namespace {

struct Under {
  const Step* test = nullptr;
  Runs branch = Runs::again;
};

void walk(const Steps& steps, const std::string& pin, const Under& under, bool atPower,
          Switching& out) {
  for (const Step& step : steps) {
    if (pinWritten(step) == pin) {
      out.written = true;
      const LevelsGiven gives = levelsGiven(step);
      out.mayGoHigh = out.mayGoHigh || gives.high;
      out.mayGoLow = out.mayGoLow || gives.low;
      const bool high = gives.high && !gives.low, low = gives.low && !gives.high;
      if (low && !out.low) out.low = &step;
      out.highAnyway = out.highAnyway || (high && atPower && !under.test);
      const bool first = (high && !out.highUnderTest) || (low && !out.lowUnderTest);
      if (under.test && first) {
        (high ? out.highUnderTest : out.lowUnderTest) = &step;
        if (!out.test) out.test = under.test, out.branch = under.branch;
      }
    }
    for (const auto& [key, body] : step.bodies)
      walk(body, pin, forkTestOf(step) ? Under{&step, runsOf(step, key)} : under, atPower, out);
  }
}

}  // namespace

Switching switchingOf(const Program& program, const std::string& pin) {
  Switching out;
  for (const auto& lane : program.lanes) {
    const TriggerKind* kind = triggerKind(lane->trigger.on);
    walk(lane->steps, pin, {}, kind && (kind->once || kind->endless), out);
    // What is kept at a signal goes either way, but where that is written out.
    if (!isKept(lane->trigger) || lane->trigger.pin != pin) continue;
    const LevelsGiven gives = levelsGiven(lane->trigger);
    out.written = true;
    out.mayGoHigh = out.mayGoHigh || gives.high;
    out.mayGoLow = out.mayGoLow || gives.low;
  }
  return out;
}

}  // namespace ignavo
