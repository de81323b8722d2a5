#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "check/ohmic_path.h"
#include "check/rules/list.h"

namespace ignavo {

namespace {

constexpr double shortOhms = 1.0;  // below this, supply and ground are as good as joined

// Puts the path's parts into the finding; gives "Call button is held and Switch is at left".
std::string poseAlong(const CheckContext& c, const OhmicPath& path, Finding& f) {
  std::string words;
  for (std::size_t i = 0; i < path.parts.size(); ++i) {
    const Part& part = c.part(path.parts[i]);
    const PartKind& kind = *c.circuit.kindOf(path.parts[i]);
    f.parts.push_back(part.id);
    if (!kind.sweepable()) continue;
    const bool pressed = c.circuit.edges()[static_cast<std::size_t>(path.edges[i])].whenPressed;
    f.pose[part.id] = poseWord(kind, pressed);
    words += (words.empty() ? "" : " and ") + part.name +
             (kind.pressable ? " is held" : " is at " + f.pose[part.id]);
  }
  return words;
}

void report(CheckContext& c, int supply, const OhmicPath& path) {
  Finding f;
  f.rule = "short-circuit";
  f.severity = Severity::danger;
  const std::string name = c.net(supply).name;
  const std::string held = poseAlong(c, path, f);
  const double volts = c.circuit.supplyVolts(supply).value_or(0);
  const double amps = path.ohms > 0 ? volts / path.ohms : 0;
  if (path.parts.empty()) {
    f.title = fmt::format("{} is joined to GND", name);
    f.reason =
        "Wires alone lead from one to the other, so the board switches itself off at once. "
        "Take out one of the wires shown.";
    for (int w : c.net(supply).wires) {
      const Wire& wire = *(*c.project.wires)[static_cast<std::size_t>(w)];
      f.sockets.push_back(wire.from);
      f.sockets.push_back(wire.to);
    }
  } else {
    f.title = held.empty() ? fmt::format("{} is joined to GND", name)
                           : fmt::format("{} meets GND while {}", name, held);
    f.reason = fmt::format(
        "Only {:.2g} Ω lie between them: {:.0f} A would flow, and the board switches itself off. "
        "Put a resistor in between, or move one side to a pin.",
        path.ohms, amps);
  }
  f.figures = {{"ohms", path.ohms}, {"amps", amps}, {"volts", volts}};
  c.findings.push_back(std::move(f));
}

// Both ends of a battery joined.
void reportBattery(CheckContext& c, int battery, const PartDevices::Battery& cells,
                   const OhmicPath& path) {
  Finding f;
  f.rule = "short-circuit";
  f.severity = Severity::danger;
  const Part& part = c.part(battery);
  f.parts = {part.id};
  const std::string held = poseAlong(c, path, f);
  const double amps = cells.volts / (cells.ohms + path.ohms);
  f.title =
      fmt::format("Both ends of {} are joined{}", part.name, held.empty() ? "" : " while " + held);
  f.reason = fmt::format(
      "Only {:.2g} Ω lie between them: {:.1f} A flow, the battery gets hot and is empty soon. Put "
      "a "
      "resistor or the load in between.",
      path.ohms, amps);
  for (const Leg& leg : part.legs)
    if (leg.in) f.sockets.push_back(*leg.in);
  f.figures = {{"ohms", path.ohms}, {"amps", amps}, {"volts", cells.volts}};
  c.findings.push_back(std::move(f));
}

void applyBatteries(CheckContext& c) {
  for (int p = 0; p < c.partCount(); ++p) {
    const PartKind* kind = c.circuit.kindOf(p);
    if (!kind || !kind->devices) continue;
    for (const auto& cells : kind->devices(c.part(p)).batteries) {
      const int plus = c.circuit.nets().ofLeg({p, cells.plus});
      const int minus = c.circuit.nets().ofLeg({p, cells.minus});
      OhmicPath path;
      if (plus == minus)
        path.ohms = 0;
      else
        path = leastPath(c.circuit, plus, minus, shortOhms);
      if (path.ohms < shortOhms) reportBattery(c, p, cells, path);
    }
  }
}

void apply(CheckContext& c) {
  applyBatteries(c);
  std::vector<int> supplies, grounds;
  for (int n = 0; n < static_cast<int>(c.circuit.nets().all().size()); ++n) {
    if (c.circuit.isSupplyNet(n)) supplies.push_back(n);
    if (c.circuit.isGroundNet(n)) grounds.push_back(n);
  }
  // Joined by wires alone: the net is supply and ground at once.
  for (int g : grounds) {
    const Net& net = c.net(g);
    const bool both = std::any_of(net.pins.begin(), net.pins.end(), [&](const PinRef& p) {
      const BoardKind* kind =
          catalogue().boardKind(c.project.boards[static_cast<std::size_t>(p.board)].type);
      const auto role = kind->pins[static_cast<std::size_t>(p.pin)].role;
      return role == PinShape::Role::supply5 || role == PinShape::Role::supply3;
    });
    if (!both) continue;
    Finding f;
    f.rule = "short-circuit";
    f.severity = Severity::danger;
    f.title = "5 V is joined to GND";
    f.reason =
        "Wires alone lead from one to the other, so the board switches itself off at once. "
        "Take out one of the wires shown.";
    for (int w : net.wires) {
      const Wire& wire = *(*c.project.wires)[static_cast<std::size_t>(w)];
      f.sockets.push_back(wire.from);
      f.sockets.push_back(wire.to);
    }
    f.figures = {{"ohms", 0}};
    c.findings.push_back(std::move(f));
  }
  for (int s : supplies)
    for (int g : grounds) {
      std::vector<int> without;
      for (int round = 0; round < 8; ++round) {
        const OhmicPath path = leastPath(c.circuit, s, g, shortOhms, without);
        if (path.parts.empty()) break;
        report(c, s, path);
        without.insert(without.end(), path.parts.begin(), path.parts.end());
      }
    }
}

}  // namespace

const Rule& shortCircuitRule() {
  static const Rule rule{
      "short-circuit",
      Severity::danger,
      "Supply and ground are joined through less than 1 Ω.",
      "A short circuit takes all that the supply can give: wires get hot, the board switches "
      "itself off, a battery is spoilt.",
      "Take out the wire that joins the two, or put a resistor or the load in between.",
      false,
      apply};
  return rule;
}

}  // namespace ignavo
