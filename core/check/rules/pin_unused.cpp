#include "check/rules/lamps.h"
#include "check/rules/list.h"

namespace ignavo {

namespace {

// A lamp, sounder or motor that no other used pin switches, whatever the program does.
const PartKind* idleIn(const CheckContext& c, int island) {
  for (int p : c.circuit.island(island).parts) {
    const PartKind* kind = c.circuit.kindOf(p);
    if (kind && kind->shows != Shows::nothing && c.sweep.part(p).amps.value < darkAmps) return kind;
  }
  return nullptr;
}

// What becomes of the pin, and of what hangs on it and needs it.
Message reason(const PartKind* idle, const std::string& pin, const std::string& label) {
  if (!idle) return say("Something hangs on {}, but the program neither sets nor reads it.", pin);
  switch (idle->shows) {
    case Shows::turning:
      return say(
          "Nothing ever switches {0} on, so {1} stands still. A step such as “set {0} high” "
          "does.",
          pin, label);
    case Shows::sound:
      return say(
          "Nothing ever switches {0} on, so {1} stays silent. A step such as “set {0} high” "
          "does.",
          pin, label);
    default:
      return say(
          "Nothing ever switches {0} on, so {1} stays dark. A step such as “set {0} high” "
          "does.",
          pin, label);
  }
}

void applyPinUnused(CheckContext& c) {
  for (const CircuitPin& pin : c.circuit.pins()) {
    if (!c.wired(pin) || c.use(pin) || c.circuit.supplyVolts(pin.net)) continue;
    const std::string name = c.pinName(pin);
    if (c.pinExplained(name, {"pin-unwired", "pin-direction", "serial-taken"})) continue;
    const bool programmed = !c.uses[static_cast<std::size_t>(pin.ref.board)].empty();
    // A wire alone hangs nothing on the pin.
    if (!c.anyPart(pin.island)) continue;
    const PartKind* idle = programmed ? idleIn(c, pin.island) : nullptr;
    Finding f;
    f.rule = "pin-unused";
    f.severity = idle ? Severity::warning : Severity::note;
    f.pins = {name};
    for (int p : c.circuit.island(pin.island).parts) f.parts.push_back(c.part(p).id);
    f.sockets = {{pin.board, pin.name}};
    const std::string label = pinLabel(c.project, c.circuit.nets(), pin.board, pin.name);
    f.title = say("No step uses {}", c.pinTitle(pin));
    f.reason = reason(idle, name, label);
    f.figures = {{"steps", 0}};
    c.findings.push_back(std::move(f));
  }
}

}  // namespace

const Rule& pinUnusedRule() {
  static const Rule rule{
      "pin-unused",
      Severity::warning,
      "Something hangs on a pin that no step uses.",
      "What hangs there stays as it was at power-on.",
      "Add a step that sets or reads the pin, or move the wire to the pin that is used.",
      true,
      applyPinUnused};
  return rule;
}

}  // namespace ignavo
