#include "check/remedies.h"
#include "check/rules/list.h"

namespace ignavo {

namespace {

// Another pin that nothing uses and that can do what is asked of this one; that with the
// board's own lamp last.
const CircuitPin* freePin(const CheckContext& c, const CircuitPin& pin) {
  const PinUse* use = c.use(pin);
  const CircuitPin* lamp = nullptr;
  for (const CircuitPin& other : c.circuit.pins()) {
    const BoardPin& shape = other.shape();
    if (other.board != pin.board || !shape.serial.empty() || c.wired(other) || c.use(other))
      continue;
    if (use &&
        ((!use->dimmers.empty() && !shape.pwm) || (!use->measurers.empty() && !shape.analog)))
      continue;
    if (other.name != pin.kind->lampPin) return &other;
    lamp = &other;
  }
  return lamp;
}

void applySerialLoaded(CheckContext& c) {
  for (const CircuitPin& pin : c.circuit.pins()) {
    const std::string& serial = pin.kind->pins[static_cast<std::size_t>(pin.ref.pin)].serial;
    if (serial.empty() || !c.wired(pin)) continue;
    const std::string name = c.pinName(pin);
    if (c.pinExplained(name, {"serial-taken"})) continue;
    if (!c.anyPart(pin.island) && !c.circuit.supplyVolts(pin.net)) continue;
    Finding f;
    f.rule = "serial-loaded";
    f.severity = Severity::note;
    f.pins = {name};
    f.sockets = {{pin.board, pin.name}};
    f.title = say("{} is also the line to the computer", name);
    f.reason =
        say("While a program is sent, what hangs on {} can disturb it. Pull its wire out for that "
            "moment, or take another pin.",
            name);
    f.figures = {{"ohms", pin.kind->outOhms}};
    if (const CircuitPin* other = freePin(c, pin))
      f.remedies.push_back(remedies::movePin(c.project, pin.board, pin.name, other->name));
    c.findings.push_back(std::move(f));
  }
}

}  // namespace

const Rule& serialLoadedRule() {
  static const Rule rule{"serial-loaded",
                         Severity::note,
                         "Something hangs on one of the two serial pins.",
                         "The program reaches the board over these two pins: sending can fail.",
                         "Use another pin, or pull the wire out while sending.",
                         false,
                         applySerialLoaded};
  return rule;
}

}  // namespace ignavo
