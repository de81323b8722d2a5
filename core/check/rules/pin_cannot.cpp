#include <algorithm>

#include "check/remedies.h"
#include "check/rules/list.h"

namespace ignavo {

namespace {

// What a step asks of a pin besides high and low.
struct Asked {
  bool BoardPin::*ability;
  const std::vector<std::string>& steps;
  const char* title;
  const char* reason;
};

// Pins of the board that can do it, and the first of them that is free.
struct Others {
  std::vector<std::string> names;
  std::string free;
};
Others othersThatCan(const CheckContext& c, int board, bool BoardPin::*ability) {
  Others out;
  for (const CircuitPin& pin : c.circuit.pins()) {
    if (pin.ref.board != board || !(pin.shape().*ability)) continue;
    out.names.push_back(pin.name);
    if (out.free.empty() && !c.wired(pin) && !c.use(pin)) out.free = pin.name;
  }
  return out;
}

void applyPinCannot(CheckContext& c) {
  for (const CircuitPin& pin : c.circuit.pins()) {
    const PinUse* use = c.use(pin);
    if (!use) continue;
    const Asked all[] = {{&BoardPin::pwm, use->dimmers, "{} cannot be dimmed",
                          "“{}” can only switch it on or off. The pins with a ∿ can dim: {}."},
                         {&BoardPin::analog, use->measurers, "{} cannot measure a level",
                          "“{}” gets 0 or 100 % from it, nothing between. These pins can measure: "
                          "{}."}};
    for (const Asked& asked : all) {
      if (asked.steps.empty() || pin.shape().*asked.ability) continue;
      const std::string name = c.pinName(pin);
      const Others others = othersThatCan(c, pin.ref.board, asked.ability);
      Finding f;
      f.rule = "pin-cannot";
      f.severity = Severity::warning;
      f.pins = {name};
      f.steps = asked.steps;
      f.sockets = {{pin.board, pin.name}};
      f.title = say(asked.title, name);
      f.reason = say(asked.reason, c.phraseAt(f.steps.front()), others.names);
      f.figures = {{"steps", static_cast<double>(f.steps.size())}};
      if (!others.free.empty())
        f.remedies.push_back(remedies::movePin(c.project, pin.board, pin.name, others.free));
      c.findings.push_back(std::move(f));
    }
  }
}

}  // namespace

const Rule& pinCannotRule() {
  static const Rule rule{"pin-cannot",
                         Severity::warning,
                         "A step dims or measures a pin that cannot do it.",
                         "The board does not complain: the lamp is just on or off, and a sensor "
                         "seems to know two values only.",
                         "Take a pin that can: those with a ∿ dim, the analog ones measure.",
                         true,
                         applyPinCannot};
  return rule;
}

}  // namespace ignavo
