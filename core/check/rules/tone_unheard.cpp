#include "check/remedies.h"
#include "check/rules/list.h"

namespace ignavo {

namespace {

bool isSounder(const CheckContext& c, int part) {
  const PartKind* kind = c.circuit.kindOf(part);
  return kind && (kind->moves == Moves::tone || kind->moves == Moves::buzz);
}

// The sounder that a pin may drive: one of its island; -1: there is none.
int sounderOn(const CheckContext& c, const CircuitPin& pin) {
  if (!c.wired(pin)) return -1;
  for (const int part : c.circuit.island(pin.island).parts)
    if (isSounder(c, part)) return part;
  return -1;
}

// The one pin of the board that has a sounder on it and that no step uses.
const CircuitPin* otherPin(const CheckContext& c, const CircuitPin& pin) {
  const CircuitPin* found = nullptr;
  for (const CircuitPin& other : c.circuit.pins()) {
    if (other.ref.board != pin.ref.board || c.use(other) || c.circuit.supplyVolts(other.net) ||
        sounderOn(c, other) < 0)
      continue;
    if (found) return nullptr;
    found = &other;
  }
  return found;
}

void applyToneUnheard(CheckContext& c) {
  for (const CircuitPin& pin : c.circuit.pins()) {
    const PinUse* use = c.use(pin);
    if (!use || use->sounders.empty() || sounderOn(c, pin) >= 0) continue;
    const std::string name = c.pinName(pin);
    Finding f;
    f.rule = "tone-unheard";
    f.severity = Severity::warning;
    f.pins = {name};
    f.steps = use->sounders;
    f.sockets = {{pin.board, pin.name}};
    f.title = say("The tone on {} is not heard", name);
    f.reason = c.wired(pin)
                   ? say("“{}” switches {} on and off, but there is no sounder on that pin.",
                         c.phraseAt(f.steps.front()), c.pinTitle(pin))
                   : say("“{}” switches {} on and off, but nothing is plugged in there.",
                         c.phraseAt(f.steps.front()), name);
    f.figures = {{"steps", static_cast<double>(f.steps.size())}};
    if (const CircuitPin* other = otherPin(c, pin)) {
      f.reason.add(say("Is {} meant?", c.pinTitle(*other)));
      f.pins.push_back(c.pinName(*other));
      if (auto mend = remedies::changePin(c.project, pin.name, other->name, use->writers))
        f.remedies.push_back(std::move(*mend));
    }
    c.findings.push_back(std::move(f));
  }
}

}  // namespace

const Rule& toneUnheardRule() {
  static const Rule rule{"tone-unheard",
                         Severity::warning,
                         "A step sounds a tone on a pin that has no sounder.",
                         "A lamp on it only looks half lit, and nothing is heard.",
                         "Put a piezo on the pin, or name the pin that has one.",
                         true,
                         applyToneUnheard};
  return rule;
}

}  // namespace ignavo
