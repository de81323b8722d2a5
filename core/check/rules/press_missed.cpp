#include <algorithm>
#include <limits>

#include "check/rules/list.h"
#include "check/rules/presses.h"

// How long a lane does not look at a pin. Each stretch of steps is summed up by four times, the
// longest over all its ways; so stretches can be put together, and a loop is its body put
// together with itself.
namespace ignavo {

namespace {

constexpr double never = -std::numeric_limits<double>::infinity();
constexpr double shortestPress = 0.1;  // a quick tap of a finger

struct Segment {
  double through = 0;    // from end to end without a look
  double first = never;  // from its beginning to the first look
  double last = never;   // from the last look to its end
  double inner = never;  // from one look to the next
};

Segment then(const Segment& a, const Segment& b) {
  return {a.through + b.through, std::max(a.first, a.through + b.first),
          std::max(b.last, a.last + b.through), std::max({a.inner, b.inner, a.last + b.first})};
}
Segment either(const Segment& a, const Segment& b) {
  return {std::max(a.through, b.through), std::max(a.first, b.first), std::max(a.last, b.last),
          std::max(a.inner, b.inner)};
}
Segment repeated(Segment body, double times) {
  Segment out;
  for (auto n = static_cast<std::uint64_t>(std::clamp(times, 0.0, 1e9)); n; n /= 2) {
    if (n % 2) out = then(out, body);
    body = then(body, body);
  }
  return out;
}

class Looking {
 public:
  Looking(const std::string& pin, bool high) : pin_(pin), high_(high) {}

  const Step* test = nullptr;  // the first step that looks

  Segment of(const Steps& steps) {
    Segment out;
    for (const Step& step : steps) out = then(out, of(step));
    return out;
  }

 private:
  Segment of(const Step& step) {
    Segment out;
    const StepKind* kind = stepKind(step.kind);
    if (readsPin(step, pin_)) {
      if (!test) test = &step;
      out = {never, 0, 0, never};
    }
    if (!kind) return out;
    if (const Expr* wait = waitOf(step)) out = then(out, {plainNumber(wait, 0)});
    if (kind->bodies.empty()) return out;
    if (isRepeat(step)) {
      const Steps* body = bodyOf(step, Runs::again);
      return then(out, repeated(body ? of(*body) : Segment{}, plainNumber(timesOf(step), 1)));
    }
    if (kind->endless && !isEndless(step)) {  // once at least
      const Steps* body = bodyOf(step, Runs::again);
      return then(out, body ? of(*body) : Segment{});
    }
    if (kind->endless) {
      const Steps* body = bodyOf(step, Runs::again);
      const Segment round = body ? of(*body) : Segment{}, twice = then(round, round);
      return then(out, {never, twice.first, never, twice.inner});
    }
    // Where the press was seen, what comes of it is no time in which it is missed.
    const Expr* asked = forkTestOf(step);
    const Implies says = asked ? implied(*asked, pin_, high_) : Implies{};
    const auto branch = [&](Runs when, bool seen) {
      const Steps* body = bodyOf(step, when);
      const Segment inside = body ? of(*body) : Segment{};
      return seen ? Segment{} : inside;
    };
    return then(out, either(branch(Runs::ifSo, says.then), branch(Runs::ifNot, says.otherwise)));
  }

  const std::string& pin_;
  bool high_;
};

struct Missed {
  double seconds = 0;
  const Lane* lane = nullptr;
  const Step* test = nullptr;
};

// The lane that looks most often; nothing where one looks often enough, or none goes round.
std::optional<Missed> longestOut(const Program& program, const std::string& pin, bool high) {
  std::optional<Missed> out;
  for (const auto& lane : program.lanes) {
    // What is kept, or starts a lane, is looked at in every turn.
    for (const auto& [key, value] : lane->trigger.fields) {
      bool looks = false;
      forEachPinRead(value, [&](const std::string& read) { looks = looks || read == pin; });
      if (looks) return std::nullopt;
    }
    const TriggerKind* trigger = triggerKind(lane->trigger.on);
    Looking looking(pin, high);
    Segment all = looking.of(lane->steps);
    if (trigger && trigger->endless) all = then(all, all);
    // A lane that is over after one look waits for something else anyway.
    if (!looking.test || all.inner == never) continue;
    if (!out || all.inner < out->seconds) out = Missed{all.inner, &*lane, looking.test};
  }
  if (out && !exceeds(out->seconds, shortestPress)) return std::nullopt;
  return out;
}

void applyPressMissed(CheckContext& c) {
  for (int p = 0; p < static_cast<int>(c.circuit.pins().size()); ++p) {
    const CircuitPin& pin = c.circuit.pins()[static_cast<std::size_t>(p)];
    const PinUse* use = c.use(pin);
    const Program* program = c.program(pin.board);
    if (!use || !program || use->readers.empty() || !use->starts.empty() || !use->writers.empty())
      continue;
    const auto pressing = pressingOn(c, p);
    const std::string name = c.pinName(pin);
    if (!pressing || c.pinExplained(name, {"flips-while-held"})) continue;
    const auto missed = longestOut(*program, pin.name, pressing->high);
    if (!missed) continue;
    const Part& button = c.part(pressing->part);
    const Message time = say("{} s", asNumber(missed->seconds, 3));
    Finding f;
    f.rule = "press-missed";
    f.severity = Severity::note;
    f.parts = {button.id};
    f.pins = {name};
    f.steps = {missed->test->id};
    f.sockets = {{pin.board, pin.name}};
    c.showPart(f, pressing->part);
    f.title = say("A short press of {} can be missed", button.name);
    f.reason = say(
        "Between two looks at {} up to {} of waiting go by: a press shorter than that may not be "
        "seen.",
        name, time);
    f.figures = {{"seconds", missed->seconds}};
    if (auto made = laneOfItsOwn(c, *missed->lane, *missed->test, pin.name, *pressing)) {
      f.reason.add(say("A lane “{}” sees each one.", signOf(startedBy(pin.name, *pressing))));
      f.remedies.push_back(std::move(*made));
    }
    c.findings.push_back(std::move(f));
  }
}

}  // namespace

const Rule& pressMissedRule() {
  static const Rule rule{
      "press-missed",
      Severity::note,
      "A pin with a button on it is only looked at between waits.",
      "While the lane waits nobody looks: a short press goes by unseen, now and then.",
      "A lane that the press itself starts, or shorter waits.",
      true,
      applyPressMissed};
  return rule;
}

}  // namespace ignavo
