#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "bench/breadboards.h"
#include "check/joins.h"
#include "check/ohmic_path.h"
#include "check/remedies.h"
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

using Role = PinShape::Role;

// 10 kΩ in place of the wire that leads from the last part's own row to ground.
std::optional<Remedy> resistorInstead(const CheckContext& c, int part, int ground) {
  constexpr double ohms = 10e3;
  for (const Leg& leg : c.part(part).legs) {
    if (!leg.in || c.circuit.nets().of(*leg.in) != ground) continue;
    const BreadboardItem* bb = c.project.breadboard(leg.in->owner);
    const BreadboardKind* kind = bb ? breadboardKind(bb->type) : nullptr;
    const auto way = joiningWires(c.project, {*leg.in}, c.pinsOf(ground, {Role::ground}));
    if (!kind || kind->parse(leg.in->point)->rail >= 0 || way.empty()) continue;
    const Wire& wire = *(*c.project.wires)[static_cast<std::size_t>(way.front())];
    if (auto made = remedies::resistorForWire(c.project, wire.id, ohms))
      return Remedy{fmt::format("Put {} in place of the wire from {} to {}", ohmsText(ohms),
                                wire.from.point, wire.to.point),
                    std::move(*made)};
  }
  return std::nullopt;
}

// Through parts of little resistance: buttons, above all.
void report(CheckContext& c, int supply, int ground, const OhmicPath& path) {
  Finding f;
  f.rule = "short-circuit";
  f.severity = Severity::danger;
  const std::string name = c.net(supply).name;
  const std::string held = poseAlong(c, path, f);
  const double volts = c.circuit.supplyVolts(supply).value_or(0);
  const double amps = path.ohms > 0 ? volts / path.ohms : 0;
  f.title = held.empty() ? fmt::format("{} is joined to GND", name)
                         : fmt::format("{} meets GND while {}", name, held);
  f.reason = fmt::format(
      "Only {:.2g} Ω lie between them: {:.0f} A would flow, and the board switches itself off. "
      "Put a resistor in between, or move one side to a pin.",
      path.ohms, amps);
  f.figures = {{"ohms", path.ohms}, {"amps", amps}, {"volts", volts}};
  if (!held.empty())
    if (auto made = resistorInstead(c, path.parts.back(), ground))
      f.remedies.push_back(std::move(*made));
  c.findings.push_back(std::move(f));
}

// By wires alone: the net is supply and ground at once.
void reportWires(CheckContext& c, int net, const std::vector<Socket>& supplies, const char* name) {
  const auto grounds = c.pinsOf(net, {Role::ground});
  Finding f;
  f.rule = "short-circuit";
  f.severity = Severity::danger;
  f.title = fmt::format("{} is joined to GND", name);
  f.reason =
      "Wires alone lead from one to the other, so the board switches itself off at once. "
      "Without one of them the two are apart.";
  for (int w : joiningWires(c.project, supplies, grounds)) {
    const Wire& wire = *(*c.project.wires)[static_cast<std::size_t>(w)];
    f.sockets.push_back(wire.from);
    f.sockets.push_back(wire.to);
  }
  if (f.sockets.empty()) f.sockets = {supplies.front(), grounds.front()};
  f.figures = {{"ohms", 0}};
  if (auto made = remedies::takeOut(c.project, supplies, grounds)) {
    // Its mark lies at the wire that is too many.
    for (const Socket& end : f.sockets)
      for (const auto& wire : *c.project.wires)
        if (!f.mark && wire->from == end && !made->after.wire(wire->id)) f.mark = end;
    f.remedies.push_back(std::move(*made));
  }
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
      "Only {:.2g} Ω lie between them: {:.1f} A flow, the battery gets hot and is empty soon. "
      "Put a resistor or the load in between.",
      path.ohms, amps);
  for (const Leg& leg : part.legs)
    if (leg.in) f.sockets.push_back(*leg.in);
  f.figures = {{"ohms", path.ohms}, {"amps", amps}, {"volts", cells.volts}};
  const Leg *plus = &part.legs[static_cast<std::size_t>(cells.plus)],
            *minus = &part.legs[static_cast<std::size_t>(cells.minus)];
  if (path.parts.empty() && plus->in && minus->in)
    if (auto made = remedies::takeOut(c.project, {*plus->in}, {*minus->in}))
      f.remedies.push_back(std::move(*made));
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
  for (int g : grounds)
    for (const auto& [role, name] : {std::pair(Role::supply5, "5 V"), {Role::supply3, "3.3 V"}})
      if (const auto joined = c.pinsOf(g, {role}); !joined.empty()) reportWires(c, g, joined, name);
  for (int s : supplies)
    for (int g : grounds) {
      std::vector<int> without;
      for (int round = 0; round < 8; ++round) {
        const OhmicPath path = leastPath(c.circuit, s, g, shortOhms, without);
        if (path.parts.empty()) break;
        report(c, s, g, path);
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
