#include <algorithm>

#include "check/joins.h"
#include "check/rules/list.h"
#include "check/trial.h"
#include "explain/ohmic_path.h"
#include "project/edits.h"

namespace ignavo {

namespace {

constexpr double overVolts = 0.5;     // above the supply that a pin bears
constexpr double feedsOhms = 100;     // a battery behind more does not feed a rail
constexpr double sameSupplyOhms = 1;  // supplies joined through less are one

struct BatteryPart {
  int part;
  int plus;
  double volts;
};

std::vector<BatteryPart> batteriesOf(const CheckContext& c) {
  std::vector<BatteryPart> out;
  for (int p = 0; p < c.partCount(); ++p) {
    const PartKind* kind = c.circuit.kindOf(p);
    if (!kind || !kind->devices) continue;
    for (const auto& e : kind->devices(c.part(p)).batteries)
      out.push_back({p, c.circuit.nets().ofLeg({p, e.plus}), e.volts});
  }
  return out;
}

Finding about(const CheckContext& c, int battery) {
  Finding f;
  f.rule = "over-voltage";
  f.severity = Severity::danger;
  if (battery >= 0) {
    f.parts = {c.part(battery).id};
    c.showPart(f, battery);
  }
  return f;
}

// Without the wire that joins the battery to the supply.
void addApart(const CheckContext& c, Finding& f, const BatteryPart& b, int net) {
  using Role = PinShape::Role;
  std::vector<Socket> plus;
  for (const Leg& leg : c.part(b.part).legs)
    if (leg.in && c.circuit.nets().of(*leg.in) == b.plus) plus.push_back(*leg.in);
  if (auto made = remedies::takeOut(c.project, plus, c.pinsOf(net, {Role::supply})))
    f.remedies.push_back(std::move(*made));
}

// A battery with fewer volts than the supply that it is joined to: current goes into it.
bool takesFromSupply(CheckContext& c, const BatteryPart& b) {
  constexpr double leastAmps = 0.020;
  const int island = c.circuit.islandOfPart(b.part);
  for (int net = 0; net < static_cast<int>(c.circuit.nets().all().size()); ++net) {
    if (!c.circuit.isSupplyNet(net) || *c.circuit.supplyVolts(net) < b.volts ||
        !leastPath(c.circuit, b.plus, net, feedsOhms).found())
      continue;
    const SweptPose* at = nullptr;
    double most = leastAmps;
    for (const SweptPose& pose : c.sweep.posesOf(island))
      if (const PartReading r = c.reading(b.part, pose.state); r.watts > 0 && r.amps > most)
        most = r.amps, at = &pose;
    if (!at) continue;
    Finding f = about(c, b.part);
    f.pose = c.sweep.poseOf(island, at->state);
    f.title = say("{} drives {} backwards through {}", c.net(net).name, asAmps(most),
                  c.part(b.part).name);
    f.reason =
        say("A battery that takes instead of giving gets hot and leaks. Give it a rail of its own, "
            "joined only at ground.");
    f.figures = {{"amps", most}, {"volts", b.volts}};
    addApart(c, f, b, net);
    c.findings.push_back(std::move(f));
    return true;
  }
  return false;
}

// A battery joined to a board’s own supply.
bool onSupply(CheckContext& c, const BatteryPart& b) {
  for (int net = 0; net < static_cast<int>(c.circuit.nets().all().size()); ++net) {
    if (!c.circuit.isSupplyNet(net) || !leastPath(c.circuit, b.plus, net, feedsOhms).found())
      continue;
    const double own = *c.circuit.supplyVolts(net);
    double volts = 0;
    const int island = c.circuit.islandOfPart(b.part);
    const SweptPose* at = nullptr;
    for (const SweptPose& pose : c.sweep.posesOf(island))
      for (const auto& s : c.circuit.solveIsland(island, pose.state).supplies)
        if (s.net == net && s.volts > volts) volts = s.volts, at = &pose;
    if (!at || volts <= own + overVolts) continue;
    Finding f = about(c, b.part);
    f.pose = c.sweep.poseOf(island, at->state);
    f.title = say("{} brings {} to {}", c.part(b.part).name, asVolts(volts), c.net(net).name);
    f.reason = say(
        "The board and all that hangs there is made for {}. Give the battery a rail of its own, "
        "or feed the board through VIN.",
        asVolts(own));
    f.figures = {{"volts", volts}, {"most_volts", own + overVolts}};
    addApart(c, f, b, net);
    c.findings.push_back(std::move(f));
    return true;
  }
  return false;
}

// What a board's supply input takes.
void onVin(CheckContext& c, const BatteryPart& b) {
  const Net& net = c.net(b.plus);
  for (const PinRef& ref : net.pins) {
    const BoardItem& board = c.project.boards[static_cast<std::size_t>(ref.board)];
    const BoardKind* kind = catalogue().boardKind(board.type);
    if (kind->pins[static_cast<std::size_t>(ref.pin)].role != PinShape::Role::supplyIn) continue;
    const int island = c.circuit.islandOfPart(b.part);
    if (c.sweep.posesOf(island).empty()) continue;
    const double volts = c.volts(b.plus, c.sweep.posesOf(island).front().state).value_or(b.volts);
    if (volts >= kind->minInVolts && volts <= kind->maxInVolts) continue;
    const bool tooMuch = volts > kind->maxInVolts;
    const std::string& pin = kind->pins[static_cast<std::size_t>(ref.pin)].name;
    Finding f = about(c, b.part);
    f.severity = tooMuch ? Severity::danger : Severity::warning;
    f.sockets.push_back({board.id, pin});
    f.title = say("{} gives {} to {}; it takes {} to {}", c.part(b.part).name, asVolts(volts), pin,
                  asNumber(kind->minInVolts), asVolts(kind->maxInVolts));
    f.reason = tooMuch ? say("The board’s regulator gets too hot and fails.")
                       : say("The board makes its {} from it and needs at least {} for that.",
                             kind->mainSupply().label, asVolts(kind->minInVolts));
    f.figures = {
        {"volts", volts}, {"most_volts", kind->maxInVolts}, {"least_volts", kind->minInVolts}};
    c.findings.push_back(std::move(f));
  }
}

bool batteryIn(const CheckContext& c, int island) {
  const auto& parts = c.circuit.island(island).parts;
  return std::any_of(parts.begin(), parts.end(), [&](int p) {
    const PartKind* kind = c.circuit.kindOf(p);
    return kind && kind->print.legs.front().feeds != LegShape::Feeds::nothing;
  });
}

void pins(CheckContext& c) {
  for (int i = 0; i < c.circuit.islandCount(); ++i) {
    if (!batteryIn(c, i)) continue;
    const auto& members = c.circuit.island(i).pins;
    for (std::size_t k = 0; k < members.size(); ++k) {
      const CircuitPin& pin = c.circuit.pins()[static_cast<std::size_t>(members[k])];
      double volts = 0;
      const SweptPose* at = nullptr;
      if (!c.wired(pin)) continue;
      for (const SweptPose& pose : c.sweep.posesOf(i)) {
        const double v = c.circuit.solveIsland(i, pose.state).pins[k].volts.value_or(0);
        if (v > volts + 1e-6) volts = v, at = &pose;
      }
      if (!at || volts <= pin.supplyVolts() + overVolts) continue;
      Finding f = about(c, -1);
      f.pins = {c.pinName(pin)};
      f.sockets = {{pin.board, pin.name}};
      f.pose = c.sweep.poseOf(i, at->state);
      f.title = say("{} gets {}; it bears {}", c.pinName(pin), asVolts(volts),
                    asVolts(pin.supplyVolts() + overVolts));
      f.reason = say(
          "More than the board’s own {} on a pin spoils the chip. Two resistors that divide it, or "
          "a transistor, keep it away.",
          asVolts(pin.supplyVolts()));
      f.figures = {{"volts", volts}, {"most_volts", pin.supplyVolts() + overVolts}};
      c.findings.push_back(std::move(f));
    }
  }
}

// A battery in place of the one that gives too much: the strongest that the part bears.
std::optional<Remedy> smallerBattery(const CheckContext& c, int part, double most) {
  std::optional<Remedy> best;
  double bestVolts = 0;
  for (const BatteryPart& b : batteriesOf(c)) {
    if (c.circuit.islandOfPart(b.part) != c.circuit.islandOfPart(part)) continue;
    const Part& held = c.part(b.part);
    for (const PropKind& prop : c.circuit.kindOf(b.part)->props)
      for (const std::string& choice : prop.choices) {
        Part other = held;
        other.setProp(prop.key, choice);
        const double volts = c.circuit.kindOf(b.part)->devices(other).batteries.front().volts;
        if (volts <= bestVolts || volts >= b.volts) continue;
        Project after =
            edits::changePart(c.project, held.id, [&](Part& q) { q.setProp(prop.key, choice); });
        if (!c.mayTry() || mostVolts(after, c.part(part).id) > most) continue;
        bestVolts = volts;
        best = Remedy{
            say("Take {} instead of {}", c.circuit.kindOf(b.part)->shortText(other), held.name),
            std::move(after)};
      }
  }
  return best;
}

void parts(CheckContext& c) {
  for (int p = 0; p < c.partCount(); ++p) {
    const PartKind* kind = c.circuit.kindOf(p);
    // What stores charge has rules of its own.
    if (!kind || !kind->absoluteMaximum || kind->stores) continue;
    const VoltLimits limits = kind->absoluteMaximum(c.part(p));
    const PartSweep& s = c.sweep.part(p);
    const bool reverse = limits.reverse > 0 && s.reverseVolts.value > limits.reverse + 1e-6;
    const bool over = limits.max > 0 && s.volts.value > limits.max + 1e-6;
    if (!reverse && !over) continue;
    const Peak& peak = reverse ? s.reverseVolts : s.volts;
    const double most = reverse ? limits.reverse : limits.max;
    Finding f = about(c, p);
    f.pose = c.sweep.poseOf(c.circuit.islandOfPart(p), peak.state);
    f.title =
        say(reverse ? "{} gets {} the other way round; it bears {}" : "{} gets {}; it bears {}",
            c.part(p).name, asVolts(peak.value), asVolts(most));
    const bool lamp = kind->shows == Shows::light;
    f.reason = !reverse
                   ? say("Above that {} is damaged. A battery with fewer volts fits.", kind->label)
               : lamp ? say("Against its direction an LED breaks through. Turned, it lights.")
                      : say("With plus and minus exchanged it is spoilt at once.");
    f.figures = {{"volts", peak.value}, {"most_volts", most}};
    if (reverse && !lamp) {
      const auto [plus, minus] = kind->readLegs;
      f.remedies.push_back(
          {say("Exchange its plus and minus"),
           edits::changePart(c.project, c.part(p).id, [a = plus, b = minus](Part& q) {
             std::swap(q.legs[static_cast<std::size_t>(a)].in,
                       q.legs[static_cast<std::size_t>(b)].in);
           })});
    }
    if (!reverse)
      if (auto made = smallerBattery(c, p, most)) f.remedies.push_back(std::move(*made));
    c.findings.push_back(std::move(f));
  }
}

// A wire without which the two would be apart.
std::optional<Remedy> apart(const CheckContext& c, int net, const Socket& a, const Socket& b) {
  for (int wire : c.net(net).wires) {
    Project without =
        edits::remove(c.project, {(*c.project.wires)[static_cast<std::size_t>(wire)]->id});
    const Nets nets(without, catalogue());
    if (nets.of(a) != nets.of(b))
      return Remedy{say("Take the wire between them out"), std::move(without)};
  }
  return std::nullopt;
}

// The 5 V of a board joined to the 3.3 V of this or another one.
void suppliesJoined(CheckContext& c) {
  for (const BoardSupply& low : c.circuit.supplies())
    for (const BoardSupply& high : c.circuit.supplies()) {
      if (low.kind->volts + overVolts >= high.kind->volts) continue;
      const bool wired = low.net == high.net;
      const OhmicPath path =
          wired ? OhmicPath() : leastPath(c.circuit, high.net, low.net, sameSupplyOhms);
      if (!wired && !path.found()) continue;
      const bool several = c.project.boards.size() > 1;
      const auto place = [&](const BoardSupply& s) {
        return Socket{c.project.boards[static_cast<std::size_t>(s.board)].id, s.kind->pin};
      };
      const auto named = [&](const BoardSupply& s) {
        return (several ? place(s).owner + "." : "") + s.kind->pin;
      };
      Finding f;
      f.rule = "over-voltage";
      f.severity = Severity::danger;
      f.pins = {named(low)};
      for (int part : path.parts) {
        f.parts.push_back(c.part(part).id);
        if (c.circuit.kindOf(part)->sweepable())
          f.pose[c.part(part).id] = poseWord(*c.circuit.kindOf(part), true);
      }
      f.sockets = {place(low), place(high)};
      f.title = f.pose.empty() ? say("{} is joined to {}", named(low), named(high))
                               : say("{} is joined to {} while {}", named(low), named(high),
                                     c.standing(f.pose));
      f.reason = say(
          "{} is made for {}: with {} on it the board’s own supply is spoilt, and all that runs "
          "on it.",
          named(low), low.kind->label, high.kind->label);
      f.figures = {{"volts", high.kind->volts}, {"most_volts", low.kind->volts + overVolts}};
      if (wired)
        if (auto r = apart(c, low.net, f.sockets[0], f.sockets[1]))
          f.remedies.push_back(std::move(*r));
      c.findings.push_back(std::move(f));
    }
}

void applyOverVoltage(CheckContext& c) {
  bool supply = false;
  suppliesJoined(c);
  for (const BatteryPart& b : batteriesOf(c)) {
    supply = onSupply(c, b) || takesFromSupply(c, b) || supply;
    onVin(c, b);
  }
  if (!supply) pins(c);
  parts(c);
}

}  // namespace

const Rule& overVoltageRule() {
  static const Rule rule = darkening(
      {"over-voltage", Severity::danger, "More volts than a pin, a supply or a part is made for.",
       "Chips are spoilt by it at once and for good, without smoke or warning.",
       "Keep the higher voltage in a circuit of its own, joined only at ground.", false,
       applyOverVoltage});
  return rule;
}

}  // namespace ignavo
