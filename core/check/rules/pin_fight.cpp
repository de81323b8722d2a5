#include <algorithm>

#include "check/joins.h"
#include "check/rules/list.h"
#include "explain/ohmic_path.h"

namespace ignavo {

namespace {

constexpr double fightOhms = 50;  // of wires and resistors in between

bool closedIn(const Circuit& circuit, const OhmicPath& path, const CircuitState& state) {
  return std::all_of(path.edges.begin(), path.edges.end(), [&](int e) {
    const OhmicEdge& edge = circuit.edges()[static_cast<std::size_t>(e)];
    return !edge.contact ||
           (state.pressed[static_cast<std::size_t>(edge.part)] != 0) == edge.whenPressed;
  });
}

// Something that holds a net at a level: another output, or a supply.
struct Other {
  int pin = -1;  // index in Circuit::pins; -1: a supply
  double volts = 0;
  std::string name;
};

// Its pins: the other output, or those of the supply.
std::vector<Socket> heldBy(const CheckContext& c, const Other& other, int net) {
  if (other.pin >= 0) {
    const CircuitPin& pin = c.circuit.pins()[static_cast<std::size_t>(other.pin)];
    return {{pin.board, pin.name}};
  }
  using Role = PinShape::Role;
  return c.pinsOf(net, {Role::supply, Role::supplyIn, Role::ground});
}

void look(CheckContext& c, int p, const Other& other, int net) {
  const CircuitPin& pin = c.circuit.pins()[static_cast<std::size_t>(p)];
  const OhmicPath path = leastPath(c.circuit, pin.net, net, fightOhms);
  if (!path.found()) return;
  const auto stands = [&](const CircuitState& s, int index) {
    return s.pins[static_cast<std::size_t>(index)];
  };
  for (const SweptPose& pose : c.sweep.posesOf(pin.island)) {
    const PinDrive mine = stands(pose.state, p);
    const PinDrive theirs = other.pin >= 0    ? stands(pose.state, other.pin)
                            : other.volts > 0 ? PinDrive::high
                                              : PinDrive::low;
    const bool against = (mine == PinDrive::high && theirs == PinDrive::low) ||
                         (mine == PinDrive::low && theirs == PinDrive::high);
    if (!pose.lasts || !against || !closedIn(c.circuit, path, pose.state)) continue;
    const double level = other.pin >= 0           ? pin.supplyVolts()
                         : mine == PinDrive::high ? pin.supplyVolts() - other.volts
                                                  : other.volts;
    const double amps =
        level / (path.ohms + pin.kind->outOhms + (other.pin >= 0 ? pin.kind->outOhms : 0));
    Finding f;
    f.rule = "pin-fight";
    f.severity = Severity::danger;
    f.pins = {c.pinName(pin)};
    f.sockets = {{pin.board, pin.name}};
    if (other.pin >= 0) {
      const CircuitPin& second = c.circuit.pins()[static_cast<std::size_t>(other.pin)];
      f.pins.push_back(c.pinName(second));
      f.sockets.push_back({second.board, second.name});
    }
    for (int part : path.parts) f.parts.push_back(c.part(part).id);
    f.pose = c.sweep.poseOf(pin.island, pose.state);
    Pose buttons;
    for (int part : path.parts)
      if (c.circuit.kindOf(part)->sweepable()) buttons[c.part(part).id] = f.pose[c.part(part).id];
    f.title = buttons.empty() ? say("{} works against {}", c.pinName(pin), other.name)
                              : say("{} works against {} while {}", c.pinName(pin), other.name,
                                    c.standing(buttons));
    f.reason = say(
        "A step sets {} {}, and only {} lie between it and {}: {} flow. Above {} a pin is damaged.",
        c.pinName(pin), mine == PinDrive::high ? "high" : "low",
        path.ohms < 0.5 ? "wires" : ohmsText(path.ohms), other.name, asAmps(amps),
        asAmps(pin.kind->pinMostAmps));
    f.figures = {{"amps", amps}, {"ohms", path.ohms}, {"most_amps", pin.kind->pinMostAmps}};
    if (const PinUse* use = c.use(pin)) f.steps = use->writers;
    if (path.parts.empty())
      if (auto made = remedies::takeOut(c.project, {f.sockets.front()}, heldBy(c, other, net)))
        f.remedies.push_back(std::move(*made));
    c.findings.push_back(std::move(f));
    return;
  }
}

void applyPinFight(CheckContext& c) {
  const auto& outputs = c.sweep.outputs();
  for (std::size_t i = 0; i < outputs.size(); ++i) {
    const CircuitPin& pin = c.circuit.pins()[static_cast<std::size_t>(outputs[i])];
    for (int n = 0; n < static_cast<int>(c.circuit.nets().all().size()); ++n)
      if (const auto volts = c.circuit.supplyVolts(n))
        look(c, outputs[i], {-1, *volts, c.net(n).name}, n);
    for (std::size_t j = i + 1; j < outputs.size(); ++j) {
      const CircuitPin& other = c.circuit.pins()[static_cast<std::size_t>(outputs[j])];
      if (c.circuit.supplyVolts(other.net)) continue;
      if (!c.circuit.supplyVolts(pin.net))
        look(c, outputs[i], {outputs[j], 0, c.pinName(other)}, other.net);
    }
  }
}

}  // namespace

const Rule& pinFightRule() {
  static const Rule rule = takingPower(
      {"pin-fight", Severity::danger, "An output works against another output or against a supply.",
       "One pulls up, the other down: the current through both is only limited by the chip itself, "
       "and spoils it.",
       "Take out the wire between them, or use another pin.", true, applyPinFight, Seeks::itsRow,
       10e3});
  return rule;
}

}  // namespace ignavo
