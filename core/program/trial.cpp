#include "program/trial.h"

#include "program/facts.h"
#include "program/own_steps.h"

namespace ignavo {

namespace {

// The lane that its steps are kept in, out of the way.
Lane resting(const Lane& lane) {
  Lane out = lane;
  for (const TriggerKind& kind : triggerKinds())
    if (kind.own) out.trigger = newTrigger(kind);
  out.trigger.setField(ownNameKey, Expr::of("resting " + lane.id));
  // What it kept stays an output.
  if (isKept(lane.trigger) && !lane.trigger.pin.empty())
    out.steps = {settingStep(lane.trigger.pin, false)};
  return out;
}

const TriggerKind* once() {
  for (const TriggerKind& kind : triggerKinds())
    if (kind.once) return &kind;
  return nullptr;
}

}  // namespace

Project onlyTrial(Project project, const Trial& trial) {
  for (auto& program : project.programs) {
    const Step* tried = nullptr;
    for (const auto& lane : program->lanes)
      forEachStep(lane->steps, [&](const Step& s) {
        if (s.id == trial.step) tried = &s;
      });
    if (!tried) continue;
    Lane only;
    only.id = trial.lane;
    only.trigger = newTrigger(*once());
    only.steps = {*tried};
    if (const Steps* body = trial.body.empty() ? nullptr : tried->body(trial.body))
      only.steps = *body;
    std::vector<Cow<Lane>> lanes;
    lanes.emplace_back(std::move(only));
    for (const auto& lane : program->lanes)
      lanes.emplace_back(isOwn(*lane) ? *lane : resting(*lane));
    program.edit().lanes = std::move(lanes);
    return project;
  }
  return project;
}

}  // namespace ignavo
