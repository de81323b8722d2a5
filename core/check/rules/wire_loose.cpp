#include <algorithm>

#include "bench/breadboards.h"
#include "check/rules/list.h"
#include "explain/ohmic_path.h"
#include "project/edits.h"

namespace ignavo {

namespace {

// Rails are often wired before anything is plugged into them.
bool isRail(const Project& project, const Socket& socket) {
  const BreadboardItem* bb = project.breadboard(socket.owner);
  const BreadboardKind* kind = bb ? breadboardKind(bb->type) : nullptr;
  const auto hole = kind ? kind->parse(socket.point) : std::nullopt;
  return hole && hole->rail >= 0;
}

// Something else is said about what the wire's other end is joined to.
bool saidOf(const CheckContext& c, int net) {
  const Net& n = c.net(net);
  return std::any_of(c.findings.begin(), c.findings.end(), [&](const Finding& f) {
    const auto& parts = f.parts;
    return f.rule != "wire-loose" &&
           (std::any_of(n.legs.begin(), n.legs.end(),
                        [&](const LegRef& l) {
                          return std::find(parts.begin(), parts.end(), c.part(l.part).id) !=
                                 parts.end();
                        }) ||
            std::any_of(f.sockets.begin(), f.sockets.end(),
                        [&](const Socket& s) { return c.circuit.nets().of(s) == net; }));
  });
}

bool saidAlready(const CheckContext& c, int net) {
  const std::vector<int> reach = ohmicReach(c.circuit, net);
  return std::any_of(reach.begin(), reach.end(), [&](int n) { return saidOf(c, n); });
}

void applyWireLoose(CheckContext& c) {
  for (const auto& wire : *c.project.wires) {
    if (isRail(c.project, wire->from) || isRail(c.project, wire->to)) continue;
    const Project without = edits::remove(c.project, {wire->id});
    const Nets nets(without, catalogue());
    const auto empty = [&](const Socket& end) {
      const int net = nets.of(end);
      return net >= 0 && !nets.all()[static_cast<std::size_t>(net)].used();
    };
    const bool from = empty(wire->from), to = empty(wire->to);
    if ((!from && !to) || saidAlready(c, c.circuit.nets().of(wire->from))) continue;
    Finding f;
    f.rule = "wire-loose";
    f.severity = Severity::note;
    // The end that is somewhere names it.
    f.sockets = from ? std::vector<Socket>{wire->to, wire->from}
                     : std::vector<Socket>{wire->from, wire->to};
    if (from && to) f.sockets = {wire->from, wire->to};
    f.title = say("The wire from {} to {} joins nothing", wire->from.point, wire->to.point);
    f.reason = from && to ? say("Nothing else is plugged into the rows of its two ends.")
                          : say("Nothing else is plugged in where it ends, beside {}.",
                                from ? wire->from.point : wire->to.point);
    f.figures = {{"amps", 0}};
    f.remedies.push_back({say("Take the wire out"), without});
    c.findings.push_back(std::move(f));
  }
}

}  // namespace

const Rule& wireLooseRule() {
  static const Rule rule{"wire-loose",
                         Severity::note,
                         "A wire that joins nothing.",
                         "It carries no current; often it ends one row off.",
                         "Move its end to the row that was meant, or take it out.",
                         false,
                         applyWireLoose};
  return rule;
}

}  // namespace ignavo
