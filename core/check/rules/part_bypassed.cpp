#include <algorithm>
#include <cstdlib>

#include "bench/arranging.h"
#include "bench/breadboards.h"
#include "bench/relocating.h"
#include "check/joins.h"
#include "check/rules/list.h"
#include "check/trial.h"

namespace ignavo {

namespace {

// "are in row 9 right", "lead to D4", "are joined"
std::string where(const CheckContext& c, int net) {
  const Net& n = c.net(net);
  if (n.strips.size() == 1 && n.pins.empty()) return "are in " + n.name;
  return n.pins.empty() ? "are joined" : "lead to " + n.name;
}

// What lies across a short circuit is bypassed by it, and by nothing of its own.
bool acrossAShort(const CheckContext& c, int net) {
  return c.circuit.supplyVolts(net) &&
         std::any_of(c.findings.begin(), c.findings.end(),
                     [](const Finding& f) { return f.rule == "short-circuit"; });
}

constexpr double worksAmps = 1e-6;  // below it a part does nothing that is seen

bool sameRow(const CheckContext& c, const Part& part) {
  const auto& legs = part.legs;
  return std::all_of(legs.begin(), legs.end(), [&](const Leg& l) {
    return l.in && rowOf(c.project, *l.in) == rowOf(c.project, *legs.front().in);
  });
}

Message howJoined(const CheckContext& c, const Part& part, const PartKind& kind) {
  const auto &first = part.legs[static_cast<std::size_t>(kind.readLegs.first)].in,
             &second = part.legs[static_cast<std::size_t>(kind.readLegs.second)].in;
  const auto wires = first && second && !sameRow(c, part)
                         ? joiningWires(c.project, {*first}, {*second})
                         : std::vector<int>();
  if (wires.size() == 1) {
    const Wire& wire = *(*c.project.wires)[static_cast<std::size_t>(wires.front())];
    return say(
        "The wire from {} to {} joins them, so the current goes past the part and it does nothing.",
        wire.from.point, wire.to.point);
  }
  return sameRow(c, part)
             ? say("They are joined already, so the current goes past the part and it does "
                   "nothing. Put one leg into another row.")
             : say("They are joined already, so the current goes past the part and it does "
                   "nothing. Take out what joins them, or put one leg into another row.");
}

// One leg into a row near by, such that the part carries something then, and not too much.
std::optional<Remedy> legMoved(const CheckContext& c, int index, const PartKind& kind) {
  const Part& part = c.part(index);
  for (const int rows : {1, 2, 3, 4})
    for (const int l : {kind.readLegs.second, kind.readLegs.first})
      for (const int way : {1, -1}) {
        const LegShape& shape = kind.print.legs[static_cast<std::size_t>(l)];
        const Leg* leg = part.leg(shape.id);
        const auto at = leg && leg->in ? rowOf(c.project, *leg->in) : std::nullopt;
        const BreadboardItem* bb = at ? c.project.breadboard(at->breadboard) : nullptr;
        const BreadboardKind* holes = bb ? breadboardKind(bb->type) : nullptr;
        const int strip = at ? at->strip + 2 * rows * way : -1;  // two strips to a row
        if (!holes || holes->isRail(at->strip) || strip < 0 || strip >= 2 * holes->rows) continue;
        std::vector<Hole> there = holes->holesOf(strip);
        const int column = holes->parse(leg->in->point)->column;
        std::stable_sort(there.begin(), there.end(), [&](const Hole& a, const Hole& b) {
          return std::abs(a.column - column) < std::abs(b.column - column);
        });
        for (const Hole& hole : there) {
          const Socket to{bb->id, holes->address(hole)};
          const int net = c.circuit.nets().of(to);
          if (!c.net(net).used() || net == c.circuit.nets().of(*leg->in)) break;
          const Arranged moved = plugged(c.project, catalogue(), part.id, leg->id, to);
          if (!moved.clear()) continue;
          if (!c.mayTry()) return std::nullopt;
          const double amps = kind.shows == Shows::light
                                  ? bestAmps(moved.project, part.id)
                                  : mostAmpsEitherWay(moved.project, part.id);
          if (amps < worksAmps || (kind.ratedAmps > 0 && amps > kind.ratedAmps)) break;
          const std::string meaning = shape.meaning.substr(0, shape.meaning.find(','));
          return Remedy{kind.print.polarised ? say("Put the {} into {}", meaning, to.point)
                                             : say("Put one leg into {}", to.point),
                        moved.project};
        }
      }
  return std::nullopt;
}

// The row that the leg is meant for, and a part that ends there: it is explained by this.
void showWhatWaits(const CheckContext& c, Finding& f, const Socket& meant) {
  f.sockets.push_back(meant);
  const Net& net = c.net(c.circuit.nets().of(meant));
  if (!net.pins.empty() || !net.wires.empty()) return;
  for (const LegRef& leg : net.legs) f.parts.push_back(c.part(leg.part).id);
}

void addRemedy(const CheckContext& c, Finding& f, int index, const PartKind& kind) {
  const Part& part = c.part(index);
  const auto [a, b] = kind.readLegs;
  const Leg *first = part.leg(kind.print.legs[static_cast<std::size_t>(a)].id),
            *second = part.leg(kind.print.legs[static_cast<std::size_t>(b)].id);
  if (!first || !second || !first->in || !second->in) return;
  auto made = rowOf(c.project, *first->in) == rowOf(c.project, *second->in)
                  ? legMoved(c, index, kind)
                  : remedies::takeOut(c.project, {*first->in}, {*second->in});
  if (!made) return;
  for (const Leg& leg : made->after.part(part.id)->legs)
    if (leg.in && std::find(f.sockets.begin(), f.sockets.end(), *leg.in) == f.sockets.end())
      showWhatWaits(c, f, *leg.in);
  f.remedies.push_back(std::move(*made));
}

void applyPartBypassed(CheckContext& c) {
  for (int p = 0; p < c.partCount(); ++p) {
    const PartKind* kind = c.circuit.kindOf(p);
    const Part& part = c.part(p);
    if (!kind || kind->isInstrument()) continue;
    const auto [a, b] = kind->readLegs;
    const int netA = c.circuit.nets().ofLeg({p, a}), netB = c.circuit.nets().ofLeg({p, b});
    if (netA != netB || netA < 0 || acrossAShort(c, netA) ||
        c.explained(part.id, {"short-circuit", "button-along-trench"}))
      continue;
    Finding f;
    f.rule = "part-bypassed";
    f.severity = Severity::warning;
    f.title = say("Both sides of {} {}", part.name, where(c, netA));
    f.reason = howJoined(c, part, *kind);
    f.parts = {part.id};
    for (const Leg& leg : part.legs)
      if (leg.in) f.sockets.push_back(*leg.in);
    f.figures = {{"volts", 0}};
    addRemedy(c, f, p, *kind);
    c.findings.push_back(std::move(f));
  }
}

}  // namespace

const Rule& partBypassedRule() {
  static const Rule rule = darkening(
      {"part-bypassed", Severity::warning,
       "Both legs of a part are in one net, so nothing flows through it.",
       "Current takes the way of least resistance: past the part, through the metal of the row.",
       "Put one of its legs into another row.", false, applyPartBypassed});
  return rule;
}

}  // namespace ignavo
