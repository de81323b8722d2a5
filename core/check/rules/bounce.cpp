#include <fmt/format.h>

#include <algorithm>

#include "check/rules/inputs.h"
#include "check/rules/list.h"
#include "project/edits.h"

namespace ignavo {

namespace {

constexpr double bounceSeconds = 0.003;  // real contacts come to rest within this
constexpr double pauseSeconds = 0.02;    // of the remedy
constexpr double smoothingFarads = 1e-7;

bool waitsLong(const Step& step) {
  const Expr* seconds = step.field("seconds");
  return step.kind == "wait" && seconds &&
         (seconds->shape != Expr::Shape::number || seconds->number >= bounceSeconds);
}

bool reads(const Step& step, const std::string& pin) {
  bool found = false;
  for (const auto& [key, value] : step.fields)
    forEachPinRead(value, [&](const std::string& p) { found = found || p == pin; });
  return found;
}

bool addsUp(const Step& step) {
  const StepKind* kind = stepKind(step.kind);
  return kind && kind->addsUp;
}

// In a lane that the pin starts: a step that adds up and is done at each edge. One that
// stands behind a pause and a further look at the pin is done once a press.
const Step* unguarded(const Steps& steps, const std::string& pin, bool paused) {
  for (const Step& step : steps) {
    if (addsUp(step)) return &step;
    paused = paused || waitsLong(step);
    if (paused && reads(step, pin)) continue;
    for (const auto& [key, body] : step.bodies)
      if (const Step* found = unguarded(body, pin, paused)) return found;
  }
  return nullptr;
}

// In a lane that goes round: a step that adds up under a test of the pin.
const Step* underTest(const Steps& steps, const std::string& pin, bool under) {
  for (const Step& step : steps) {
    if (under && addsUp(step)) return &step;
    for (const auto& [key, body] : step.bodies)
      if (const Step* found = underTest(body, pin, under || reads(step, pin))) return found;
  }
  return nullptr;
}

bool pausesSomewhere(const Steps& steps) {
  bool found = false;
  forEachStep(steps, [&](const Step& s) { found = found || waitsLong(s); });
  return found;
}

// A button with real contacts that moves the level of this pin, and nothing that smooths it.
int bouncingOn(const CheckContext& c, int p) {
  const CircuitPin& pin = c.circuit.pins()[static_cast<std::size_t>(p)];
  for (const LegRef& leg : c.net(pin.net).legs) {
    const PartKind* kind = c.circuit.kindOf(leg.part);
    if (!kind || !kind->devices) continue;
    for (const auto& held : kind->devices(c.part(leg.part)).capacitors)
      if (!held.ifUndriven && held.farads >= smoothingFarads) return -1;
  }
  if (c.sweep.posesOf(pin.island).empty()) return -1;
  const auto& members = c.circuit.island(pin.island).pins;
  const auto place =
      static_cast<std::size_t>(std::find(members.begin(), members.end(), p) - members.begin());
  for (int part : sourcesOn(c.circuit, pin.island)) {
    if (!c.circuit.kindOf(part)->pressable || c.part(part).text("contacts", "real") != "real")
      continue;
    CircuitState up = c.sweep.posesOf(pin.island).front().state, held = up;
    held.pressed[static_cast<std::size_t>(part)] = 1;
    const auto share = [&](const CircuitState& state) {
      const PinReading& r = c.circuit.solveIsland(pin.island, state).pins[place];
      return r.supplyVolts > 0 ? r.volts.value_or(0) / r.supplyVolts : 0;
    };
    const double before = share(up), then = share(held);
    if (std::max(before, then) > pin.kind->highShare && std::min(before, then) < pin.kind->lowShare)
      return part;
  }
  return -1;
}

// All that the lane does, behind a pause and a second look.
Remedy pauseAndLook(const Project& project, const Lane& lane, bool high) {
  Step pause = newStep(*stepKind("wait")), look = newStep(*stepKind("if"));
  pause.setField("seconds", Expr::of(pauseSeconds));
  look.setField("test", Expr::binary("=", Expr::readPin(lane.trigger.pin), Expr::of(high)));
  *look.body("then") = lane.steps;
  return {"Wait 0.02 s and look again",
          edits::assignIds(edits::changeLane(project, lane.id, [&](Lane& l) {
            l.steps = {pause, look};
          }))};
}

void report(CheckContext& c, const CircuitPin& pin, int button, const Lane& lane,
            const Step& step) {
  const TriggerKind::Edge edge = triggerKind(lane.trigger.on)->edge;
  const bool starts = edge != TriggerKind::Edge::none;
  const Part& part = c.part(button);
  Finding f;
  f.rule = "bounce";
  f.severity = Severity::note;
  f.parts = {part.id};
  f.pins = {c.pinName(pin)};
  f.steps = {step.id};
  f.sockets = {{pin.board, pin.name}};
  c.showPart(f, button);
  f.title = fmt::format("One press of {} can count several times", part.name);
  f.reason = starts ? fmt::format(
                          "Real contacts bounce for up to 3 ms: {} goes up and down a few times, "
                          "at each press and at each release, and “{}” is done each time.",
                          f.pins.front(), phraseOf(step))
                    : fmt::format(
                          "The lane goes round thousands of times while {} is held, and its "
                          "contacts bounce: “{}” is done again and again.",
                          part.name, phraseOf(step));
  f.figures = {{"bounce_seconds", bounceSeconds}};
  if (starts) f.remedies.push_back(pauseAndLook(c.project, lane, edge == TriggerKind::Edge::rise));
  c.findings.push_back(std::move(f));
}

void apply(CheckContext& c) {
  for (int p = 0; p < static_cast<int>(c.circuit.pins().size()); ++p) {
    const CircuitPin& pin = c.circuit.pins()[static_cast<std::size_t>(p)];
    const PinUse* use = c.use(pin);
    const Program* program = c.project.program(pin.board);
    if (!use || !program || !use->isRead() || !use->writers.empty()) continue;
    const int button = bouncingOn(c, p);
    if (button < 0) continue;
    for (const auto& lane : program->lanes) {
      const bool starts = lane->trigger.pin == pin.name;
      const Step* step = starts                         ? unguarded(lane->steps, pin.name, false)
                         : pausesSomewhere(lane->steps) ? nullptr
                                                        : underTest(lane->steps, pin.name, false);
      if (step) {
        report(c, pin, button, *lane, *step);
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
      apply};
  return rule;
}

}  // namespace ignavo
