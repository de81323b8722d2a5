#include "explain/holding.h"

#include <algorithm>
#include <cmath>

#include "explain/ohmic_path.h"
#include "explain/words.h"
#include "project/indexing.h"

namespace ignavo {

namespace {

// The way of least resistance to one side.
struct Way {
  double ohms = floatingOhms;
  std::vector<int> parts;
  bool inside = false;  // the pull-up of the chip itself
  bool found() const { return ohms < floatingOhms; }
};

Way pullUpOf(const Circuit& circuit, int net, const CircuitState& state) {
  for (std::size_t p = 0; p < circuit.pins().size(); ++p)
    if (circuit.pins()[p].net == net && state.pins[p] == PinDrive::pullUp)
      return {circuit.pins()[p].kind->pullUpOhms, {}, true};
  return {};
}

Way wayTo(const Circuit& circuit, int net, const CircuitState& state, bool supply) {
  Way out = supply ? pullUpOf(circuit, net, state) : Way{};
  for (int other = 0; other < static_cast<int>(circuit.nets().all().size()); ++other) {
    const auto volts = circuit.supplyVolts(other);
    if (!volts || (*volts > 0) != supply) continue;
    const OhmicPath path = leastPath(circuit, net, other, out.ohms, {}, &state);
    if (path.found() && path.ohms < out.ohms) out = {path.ohms, path.parts, false};
  }
  return out;
}

// "R1", "R1 and Call button", "the pull-up inside the chip"
Message told(const Project& project, const Way& way) {
  if (way.inside) return sayWhy("the pull-up inside the chip");
  Place::Several names;
  for (const int p : way.parts) {
    const std::string& name = at(*project.parts, p)->name;
    if (std::find(names.begin(), names.end(), Place(name)) == names.end()) names.emplace_back(name);
  }
  return sayWhy("{}", Place(names));
}

Message toOneSide(const Project& project, const Way& way, const Message& it, bool high) {
  if (way.inside) return sayWhy("the pull-up inside the chip holds {} high", it);
  const Message parts = told(project, way);
  const bool several = way.parts.size() > 1;
  return high      ? several ? sayWhy("{} join {} to a supply", parts, it)
                             : sayWhy("{} joins {} to a supply", parts, it)
              : several ? sayWhy("{} join {} to ground", parts, it)
                   : sayWhy("{} joins {} to ground", parts, it);
}

}  // namespace

Holding holdingOf(const Project& project, const Circuit& circuit, int net,
                  const CircuitState& state, const Message& it) {
  // Of two sides the one that is this much nearer has it: the level is near that side's own.
  constexpr double muchNearer = 9;
  Holding out;
  if (const auto volts = circuit.supplyVolts(net)) {
    out.to = *volts > 0 ? Holding::To::supply : Holding::To::ground;
    out.words =
        *volts > 0 ? sayWhy("{} is joined to a supply", it) : sayWhy("{} is joined to ground", it);
    return out;
  }
  const Way up = wayTo(circuit, net, state, true), down = wayTo(circuit, net, state, false);
  if (!up.found() && !down.found()) {
    out.words = sayWhy("nothing holds {} at a level", it);
    return out;
  }
  const auto take = [&](const Way& way) {
    for (const int p : way.parts) out.parts.push_back(at(*project.parts, p)->id);
  };
  out.ohms = std::min(up.ohms, down.ohms);
  if (up.ohms < muchNearer * down.ohms && down.ohms < muchNearer * up.ohms) {
    out.to = Holding::To::both;
    take(up);
    take(down);
    out.words = sayWhy("{} and {} share the volts at {} between them", told(project, up),
                       told(project, down), it);
    return out;
  }
  const bool high = up.ohms < down.ohms;
  out.to = high ? Holding::To::supply : Holding::To::ground;
  take(high ? up : down);
  out.words = toOneSide(project, high ? up : down, it, high);
  return out;
}

}  // namespace ignavo
