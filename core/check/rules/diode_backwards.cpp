#include "check/remedies.h"
#include "check/rules/flyback.h"
#include "check/rules/list.h"

namespace ignavo {

namespace {

constexpr double conductsAmps = 0.001;

void applyDiodeBackwards(CheckContext& c) {
  for (const SwitchedMotor& s : switchedMotors(c))
    for (const int d : s.diodes) {
      const Peak& peak = c.sweep.part(d).amps;
      const Part &motor = c.part(s.motor), &diode = c.part(d);
      if (!peak.seen || peak.value < conductsAmps) continue;
      Finding f;
      f.rule = "diode-backwards";
      f.severity = Severity::danger;
      f.parts = {diode.id, motor.id, c.part(s.transistor).id};
      for (int part : c.circuit.island(c.circuit.islandOfPart(d)).parts)
        if (c.circuit.kindOf(part)->mostAmps && part != d && part != s.transistor)
          f.parts.push_back(c.part(part).id);  // what its current overloads as well
      c.showPart(f, d);
      f.pose = c.sweep.poseOf(c.circuit.islandOfPart(d), peak.state);
      f.title = say("{} conducts while {} is on", diode.name, motor.name);
      f.reason =
          say("Its band points away from plus, so the current goes through it and past the motor: "
              "{} A. Turned, it only takes up the peak.",
              asNumber(peak.value, 2));
      f.figures = {{"amps", peak.value}};
      if (auto r = remedies::turn(c.project, diode.id)) f.remedies.push_back(std::move(*r));
      c.findings.push_back(std::move(f));
    }
}

}  // namespace

const Rule& diodeBackwardsRule() {
  static const Rule rule = takingPower(
      {"diode-backwards", Severity::danger,
       "The diode across a motor conducts while the motor is on.",
       "It shorts the supply through the transistor: both get hot at once, and the motor stands.",
       "Turn the diode: its band belongs towards plus.", false, applyDiodeBackwards});
  return rule;
}

}  // namespace ignavo
