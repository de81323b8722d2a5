#include <fmt/format.h>

#include "check/remedies.h"
#include "check/rules/inputs.h"
#include "check/rules/list.h"

namespace ignavo {

namespace {

constexpr double pullOhms = 10e3;

void addRemedies(const CheckContext& c, Finding& f, const CircuitPin& pin) {
  const Program* program = c.project.program(pin.board);
  const bool pulled = program && program->pulledUp(pin.name);
  std::vector<std::optional<Remedy>> tries;
  if (!pulled) tries.push_back(remedies::pullUp(c.project, pin.board, pin.name));
  if (pulled) {
    tries.push_back(remedies::noPull(c.project, pin.board, pin.name));
    if (auto down = remedies::resistorToGround(tries.back()->after, pin.board, pin.name, pullOhms))
      tries.push_back(Remedy{"Pull-up off, 10 kΩ to GND", std::move(down->after)});
  }
  tries.push_back(remedies::resistorToGround(c.project, pin.board, pin.name, pullOhms));
  tries.push_back(remedies::resistorToSupply(c.project, pin.board, pin.name, pullOhms));
  for (auto& remedy : tries)
    if (remedy && f.remedies.size() < 2 && readsBothLevels(remedy->after, pin))
      f.remedies.push_back(std::move(*remedy));
}

void apply(CheckContext& c) {
  for (int p = 0; p < static_cast<int>(c.circuit.pins().size()); ++p) {
    const CircuitPin& pin = c.circuit.pins()[static_cast<std::size_t>(p)];
    const PinUse* use = c.use(pin);
    if (!use || use->readers.empty() || !use->writers.empty()) continue;
    const std::vector<int> sources = sourcesOn(c.circuit, pin.island);
    if (sources.empty() || pressedWithoutEffect(c, sources)) continue;
    const InputLevels levels = levelsOf(c.circuit, c.sweep, p);
    if (levels.floats || levels.changes() || !levels.seen()) continue;
    const std::string name = c.pinName(pin);
    if (c.pinExplained(name, {"pin-unwired", "short-circuit", "pin-fight"})) continue;
    const Part& part = c.part(sources.front());
    const bool button = c.circuit.kindOf(sources.front())->sweepable();
    Finding f;
    f.rule = "input-stuck";
    f.severity = Severity::warning;
    f.pins = {name};
    for (int s : sources) f.parts.push_back(c.part(s).id);
    f.steps = use->readers;
    f.sockets = {{pin.board, pin.name}};
    const char* level = levels.high ? "high" : "low";
    f.title = fmt::format("{} always reads {}, whatever {} {}", name, level, part.name,
                          button ? "does" : "measures");
    f.reason = fmt::format("Its voltage stays between {} and {}.", voltsText(levels.least),
                           voltsText(levels.most));
    const Program* program = c.project.program(pin.board);
    if (button && levels.high && program && program->pulledUp(pin.name))
      f.reason += " The pull-up holds it up already, and the button brings 5 V too.";
    else if (button)
      f.reason += fmt::format(" Nothing brings it to the other level while {} is up.", part.name);
    else
      f.reason += " A sensor needs a second resistor, to the other side of the supply.";
    f.figures = {{"least_volts", levels.least}, {"most_volts", levels.most}};
    addRemedies(c, f, pin);
    c.findings.push_back(std::move(f));
  }
}

}  // namespace

const Rule& inputStuckRule() {
  static const Rule rule{
      "input-stuck",
      Severity::warning,
      "A pin that is read cannot change, although a button or sensor hangs on it.",
      "The program looks at it again and again and always sees the same.",
      "Give the pin both levels: the button to one side of the supply, a resistor to the other.",
      true,
      apply};
  return rule;
}

}  // namespace ignavo
