#include "check/remedies.h"
#include "check/rules/list.h"
#include "program/said.h"

namespace ignavo {

namespace {

// The first step that needs the line: it says something, or a key starts it.
std::string talker(const Program& program) {
  const std::vector<std::string> steps = sayingSteps(program);
  if (!steps.empty()) return steps.front();
  for (const auto& lane : program.lanes)
    if (lane->trigger.field(keyKey)) return lane->id;
  return {};
}

// A pin of the board that nothing uses.
const CircuitPin* unusedPin(const CheckContext& c, const CircuitPin& pin) {
  for (const CircuitPin& other : c.circuit.pins())
    if (other.board == pin.board && other.shape().serial.empty() && !c.wired(other) &&
        !c.use(other) && other.name != pin.kind->lampPin)
      return &other;
  return nullptr;
}

void applySerialTaken(CheckContext& c) {
  for (const CircuitPin& pin : c.circuit.pins()) {
    const Program* program = c.project.program(pin.board);
    if (pin.shape().serial.empty() || !program || !usesLine(*program)) continue;
    const PinUse* use = c.use(pin);
    const bool parts = c.wired(pin) && c.anyPart(pin.island);
    if (!use && !parts) continue;
    const std::string name = c.pinName(pin);
    const bool out = pin.shape().serial == "tx";
    Finding f;
    f.rule = "serial-taken";
    f.severity = Severity::warning;
    f.pins = {name};
    if (use) {
      f.steps = use->writers;
      const std::vector<std::string> reading = use->reading();
      f.steps.insert(f.steps.end(), reading.begin(), reading.end());
    }
    const std::string talks = talker(*program);
    if (f.steps.empty() && !talks.empty()) f.steps = {talks};
    f.sockets = {{pin.board, pin.name}};
    f.title = say("{} is taken by the line to the computer", name);
    f.reason = talks.empty() ? say("The program asks for keys, and they come over D0 and D1.")
                             : say("“{}” goes over the two serial pins.", c.phraseAt(talks));
    if (use && !use->writers.empty())
      f.reason.add(say("“{}” does nothing there.", c.phraseAt(use->writers.front())));
    if (parts && out)
      f.reason.add(say("The line is high while nothing is sent: a lamp on {} glows.", name));
    f.figures = {{"steps", static_cast<double>(f.steps.size())}};
    if (const CircuitPin* other = unusedPin(c, pin))
      f.remedies.push_back(remedies::movePin(c.project, pin.board, pin.name, other->name));
    c.findings.push_back(std::move(f));
  }
}

}  // namespace

const Rule& serialTakenRule() {
  static const Rule rule{"serial-taken",
                         Severity::warning,
                         "The program talks to the computer, and one of the two serial pins is "
                         "used for something else.",
                         "Notes, the log and keys go over these pins: steps on them do nothing, "
                         "and a lamp there glows.",
                         "Take another pin.",
                         true,
                         applySerialTaken};
  return rule;
}

}  // namespace ignavo
