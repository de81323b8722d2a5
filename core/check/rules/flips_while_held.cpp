#include <algorithm>

#include "check/rules/list.h"
#include "check/rules/presses.h"

namespace ignavo {

namespace {

constexpr double longPress = 1;  // seconds; who does it again only later means it so

// The least time for which a round waits while the button is held.
double leastSeconds(const Steps& steps, const std::string& pin, bool high) {
  double out = 0;
  for (const Step& step : steps) {
    if (const Expr* wait = waitOf(step)) out += plainNumber(wait, 0);
    const auto body = [&](Runs when) {
      const Steps* inner = bodyOf(step, when);
      return inner ? leastSeconds(*inner, pin, high) : 0;
    };
    if (const Expr* asked = forkTestOf(step)) {
      const Implies says = implied(*asked, pin, high);
      out += says.alone && says.then        ? body(Runs::ifSo)
             : says.alone && says.otherwise ? body(Runs::ifNot)
                                            : std::min(body(Runs::ifSo), body(Runs::ifNot));
    } else {
      out += body(Runs::again) * plainNumber(timesOf(step), 1);
    }
  }
  return out;
}

// Does the lane wait somewhere until the pin changes? Then it does things once for each press.
bool waitsFor(const Steps& steps, const std::string& pin) {
  bool waits = false;
  forEachStep(steps, [&](const Step& s) { waits = waits || (looksAgain(s) && readsPin(s, pin)); });
  return waits;
}

struct Found {
  const Step* step = nullptr;  // that flips or counts
  const Step* test = nullptr;  // that asks whether the button is held
};

// A lamp that blinks while the button is held is meant so: its pin is flipped an even number of
// times there, or given a level of its own elsewhere in the lane.
bool comesToRest(const Lane& lane, const Steps& branch, const Step& step) {
  const auto pin = pinWritten(step);
  if (!pin) return false;
  int flips = 0;
  bool leveled = false;
  forEachStep(branch, [&](const Step& s) { flips += addsUp(s) && pinWritten(s) == pin; });
  forEachStep(lane.steps,
              [&](const Step& s) { leveled = leveled || (!addsUp(s) && pinWritten(s) == pin); });
  return leveled || flips % 2 == 0;
}

Found look(const Lane& lane, const Steps& steps, const std::string& pin, bool high, bool rounds,
           const Step* test, const Steps* branch) {
  for (const Step& step : steps) {
    if (test && addsUp(step) && !comesToRest(lane, *branch, step)) return {&step, test};
    const bool round = rounds || isEndless(step);
    const Expr* asked = forkTestOf(step);
    const Implies says = asked && round ? implied(*asked, pin, high) : Implies{};
    for (const auto& [key, body] : step.bodies) {
      const Runs when = runsOf(step, key);
      // What ends there is done once.
      const bool held = (when == Runs::ifSo ? says.then : when == Runs::ifNot && says.otherwise) &&
                        !turnsOff(body);
      const Found found =
          look(lane, body, pin, high, round, held ? &step : test, held ? &body : branch);
      if (found.step) return found;
    }
  }
  return {};
}

void applyFlipsWhileHeld(CheckContext& c) {
  for (int p = 0; p < static_cast<int>(c.circuit.pins().size()); ++p) {
    const CircuitPin& pin = c.circuit.pins()[static_cast<std::size_t>(p)];
    const PinUse* use = c.use(pin);
    const Program* program = c.program(pin.board);
    if (!use || !program || use->readers.empty() || !use->writers.empty()) continue;
    const auto pressing = pressingOn(c, p);
    if (!pressing) continue;
    for (const auto& lane : program->lanes) {
      const TriggerKind* trigger = triggerKind(lane->trigger.on);
      const Found found = look(*lane, lane->steps, pin.name, pressing->high,
                               trigger && trigger->endless, nullptr, nullptr);
      if (!found.step || waitsFor(lane->steps, pin.name) ||
          leastSeconds(lane->steps, pin.name, pressing->high) >= longPress)
        continue;
      const Part& button = c.part(pressing->part);
      Finding f;
      f.rule = "flips-while-held";
      f.severity = Severity::warning;
      f.parts = {button.id};
      f.pins = {c.pinName(pin)};
      f.steps = {found.step->id, found.test->id};
      f.sockets = {{pin.board, pin.name}};
      c.showPart(f, pressing->part);
      f.title =
          say("One press of {} does “{}” again and again", button.name, phraseOf(*found.step));
      f.reason = say(
          "The lane goes round all the while that {} is held, and does it each time. A lane that "
          "begins with “{}” does it once for each press.",
          button.name, signOf(startedBy(pin.name, *pressing)));
      f.figures = {{"steps", 1}};
      if (auto made = laneOfItsOwn(c, *lane, *found.test, pin.name, *pressing))
        f.remedies.push_back(std::move(*made));
      else if (auto own = stepOfItsOwn(c, *lane, *found.test, *found.step, pin.name, *pressing))
        f.remedies.push_back(std::move(*own));
      c.findings.push_back(std::move(f));
      break;
    }
  }
}

}  // namespace

const Rule& flipsWhileHeldRule() {
  static const Rule rule{
      "flips-while-held",
      Severity::warning,
      "A step that flips or counts stands under “the button is held” in a lane that goes round.",
      "While one finger is down the lane comes by thousands of times: how it ends is chance.",
      "A lane that the press starts; it does its steps once.",
      true,
      applyFlipsWhileHeld};
  return rule;
}

}  // namespace ignavo
