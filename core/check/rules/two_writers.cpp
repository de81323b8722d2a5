#include <map>

#include "check/rules/list.h"

namespace ignavo {

namespace {

bool hasEndless(const Steps& steps) {
  bool found = false;
  forEachStep(steps, [&](const Step& s) { found = found || isEndless(s); });
  return found;
}

// A lane that comes to its end soon does not stand in another's way.
bool staysActive(const Lane& lane) {
  const TriggerKind* trigger = triggerKind(lane.trigger.on);
  return (trigger && trigger->endless) || isKept(lane.trigger) || hasEndless(lane.steps);
}

void applyTwoWriters(CheckContext& c) {
  for (const BoardItem& board : c.project.boards) {
    const Program* program = c.program(board.id);
    if (!program) continue;
    std::map<std::string, std::vector<std::string>> writers;  // pin -> one step of each lane
    for (const auto& lane : program->lanes) {
      if (!staysActive(*lane)) continue;
      std::map<std::string, std::string> mine;
      if (isKept(lane->trigger) && !lane->trigger.pin.empty())
        mine.emplace(lane->trigger.pin, lane->id);
      forEachStep(lane->steps, [&](const Step& step) {
        const StepKind* kind = stepKind(step.kind);
        for (const auto& [key, value] : step.fields) {
          const SlotKind* slot = kind ? kind->slot(key) : nullptr;
          if (slot && slot->type == SlotKind::Type::pin && !value.text.empty())
            mine.try_emplace(value.text, step.id);
        }
      });
      for (const auto& [pin, step] : mine) writers[pin].push_back(step);
    }
    for (const auto& [pin, steps] : writers) {
      if (steps.size() < 2) continue;
      const int index = c.circuit.pinIndex(board.id, pin);
      if (index < 0) continue;
      const std::string name = c.pinName(c.circuit.pins()[static_cast<std::size_t>(index)]);
      Finding f;
      f.rule = "two-writers";
      f.severity = Severity::warning;
      f.pins = {name};
      f.steps = steps;
      f.sockets = {{board.id, pin}};
      f.title = say("{} lanes set {} at the same time", steps.size(), name);
      f.reason =
          say("Each undoes what the other did, as it happens. Let one lane alone set {}.", name);
      f.figures = {{"lanes", static_cast<double>(steps.size())}};
      c.findings.push_back(std::move(f));
    }
  }
}

}  // namespace

const Rule& twoWritersRule() {
  static const Rule rule{
      "two-writers",
      Severity::warning,
      "Two lanes that run at the same time set the same pin.",
      "The last one wins, for a moment: the lamp flickers or seems to obey nobody.",
      "Let one lane set the pin; a lane for power-on that ends is no hindrance.",
      true,
      applyTwoWriters};
  return rule;
}

}  // namespace ignavo
