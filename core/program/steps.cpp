#include "program/steps.h"

#include <algorithm>
#include <map>
#include <unordered_map>

#include "program/facts.h"
#include "program/kinds/list.h"
#include "program/read_fields.h"

namespace ignavo {

IGNAVO_VALUE_DEFINED(StepKind);

const std::vector<const StepKind*>& stepKinds() {
  static const std::vector<const StepKind*> all = {
      &setStep(),   &flipStep(),      &levelStep(), &toneStep(),   &silenceStep(), &servoStep(),
      &waitStep(),  &waitUntilStep(), &ifStep(),    &repeatStep(), &whileStep(),   &loopStep(),
      &leaveStep(), &endStep(),       &letStep(),   &addStep(),    &putStep(),     &callStep(),
      &postStep(),  &logStep(),       &remarkStep()};
  return all;
}

const StepKind* stepKind(const std::string& kind) {
  // Asked for each step of long programs again and again.
  static const std::unordered_map<std::string, const StepKind*> byName = [] {
    std::unordered_map<std::string, const StepKind*> out;
    for (const StepKind* k : stepKinds()) out.emplace(k->kind, k);
    return out;
  }();
  const auto it = byName.find(kind);
  return it == byName.end() ? nullptr : it->second;
}

const SlotKind* StepKind::slot(const std::string& key) const {
  for (const SlotKind& s : slots)
    if (s.key == key) return &s;
  return nullptr;
}
Step newStep(const StepKind& kind) {
  Step s;
  s.kind = kind.kind;
  for (const SlotKind& slot : kind.slots)
    if (!slot.optional) s.fields.emplace_back(slot.key, slot.defaultValue);
  for (const BodyKind& body : kind.bodies) s.bodies.emplace_back(body.key, Steps{});
  return s;
}
std::string phraseOf(const Step& step) {
  const StepKind* kind = stepKind(step.kind);
  if (!kind) return step.kind;
  std::string out = filled(kind->phrase, [&](const std::string& key) {
    const Expr* value = step.field(key);
    const SlotKind* slot = kind->slot(key);
    const bool empty = !value || (slot && slotText(*value, *slot).empty());
    if (slot && slot->optional && empty) return std::string();
    std::string text = value && slot ? slotText(*value, *slot) : std::string();
    if (text.empty()) text = "…";
    if (slot && !slot->unit.empty() && value && value->isLiteral()) text += " " + slot->unit;
    return text;
  });
  for (const SlotKind& slot : kind->slots)
    if (!slot.absent.empty() && !step.field(slot.key)) out += " " + slot.absent;
  return out;
}
std::string textOf(const Steps& steps, int indent) {
  std::string out;
  const std::string pad(static_cast<std::size_t>(indent) * 2, ' ');
  for (const Step& s : steps) {
    out += pad + phraseOf(s) + "\n";
    bool first = true;
    for (const auto& [key, body] : s.bodies) {
      if (!first && !body.empty()) out += pad + "otherwise\n";
      out += textOf(body, indent + 1);
      first = false;
    }
  }
  return out;
}
std::vector<std::string> PinUse::reading() const {
  std::vector<std::string> out = starts;
  out.insert(out.end(), readers.begin(), readers.end());
  return out;
}

std::vector<PinUse> pinUses(const Program& program) {
  std::map<std::string, PinUse> uses;
  for (const auto& lane : program.lanes) {
    const TriggerKind* trigger = triggerKind(lane->trigger.on);
    if (trigger && !lane->trigger.pin.empty()) {
      PinUse& use = uses[lane->trigger.pin];
      if (trigger->keeps == TriggerKind::Keeps::nothing)
        use.starts.push_back(lane->id);
      else
        use.writers.push_back(lane->id);
      if (trigger->keeps == TriggerKind::Keeps::level) use.dimmers.push_back(lane->id);
    }
    for (const auto& [key, value] : lane->trigger.fields)
      forEachGetter(value, [&](const GetterKind& getter, const std::string& pin) {
        if (pin.empty()) return;
        uses[pin].readers.push_back(lane->id);
        if (getter.measures) uses[pin].measurers.push_back(lane->id);
      });
    forEachStep(lane->steps, [&](const Step& s) {
      const StepKind* kind = stepKind(s.kind);
      if (!kind) return;
      for (const auto& [key, value] : s.fields) {
        const SlotKind* slot = kind->slot(key);
        if (slot && slot->type == SlotKind::Type::pin) {
          if (value.text.empty()) continue;
          uses[value.text].writers.push_back(s.id);
          PinUse& use = uses[value.text];
          if (kind->dims) use.dimmers.push_back(s.id);
          if (kind->sounds) use.sounders.push_back(s.id);
          if (kind->pulses) use.turners.push_back(s.id);
          if (kind->silences) use.silencers.push_back(s.id);
        } else {
          forEachGetter(value, [&](const GetterKind& getter, const std::string& pin) {
            if (pin.empty()) return;
            uses[pin].readers.push_back(s.id);
            if (getter.measures) uses[pin].measurers.push_back(s.id);
          });
        }
      }
    });
  }
  std::vector<PinUse> out;
  for (auto& [pin, use] : uses) {
    use.pin = pin;
    out.push_back(std::move(use));
  }
  return out;
}

char pulseTimer(const Program& program, const std::vector<PinAbility>& pins) {
  std::string timers, dimming;
  for (const PinAbility& pin : pins)
    if (pin.pulseTimer != 0 && timers.find(pin.pulseTimer) == std::string::npos)
      timers += pin.pulseTimer;
  for (const PinUse& use : pinUses(program))
    if (!use.dimmers.empty())
      for (const PinAbility& pin : pins)
        if (pin.name == use.pin && pin.pulseTimer != 0) dimming += pin.pulseTimer;
  std::sort(timers.begin(), timers.end());
  const std::size_t free = timers.find_first_not_of(dimming);
  return free == std::string::npos ? 0 : timers[free];
}

}  // namespace ignavo
