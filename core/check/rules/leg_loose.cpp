#include <fmt/format.h>

#include <algorithm>

#include "bench/breadboards.h"
#include "check/rules/list.h"

namespace ignavo {

namespace {

// Nothing but this part's own legs is in the net.
bool alone(const CheckContext& c, int part, int net) {
  const Net& n = c.net(net);
  return n.pins.empty() && n.wires.empty() &&
         std::all_of(n.legs.begin(), n.legs.end(), [&](const LegRef& l) { return l.part == part; });
}

std::string rowOf(const Project& project, const Socket& socket) {
  const BreadboardItem* bb = project.breadboard(socket.owner);
  const BreadboardKind* kind = bb ? breadboardKind(bb->type) : nullptr;
  const auto hole = kind ? kind->parse(socket.point) : std::nullopt;
  if (!hole) return socket.point;
  return hole->rail >= 0 ? "the " + kind->stripName(kind->stripOf(*hole))
                         : "row " + std::to_string(hole->number);
}

void apply(CheckContext& c) {
  for (int p = 0; p < c.partCount(); ++p) {
    const PartKind* kind = c.circuit.kindOf(p);
    const Part& part = c.part(p);
    if (!kind || c.explained(part.id, {"part-bypassed"})) continue;
    const bool onMat = std::none_of(part.legs.begin(), part.legs.end(),
                                    [](const Leg& l) { return l.in.has_value(); });
    std::vector<int> loose;
    bool anyTied = false;
    for (int l = 0; l < static_cast<int>(kind->print.legs.size()); ++l) {
      const int net = c.circuit.nets().ofLeg({p, l});
      if (!alone(c, p, net))
        anyTied = true;
      else
        loose.push_back(l);
    }
    if (loose.empty() || (onMat && !anyTied)) continue;  // a part that merely lies there
    Finding f;
    f.rule = "leg-loose";
    f.severity = Severity::warning;
    f.parts = {part.id};
    const Leg* leg = nullptr;
    for (int l : loose) {
      leg = part.leg(kind->print.legs[static_cast<std::size_t>(l)].id);
      if (leg && leg->in) f.sockets.push_back(*leg->in);
    }
    const std::string meaning = kind->print.legs[static_cast<std::size_t>(loose.front())].meaning;
    const bool all = loose.size() == kind->print.legs.size();
    if (all) {
      f.title = fmt::format("{} is not joined to anything", part.name);
      f.reason = "No wire or other part is plugged into the rows of its legs.";
    } else if (leg && leg->in) {
      f.title = fmt::format("{}’s path ends in {}", part.name, rowOf(c.project, *leg->in));
      f.reason = fmt::format(
          "{} sits in {}, and nothing else is plugged in there. A wire from "
          "that row takes the current on.",
          kind->print.polarised ? "Its " + meaning : "One of its legs", leg->in->point);
    } else {
      f.title = fmt::format("{}’s {} is in no hole", part.name, meaning);
      f.reason = "So no current can go through it.";
    }
    f.figures = {{"amps", 0}};
    c.findings.push_back(std::move(f));
  }
}

}  // namespace

const Rule& legLooseRule() {
  static const Rule rule{"leg-loose",
                         Severity::warning,
                         "A leg is in a row where nothing else is plugged in.",
                         "A path that ends somewhere carries no current at all, not a little.",
                         "Lay a wire from that row to where the current should go on.",
                         false,
                         apply};
  return rule;
}

}  // namespace ignavo
