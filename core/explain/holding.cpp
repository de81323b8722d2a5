#include "explain/holding.h"

#include <algorithm>
#include <cmath>

#include "explain/ohmic_path.h"
#include "explain/words.h"
#include "project/indexing.h"

namespace ignavo {

namespace {

// Where a pin's own pull-up is stronger than all else.
bool pulledUp(const Circuit& circuit, int net, const CircuitState& state, double* ohms) {
  for (std::size_t p = 0; p < circuit.pins().size(); ++p)
    if (circuit.pins()[p].net == net && state.pins[p] == PinDrive::pullUp) {
      *ohms = circuit.pins()[p].kind->pullUpOhms;
      return true;
    }
  return false;
}

Message throughParts(const Project& project, const std::vector<int>& parts, bool high) {
  Place::Several names;
  for (const int p : parts) {
    const std::string& name = at(*project.parts, p)->name;
    if (std::find(names.begin(), names.end(), Place(name)) == names.end()) names.emplace_back(name);
  }
  return high ? sayWhy("{} joins it to a supply", Place(names))
              : sayWhy("{} joins it to ground", Place(names));
}

}  // namespace

Holding holdingOf(const Project& project, const Circuit& circuit, int net,
                  const CircuitState& state) {
  Holding out;
  std::vector<int> parts;
  if (const auto volts = circuit.supplyVolts(net)) {
    out.to = *volts > 0 ? Holding::To::supply : Holding::To::ground;
    out.words = *volts > 0 ? sayWhy("it is joined to a supply") : sayWhy("it is joined to ground");
    return out;
  }
  double least = floatingOhms;
  for (int other = 0; other < static_cast<int>(circuit.nets().all().size()); ++other) {
    const auto volts = circuit.supplyVolts(other);
    if (!volts) continue;
    const OhmicPath path = leastPath(circuit, net, other, least, {}, &state);
    if (!path.found() || path.ohms >= least) continue;
    least = path.ohms;
    parts = path.parts;
    out.to = *volts > 0 ? Holding::To::supply : Holding::To::ground;
  }
  double pull = 0;
  if (pulledUp(circuit, net, state, &pull) && pull < least) {
    out.to = Holding::To::supply;
    out.ohms = pull;
    out.words = sayWhy("its pull-up holds it high");
    return out;
  }
  if (out.to == Holding::To::nothing) {
    out.words = sayWhy("nothing holds it at a level");
    return out;
  }
  out.ohms = least;
  for (const int p : parts) out.parts.push_back(at(*project.parts, p)->id);
  out.words = throughParts(project, parts, out.to == Holding::To::supply);
  return out;
}

}  // namespace ignavo
