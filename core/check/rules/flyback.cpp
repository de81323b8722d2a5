#include "check/rules/flyback.h"

#include <algorithm>

#include "check/ohmic_path.h"

namespace ignavo {

namespace {

constexpr double bipolarBreakVolts = 45, mosfetBreakVolts = 60;
constexpr double besideOhms = 10;  // a diode behind this much still does its work

// The net at which a transistor takes the current of what it switches, and where it gives it.
struct Contacts {
  std::vector<int> nets;
  double breakVolts = 0;
};

Contacts contactsOf(const CheckContext& c, int p) {
  Contacts out;
  const PartKind* kind = c.circuit.kindOf(p);
  if (!kind || !kind->devices) return out;
  const PartDevices d = kind->devices(c.part(p));
  const auto net = [&](int leg) { out.nets.push_back(c.circuit.nets().ofLeg({p, leg})); };
  for (const auto& q : d.bipolars)
    net(q.collector), net(q.emitter), out.breakVolts = bipolarBreakVolts;
  for (const auto& m : d.mosfets) net(m.drain), net(m.source), out.breakVolts = mosfetBreakVolts;
  return out;
}

}  // namespace

std::vector<SwitchedMotor> switchedMotors(const CheckContext& c) {
  std::vector<SwitchedMotor> out;
  for (int m = 0; m < c.partCount(); ++m) {
    const PartKind* kind = c.circuit.kindOf(m);
    if (!kind || kind->moves != Moves::spin) continue;
    const int nets[] = {c.circuit.nets().ofLeg({m, 0}), c.circuit.nets().ofLeg({m, 1})};
    if (nets[0] == nets[1]) continue;
    for (int t = 0; t < c.partCount(); ++t) {
      const Contacts contacts = contactsOf(c, t);
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
