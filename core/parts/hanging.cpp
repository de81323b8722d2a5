#include "parts/hanging.h"

#include <algorithm>
#include <optional>

#include "parts/catalogue.h"

// From the net of the pin outwards, nearest first. A part is told by what it is for; whether it
// wants the pin high or low follows from what its other end reaches: a lamp between pin and ground
// is lit by high, one between supply and pin by low; a button to the supply gives high while held,
// one to ground low. Behind a transistor everything runs while its gate or base is high.
namespace ignavo {

namespace {

using Is = HangingPart::Is;

PinShape::Role roleOf(const Project& project, const PinRef& pin) {
  const BoardItem& board = project.boards[static_cast<std::size_t>(pin.board)];
  const BoardKind* kind = catalogue().boardKind(board.type);
  return kind->pins[static_cast<std::size_t>(pin.pin)].role;
}

class Walk {
 public:
  Walk(const Project& project, const Nets& nets) : project_(project), nets_(nets) {}

  std::vector<HangingPart> from(int net) {
    go(net, false);
    for (std::size_t i = 0; i < open_.size(); ++i) {
      const Open here = open_[i];
      for (const LegRef& leg : nets_.all()[static_cast<std::size_t>(here.net)].legs)
        meet(leg, here.switched);
    }
    return std::move(found_);
  }

 private:
  struct Open {
    int net;
    bool switched;  // behind a transistor
  };

  const PartKind* kindOf(int part) const {
    return catalogue().partKind((*project_.parts)[static_cast<std::size_t>(part)]->type);
  }

  void go(int net, bool switched) {
    if (net < 0) return;
    for (const Open& o : open_)
      if (o.net == net) return;
    if (!open_.empty() && !nets_.all()[static_cast<std::size_t>(net)].pins.empty()) return;
    open_.push_back({net, switched});
  }

  void add(int part, Is is, bool whenLow) {
    for (const HangingPart& held : found_)
      if (held.part == part) return;
    found_.push_back({part, is, whenLow});
  }

  void meet(const LegRef& leg, bool switched) {
    const PartKind* kind = kindOf(leg.part);
    if (!kind) return;
    if (kind->passes) return go(nets_.ofLeg({leg.part, 1 - leg.leg}), switched);
    const Part& part = *(*project_.parts)[static_cast<std::size_t>(leg.part)];
    if (kind->gated) return through(kind->devices(part), leg);
    if (kind->sweepable()) {
      if (!switched) button(kind->devices(part), leg);
    } else if (kind->senses) {
      if (!switched) add(leg.part, Is::sensor, false);
    } else if (kind->moves == Moves::angle) {
      // Its other legs are its supply.
      if (std::find(kind->powerLegs.begin(), kind->powerLegs.end(), leg.leg) ==
          kind->powerLegs.end())
        add(leg.part, Is::arm, false);
    } else if (kind->shows != Shows::nothing) {
      const Is is = kind->shows == Shows::light  ? Is::lamp
                    : kind->moves == Moves::buzz ? Is::buzzer
                    : kind->moves == Moves::tone ? Is::sounder
                                                 : Is::motor;
      add(leg.part, is, !switched && endsAtSupply(leg));
    }
  }

  // From what switches a transistor to what it switches.
  void through(const PartDevices& devices, const LegRef& leg) {
    for (const PartDevices::Bipolar& b : devices.bipolars)
      if (b.base == leg.leg) go(nets_.ofLeg({leg.part, b.collector}), true);
    for (const PartDevices::Mosfet& m : devices.mosfets)
      if (m.gate == leg.leg) go(nets_.ofLeg({leg.part, m.drain}), true);
  }

  void button(const PartDevices& devices, const LegRef& leg) {
    const int here = nets_.ofLeg(leg);
    for (const PartDevices::Contact& contact : devices.contacts) {
      const int a = nets_.ofLeg({leg.part, contact.a}), b = nets_.ofLeg({leg.part, contact.b});
      if (a == b || (a != here && b != here)) continue;
      const auto ends = reached(a == here ? b : a, leg.part);
      if (!ends) continue;
      // What it joins the pin to while it is held; of one that is let go the other level.
      add(leg.part, Is::button, (*ends == PinShape::Role::ground) == contact.whenPressed);
    }
  }

  // Does the part end at a supply, not at ground, with its other legs?
  bool endsAtSupply(const LegRef& leg) const {
    const int here = nets_.ofLeg(leg);
    const std::size_t legs = (*project_.parts)[static_cast<std::size_t>(leg.part)]->legs.size();
    for (int other = 0; other < static_cast<int>(legs); ++other) {
      const int net = nets_.ofLeg({leg.part, other});
      if (net == here || net < 0) continue;
      if (const auto ends = reached(net, leg.part)) return *ends != PinShape::Role::ground;
    }
    return false;
  }

  // The first supply or ground of a board, or pole of a battery, that a net comes to through
  // resistors and lamps, but not by that part.
  std::optional<PinShape::Role> reached(int start, int but) const {
    std::vector<int> seen{start};
    for (std::size_t i = 0; i < seen.size(); ++i) {
      const Net& net = nets_.all()[static_cast<std::size_t>(seen[i])];
      for (const PinRef& pin : net.pins) {
        const PinShape::Role role = roleOf(project_, pin);
        if (role == PinShape::Role::ground) return role;
        if (role != PinShape::Role::io) return PinShape::Role::supply;
      }
      if (!net.pins.empty()) continue;
      for (const LegRef& leg : net.legs) {
        const PartKind* kind = leg.part == but ? nullptr : kindOf(leg.part);
        if (!kind) continue;
        const Part& part = *(*project_.parts)[static_cast<std::size_t>(leg.part)];
        const PartDevices devices = kind->devices(part);
        for (const PartDevices::Battery& battery : devices.batteries)
          if (leg.leg == battery.plus || leg.leg == battery.minus)
            return leg.leg == battery.minus ? PinShape::Role::ground : PinShape::Role::supply;
        if (!kind->passes && kind->shows == Shows::nothing) continue;
        for (int other = 0; other < static_cast<int>(part.legs.size()); ++other) {
          const int next = nets_.ofLeg({leg.part, other});
          if (next >= 0 && std::find(seen.begin(), seen.end(), next) == seen.end())
            seen.push_back(next);
        }
      }
    }
    return std::nullopt;
  }

  const Project& project_;
  const Nets& nets_;
  std::vector<Open> open_;
  std::vector<HangingPart> found_;
};

}  // namespace

std::vector<HangingPart> hangingOn(const Project& project, const Nets& nets,
                                   const std::string& board, const std::string& pin) {
  const int net = nets.of({board, pin});
  if (net < 0) return {};
  for (const PinRef& joined : nets.all()[static_cast<std::size_t>(net)].pins)
    if (roleOf(project, joined) != PinShape::Role::io) return {};  // it is shorted
  return Walk(project, nets).from(net);
}

}  // namespace ignavo
