#include "check/remedies.h"
#include "check/rules/flyback.h"
#include "check/rules/list.h"

namespace ignavo {

namespace {

constexpr double leastPeak = 10;  // volts; below that the motor did not run here

// The cathode goes to the side that is higher while the motor runs.
bool otherSideIsPlus(const CheckContext& c, const SwitchedMotor& s) {
  const PartSweep& sweep = c.sweep.part(s.motor);
  const Peak& peak = sweep.amps.value > sweep.reverseAmps.value ? sweep.amps : sweep.reverseAmps;
  if (!peak.seen || peak.value < 1e-4) return !c.circuit.isGroundNet(s.otherNet);
  const bool forward = &peak == &sweep.amps;
  const int plus = c.circuit.nets().ofLeg({s.motor, forward ? 0 : 1});
  return plus == s.otherNet;
}

void applyNoFlyback(CheckContext& c) {
  for (const SwitchedMotor& s : switchedMotors(c)) {
    if (!s.diodes.empty()) continue;
    const Part &motor = c.part(s.motor), &transistor = c.part(s.transistor);
    // What is joined to nothing is switched by nothing.
    if (c.explained(motor.id, {"leg-loose", "rail-unfed", "part-bypassed"})) continue;
    Finding f;
    f.rule = "no-flyback";
    f.severity = Severity::danger;
    f.parts = {motor.id, transistor.id};
    c.showPart(f, s.motor);
    c.showPart(f, s.transistor);
    const auto found = peakWhenSwitchedOff(c, s);
    const double peak = found && *found > leastPeak ? *found : s.breakVolts;
    f.title = say("{} has no diode across it", motor.name);
    f.reason = say(
        "When {} switches off, the motor’s coil drives its current on: the voltage jumps to {} and "
        "the transistor breaks through. A diode gives that current a way round.",
        transistor.name, asVolts(std::round(peak)));
    f.figures = {{"volts", peak}};
    const PartSweep& swept = c.sweep.part(s.motor);
    const Peak& on = swept.amps.value > swept.reverseAmps.value ? swept.amps : swept.reverseAmps;
    if (on.seen) f.pose = c.sweep.poseOf(c.circuit.islandOfPart(s.motor), on.state);
    const bool plus = otherSideIsPlus(c, s);
    if (auto made =
            remedies::bridge(c.project, newPart(c.project, *catalogue().partKind("diode")),
                             plus ? s.switchedNet : s.otherNet, plus ? s.otherNet : s.switchedNet))
      f.remedies.push_back({say("Put a diode across it"), std::move(*made)});
    c.findings.push_back(std::move(f));
  }
}

}  // namespace

const Rule& noFlybackRule() {
  static const Rule rule{
      "no-flyback",
      Severity::danger,
      "A motor is switched by a transistor and has no diode across it.",
      "A coil does not let its current stop at once: it makes a peak that kills the transistor.",
      "A diode across the motor, its band towards plus.",
      false,
      applyNoFlyback};
  return rule;
}

}  // namespace ignavo
