#include "program/facts.h"

#include <algorithm>

#include "program/kinds/list.h"

namespace ignavo {

namespace {

const SlotKind* slotOf(const Step& step, SlotKind::Type type) {
  const StepKind* kind = stepKind(step.kind);
  if (kind)
    for (const SlotKind& slot : kind->slots)
      if (slot.type == type) return &slot;
  return nullptr;
}

const Expr* fieldOf(const Step& step, SlotKind::Type type) {
  const SlotKind* slot = slotOf(step, type);
  return slot ? step.field(slot->key) : nullptr;
}

const Expr* namedField(const Step& step, std::string StepKind::*slot) {
  const StepKind* kind = stepKind(step.kind);
  return kind && !(kind->*slot).empty() ? step.field(kind->*slot) : nullptr;
}

OperatorKind::Is isWhat(const Expr& e) {
  const OperatorKind* kind = e.shape == Expr::Shape::op ? operatorKind(e.text) : nullptr;
  return kind ? kind->is : OperatorKind::Is::other;
}

}  // namespace

const Expr* pinOf(const Step& step) { return fieldOf(step, SlotKind::Type::pin); }
const Expr* levelOf(const Step& step) { return fieldOf(step, SlotKind::Type::level); }
const Expr* shareOf(const Step& step) {
  const StepKind* kind = stepKind(step.kind);
  return kind && kind->dims ? fieldOf(step, SlotKind::Type::number) : nullptr;
}
const Expr* testOf(const Step& step) { return fieldOf(step, SlotKind::Type::truth); }
const Expr* timesOf(const Step& step) { return namedField(step, &StepKind::counts); }
const Expr* waitOf(const Step& step) { return namedField(step, &StepKind::waits); }

void setPinOf(Step& step, const std::string& pin) {
  if (const SlotKind* slot = slotOf(step, SlotKind::Type::pin))
    step.setField(slot->key, Expr::of(pin));
}
void setTestOf(Step& step, Expr test) {
  if (const SlotKind* slot = slotOf(step, SlotKind::Type::truth))
    step.setField(slot->key, std::move(test));
}
std::string testKey(const Step& step) {
  const SlotKind* slot = slotOf(step, SlotKind::Type::truth);
  return slot ? slot->key : std::string();
}

std::string bodyKey(const Step& step, Runs when) {
  const StepKind* kind = stepKind(step.kind);
  if (kind)
    for (const BodyKind& body : kind->bodies)
      if (body.runs == when) return body.key;
  return {};
}
const Steps* bodyOf(const Step& step, Runs when) {
  const std::string key = bodyKey(step, when);
  return key.empty() ? nullptr : step.body(key);
}
Steps* bodyOf(Step& step, Runs when) {
  const std::string key = bodyKey(step, when);
  return key.empty() ? nullptr : step.body(key);
}
Runs runsOf(const Step& step, const std::string& key) {
  const StepKind* kind = stepKind(step.kind);
  if (kind)
    for (const BodyKind& body : kind->bodies)
      if (body.key == key) return body.runs;
  return Runs::again;
}

bool leavesOutside(const Steps& steps) {
  return std::any_of(steps.begin(), steps.end(), [](const Step& s) {
    return leavesLoop(s) || std::any_of(s.bodies.begin(), s.bodies.end(), [&](const auto& body) {
             return runsOf(s, body.first) != Runs::again && leavesOutside(body.second);
           });
  });
}

namespace {

bool turns(const Step& step, StepKind::TurnsOff off) {
  const StepKind* kind = stepKind(step.kind);
  return kind && kind->turnsOff == off;
}

}  // namespace

bool isEndless(const Step& step) {
  const StepKind* kind = stepKind(step.kind);
  const Steps* body = bodyOf(step, Runs::again);
  return kind && kind->endless && !(body && leavesOutside(*body));
}
bool leavesLoop(const Step& step) { return turns(step, StepKind::TurnsOff::loop); }
bool endsLane(const Step& step) { return turns(step, StepKind::TurnsOff::lane); }
bool looksAgain(const Step& step) {
  const StepKind* kind = stepKind(step.kind);
  return kind && kind->looksAgain;
}
bool takeNoTurn(const Steps& steps) {
  return std::all_of(steps.begin(), steps.end(), [](const Step& s) {
    const StepKind* kind = stepKind(s.kind);
    return kind && !kind->takesTurn &&
           std::all_of(s.bodies.begin(), s.bodies.end(),
                       [](const auto& body) { return takeNoTurn(body.second); });
  });
}
bool turnsOff(const Steps& steps) {
  bool ends = false;
  forEachStep(steps, [&](const Step& s) { ends = ends || endsLane(s); });
  return ends || leavesOutside(steps);
}
const Expr* forkTestOf(const Step& step) {
  return bodyKey(step, Runs::ifSo).empty() ? nullptr : testOf(step);
}
bool isFork(const Step& step) { return !bodyKey(step, Runs::ifNot).empty(); }
bool isRepeat(const Step& step) {
  const StepKind* kind = stepKind(step.kind);
  return kind && !kind->counts.empty();
}
bool flipsPin(const Step& step) {
  const StepKind* kind = stepKind(step.kind);
  return kind && kind->flips;
}

bool runsOwnStep(const Step& step) {
  const StepKind* kind = stepKind(step.kind);
  return kind && kind->runsOwn;
}
bool says(const Step& step) {
  const StepKind* kind = stepKind(step.kind);
  return kind && kind->says != StepKind::Says::nothing;
}
bool saysNote(const Step& step) {
  const StepKind* kind = stepKind(step.kind);
  return kind && kind->says == StepKind::Says::note;
}
const Expr* noteSecondsOf(const Step& step) {
  return saysNote(step) ? fieldOf(step, SlotKind::Type::number) : nullptr;
}
std::vector<const Expr*> saidBy(const Step& step) {
  std::vector<const Expr*> out;
  if (const Expr* text = fieldOf(step, SlotKind::Type::said)) out.push_back(text);
  if (const Expr* items = fieldOf(step, SlotKind::Type::items))
    for (const auto& [key, item] : items->args) out.push_back(&item);
  return out;
}
bool silencesPin(const Step& step) {
  const StepKind* kind = stepKind(step.kind);
  return kind && kind->silences;
}
const Expr* angleOf(const Step& step) { return step.field(angleKey(step)); }
std::string angleKey(const Step& step) {
  const StepKind* kind = stepKind(step.kind);
  const SlotKind* slot = slotOf(step, SlotKind::Type::number);
  return kind && kind->pulses && slot ? slot->key : std::string();
}

std::optional<NameChange> changeOf(const Step& step) {
  using Changes = StepKind::Changes;
  const StepKind* kind = stepKind(step.kind);
  if (!kind || kind->changes == Changes::nothing) return std::nullopt;
  NameChange out;
  out.list = kind->changes == Changes::list;
  out.adds = kind->changes == Changes::sum;
  const Expr* name = fieldOf(step, out.list ? SlotKind::Type::list : SlotKind::Type::variable);
  if (!name) return std::nullopt;
  out.name = name->text;
  out.value = fieldOf(step, SlotKind::Type::any);
  out.index = out.list ? fieldOf(step, SlotKind::Type::number) : nullptr;
  return out;
}

std::optional<std::string> pinWritten(const Step& step) {
  const Expr* pin = pinOf(step);
  return pin && !pin->text.empty() ? std::optional(pin->text) : std::nullopt;
}

Step settingStep(const std::string& pin, bool high) {
  Step step = newStep(setStep());
  setPinOf(step, pin);
  step.setField(slotOf(step, SlotKind::Type::level)->key,
                Expr::of(std::string(high ? levelHigh : levelLow)));
  return step;
}
Step waitingStep(double seconds) {
  Step step = newStep(waitStep());
  step.setField(waitStep().waits, Expr::of(seconds));
  return step;
}
Step askingStep(Expr test) {
  Step step = newStep(ifStep());
  setTestOf(step, std::move(test));
  return step;
}

Step settingVariable(const std::string& name, Expr value) {
  Step step = newStep(letStep());
  step.setField(slotOf(step, SlotKind::Type::variable)->key, Expr::of(name));
  step.setField(slotOf(step, SlotKind::Type::any)->key, std::move(value));
  return step;
}

namespace {
const Expr* firstField(const Trigger& trigger, SlotKind::Type type) {
  const TriggerKind* kind = triggerKind(trigger.on);
  if (kind)
    for (const SlotKind& slot : kind->slots)
      if (slot.type == type) return trigger.field(slot.key);
  return nullptr;
}
}  // namespace

LevelsGiven levelsGiven(const Step& step) {
  if (!pinWritten(step)) return {};
  if (silencesPin(step)) return {false, true};
  if (const Expr* level = levelOf(step))
    if (const auto named = namedLevel(*level)) return {*named, !*named};
  if (const Expr* share = shareOf(step); share && share->shape == Expr::Shape::number)
    return {share->number > 0, share->number <= 0};
  return {true, true};
}
LevelsGiven levelsGiven(const Trigger& trigger) {
  const Expr* kept = keptOf(trigger);
  if (!kept || trigger.pin.empty()) return {};
  if (kept->shape == Expr::Shape::truth) return {kept->truth, !kept->truth};
  return {true, true};
}
bool isKept(const Trigger& trigger) {
  const TriggerKind* kind = triggerKind(trigger.on);
  return kind && kind->keeps != TriggerKind::Keeps::nothing;
}
std::string keptField(const Trigger& trigger) {
  return isKept(trigger) ? triggerKind(trigger.on)->slots.back().key : std::string();
}
const Expr* keptOf(const Trigger& trigger) {
  return isKept(trigger) ? trigger.field(keptField(trigger)) : nullptr;
}
const Expr* startTestOf(const Trigger& trigger) {
  const TriggerKind* kind = triggerKind(trigger.on);
  return kind && kind->starts == TriggerKind::Starts::test
             ? firstField(trigger, SlotKind::Type::truth)
             : nullptr;
}
const Expr* sensedBy(const Trigger& trigger) {
  const Expr* kept = keptOf(trigger);
  return kept ? kept : startTestOf(trigger);
}
std::optional<double> startEveryOf(const Trigger& trigger) {
  const TriggerKind* kind = triggerKind(trigger.on);
  if (!kind || kind->starts != TriggerKind::Starts::clock) return std::nullopt;
  const Expr* seconds = firstField(trigger, SlotKind::Type::number);
  return seconds ? seconds->number : 0;
}
bool doesSomething(const Lane& lane) {
  const TriggerKind* kind = triggerKind(lane.trigger.on);
  if (kind && kind->own) return false;  // others do it
  return !lane.steps.empty() || isKept(lane.trigger);
}

std::string triggerAt(TriggerKind::Edge edge) {
  for (const TriggerKind& kind : triggerKinds())
    if (kind.edge == edge) return kind.on;
  return {};
}

const std::string* pinRead(const Expr& e) {
  if (e.shape != Expr::Shape::get) return nullptr;
  const Expr* pin = e.arg(pinKey);
  return pin ? &pin->text : nullptr;
}

bool measures(const Expr& e) {
  const GetterKind* kind = e.shape == Expr::Shape::get ? getterKind(e.text) : nullptr;
  return kind && kind->measures;
}

bool measuresPercent(const Expr& e) {
  const GetterKind* kind = e.shape == Expr::Shape::get ? getterKind(e.text) : nullptr;
  return kind && kind->full == 100;
}

std::optional<bool> namedLevel(const Expr& e) {
  if (e.shape != Expr::Shape::text) return std::nullopt;
  return e.text == levelHigh  ? std::optional(true)
         : e.text == levelLow ? std::optional(false)
                              : std::nullopt;
}

const Expr* operandOf(const Expr& e, int index) {
  if (e.shape != Expr::Shape::op) return nullptr;
  return e.arg(index == 0 ? firstOperand : secondOperand);
}

bool asksEqual(const Expr& e) { return isWhat(e) == OperatorKind::Is::equality; }
bool asksUnequal(const Expr& e) { return isWhat(e) == OperatorKind::Is::inequality; }
bool negates(const Expr& e) { return isWhat(e) == OperatorKind::Is::negation; }

Expr negationOf(Expr e) {
  Expr out;
  out.shape = Expr::Shape::op;
  for (const OperatorKind& kind : operatorKinds())
    if (kind.is == OperatorKind::Is::negation) out.text = kind.name;
  out.args = {{firstOperand, std::move(e)}};
  return out;
}

Expr pinIs(const std::string& pin, bool high) {
  for (const OperatorKind& kind : operatorKinds())
    if (kind.is == OperatorKind::Is::equality)
      return Expr::binary(kind.name, Expr::readPin(pin), Expr::of(high));
  return {};
}

std::optional<PinTest> pinTest(const Expr& e) {
  if (!asksEqual(e)) return std::nullopt;
  const Expr *asked = operandOf(e, 0), *with = operandOf(e, 1);
  if (!asked || !with || with->shape != Expr::Shape::truth || measures(*asked)) return std::nullopt;
  const std::string* pin = pinRead(*asked);
  return pin ? std::optional(PinTest{*pin, with->truth}) : std::nullopt;
}

std::optional<Border> borderOf(const Expr& comparison) {
  const OperatorKind* kind =
      comparison.shape == Expr::Shape::op ? operatorKind(comparison.text) : nullptr;
  if (!kind || kind->border.empty()) return std::nullopt;
  Border out{comparison, kind->calculated(0, 0) != 0};
  out.other.text = kind->border;
  return out;
}

std::string oppositeOf(const std::string& sign) {
  const OperatorKind* kind = operatorKind(sign);
  return kind ? kind->opposite : std::string();
}

}  // namespace ignavo
