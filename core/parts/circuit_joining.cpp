#include <algorithm>
#include <map>

#include "electric/tolerances.h"
#include "parts/circuit.h"
#include "project/indexing.h"

// Supplies that let go. Each island is solved with its supplies held in both directions; what all
// of them take from a supply is added up. Where that is below zero the supply would have to
// absorb: it lets go, the islands at it are solved as one in which it only delivers, and the sums
// are looked at again, until none is below zero. The supplies of a board without its cable have
// let go; in their island its regulators feed them from its supply input.
namespace ignavo {

namespace {

constexpr std::size_t keptStates = 8192;  // remembered of each kind; then all are forgotten

}  // namespace

bool Circuit::isJoined(int island, int joined) const {
  if (joined < 0) return false;
  const std::vector<int>& members = at(islands_, joined)->members;
  return std::binary_search(members.begin(), members.end(), island);
}

Circuit::LetGo Circuit::unpluggedNets(const CircuitState& state) const {
  LetGo out;
  for (int b = 0; b < static_cast<int>(boards_.size()); ++b) {
    if (!isUnplugged(state, b)) continue;
    out.unplugged.insert(b);
    for (const int net : at(boardSupplies_, b))
      if (isCut(net) && isSupplyNet(net)) out.nets.insert(net);
  }
  return out;
}

int Circuit::joinedIsland(const CircuitState& state) {
  if (!mayLetGo() && state.unplugged.empty()) return -1;
  const bool allPlugged = state.unplugged.empty() && !anyShorted();
  // Nothing lets go where nobody pushes; all others only take.
  const auto pushes = [&](int i) {
    const auto& supplies = solveWork(i, state).supplies;
    return std::any_of(supplies.begin(), supplies.end(), [](const auto& supply) {
      return supply.amps < -electric::tolerances::givenBackAmps;
    });
  };
  if (allPlugged && std::none_of(lifting_.begin(), lifting_.end(), pushes)) return -1;
  std::string key, part;
  for (int i = 0; i < baseCount_; ++i) {
    keyOf(island(i), state, part);
    key += part;
  }
  for (const std::uint8_t off : state.unplugged) key.push_back(static_cast<char>(off));
  const auto it = joinedOf_.find(key);
  if (it != joinedOf_.end()) return it->second;
  const int joined = findJoined(state);
  if (joinedOf_.size() >= keptStates) joinedOf_.clear();
  joinedOf_.emplace(std::move(key), joined);
  return joined;
}

// Adds up what all islands take from each supply; one that would be given something back lets
// go, until there is none.
int Circuit::findJoined(const CircuitState& state) {
  LetGo letGo = unpluggedNets(state);
  for (;;) {
    const int joined = letGo.empty() ? -1 : joinAt(letGo);
    std::map<int, double> taken;
    const auto add = [&](const IslandReading& r) {
      for (const auto& supply : r.supplies)
        if (!letGo.nets.contains(supply.net)) taken[supply.net] += supply.amps;
    };
    for (int i = 0; i < baseCount_; ++i)
      if (!isJoined(i, joined)) add(solveWork(i, state));
    if (joined >= 0) add(solveWork(joined, state));
    const std::size_t before = letGo.nets.size();
    for (const auto& [net, amps] : taken)
      if (amps < -electric::tolerances::givenBackAmps) letGo.nets.insert(net);
    if (letGo.nets.size() == before) return joined;
  }
}

// A joined island's reading, island by island. What the supplies give stands at the first.
const std::vector<IslandReading>& Circuit::slices(int joined, const CircuitState& state) {
  const IslandWork& whole = *at(islands_, joined);
  std::string key;
  keyOf(whole.shape, state, key);
  key += "/" + std::to_string(joined);
  const auto it = slices_.find(key);
  if (it != slices_.end()) return it->second;
  if (slices_.size() >= keptStates) slices_.clear();
  const IslandReading& all = solveWork(joined, state);
  std::vector<IslandReading> out;
  std::size_t nets = 0, parts = 0, pins = 0;
  const auto take = [](const auto& from, std::size_t& at, std::size_t n) {
    const auto begin = from.begin() + static_cast<std::ptrdiff_t>(at);
    at += n;
    return std::decay_t<decltype(from)>(begin, begin + static_cast<std::ptrdiff_t>(n));
  };
  for (int i : whole.members) {
    const Island& shape = island(i);
    IslandReading r;
    r.converged = all.converged;
    r.nets = take(all.nets, nets, shape.nets.size());
    r.parts = take(all.parts, parts, shape.parts.size());
    r.pins = take(all.pins, pins, shape.pins.size());
    for (const auto& supply : all.supplies)
      r.supplies.push_back({supply.net, supply.board, supply.volts, out.empty() ? supply.amps : 0});
    r.supplyAmps = out.empty() ? all.supplyAmps : 0;
    out.push_back(std::move(r));
  }
  return slices_.emplace(std::move(key), std::move(out)).first->second;
}

}  // namespace ignavo
