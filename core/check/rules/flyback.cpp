#include "check/rules/flyback.h"

#include <algorithm>
#include <cmath>

#include "explain/ohmic_path.h"
#include "parts/island_transient.h"

namespace ignavo {

namespace {

constexpr double besideOhms = 10;  // a diode behind this much still does its work

// The net at which a transistor takes the current of what it switches, and where it gives it.
struct SwitchedNets {
  std::vector<int> nets;
  double breakVolts = 0;
};

SwitchedNets switchedNetsOf(const CheckContext& c, int p) {
  SwitchedNets out;
  const PartKind* kind = c.circuit.kindOf(p);
  if (!kind || !kind->devices) return out;
  const PartDevices d = kind->devices(c.part(p));
  const auto net = [&](int leg) { out.nets.push_back(c.circuit.nets().ofLeg({p, leg})); };
  for (const auto& q : d.bipolars) net(q.collector), net(q.emitter);
  for (const auto& m : d.mosfets) net(m.drain), net(m.source);
  for (const auto& j : d.diodes) out.breakVolts = std::max(out.breakVolts, j.model.offsetVolts);
  return out;
}

const PartReading& readingOf(const CheckContext& c, const IslandReading& r, int part) {
  const auto& members = c.circuit.island(c.circuit.islandOfPart(part)).parts;
  const auto place = std::find(members.begin(), members.end(), part) - members.begin();
  return r.parts[static_cast<std::size_t>(place)];
}

}  // namespace

std::optional<double> peakWhenSwitchedOff(const CheckContext& c, const SwitchedMotor& s) {
  constexpr int mostSteps = 4000;       // a motor is at speed after some hundred
  constexpr double stoppedShare = 0.1;  // of the current that it takes while on
  const int island = c.circuit.islandOfPart(s.motor);
  const SweptPose *on = nullptr, *off = nullptr;
  double most = 0, least = HUGE_VAL;
  for (const SweptPose& pose : c.sweep.posesOf(island)) {
    const double amps = std::abs(c.reading(s.motor, pose.state).amps);
    if (amps > most) most = amps, on = &pose;
    if (amps < least) least = amps, off = &pose;
  }
  if (!on || !off || least > stoppedShare * most) return std::nullopt;
  IslandTransient course(c.circuit, island);
  course.change(on->state);
  for (int k = 0; k < mostSteps && !course.settled(); ++k) course.finishStep();
  course.change(off->state);
  double peak = 0;
  for (int k = 0; k < mostSteps; ++k) {
    peak = std::max(peak, std::abs(readingOf(c, course.here(), s.transistor).volts.value_or(0)));
    if (course.settled()) break;
    course.finishStep();
  }
  return course.solved() ? std::optional(peak) : std::nullopt;
}

std::vector<SwitchedMotor> switchedMotors(const CheckContext& c) {
  std::vector<SwitchedMotor> out;
  for (int m = 0; m < c.partCount(); ++m) {
    const PartKind* kind = c.circuit.kindOf(m);
    if (!kind || kind->moves != Moves::spin) continue;
    const int nets[] = {c.circuit.nets().ofLeg({m, 0}), c.circuit.nets().ofLeg({m, 1})};
    if (nets[0] == nets[1]) continue;
    for (int t = 0; t < c.partCount(); ++t) {
      const SwitchedNets contacts = switchedNetsOf(c, t);
      for (const int side : {0, 1}) {
        const int net = nets[side];
        if (c.circuit.supplyVolts(net)) continue;
        if (std::find(contacts.nets.begin(), contacts.nets.end(), net) == contacts.nets.end())
          continue;
        SwitchedMotor found{m, t, net, nets[1 - side], contacts.breakVolts, {}};
        for (int d = 0; d < c.partCount(); ++d) {
          const PartKind* k = c.circuit.kindOf(d);
          if (!k || k->gated || !k->lamps.empty() || !k->devices) continue;
          for (const auto& diode : k->devices(c.part(d)).diodes) {
            const int a = c.circuit.nets().ofLeg({d, diode.anode}),
                      b = c.circuit.nets().ofLeg({d, diode.cathode});
            const auto near = [&](int x, int y) {
              return leastPath(c.circuit, x, y, besideOhms).found();
            };
            if ((near(a, net) && near(b, found.otherNet)) ||
                (near(b, net) && near(a, found.otherNet)))
              found.diodes.push_back(d);
          }
        }
        const bool known = std::any_of(out.begin(), out.end(),
                                       [&](const SwitchedMotor& s) { return s.motor == m; });
        if (!known) out.push_back(std::move(found));
      }
    }
  }
  return out;
}

}  // namespace ignavo
