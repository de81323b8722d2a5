#include <algorithm>

#include "check/rules/lamps.h"
#include "check/rules/list.h"

// Lamps beside one another on one resistor. The one that needs the fewest volts holds the voltage
// down, and takes the current of those that need more.
//
// It is found by trial: what does a lamp carry where it is brightest, and what would it carry
// there if the lamps that are lit with it were taken out? Whose current then comes back through
// the same resistor had lost it to them. So it matters not how the lamps are joined: straight
// beside one another, in chains, or by one leg only.
namespace ignavo {

namespace {

constexpr double weakerBy = 4;  // of two lamps that are lit one looks dark beside the other
constexpr double gains = 2;     // what a lamp carries alone, at least, of what it does now

struct Beside {
  std::vector<int> weak, holders;  // parts; what takes the current, the strongest first
  int resistor = -1;
  CircuitState state;
  double volts = 0, needs = 0;          // across the first weak one, now and alone
  double weakAmps = 0, holderAmps = 0;  // of the first of each
};

class SideBySide {
 public:
  SideBySide(CheckContext& c, int index) : c_(c), index_(index), shape_(c.circuit.island(index)) {}

  // What the lamp loses to others, in the combination in which it is brightest.
  std::optional<Beside> look(std::size_t lamp) const {
    const PartSweep& swept = c_.sweep.part(shape_.parts[lamp]);
    const Peak& peak = lampPeak(swept, 0);
    if (!swept.volts.seen) return std::nullopt;
    const CircuitState& state = peak.value >= darkAmps ? peak.state : swept.volts.state;
    const std::vector<double> now = ampsIn(state);
    double strongest = 0;
    for (std::size_t k = 0; k < shape_.parts.size(); ++k)
      if (k != lamp && c_.isLamp(shape_.parts[k])) strongest = std::max(strongest, now[k]);
    if (strongest < darkAmps || (now[lamp] >= dimAmps && now[lamp] * weakerBy > strongest))
      return std::nullopt;
    Beside out;
    CircuitState without = state;
    std::vector<double> alone = now;
    // With one taken out the next may hold the voltage.
    for (bool more = true; more && alone[lamp] < wantsAmps(now[lamp]);) {
      more = false;
      const CircuitState before = without;
      for (std::size_t k = 0; k < shape_.parts.size(); ++k)
        if (k != lamp && c_.isLamp(shape_.parts[k]) && alone[k] > darkAmps &&
            takesFrom(lamp, k, before, alone[lamp])) {
          out.holders.push_back(static_cast<int>(k));
          without.broken[static_cast<std::size_t>(shape_.parts[k])] = 1;
          more = true;
        }
      alone = ampsIn(without);
    }
    if (out.holders.empty() || alone[lamp] < wantsAmps(now[lamp])) return std::nullopt;
    std::stable_sort(out.holders.begin(), out.holders.end(), [&](int a, int b) {
      return now[static_cast<std::size_t>(a)] > now[static_cast<std::size_t>(b)];
    });
    const auto first = static_cast<std::size_t>(out.holders.front());
    out.resistor = shared(lamp, first, now, alone);
    if (out.resistor < 0) return std::nullopt;
    out.weak = {static_cast<int>(lamp)};
    out.state = state;
    out.weakAmps = now[lamp];
    out.holderAmps = now[first];
    out.volts = voltsOf(lamp, state);
    out.needs = voltsOf(lamp, without);
    return out;
  }

  int part(int member) const { return shape_.parts[static_cast<std::size_t>(member)]; }

 private:
  // What it must carry alone, so that the others are the reason.
  static double wantsAmps(double now) { return std::max(dimAmps, gains * now); }
  std::vector<double> ampsIn(const CircuitState& state) const {
    std::vector<double> out;
    for (const PartReading& r : c_.circuit.solveIsland(index_, state).parts) out.push_back(r.amps);
    return out;
  }
  double voltsOf(std::size_t member, const CircuitState& state) const {
    return c_.circuit.solveIsland(index_, state).parts[member].volts.value_or(0);
  }

  // Without the other one the lamp gets more: it loses current to that one.
  bool takesFrom(std::size_t lamp, std::size_t other, CircuitState state, double now) const {
    constexpr double noticeably = 1.02;
    state.broken[static_cast<std::size_t>(shape_.parts[other])] = 1;
    return ampsIn(state)[lamp] > noticeably * now + 1e-12;
  }

  // A resistor that carries both now, and the lamp's current when it is alone.
  int shared(std::size_t lamp, std::size_t other, const std::vector<double>& now,
             const std::vector<double>& alone) const {
    constexpr double about = 0.02;
    for (std::size_t k = 0; k < shape_.parts.size(); ++k) {
      const PartKind* kind = c_.circuit.kindOf(shape_.parts[k]);
      if (!kind || !kind->passes) continue;
      const double both = now[lamp] + now[other];
      if (std::abs(now[k]) > (1 - about) * both &&
          std::abs(std::abs(alone[k]) - alone[lamp]) < about * alone[lamp])
        return shape_.parts[k];
    }
    return -1;
  }

