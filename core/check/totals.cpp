#include "check/totals.h"

#include <algorithm>
#include <functional>
#include <map>

namespace ignavo {

namespace {

// What one island takes from a board in one state.
struct Take {
  double out = 0, in = 0;
  std::vector<double> supplies;  // per BoardKind::supplies
};

Take takeOf(Circuit& circuit, int island, const CircuitState& state, int board,
            const std::vector<const SupplyKind*>& kinds) {
  Take t;
  t.supplies.assign(kinds.size(), 0.0);
  const IslandReading& r = circuit.solveIsland(island, state);
  const auto& pins = circuit.island(island).pins;
  for (std::size_t k = 0; k < pins.size(); ++k) {
    const CircuitPin& pin = circuit.pins()[static_cast<std::size_t>(pins[k])];
    if (pin.ref.board != board) continue;
    (r.pins[k].amps > 0 ? t.out : t.in) += std::abs(r.pins[k].amps);
  }
  // What a supply is made from gives it as well.
  const auto give = [&](std::size_t supply, double amps) {
    for (bool more = true; more;) {
      t.supplies[supply] += amps;
      more = false;
      for (std::size_t k = 0; k < kinds.size() && !more; ++k)
        if (kinds[k]->pin == kinds[supply]->from) supply = k, more = true;
    }
  };
  for (const auto& s : r.supplies) {
    std::size_t k = 0;
    for (const BoardSupply& own : circuit.supplies()) {
      if (own.board != board) continue;
      if (own.net == s.net && (s.board < 0 || s.board == board)) {
        give(k, s.amps / (s.board < 0 ? circuit.feeders(s.net) : 1));
        break;
      }
      ++k;
    }
  }
  return t;
}

// Without a program nothing switches the pins on.
bool anyHigh(const Sweep& sweep, const CircuitState& state) {
  return std::any_of(sweep.outputs().begin(), sweep.outputs().end(), [&](int p) {
    return state.pins[static_cast<std::size_t>(p)] == PinDrive::high;
  });
}

double largest(std::vector<double> values) {
  return values.empty() ? 0 : *std::max_element(values.begin(), values.end());
}

}  // namespace

BoardTotal totalOf(Circuit& circuit, const Sweep& sweep, int board) {
  std::vector<const SupplyKind*> kinds;
  for (const BoardSupply& s : circuit.supplies())
    if (s.board == board) kinds.push_back(s.kind);
  // Per way in which the outputs of a shared group stand: the islands' largest
  // takes add up. Islands without outputs are in the class of their own.
  std::map<std::vector<int>, std::map<std::vector<PinDrive>, std::map<int, std::vector<Take>>>>
      sums;
  for (int i = 0; i < circuit.islandCount(); ++i) {
    const std::vector<int> group = sweep.tiedTo(i);
    for (const SweptPose& pose : sweep.posesOf(i)) {
      if (!pose.lasts || (!sweep.programmed() && anyHigh(sweep, pose.state))) continue;
      std::vector<PinDrive> way;
      for (int p : group)
        way.push_back(circuit.pins()[static_cast<std::size_t>(p)].island == i
                          ? pose.state.pins[static_cast<std::size_t>(p)]
                          : PinDrive::input);
      sums[group][way][i].push_back(takeOf(circuit, i, pose.state, board, kinds));
    }
  }
  BoardTotal total;
  const auto add = [&](const std::function<double(const Take&)>& of) {
    double all = 0;
    for (const auto& [group, ways] : sums) {
      if (group.empty()) {
        // Nothing ties these islands together: each at its worst.
        for (const auto& [way, islands] : ways)
          for (const auto& [island, takes] : islands) {
            std::vector<double> values;
            for (const Take& t : takes) values.push_back(of(t));
            all += largest(values);
          }
        continue;
      }
      std::vector<double> perWay;
      for (const std::vector<PinDrive>& levels : sweep.waysOf(group)) {
        double sum = 0;
        std::map<int, double> most;
        for (const auto& [way, islands] : ways) {
          const bool fits = std::equal(way.begin(), way.end(), levels.begin(), [](auto a, auto b) {
            return a == PinDrive::input || a == b;
          });
          if (!fits) continue;
          for (const auto& [island, takes] : islands)
            for (const Take& t : takes) most[island] = std::max(most[island], of(t));
        }
        for (const auto& [island, value] : most) sum += value;
        perWay.push_back(sum);
      }
      all += largest(perWay);
    }
    return all;
  };
  total.chipAmps =
      std::max(add([](const Take& t) { return t.out; }), add([](const Take& t) { return t.in; }));
  for (std::size_t k = 0; k < kinds.size(); ++k)
    total.supplyAmps.push_back(add([k](const Take& t) { return t.supplies[k]; }));
  return total;
}

}  // namespace ignavo
