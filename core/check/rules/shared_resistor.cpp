#include <algorithm>
#include <map>

#include "check/rules/lamps.h"
#include "check/rules/list.h"

namespace ignavo {

namespace {

constexpr double changedBy = 0.20;
constexpr double litAmps = 0.2e-3;    // what a lamp must carry to count
constexpr double feedingShare = 0.2;  // a pin that carries this share of it feeds it

struct Dimmed {
  double alone = 0, together = 0;  // amps
  int resistor = -1;
  std::vector<int> others;
  CircuitState state;
};

// The same but for the levels of other pins?
bool sameForIt(const CircuitState& a, const CircuitState& b, const std::vector<int>& feeders) {
  return a.pressed == b.pressed && a.turned == b.turned &&
         std::all_of(feeders.begin(), feeders.end(), [&](int p) {
           return a.pins[static_cast<std::size_t>(p)] == b.pins[static_cast<std::size_t>(p)];
         });
}

class LampsOfIsland {
 public:
  LampsOfIsland(CheckContext& c, int index)
      : c_(c), index_(index), shape_(c.circuit.island(index)) {}

  std::optional<Dimmed> look(std::size_t lamp) const {
    const auto& poses = c_.sweep.posesOf(index_);
    std::optional<Dimmed> out;
    for (const SweptPose& bright : poses) {
      const double most = ampsOf(lamp, bright);
      if (!bright.lasts || most < litAmps || (out && most <= out->alone)) continue;
      const std::vector<int> feeders = feedersOf(bright, most);
      for (const SweptPose& dim : poses) {
        if (!dim.lasts || !sameForIt(bright.state, dim.state, feeders)) continue;
        const double least = ampsOf(lamp, dim);
        if (least > most * (1 - changedBy)) continue;
        if (out && least >= out->together && most <= out->alone) continue;
        const int resistor = shared(bright, dim, most);
        if (resistor < 0) continue;
        out = Dimmed{most, least, resistor, litWith(lamp, dim), dim.state};
      }
    }
    return out;
  }

  // Lamps whose current goes through this resistor, in some combination.
  std::vector<int> lampsBehind(int resistor) const {
    std::vector<int> out;
    const auto r = static_cast<std::size_t>(
        std::find(shape_.parts.begin(), shape_.parts.end(), resistor) - shape_.parts.begin());
    for (std::size_t k = 0; k < shape_.parts.size(); ++k) {
      if (!c_.isLamp(shape_.parts[k])) continue;
      const auto& poses = c_.sweep.posesOf(index_);
      if (std::any_of(poses.begin(), poses.end(), [&](const SweptPose& pose) {
            const double amps = ampsOf(k, pose);
            return amps > litAmps && std::abs(ampsOf(r, pose)) > 0.98 * amps;
          }))
        out.push_back(shape_.parts[k]);
    }
    return out;
  }

 private:
  const IslandReading& at(const SweptPose& pose) const {
    return c_.circuit.solveIsland(index_, pose.state);
  }
  double ampsOf(std::size_t part, const SweptPose& pose) const { return at(pose).parts[part].amps; }

  std::vector<int> feedersOf(const SweptPose& pose, double amps) const {
    std::vector<int> out;
    for (std::size_t k = 0; k < shape_.pins.size(); ++k)
      if (std::abs(at(pose).pins[k].amps) > feedingShare * amps) out.push_back(shape_.pins[k]);
    return out;
  }

  std::vector<int> litWith(std::size_t lamp, const SweptPose& pose) const {
    std::vector<int> out;
    for (std::size_t k = 0; k < shape_.parts.size(); ++k)
      if (k != lamp && c_.isLamp(shape_.parts[k]) && ampsOf(k, pose) > litAmps)
        out.push_back(shape_.parts[k]);
    return out;
  }

  // A resistor that carries the lamp's current alone first, and that of others too then.
  int shared(const SweptPose& bright, const SweptPose& dim, double most) const {
    for (std::size_t k = 0; k < shape_.parts.size(); ++k) {
      const PartKind* kind = c_.circuit.kindOf(shape_.parts[k]);
      if (!kind || !kind->passes) continue;
      const double alone = std::abs(ampsOf(k, bright)), then = std::abs(ampsOf(k, dim));
      double others = 0;
      for (std::size_t l = 0; l < shape_.parts.size(); ++l)
        if (c_.isLamp(shape_.parts[l])) others = std::max(others, ampsOf(l, dim));
      // All of it goes through the resistor, and there it shares the way.
      if (std::abs(alone - most) < 0.02 * most && then > others * 1.02 && others > litAmps)
        return shape_.parts[k];
      // Or another lamp takes nearly all of it.
      if (std::abs(alone - most) < 0.02 * most && std::abs(then - others) < 0.02 * others &&
          then > litAmps)
        return shape_.parts[k];
    }
    return -1;
  }

  CheckContext& c_;
  int index_;
  const Circuit::Island& shape_;
};

void applySharedResistor(CheckContext& c) {
  for (int i = 0; i < c.circuit.islandCount(); ++i) {
    const auto& parts = c.circuit.island(i).parts;
    if (std::count_if(parts.begin(), parts.end(), [&](int p) { return c.isLamp(p); }) < 2) continue;
    if (c.cancelled && c.cancelled()) return;
    const LampsOfIsland island(c, i);
    std::map<int, std::pair<int, Dimmed>> worst;  // resistor -> lamp
    for (std::size_t k = 0; k < parts.size(); ++k) {
      if (!c.isLamp(parts[k])) continue;
      const auto dimmed = island.look(k);
      if (!dimmed || dimmed->others.empty()) continue;
      const auto it = worst.find(dimmed->resistor);
      if (it == worst.end() ||
          dimmed->together / dimmed->alone < it->second.second.together / it->second.second.alone)
        worst[dimmed->resistor] = {parts[k], *dimmed};
    }
    for (const auto& [resistor, found] : worst) {
      const auto& [lamp, d] = found;
      Finding f;
      f.rule = "shared-resistor";
      f.severity = c.programmed ? Severity::warning : Severity::note;
      f.parts = {c.part(resistor).id, c.part(lamp).id};
      std::vector<std::string> names;
      for (int other : d.others) {
        f.parts.push_back(c.part(other).id);
        names.push_back(c.part(other).name);
      }
      c.showPart(f, resistor);
      f.pose = c.sweep.poseOf(i, d.state);
      f.title = say(names.size() == 1 ? "{} gets weaker while {} is lit too"
                                      : "{} gets weaker while {} are lit too",
                    c.part(lamp).name, names);
      f.reason = say(
          "They share {}: {} alone, {} together. A resistor of its own for each lamp keeps them "
          "bright.",
          c.part(resistor).name, asAmps(d.alone), asAmps(d.together));
      if (auto made = resistorEach(c, resistor, island.lampsBehind(resistor)))
        f.remedies.push_back(std::move(*made));
      f.figures = {{"amps_alone", d.alone}, {"amps_together", d.together}};
      c.findings.push_back(std::move(f));
    }
  }
}

}  // namespace

const Rule& sharedResistorRule() {
  static const Rule rule = darkening(
      {"shared-resistor", Severity::warning,
       "A lamp gets over 20 % less current while another one on the same resistor is lit too.",
       "The brightness changes with the others, and of different colours only one lights.",
       "A resistor for each lamp. One for all is fine as long as only one is lit at a time.", false,
       applySharedResistor});
  return rule;
}

}  // namespace ignavo
