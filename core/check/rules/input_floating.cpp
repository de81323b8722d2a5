#include "check/remedies.h"
#include "check/rules/inputs.h"
#include "check/rules/list.h"

namespace ignavo {

namespace {

constexpr double pullDownOhms = 10e3;

// What should hold the level is cut off: that is the cause.
Finding* causeOf(const CheckContext& c, int island) {
  for (int part : c.circuit.island(island).parts)
    if (Finding* f = c.cause(c.part(part).id, {"rail-unfed", "button-bridged",
                                               "button-along-trench", "no-common-ground"}))
      return f;
  for (int part : c.circuit.island(island).parts)
    if (c.circuit.kindOf(part)->passes)
      if (Finding* f = c.cause(c.part(part).id, {"leg-loose"})) return f;
  return nullptr;
}

// Only what lets the pin read both levels, when a button or sensor is there.
void addFixedLevels(const CheckContext& c, Finding& f, const CircuitPin& pin) {
  const auto fits = [&](const std::optional<Remedy>& r) {
    return r && (f.parts.empty() || readsBothLevels(r->after, pin));
  };
  auto down = remedies::resistorToGround(c.project, pin.board, pin.name, pullDownOhms);
  auto up = remedies::pullUp(c.project, pin.board, pin.name);
  const bool canDown = fits(down), canUp = fits(up);
  if (canDown) {
    f.reason.add(say("10 kΩ to GND makes it low."));
    f.remedies.push_back(std::move(*down));
  }
  if (canUp) {
    if (!canDown)
      f.reason.add(f.parts.empty()
                       ? say("The pin’s own pull-up makes it high.")
                       : say("The pin’s own pull-up makes it high; held, it reads low then."));
    f.remedies.push_back(std::move(*up));
  }
}

void applyInputFloating(CheckContext& c) {
  for (int p = 0; p < static_cast<int>(c.circuit.pins().size()); ++p) {
    if (c.cancelled()) return;
    const CircuitPin& pin = c.circuit.pins()[static_cast<std::size_t>(p)];
    const PinUse* use = c.use(pin);
    if (!use || !use->isRead() || !use->writers.empty()) continue;
    const PinSweep& s = c.sweep.pin(p);
    const std::string name = c.pinName(pin);
    if (!s.floating.seen || c.pinExplained(name, {"pin-unwired", "pin-direction"})) continue;
    const Pose pose = c.sweep.poseOf(pin.island, s.floating.state);
    const std::string when = s.everFixed ? c.poseWords(pose) : std::string();
    const auto told = [&](const char* always, const char* then) {
      return when.empty() ? say(always, name) : say(then, name, c.standing(pose));
    };
    if (Finding* cause = causeOf(c, pin.island)) {
      if (cause->consequence.empty())
        cause->consequence =
            told("So {} has no fixed level.", "So {} has no fixed level while {}.");
      continue;
    }
    const Message title = told("{} has no fixed level", "{} has no fixed level while {}");
    Finding f;
    f.rule = "input-floating";
    f.severity = Severity::warning;
    f.pins = {name};
    f.steps = use->reading();
    f.sockets = {{pin.board, pin.name}};
    for (int part : c.circuit.island(pin.island).parts)
      if (c.circuit.kindOf(part)->sweepable()) f.parts.push_back(c.part(part).id);
    f.pose = pose;
    f.title = title;
    f.reason = say("It then reads high or low at random.");
    f.figures = {{"ohms_to_any_level", 1e6}};
    addFixedLevels(c, f, pin);
    c.findings.push_back(std::move(f));
  }
}

}  // namespace

const Rule& inputFloatingRule() {
  static const Rule rule =
      ofInputs({"input-floating", Severity::warning,
                "A pin that is read has no fixed level in some combination.",
                "Such a pin picks up the hum of the room: it reads high and low at "
                "random, and the program seems haunted.",
                "A resistor of 10 kΩ to GND, or the pin’s own pull-up.", true, applyInputFloating});
  return rule;
}

}  // namespace ignavo
