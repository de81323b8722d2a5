#include "check/rules/list.h"
#include "check/rules/presses.h"
#include "program/signals.h"
#include "project/edits.h"

namespace ignavo {

namespace {

constexpr double steadySeconds = 0.02;

// In a lane that the pin starts: a step that adds up and is done at each edge. One that
// stands behind a pause and a further look at the pin is done once a press.
const Step* unguarded(const Steps& steps, const std::string& pin, bool paused) {
  for (const Step& step : steps) {
    if (addsUp(step)) return &step;
    paused = paused || waitsLong(step);
    if (paused && readsPin(step, pin)) continue;
    for (const auto& [key, body] : step.bodies)
      if (const Step* found = unguarded(body, pin, paused)) return found;
  }
  return nullptr;
}

// A signal that counts or flips with each rise of the pin, with nothing in between that outlasts
// bouncing.
const Expr* countsEdges(const Expr& e, const std::string& pin, bool counted) {
  const SignalKind* kind = e.shape == Expr::Shape::sig ? signalKind(e.text) : nullptr;
  if (kind && kind->debounces) return nullptr;
  if (counted && e.shape == Expr::Shape::get && pinRead(e) && *pinRead(e) == pin) return &e;
  for (const auto& [key, inner] : e.args)
    if (const Expr* found = countsEdges(inner, pin, counted || (kind && kind->addsUp)))
      return found;
  return nullptr;
}

// The sign of a lane where the pin is taken once it is steady.
void steadied(Expr& e, const std::string& pin) {
  const std::string* read = pinRead(e);
  if (read && *read == pin && !measures(e)) {
    e = steadyOf(std::move(e), steadySeconds);
    return;
  }
  for (auto& [key, inner] : e.args) steadied(inner, pin);
}

// All that the lane does, behind a pause and a second look.
Remedy withPause(const Project& project, const Lane& lane, bool high) {
  Step look = askingStep(pinIs(lane.trigger.pin, high));
  *bodyOf(look, Runs::ifSo) = lane.steps;
  return {say("Wait 0.02 s and look again"),
          edits::assignIds(edits::changeLane(
              project, lane.id, [&](Lane& l) { l.steps = pauseAndLook(std::move(look)); }))};
}

// `owner`: the step or lane that takes each of the edges.
void report(CheckContext& c, const CircuitPin& pin, int button, const std::string& owner,
            const Message& reason, Remedy remedy) {
  const Part& part = c.part(button);
  Finding f;
  f.rule = "bounce";
  f.severity = Severity::note;
  f.parts = {part.id};
  f.pins = {c.pinName(pin)};
  f.steps = {owner};
  f.sockets = {{pin.board, pin.name}};
  c.showPart(f, button);
  f.title = say("One press of {} can count several times", part.name);
  f.reason = reason;
  f.figures = {{"bounce_seconds", bounceSeconds}};
  f.remedies.push_back(std::move(remedy));
  c.findings.push_back(std::move(f));
}

void reportStep(CheckContext& c, const CircuitPin& pin, int button, const Lane& lane,
                const Step& step) {
  report(c, pin, button, step.id,
         say("Real contacts bounce for up to 3 ms: {} goes up and down a few times, at each press "
             "and at each release, and “{}” is done each time.",
             c.pinName(pin), phraseOf(step)),
         withPause(c.project, lane, triggerKind(lane.trigger.on)->edge == TriggerKind::Edge::rise));
}

void reportSign(CheckContext& c, const CircuitPin& pin, int button, const Lane& lane) {
  report(c, pin, button, lane.id,
         say("Real contacts bounce for up to 3 ms: {} goes up and down a few times, at each press "
             "and at each release, and “{}” takes each of them.",
             c.pinName(pin), signOf(lane.trigger)),
         {say("Take {} once it is steady for 0.02 s", c.pinName(pin)),
          edits::changeLane(c.project, lane.id, [&](Lane& l) {
            for (auto& [key, value] : l.trigger.fields) steadied(value, pin.name);
          })});
}

void applyBounce(CheckContext& c) {
  for (int p = 0; p < static_cast<int>(c.circuit.pins().size()); ++p) {
    const CircuitPin& pin = c.circuit.pins()[static_cast<std::size_t>(p)];
    const PinUse* use = c.use(pin);
    const Program* program = c.program(pin.board);
    if (!use || !program || !use->isRead() || !use->writers.empty()) continue;
    const auto pressing = pressingOn(c, p);
    if (!pressing || !pressing->bounces) continue;
    for (const auto& lane : program->lanes) {
      if (const Step* step =
              startTestOf(lane->trigger) ? unguarded(lane->steps, pin.name, false) : nullptr;
          (isKept(lane->trigger) || step) &&
          std::any_of(lane->trigger.fields.begin(), lane->trigger.fields.end(),
                      [&](const auto& field) {
                        return countsEdges(field.second, pin.name, step != nullptr);
                      })) {
        reportSign(c, pin, pressing->part, *lane);
        break;
      }
      if (lane->trigger.pin != pin.name) continue;
      if (const Step* step = unguarded(lane->steps, pin.name, false)) {
        reportStep(c, pin, pressing->part, *lane, *step);
        break;
      }
    }
  }
}

}  // namespace

const Rule& bounceRule() {
  static const Rule rule{
      "bounce",
      Severity::note,
      "Presses of a real button are counted, or flip something, without debounce.",
      "The contacts of a button bounce: one press arrives as one, three or five.",
      "Wait some 20 ms after the first change and look again.",
      true,
      applyBounce};
  return rule;
}

}  // namespace ignavo