  CheckContext& c_;
  int index_;
  const Circuit::Island& shape_;
};

Message currentOf(double amps) {
  return amps < 0.5e-4    ? say("none")
         : amps < dimAmps ? say("{} mA", asNumber(amps * 1000, 2))
                          : say("{}", asAmps(amps));
}

// Of many only how many.
Place named(const std::vector<std::string>& names) {
  constexpr std::size_t most = 3;
  if (names.size() > most) return say("{} lamps", names.size());
  return names;
}

void tell(CheckContext& c, int index, const Beside& b) {
  Finding f;
  f.rule = "lamps-in-parallel";
  f.severity = Severity::warning;
  std::vector<std::string> weak, holders;
  std::vector<int> lamps;
  const auto add = [&](const std::vector<int>& which, std::vector<std::string>& names) {
    for (const int p : which) {
      f.parts.push_back(c.part(p).id);
      names.push_back(c.part(p).name);
      lamps.push_back(p);
    }
  };
  add(b.weak, weak);
  add(b.holders, holders);
  const Part& resistor = c.part(b.resistor);
  f.parts.push_back(resistor.id);
  c.showPart(f, b.weak.front());
  f.pose = c.sweep.poseOf(index, b.state);
  const bool several = weak.size() > 1, alike = b.holders.empty();
  const bool dark = b.weakAmps < darkAmps;
  if (alike) {
    f.title = say("{} share the current of one resistor", named(weak));
    f.reason = say("{} lets through too little for {} lamps: {} for each.", resistor.name,
                   weak.size(), currentOf(b.weakAmps));
  } else {
    f.title = dark && several ? say("{} stay dark beside {}", named(weak), named(holders))
              : dark          ? say("{} stays dark beside {}", named(weak), named(holders))
              : several       ? say("{} are only dim beside {}", named(weak), named(holders))
                              : say("{} is only dim beside {}", named(weak), named(holders));
    f.reason =
        say(holders.size() > 1
                ? "They share {}. {} hold the voltage at {}, and {} needs {}: {} gets {}, {} {}."
                : "They share {}. {} holds the voltage at {}, and {} needs {}: {} gets {}, {} "
                  "{}.",
            resistor.name, named(holders), asVolts(b.volts), weak.front(), asVolts(b.needs),
            holders.front(), currentOf(b.holderAmps), weak.front(), currentOf(b.weakAmps));
  }
  f.reason.add(say("A resistor of its own for each lets them light."));
  f.figures = {{"amps", b.weakAmps},
               {"amps_beside", b.holderAmps},
               {"volts", b.volts},
               {"needed_volts", b.needs}};
  if (auto made = resistorEach(c, b.resistor, lamps)) f.remedies.push_back(std::move(*made));
  c.findings.push_back(std::move(f));
}

void applyLampsInParallel(CheckContext& c) {
  for (int i = 0; i < c.circuit.islandCount(); ++i) {
    const auto& parts = c.circuit.island(i).parts;
    if (std::count_if(parts.begin(), parts.end(), [&](int p) { return c.isLamp(p); }) < 2) continue;
    const SideBySide island(c, i);
    std::vector<Beside> found;  // by resistor
    for (std::size_t k = 0; k < parts.size(); ++k) {
      if (c.cancelled && c.cancelled()) return;
      // Of several lamps in one part each has its own leg, and a rule of its own.
      if (!c.isLamp(parts[k]) || c.circuit.kindOf(parts[k])->lamps.size() > 1) continue;
      if (lampExplained(c, parts[k])) continue;
      const bool named = std::any_of(found.begin(), found.end(), [&](const Beside& b) {
        return std::find(b.weak.begin(), b.weak.end(), parts[k]) != b.weak.end();
      });
      if (named) continue;
      auto beside = island.look(k);
      if (!beside) continue;
      for (std::vector<int>* which : {&beside->weak, &beside->holders})
        for (int& member : *which) member = island.part(member);
      // What gets no more than the lamp itself holds nothing from it: all are weak alike.
      const IslandReading& r = c.circuit.solveIsland(i, beside->state);
      std::erase_if(beside->holders, [&](int p) {
        const auto place = std::find(parts.begin(), parts.end(), p) - parts.begin();
        if (r.parts[static_cast<std::size_t>(place)].amps > weakerBy * beside->weakAmps + darkAmps)
          return false;
        beside->weak.push_back(p);
        return true;
      });
      const auto same = std::find_if(found.begin(), found.end(), [&](const Beside& b) {
        return b.resistor == beside->resistor;
      });
      if (same == found.end())
        found.push_back(std::move(*beside));
      else
        for (const int p : beside->weak)
          if (std::find(same->weak.begin(), same->weak.end(), p) == same->weak.end())
            same->weak.push_back(p);
    }
    for (Beside& b : found) {
      std::erase_if(b.holders, [&](int p) {
        return std::find(b.weak.begin(), b.weak.end(), p) != b.weak.end();
      });
      tell(c, i, b);
    }
  }
}

}  // namespace

const Rule& lampsInParallelRule() {
  static const Rule rule =
      darkening({"lamps-in-parallel", Severity::warning,
                 "Lamps lie side by side on one resistor, and one takes the current of another.",
                 "The lamp that needs the fewest volts holds the voltage down; those that need "
                 "more stay dark "
                 "or dim.",
                 "A resistor for each lamp.", false, applyLampsInParallel});
  return rule;
}

}  // namespace ignavo
