#include "check/remedies.h"
#include "check/rules/list.h"
#include "explain/never.h"
#include "parts/small_circuits.h"

namespace ignavo {

namespace {

// Pins with something on them that no step uses, and that can do what the steps ask.
std::vector<const CircuitPin*> unusedWired(const CheckContext& c, int board, const PinUse& use) {
  std::vector<const CircuitPin*> out;
  for (const CircuitPin& pin : c.circuit.pins())
    if (pin.ref.board == board && c.wired(pin) && !c.use(pin) && !c.circuit.supplyVolts(pin.net) &&
        (use.measurers.empty() || pin.shape().analog) && (use.dimmers.empty() || pin.shape().pwm))
      out.push_back(&pin);
  return out;
}

void applyPinUnwired(CheckContext& c) {
  for (const CircuitPin& pin : c.circuit.pins()) {
    const PinUse* use = c.use(pin);
    if (!use || c.wired(pin) || pin.kind->lampPin == pin.name) continue;
    if (c.pinExplained(c.pinName(pin), {"tone-unheard", "serial-taken"})) continue;
    Finding f;
    f.rule = "pin-unwired";
    f.severity = Severity::warning;
    const std::string name = c.pinName(pin);
    f.pins = {name};
    f.steps = use->writers;
    const std::vector<std::string> reading = use->reading();
    f.steps.insert(f.steps.end(), reading.begin(), reading.end());
    f.sockets = {{pin.board, pin.name}};
    f.title = say("{} has nothing on it", name);
    f.reason = say("{}.", onNothing({c.phraseAt(f.steps.front()), name, !use->writers.empty()}));
    f.figures = {{"steps", static_cast<double>(f.steps.size())}};
    const auto free = unusedWired(c, pin.ref.board, *use);
    if (free.size() == 1) {
      f.reason.add(say("Is {} meant?", c.pinTitle(*free.front())));
      f.pins.push_back(c.pinName(*free.front()));  // so nothing more is said of it
      if (auto r = remedies::changePin(c.project, pin.name, free.front()->name, f.steps))
        f.remedies.push_back(std::move(*r));
    } else {
      // What is usually meant: a lamp on a pin that is switched, a button on one that is read,
      // a knob on one that is measured.
      const SmallCircuit* circuit = smallCircuit(!use->writers.empty()    ? "lamp"
                                                 : use->measurers.empty() ? "button"
                                                                          : "knob");
      if (Composed made = compose(c.project, *circuit, pin.board, pin.name); made.problem.empty())
        f.remedies.push_back({say("Put {} on {}", circuit->noun, name), std::move(made.project)});
    }
    c.findings.push_back(std::move(f));
  }
}

}  // namespace

const Rule& pinUnwiredRule() {
  static const Rule rule = darkening(
      ofInputs({"pin-unwired", Severity::warning, "The program uses a pin with nothing on it.",
                "The program works, but nothing can be seen of it.",
                "Wire something to the pin, or change the step to the pin that was meant.", true,
                applyPinUnwired, Seeks::itsPart}));
  return rule;
}

}  // namespace ignavo
