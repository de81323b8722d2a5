#include "check/rules/presses.h"

#include <algorithm>

#include "check/rules/inputs.h"
#include "project/edits.h"

namespace ignavo {

namespace {

constexpr double pauseSeconds = 0.02;
constexpr double smoothingFarads = 1e-7;

bool smoothed(const CheckContext& c, int net) {
  for (const LegRef& leg : c.net(net).legs) {
    const PartKind* kind = c.circuit.kindOf(leg.part);
    if (!kind || !kind->devices) continue;
    for (const auto& held : kind->devices(c.part(leg.part)).capacitors)
      if (!held.ifUndriven && held.farads >= smoothingFarads) return true;
  }
  return false;
}

// The value of an expression with one pin at a level; nothing where other things decide.
std::optional<double> valueWith(const Expr& e, const std::string& pin, bool high) {
  const auto literal = [&]() -> std::optional<double> {
    if (e.shape == Expr::Shape::number) return e.number;
    if (e.shape == Expr::Shape::truth) return e.truth ? 1 : 0;
    return std::nullopt;
  };
  if (e.shape == Expr::Shape::get) {
    const GetterKind* getter = getterKind(e.text);
    const std::string* of = pinRead(e);
    if (!getter || getter->gives != ValueType::truth || !of || *of != pin) return std::nullopt;
    return high ? 1 : 0;
  }
  if (e.shape != Expr::Shape::op) return literal();
  const OperatorKind* op = operatorKind(e.text);
  if (!op || e.args.empty() || e.args.size() > 2) return std::nullopt;
  const std::optional<double> a = valueWith(e.args.front().second, pin, high),
                              b = e.args.size() > 1 ? valueWith(e.args[1].second, pin, high) : 0;
  if (a && b) return op->calculated(*a, *b);
  // What is not known may be true or false; where both give the same it matters not.
  if (!op->takesTruth) return std::nullopt;
  std::optional<double> out;
  for (const double first : a ? std::vector{*a} : std::vector{0.0, 1.0})
    for (const double second : b ? std::vector{*b} : std::vector{0.0, 1.0}) {
      const double value = op->calculated(first, second);
      if (out && (*out != 0) != (value != 0)) return std::nullopt;
      out = value;
    }
  return out;
}

// The pin's level is high or low in both, and not the same.
struct Levels {
  bool differ = false, highWhenHeld = false;
};
Levels levelsOf(const CheckContext& c, const CircuitPin& pin, int p, int part) {
  const auto& members = c.circuit.island(pin.island).pins;
  const auto place =
      static_cast<std::size_t>(std::find(members.begin(), members.end(), p) - members.begin());
  CircuitState up = c.sweep.posesOf(pin.island).front().state, held = up;
  held.pressed[static_cast<std::size_t>(part)] = 1;
  const auto share = [&](const CircuitState& state) {
    const PinReading& r = c.circuit.solveIsland(pin.island, state).pins[place];
    return r.supplyVolts > 0 ? r.volts.value_or(0) / r.supplyVolts : 0;
  };
  const double before = share(up), then = share(held);
  return {
      std::max(before, then) > pin.kind->highShare && std::min(before, then) < pin.kind->lowShare,
      then > before};
}

// A further lane of the same program.
Project withLane(Project p, const std::string& beside, const Trigger& trigger, Steps steps) {
  std::string board;
  for (const auto& program : p.programs)
    for (const auto& lane : program->lanes)
      if (lane->id == beside) board = program->board;
  Lane fresh;
  fresh.trigger = trigger;
  fresh.steps = std::move(steps);
  return edits::addLane(std::move(p), board, std::move(fresh));
}

bool standsIn(const Steps& steps, const Step& step) {
  return std::any_of(steps.begin(), steps.end(), [&](const Step& s) { return s.id == step.id; });
}

}  // namespace

std::optional<Pressing> pressingOn(const CheckContext& c, int p) {
  const CircuitPin& pin = c.circuit.pins()[static_cast<std::size_t>(p)];
  if (c.sweep.posesOf(pin.island).empty()) return std::nullopt;
  for (int part : sourcesOn(c.circuit, pin.island)) {
    if (!c.circuit.kindOf(part)->pressable) continue;
    const Levels levels = levelsOf(c, pin, p, part);
    if (!levels.differ) continue;
    const bool real = c.part(part).text("contacts", "real") == "real";
    return Pressing{part, levels.highWhenHeld, real && !smoothed(c, pin.net)};
  }
  return std::nullopt;
}

Implies implied(const Expr& test, const std::string& pin, bool high) {
  const auto with = valueWith(test, pin, high), against = valueWith(test, pin, !high);
  return {against && *against == 0 && !(with && *with == 0),
          against && *against != 0 && !(with && *with != 0), with && against};
}

bool readsPin(const Step& step, const std::string& pin) {
  bool found = false;
  for (const auto& [key, value] : step.fields)
    forEachPinRead(value, [&](const std::string& p) { found = found || p == pin; });
  return found;
}

namespace {
bool readsVariable(const Expr& e, const std::string& name) {
  const Expr* held = e.shape == Expr::Shape::get ? e.arg(variableKey) : nullptr;
  return (held && held->text == name) ||
         std::any_of(e.args.begin(), e.args.end(),
                     [&](const auto& arg) { return readsVariable(arg.second, name); });
}
}  // namespace

bool addsUp(const Step& step) {
  const StepKind* kind = stepKind(step.kind);
  const auto pin = pinWritten(step);
  const auto change = changeOf(step);
  const bool fromItself =
      change && !change->list && change->value && readsVariable(*change->value, change->name);
  return (kind && kind->addsUp) || fromItself || (pin && readsPin(step, *pin));
}

bool waitsLong(const Step& step) {
  const Expr* seconds = waitOf(step);
  return seconds && (seconds->shape != Expr::Shape::number || seconds->number >= bounceSeconds);
}

double plainNumber(const Expr* e, double otherwise) {
  return e && e->shape == Expr::Shape::number ? std::max(0.0, e->number) : otherwise;
}

Trigger startedBy(const std::string& pin, const Pressing& pressing) {
  const auto edge = pressing.high ? TriggerKind::Edge::rise : TriggerKind::Edge::fall;
  Trigger out;
  out.pin = pin;
  out.on = triggerAt(edge);
  return out;
}

Steps pauseAndLook(Step look) {
  Steps out;
  out.push_back(waitingStep(pauseSeconds));
  out.push_back(std::move(look));
  return out;
}

std::optional<Remedy> laneOfItsOwn(const CheckContext& c, const Lane& lane, const Step& test,
                                   const std::string& pin, const Pressing& pressing) {
  const Expr* asked = forkTestOf(test);
  const Steps *then = bodyOf(test, Runs::ifSo), *otherwise = bodyOf(test, Runs::ifNot);
  if (!asked || !then || (otherwise && !otherwise->empty()) || turnsOff(*then)) return std::nullopt;
  const Implies says = implied(*asked, pin, pressing.high);
  if (!says.then || !says.alone) return std::nullopt;
  if (!standsIn(lane.steps, test)) return std::nullopt;
  bool adds = false, waits = false;
  std::vector<std::string> written;
  forEachStep(*then, [&](const Step& s) {
    adds = adds || addsUp(s);
    waits = waits || waitOf(s);
    if (const auto p = pinWritten(s)) written.push_back(*p);
  });
  // What else the lane does may not come in between.
  bool onlyWaits = true, shares = false;
  for (const Step& other : lane.steps) {
    if (other.id == test.id) continue;
    onlyWaits = onlyWaits && waitOf(other);
    forEachStep(Steps{other}, [&](const Step& s) {
      const auto p = pinWritten(s);
      shares = shares || (p && std::find(written.begin(), written.end(), *p) != written.end());
    });
  }
  if (waits && shares) return std::nullopt;
  const Trigger trigger = startedBy(pin, pressing);
  const Message title = say("Make it a lane “{}”", signOf(trigger));
  Steps steps = adds && pressing.bounces ? pauseAndLook(test) : *then;
  Project after = c.project;
  if (onlyWaits) {
    after = edits::changeLane(std::move(after), lane.id, [&](Lane& l) {
      l.trigger = trigger;
      l.steps = std::move(steps);
    });
  } else {
    after = withLane(edits::removeSteps(std::move(after), {test.id}), lane.id, trigger,
                     std::move(steps));
  }
  return Remedy{title, edits::assignIds(std::move(after))};
}

std::optional<Remedy> stepOfItsOwn(const CheckContext& c, const Lane& lane, const Step& test,
                                   const Step& step, const std::string& pin,
                                   const Pressing& pressing) {
  const bool above = standsIn(lane.steps, test) ||
                     std::any_of(lane.steps.begin(), lane.steps.end(), [&](const Step& s) {
                       const Steps* body = bodyOf(s, Runs::again);
                       return isEndless(s) && body && standsIn(*body, test);
                     });
  const Steps *then = bodyOf(test, Runs::ifSo), *otherwise = bodyOf(test, Runs::ifNot);
  const bool held = then && standsIn(*then, step);
  if (!above || (!held && !(otherwise && standsIn(*otherwise, step)))) return std::nullopt;
  Step look = askingStep(*forkTestOf(test));
  *bodyOf(look, held ? Runs::ifSo : Runs::ifNot) = {step};
  const Trigger trigger = startedBy(pin, pressing);
  Steps steps = pressing.bounces ? pauseAndLook(std::move(look)) : Steps{std::move(look)};
  // A test with nothing left to decide goes with it.
  const bool last = (then ? then->size() : 0) + (otherwise ? otherwise->size() : 0) == 1;
  Project after = withLane(edits::removeSteps(c.project, {last ? test.id : step.id}), lane.id,
                           trigger, std::move(steps));
  return Remedy{say("Give it a lane “{}”", signOf(trigger)), edits::assignIds(std::move(after))};
}

}  // namespace ignavo
