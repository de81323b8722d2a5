#include <algorithm>
#include <cmath>

#include "bench/breadboards.h"
#include "check/joins.h"
#include "check/remedies.h"
#include "check/rules/flyback.h"
#include "check/rules/list.h"
#include "explain/ohmic_path.h"
#include "project/edits.h"

namespace ignavo {

namespace {

constexpr double shortOhms = 1.0;  // below this, supply and ground are as good as joined

// Puts the path's parts into the finding, and how they stand into its pose.
void addPath(const CheckContext& c, const OhmicPath& path, Finding& f) {
  for (std::size_t i = 0; i < path.parts.size(); ++i) {
    const Part& part = c.part(path.parts[i]);
    const PartKind& kind = *c.circuit.kindOf(path.parts[i]);
    f.parts.push_back(part.id);
    if (!kind.sweepable()) continue;
    const bool pressed = c.circuit.edges()[static_cast<std::size_t>(path.edges[i])].whenPressed;
    f.pose[part.id] = poseWord(kind, pressed);
  }
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
      return Remedy{say("Put {} in place of the wire from {} to {}", ohmsText(ohms),
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
  addPath(c, path, f);
  const bool held = !f.pose.empty();
  const double volts = c.circuit.supplyVolts(supply).value_or(0);
  const double amps = path.ohms > 0 ? volts / path.ohms : 0;
  std::vector<std::string> names;
  for (int part : path.parts) names.push_back(c.part(part).name);
  f.title = !held ? say("{} meets GND through {}", name, names)
                  : say("{} meets GND while {}", name, c.standing(f.pose));
  const Place flows = asNumber(std::round(amps));
  f.reason =
      say("Only {} Ω lie between them: {} A would flow, and the board switches itself off. Put a "
          "resistor in between, or move one side to a pin.",
          asNumber(path.ohms, 2), flows);
  f.figures = {{"ohms", path.ohms}, {"amps", amps}, {"volts", volts}};
  const int meter =
      path.parts.size() == 1 && c.isInstrument(path.parts.front()) ? path.parts.front() : -1;
  if (meter >= 0) {
    f.reason =
        say("For milliamps a meter is as good as a wire: {} A would flow, and the board switches "
            "itself off. It belongs into the path of a part, not across the supply.",
            flows);
    const PartKind& kind = *c.circuit.kindOf(meter);
    const std::string& first = kind.prop(kind.measuresKey)->choices.front();
    f.remedies.push_back({say("Let it measure volts"),
                          edits::changePart(c.project, c.part(meter).id,
                                            [&](Part& q) { q.setProp(kind.measuresKey, first); })});
  }
  if (held)
    if (auto made = resistorInstead(c, path.parts.back(), ground))
      f.remedies.push_back(std::move(*made));
  c.findings.push_back(std::move(f));
}

// By wires alone: the net is supply and ground at once.
void reportWires(CheckContext& c, int net, const std::vector<Socket>& supplies,
                 const std::string& name) {
  const auto grounds = c.pinsOf(net, {Role::ground});
  Finding f;
  f.rule = "short-circuit";
  f.severity = Severity::danger;
  f.title = say("{} is joined to GND", name);
  f.reason =
      say("Wires alone lead from one to the other, so the board switches itself off at once. "
          "Without one of them the two are apart.");
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
  addPath(c, path, f);
  const bool held = !f.pose.empty();
  const double amps = cells.volts / (cells.ohms + path.ohms);
  f.title = !held ? say("Both ends of {} are joined", part.name)
                  : say("Both ends of {} are joined while {}", part.name, c.standing(f.pose));
  f.reason = say(
      "Only {} Ω lie between them: {} flow, the battery gets hot and is empty soon. Put a resistor "
      "or the load in between.",
      asNumber(path.ohms, 2), asAmps(amps));
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

// Of a supply or battery in one solved state.
struct Drain {
  std::string from;  // "5 V and GND", "the ends of Battery"
  int battery = -1;
  double volts = 0, amps = 0;
};

// What gives so much there that less than an ohm lies across it.
std::vector<Drain> drainsOf(const CheckContext& c, int island, const CircuitState& state) {
  std::vector<Drain> out;
  const IslandReading& r = c.circuit.solveIsland(island, state);
  for (const auto& s : r.supplies)
    if (s.amps * shortOhms > s.volts && s.volts > 0) {
      const bool joined = std::any_of(
          c.project.boards.begin(), c.project.boards.end(), [&](const BoardItem& board) {
            const BoardKind* kind = catalogue().boardKind(board.type);
            return std::any_of(kind->pins.begin(), kind->pins.end(), [&](const BoardPin& pin) {
              const int ground = c.circuit.nets().of({board.id, pin.name});
              return pin.role == Role::ground &&
                     leastPath(c.circuit, s.net, ground, shortOhms, {}, &state).found();
            });
          });
      if (!joined) out.push_back({c.net(s.net).name + " and GND", -1, s.volts, s.amps});
    }
  const auto& parts = c.circuit.island(island).parts;
  for (std::size_t k = 0; k < parts.size(); ++k) {
    const PartKind* kind = c.circuit.kindOf(parts[k]);
    const double volts = r.parts[k].volts.value_or(0), amps = std::abs(r.parts[k].amps);
    if (!kind || !kind->devices || r.parts[k].watts >= 0 || amps * shortOhms <= volts) continue;
    const Part& part = c.part(parts[k]);
    for (const auto& cells : kind->devices(part).batteries)
      if (!leastPath(c.circuit, c.circuit.nets().ofLeg({parts[k], cells.plus}),
                     c.circuit.nets().ofLeg({parts[k], cells.minus}), shortOhms, {}, &state)
               .found())
        out.push_back({"the ends of " + part.name, parts[k], volts, amps});
  }
  return out;
}

// Diodes and transistors that most of the current goes through. Empty where it is resistors
// that let it pass (they say it themselves) or the diode across a motor (that has a rule).
std::vector<int> throughWhat(const CheckContext& c, int island, const CircuitState& state,
                             double amps) {
  constexpr double most = 0.5;
  std::vector<int> out;
  const auto& parts = c.circuit.island(island).parts;
  const IslandReading& r = c.circuit.solveIsland(island, state);
  for (std::size_t k = 0; k < parts.size(); ++k) {
    const PartKind* kind = c.circuit.kindOf(parts[k]);
    if (!kind || !kind->devices) continue;
    const PartDevices d = kind->devices(c.part(parts[k]));
    if (d.diodes.empty() && d.bipolars.empty() && d.mosfets.empty()) continue;
    const auto& legs = r.parts[k].legs;
    if (std::any_of(legs.begin(), legs.end(), [&](double a) { return std::abs(a) > most * amps; }))
      out.push_back(parts[k]);
  }
  for (const SwitchedMotor& s : switchedMotors(c))
    for (int diode : s.diodes)
      if (std::find(out.begin(), out.end(), diode) != out.end()) return {};
  return out;
}

// "D4 is high and Call button is held"
Place::Several standing(const CheckContext& c, const Pose& pose) {
  Place::Several out;
  Pose held;
  for (const auto& [id, how] : pose) {
    if (!c.project.part(id) && how == "high") out.emplace_back(say("{} is high", id));
    if (c.project.part(id) && how != "released") held.insert({id, how});
  }
  if (!held.empty()) out.push_back(c.standing(held));
  return out;
}

// Not by wires and contacts, but as good as by them: what the solver finds.
void applySolved(CheckContext& c) {
  for (int i = 0; i < c.circuit.islandCount(); ++i) {
    std::vector<std::string> said;
    for (const SweptPose& pose : c.sweep.posesOf(i))
      for (const Drain& drain : drainsOf(c, i, pose.state)) {
        const std::vector<int> through = throughWhat(c, i, pose.state, drain.amps);
        if (through.empty() || std::find(said.begin(), said.end(), drain.from) != said.end())
          continue;
        said.push_back(drain.from);
        Finding f;
        f.rule = "short-circuit";
        f.severity = Severity::danger;
        std::vector<std::string> names;
        for (int part : through) {
          f.parts.push_back(c.part(part).id);
          names.push_back(c.part(part).name);
          c.showPart(f, part);
        }
        if (drain.battery >= 0) f.parts.push_back(c.part(drain.battery).id);
        f.pose = c.sweep.poseOf(i, pose.state);
        const Place::Several when = standing(c, f.pose);
        const bool one = names.size() == 1;
        f.title = when.empty() && one ? say("Only {} lies between {}", names, drain.from)
                  : when.empty()      ? say("Only {} lie between {}", names, drain.from)
                  : one ? say("Only {} lies between {} while {}", names, drain.from, when)
                        : say("Only {} lie between {} while {}", names, drain.from, when);
        f.reason =
            say("{} lets {} through, hardly less than a wire. A lamp, motor or resistor belongs in "
                "that path.",
                names.front(), asAmps(drain.amps));
        f.figures = {{"amps", drain.amps}, {"volts", drain.volts}};
        const PartKind& kind = *c.circuit.kindOf(through.front());
        if (through.size() == 1 && kind.print.polarised && kind.print.legs.size() == 2)
          if (auto made = remedies::turn(c.project, f.parts.front()))
            f.remedies.push_back(std::move(*made));
        c.findings.push_back(std::move(f));
      }
  }
}

// Resistors and contacts that are less than an ohm only all together: as it stands, or with
// everything held that can be.
void applyTogether(CheckContext& c, int supply) {
  constexpr double goodShare = 0.05;
  const double volts = c.circuit.supplyVolts(supply).value_or(0);
  CircuitState held = c.circuit.restState();
  for (int p = 0; p < c.partCount(); ++p)
    if (c.circuit.kindOf(p) && c.circuit.kindOf(p)->pressable)
      held.pressed[static_cast<std::size_t>(p)] = 1;
  for (const CircuitState& state : {c.circuit.restState(), held}) {
    const Circuit::OhmicLoad load = c.circuit.ohmicLoad(supply, state);
    if (load.ohms >= shortOhms * (1 - 1e-6)) continue;  // exactly one ohm is none
    Finding f;
    f.rule = "short-circuit";
    f.severity = Severity::danger;
    std::vector<std::string> names;
    for (const auto& [part, share] : load.shares) {
      if (share < goodShare) continue;
      f.parts.push_back(c.part(part).id);
      c.showPart(f, part);
      const PartKind& kind = *c.circuit.kindOf(part);
      if (kind.pressable) f.pose[c.part(part).id] = poseWord(kind, true);
      if (!kind.pressable) names.push_back(c.part(part).name);
    }
    f.title = f.pose.empty() ? say("{} together join {} and GND", names, c.net(supply).name)
                             : say("{} together join {} and GND while {}", names,
                                   c.net(supply).name, c.standing(f.pose));
    f.reason = say(
        "Side by side they are {} Ω: {} would flow, and the board switches itself off. More ohms "
        "belong there, or the load that they are for.",
        asNumber(load.ohms, 2), asAmps(volts / load.ohms));
    f.figures = {{"ohms", load.ohms}, {"amps", volts / load.ohms}, {"volts", volts}};
    c.findings.push_back(std::move(f));
    return;
  }
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

// The supplies whose pins end in a net: what people call them, and the pins.
std::map<std::string, std::vector<Socket>, std::greater<>> suppliesAt(const CheckContext& c,
                                                                      int net) {
  std::map<std::string, std::vector<Socket>, std::greater<>> out;
  for (const BoardSupply& s : c.circuit.supplies())
    if (s.net == net) {
      const std::string& id = c.project.boards[static_cast<std::size_t>(s.board)].id;
      out[(c.project.boards.size() > 1 ? id + " " : "") + s.kind->label].push_back(
          {id, s.kind->pin});
    }
  return out;
}

void applyShortCircuit(CheckContext& c) {
  applyBatteries(c);
  std::vector<int> supplies, grounds;
  for (int n = 0; n < static_cast<int>(c.circuit.nets().all().size()); ++n) {
    if (c.circuit.isSupplyNet(n)) supplies.push_back(n);
    if (c.circuit.isGroundNet(n)) grounds.push_back(n);
  }
  for (int g : grounds)
    for (const auto& [name, pins] : suppliesAt(c, g)) reportWires(c, g, pins, name);
  for (int s : supplies) {
    const std::size_t before = c.findings.size();
    for (int g : grounds) {
      std::vector<int> without;
      for (int round = 0; round < 8; ++round) {
        const OhmicPath path = leastPath(c.circuit, s, g, shortOhms, without);
        if (path.parts.empty()) break;
        report(c, s, g, path);
        without.insert(without.end(), path.parts.begin(), path.parts.end());
      }
    }
    const bool fed = std::any_of(c.circuit.supplies().begin(), c.circuit.supplies().end(),
                                 [&](const BoardSupply& supply) {
                                   return supply.net == s && !c.circuit.shorted(supply.board);
                                 });
    if (fed && c.findings.size() == before) applyTogether(c, s);
  }
  applySolved(c);
}

}  // namespace

const Rule& shortCircuitRule() {
  static const Rule rule = takingPower(
      {"short-circuit", Severity::danger, "Supply and ground are joined through less than 1 Ω.",
       "A short circuit takes all that the supply can give: wires get hot, the board switches "
       "itself off, a battery is spoilt.",
       "Take out the wire that joins the two, or put a resistor or the load in between.", false,
       applyShortCircuit});
  return rule;
}

}  // namespace ignavo
