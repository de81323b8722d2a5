#include "explain/current_path.h"

#include <algorithm>
#include <cmath>

#include "project/indexing.h"

namespace ignavo {

namespace {

constexpr double flowingAmps = 1e-7;
constexpr int mostStations = 24;

// Walks from leg to leg with (+1) or against (-1) the current.
class Walk {
 public:
  Walk(const Project& project, Circuit& circuit, int island, const CircuitState& state)
      : project_(project),
        circuit_(circuit),
        shape_(circuit.island(island)),
        reading_(circuit.solveIsland(island, state)) {}

  const PartReading* reading(int part) const {
    for (std::size_t k = 0; k < shape_.parts.size(); ++k)
      if (shape_.parts[k] == part) return &reading_.parts[k];
    return nullptr;
  }
  // The leg through which most current comes in (+1) or goes out (-1).
  int leg(int part, int sign) const {
    const PartReading* r = reading(part);
    int best = -1;
    double most = flowingAmps;
    for (std::size_t l = 0; r && l < r->legs.size(); ++l)
      if (r->legs[l] * sign > most) most = r->legs[l] * sign, best = static_cast<int>(l);
    return best;
  }

  std::vector<PathPoint> from(int part, int sign) const {
    std::vector<PathPoint> out;
    std::vector<int> seen{part};
    // With the current one leaves a part where it goes out, and enters the next.
    int here = leg(part, -sign);
    while (here >= 0 && out.size() < mostStations) {
      const int net = circuit_.nets().ofLeg({part, here});
      const Net& n = at(circuit_.nets().all(), net);
      if (circuit_.isSupplyNet(net) || circuit_.isGroundNet(net)) {
        out.push_back({{}, n.name, net});
        break;
      }
      double most = flowingAmps;
      int nextPart = -1, nextLeg = -1;
      bool pin = false;
      for (std::size_t k = 0; k < shape_.pins.size(); ++k)
        if (at(circuit_.pins(), shape_.pins[k]).net == net &&
            -reading_.pins[k].amps * sign > most) {
          most = -reading_.pins[k].amps * sign;
          pin = true;
        }
      for (const LegRef& l : n.legs) {
        const PartReading* r = reading(l.part);
        if (!r || std::find(seen.begin(), seen.end(), l.part) != seen.end()) continue;
        if (at(r->legs, l.leg) * sign <= most) continue;
        most = at(r->legs, l.leg) * sign;
        nextPart = l.part, nextLeg = l.leg, pin = false;
      }
      if (pin) out.push_back({{}, n.name, net});
      if (pin || nextPart < 0) break;
      const Part& next = *at(*project_.parts, nextPart);
      out.push_back({next.id, next.name, -1});
      const PartKind* kind = circuit_.kindOf(nextPart);
      if (kind && at(kind->print.legs, nextLeg).feeds != LegShape::Feeds::nothing) break;
      seen.push_back(nextPart);
      part = nextPart;
      here = leg(part, -sign);
    }
    return out;
  }

 private:
  const Project& project_;
  Circuit& circuit_;
  const Circuit::Island& shape_;
  IslandReading reading_;
};

}  // namespace

std::vector<PathPoint> currentPath(const Project& project, Circuit& circuit, int part,
                                   const CircuitState& state) {
  const Walk walk(project, circuit, circuit.islandOfPart(part), state);
  if (walk.leg(part, 1) < 0) return {};
  std::vector<PathPoint> before = walk.from(part, -1);
  const std::vector<PathPoint> after = walk.from(part, 1);
  std::reverse(before.begin(), before.end());
  const Part& own = *at(*project.parts, part);
  before.push_back({own.id, own.name, -1});
  before.insert(before.end(), after.begin(), after.end());
  return before;
}

}  // namespace ignavo
