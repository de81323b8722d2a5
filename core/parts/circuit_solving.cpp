#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "electric/disjoint_set.h"
#include "electric/tolerances.h"
#include "parts/circuit.h"
#include "project/indexing.h"

// How a circuit stands, solved and read.
namespace ignavo {

namespace {

constexpr std::size_t memoLimit = 8192;

}  // namespace

CircuitState Circuit::restState() const {
  CircuitState s;
  for (std::uint8_t up : pulledUp_) s.pins.push_back(up ? PinDrive::pullUp : PinDrive::input);
  s.pressed = thrown_;
  s.broken.assign(partKinds_.size(), 0);
  s.turned.assign(partKinds_.size(), Turned::asSet);
  return s;
}

void Circuit::setParameters(const IslandWork& island, const CircuitState& state,
                            electric::Network& net, const CircuitState* applied) const {
  for (std::size_t i = 0; i < island.parts.size(); ++i) {
    const int p = island.shape.parts[i];
    if (applied && at(applied->pressed, p) == at(state.pressed, p) &&
        at(applied->broken, p) == at(state.broken, p) &&
        at(applied->turned, p) == at(state.turned, p))
      continue;
    const auto& places = at(turnedDevices_, p);
    const PartDevices& d =
        places.empty() ? at(devices_, p) : places[static_cast<std::size_t>(at(state.turned, p))];
    setPart(net, island.parts[i], d, at(state.pressed, p) != 0, at(state.broken, p) != 0);
  }
  if (triedVolts_) {
    const auto isMain = [&](const BoardSupply& s) {
      return &s == &at(supplies_, at(boards_, s.board).main);
    };
    for (std::size_t k = 0; k < island.supplySources.size(); ++k)
      if (std::any_of(supplies_.begin(), supplies_.end(), [&](const BoardSupply& s) {
            return s.net == island.supplyNets[k] && isMain(s);
          }))
        at(net.sources, island.supplySources[k]).volts = *triedVolts_;
    for (const auto& [regulator, supply] : island.afloatSupplies)
      if (isMain(at(supplies_, supply))) at(net.regulators, regulator).model.volts = *triedVolts_;
  }
  for (std::size_t i = 0; i < island.pins.size(); ++i) {
    const CircuitPin& pin = at(pins_, island.shape.pins[i]);
    const PinDrive drive = at(state.pins, island.shape.pins[i]);
    const BoardKind& k = *pin.kind;
    at(net.conductors, island.pins[i].up).siemens = drive == PinDrive::high     ? 1 / k.outOhms
                                                    : drive == PinDrive::pullUp ? 1 / k.pullUpOhms
                                                                                : 0;
    at(net.conductors, island.pins[i].down).siemens = drive == PinDrive::low    ? 1 / k.outOhms
                                                      : drive == PinDrive::high ? 0
                                                                                : 1 / k.leakOhms;
  }
}

namespace {

// Joins the nodes that some device joins.
void joinDevices(const electric::Network& net, electric::DisjointSet& groups) {
  for (const auto& c : net.conductors)
    if (c.siemens > 0) groups.join(c.a, c.b);
  for (const auto& j : net.junctions)
    if (!j.open) groups.join(j.anode, j.cathode);
  for (const auto& e : net.batteries)
    if (!e.open) groups.join(e.plus, e.minus);
  for (const auto& r : net.regulators) groups.join(r.out, r.reference);
  for (const auto& q : net.bipolars) {
    groups.join(q.collector, q.innerCollector), groups.join(q.base, q.innerBase);
    if (!q.open) groups.join(q.innerCollector, q.innerBase), groups.join(q.innerBase, q.emitter);
  }
  for (const auto& m : net.mosfets)  // a gate is insulated
    if (!m.open) groups.join(m.drain, m.source);
  for (const auto& m : net.motors)
    if (!m.open) groups.join(m.a, m.b);
  for (const auto& c : net.capacitors)
    if (!c.open && c.siemens > 0) groups.join(c.a, c.b);
}

}  // namespace

// Nodes that have a voltage. A group of parts that only a battery feeds gets the
// minus of its first battery as reference; a board that is afloat leaks a little to the others.
void Circuit::tieBatteries(const IslandWork& island, electric::Network& net,
                           Reached& reached) const {
  constexpr double tieSiemens = 1;
  for (const PartSlots& slots : island.parts)
    for (int tie : slots.ties) at(net.conductors, tie).siemens = 0;
  for (const auto& [ground, tie] : island.ties)
    at(net.conductors, tie).siemens = electric::tolerances::groundLeakSiemens;
  electric::DisjointSet groups(static_cast<std::size_t>(net.nodes()));
  for (const auto& s : net.sources)
    if (s.gives != electric::Source::Gives::nothing) groups.join(s.plus, 0);
  joinDevices(net, groups);
  for (const PartSlots& slots : island.parts)
    for (std::size_t k = 0; k < slots.batteries.size(); ++k) {
      const electric::Battery& e = at(net.batteries, slots.batteries[k]);
      if (e.open || groups.of(e.minus) == 0) continue;
      at(net.conductors, slots.ties[k]).siemens = tieSiemens;
      groups.join(e.minus, 0);
    }
  reached.resize(static_cast<std::size_t>(net.nodes()));
  net.loose.resize(reached.size());
  for (int n = 0; n < net.nodes(); ++n) {
    at(reached, n) = groups.of(n) == 0;
    at(net.loose, n) = !at(reached, n);
  }
}

void Circuit::readPart(const IslandWork& island, const electric::Network& net, std::size_t index,
                       const electric::Solution& s, const Reached& reached, PartReading& r) const {
  const PartSlots& slots = island.parts[index];
  const int part = island.shape.parts[index];
  const PartKind* kind = at(partKinds_, part);
  r.volts.reset();
  r.amps = r.watts = r.radiansPerSecond = r.tracedVolts = 0;
  r.lamps.clear();
  r.legs.assign(slots.legNodes.size(), 0.0);
  if (!kind || !s.converged) return;
  addLegAmps(net, slots, s, r.legs);
  for (std::size_t k = 0; k < kind->lamps.size() && k < slots.junctions.size(); ++k)
    r.lamps.push_back(at(s.junctionAmps, slots.junctions[k]));
  for (int m : slots.motors) r.radiansPerSecond = at(s.motors, m).radiansPerSecond;
  for (std::size_t l = 0; l < r.legs.size(); ++l) r.watts += r.legs[l] * s.volt(slots.legNodes[l]);
  if (kind->tracedVolts)
    r.tracedVolts = s.volt(at(slots.legNodes, kind->tracedVolts->first)) -
                    s.volt(at(slots.legNodes, kind->tracedVolts->second));
  auto [in, out] = kind->readLegs;
  if (slots.contacts.size() > 1)
    for (const PartSlots::Flow& f : slots.flows)
      if (f.of == PartSlots::Flow::Of::conductor && at(net.conductors, f.device).siemens > 0)
        in = f.from, out = f.to;
  const int first = at(slots.legNodes, in), second = at(slots.legNodes, out);
  if (at(reached, first) && at(reached, second)) r.volts = s.volt(first) - s.volt(second);
  r.amps = kind->lamps.size() > 1 ? -at(r.legs, out) : at(r.legs, in);
  if (kind->readsEitherEnd && std::abs(at(r.legs, out)) > std::abs(r.amps))
    r.amps = -at(r.legs, out);
}

void Circuit::readIsland(const IslandWork& island, const electric::Network& net,
                         const electric::Solution& s, const Reached& reached,
                         IslandReading& out) const {
  const auto volts = [&](int node) {
    return s.converged && node >= 0 && at(reached, node) ? std::optional<double>(s.volt(node))
                                                         : std::nullopt;
  };
  out.converged = s.converged;
  out.nets.resize(island.shape.nets.size());
  for (std::size_t k = 0; k < out.nets.size(); ++k) out.nets[k] = volts(island.netNodes[k]);
  out.parts.resize(island.parts.size());
  for (std::size_t i = 0; i < island.parts.size(); ++i)
    readPart(island, net, i, s, reached, out.parts[i]);
  out.pins.resize(island.pins.size());
  for (std::size_t i = 0; i < island.pins.size(); ++i) {
    const PinSlots& slots = island.pins[i];
    PinReading& r = out.pins[i];
    r.volts = volts(slots.node);
    r.floating = false;
    r.amps = 0;
    r.groundVolts = s.converged ? s.volt(slots.ground) : 0;
    r.supplyVolts = s.converged ? s.volt(slots.supply) - r.groundVolts : 0;
    if (s.converged)
      r.amps = s.conductorAmps(net, slots.up) - s.conductorAmps(net, slots.down) -
               at(s.junctionAmps, slots.clampUp) + at(s.junctionAmps, slots.clampDown);
  }
  out.supplies.clear();
  out.supplyAmps = 0;
  for (std::size_t k = 0; k < island.supplySources.size() && s.converged; ++k) {
    const int source = island.supplySources[k];
    out.supplies.push_back(
        {island.supplyNets[k], -1, s.volt(at(net.sources, source).plus), at(s.sourceAmps, source)});
    out.supplyAmps += out.supplies.back().amps;
  }
  for (std::size_t k = 0; k < island.afloatSupplies.size() && s.converged; ++k) {
    const auto& [regulator, supply] = island.afloatSupplies[k];
    const electric::Regulator& r = at(net.regulators, regulator);
    out.supplies.push_back({at(supplies_, supply).net, at(supplies_, supply).board,
                            s.volt(r.out) - s.volt(r.reference), at(s.regulatorAmps, regulator)});
    out.supplyAmps += out.supplies.back().amps;
  }
}

// Brings an island's network into a state.
void Circuit::prepare(IslandWork& island, const CircuitState& state) {
  if (!island.built) build(island);
  setParameters(island, state, island.network,
                island.applied.pressed.empty() ? nullptr : &island.applied);
  island.applied = state;
  tieBatteries(island, island.network, island.reached);
}

// Which pins have no fixed level, in the state that was solved last.
void Circuit::findFloating(IslandWork& island, const CircuitState& state,
                           IslandReading& out) const {
  for (std::size_t i = 0; i < island.pins.size() && out.converged; ++i) {
    const int pin = island.shape.pins[i];
    const PinDrive drive = at(state.pins, pin);
    if ((drive != PinDrive::input && drive != PinDrive::burnt) || isCut(at(pins_, pin).net))
      continue;
    // Conductance to every level, its own leak apart.
    const PinSlots& slots = island.pins[i];
    const double siemens = 1 / island.solver->resistanceBetween(slots.node, slots.ground) -
                           at(island.network.conductors, slots.down).siemens;
    out.pins[i].floating = siemens < 1 / floatingOhms;
  }
}

std::set<int> Circuit::floatingNets(const CircuitReading& reading) const {
  std::set<int> out;
  for (std::size_t i = 0; i < pins_.size() && i < reading.pins.size(); ++i)
    if (reading.pins[i].floating) out.insert(pins_[i].net);
  for (std::size_t before = 0; before != out.size();) {
    before = out.size();
    for (const OhmicEdge& edge : edges_) {
      if (edge.contact || edge.ohms >= floatingOhms) continue;
      if (out.contains(edge.netA)) out.insert(edge.netB);
      if (out.contains(edge.netB)) out.insert(edge.netA);
    }
  }
  return out;
}

bool Circuit::hasDynamicState(int index) const {
  const Island& shape = island(index);
  return std::any_of(shape.parts.begin(), shape.parts.end(), [&](int p) {
    return !at(devices_, p).capacitors.empty() || !at(devices_, p).motors.empty();
  });
}

// What of a state an island depends on.
void Circuit::keyOf(const Island& shape, const CircuitState& state, std::string& key) const {
  key.clear();
  for (int p : shape.pins) key.push_back(static_cast<char>(at(state.pins, p)));
  for (int p : shape.parts)
    key.push_back(static_cast<char>(at(state.pressed, p) | (at(state.broken, p) << 1) |
                                    (static_cast<int>(at(state.turned, p)) << 2)));
}

const IslandReading& Circuit::solveIsland(int index, const CircuitState& state) {
  if (index >= baseCount_ || (!mayLetGo() && state.unplugged.empty()))
    return solveWork(index, state);
  const int joined = joinedIsland(state);
  if (joined < 0 || !isJoined(index, joined)) return solveWork(index, state);
  const std::vector<int>& members = at(islands_, joined)->members;
  const auto place = std::lower_bound(members.begin(), members.end(), index) - members.begin();
  return slices(joined, state)[static_cast<std::size_t>(place)];
}

const IslandReading& Circuit::solveWork(int index, const CircuitState& state) {
  IslandWork& island = *at(islands_, index);
  keyOf(island.shape, state, key_);
  auto& memo = at(islands_, index < baseCount_ ? at(alike_, index) : index)->memo;
  const auto it = memo.find(key_);
  if (it != memo.end()) return it->second;
  if (memo.size() >= memoLimit) memo.clear();
  IslandReading out;
  prepare(island, state);
  if (const auto kept = island.kept.find(key_)) {
    readIsland(island, island.network,
               island.solver->solutionAt(island.network, kept->volts, kept->sourceAmps),
               island.reached, out);
    for (std::size_t i = 0; i < out.pins.size(); ++i) out.pins[i].floating = kept->floating[i] != 0;
  } else {
    readIsland(island, island.network, island.solver->solve(island.network), island.reached, out);
    findFloating(island, state, out);
  }
  return memo.emplace(key_, std::move(out)).first->second;
}

const IslandReading& Circuit::sweepIsland(int index, const CircuitState& state) {
  const bool lifts = std::binary_search(lifting_.begin(), lifting_.end(), index);
  if (lifts || !state.unplugged.empty() || joinedIsland(state) >= 0)
    return solveIsland(index, state);
  IslandWork& island = *at(islands_, index);
  prepare(island, state);
  island.solver->solveOn(island.network, island.swept);
  IslandReading& out = island.sweptReading;
  readIsland(island, island.network, island.swept, island.reached, out);
  findFloating(island, state, out);
  if (!out.converged) return out;
  if (island.kept.size() >= memoLimit) island.kept.clear();
  keyOf(island.shape, state, key_);
  island.kept.add(key_, island.swept, out.pins);
  return out;
}

std::optional<double> Circuit::volts(int net, const CircuitState& state) {
  const auto among = [&](int index, const IslandReading& r) -> std::optional<double> {
    const auto& nets = island(index).nets;
    const auto at = std::find(nets.begin(), nets.end(), net) - nets.begin();
    return static_cast<std::size_t>(at) < r.nets.size() ? r.nets[static_cast<std::size_t>(at)]
                                                        : std::nullopt;
  };
  const auto holds = [&](int index) {
    const auto& nets = island(index).nets;
    return std::find(nets.begin(), nets.end(), net) != nets.end();
  };
  const int joined = joinedIsland(state);
  if (joined >= 0 && holds(joined)) return among(joined, solveWork(joined, state));
  if (isCut(net)) return supplyVolts(net);
  for (int i = 0; i < baseCount_; ++i)
    if (holds(i)) return among(i, solveIsland(i, state));
  return std::nullopt;
}

double Circuit::boardVolts(int board, const CircuitState& state) {
  const BoardNets& own = at(boards_, board);
  if (own.main < 0) return 0;
  const double plus = volts(at(supplies_, own.main).net, state).value_or(0);
  return own.grounds.empty() ? plus : plus - volts(own.grounds.front(), state).value_or(0);
}

void Circuit::Kept::clear() { *this = Kept(); }

void Circuit::Kept::add(const std::string& key, const electric::Solution& solution,
                        const std::vector<PinReading>& pins) {
  nodes_ = solution.volts.size(), sources_ = solution.sourceAmps.size(), pins_ = pins.size();
  places_.emplace(std::hash<std::string>{}(key), count_);
  keys_ += key;
  volts_.insert(volts_.end(), solution.volts.begin(), solution.volts.end());
  sourceAmps_.insert(sourceAmps_.end(), solution.sourceAmps.begin(), solution.sourceAmps.end());
  for (const PinReading& pin : pins) floating_.push_back(pin.floating ? 1 : 0);
  ++count_;
}

std::optional<Circuit::Kept::Found> Circuit::Kept::find(const std::string& key) const {
  const auto [first, last] = places_.equal_range(std::hash<std::string>{}(key));
  for (auto it = first; it != last; ++it) {
    const std::size_t k = it->second;
    if (keys_.compare(k * key.size(), key.size(), key) != 0) continue;
    const auto part = [k](const auto& all, std::size_t length) {
      const auto from = all.begin() + static_cast<std::ptrdiff_t>(k * length);
      return std::decay_t<decltype(all)>(from, from + static_cast<std::ptrdiff_t>(length));
    };
    return Found{part(volts_, nodes_), part(sourceAmps_, sources_), part(floating_, pins_)};
  }
  return std::nullopt;
}

CircuitReading Circuit::blank() const {
  CircuitReading out;
  out.shorted = anyShorted();
  out.shortedSupply = shortedSupply_;
  out.converged = !out.shorted;
  out.nets.resize(nets_.all().size());
  out.parts.resize(partKinds_.size());
  out.pins.resize(pins_.size());
  for (const int net : cut_) at(out.nets, net) = supplyVolts(net);
  return out;
}

Circuit::OhmicLoad Circuit::ohmicLoad(int supplyNet, const CircuitState& state) const {
  electric::Network net;
  std::unordered_map<int, int> nodes;  // of nets; looked up only
  const auto nodeOf = [&](int n) {
    const auto [it, fresh] = nodes.try_emplace(n, 0);
    if (fresh && !isGroundNet(n)) it->second = net.addNode();
    return it->second;
  };
  net.addSource(nodeOf(supplyNet), 1);
  std::vector<int> parts;  // of the conductors
  for (const OhmicEdge& e : edges_) {
    const bool closed = !e.contact || (at(state.pressed, e.part) != 0) == e.whenPressed;
    const auto other = [&](int n) { return isSupplyNet(n) && n != supplyNet; };
    if (e.netA == e.netB || !closed || at(state.broken, e.part) || other(e.netA) || other(e.netB))
      continue;
    net.addConductor(nodeOf(e.netA), nodeOf(e.netB), 1 / e.ohms);
    parts.push_back(e.part);
  }
  const electric::Solution s = electric::Solver(net).solve(net);
  constexpr double nothing = 1e-9;  // siemens: what the nodes leak
  OhmicLoad out{HUGE_VAL, {}};
  if (!s.converged || s.sourceAmps.front() <= nothing) return out;
  out.ohms = 1 / s.sourceAmps.front();
  for (std::size_t k = 0; k < parts.size(); ++k) {
    double& share = out.shares[parts[k]];
    share =
        std::max(share, std::abs(s.conductorAmps(net, static_cast<int>(k))) / s.sourceAmps.front());
  }
  return out;
}

CircuitReading Circuit::solve(const CircuitState& state) {
  CircuitReading out = blank();
  std::map<int, double> taken;
  for (int i = 0; i < islandCount(); ++i) {
    const IslandReading& r = solveIsland(i, state);
    place(i, r, out);
    for (const auto& supply : r.supplies) taken[supply.net] += supply.amps;
  }
  // Only where so much flows can less than an ohm lie between.
  constexpr double shortOhms = 1 - 1e-6;  // exactly one ohm is none
  for (const auto& [net, amps] : taken) {
    const double volts = supplyVolts(net).value_or(0);
    if (amps * shortOhms < volts || volts <= 0 || ohmicLoad(net, state).ohms >= shortOhms) continue;
    // No cable gives that: their boards are without one.
    CircuitState given = state;
    given.unplugged.resize(boards_.size(), 0);
    std::string label;
    for (const BoardSupply& s : supplies_)
      if (s.net == net && !isUnplugged(state, s.board)) {
        at(given.unplugged, s.board) = 1;
        if (label.empty() || s.kind->volts == volts) label = nameOf(s);
      }
    if (given.unplugged == state.unplugged || label.empty()) continue;
    out = solve(given);
    out.shorted = true;
    out.converged = false;
    out.shortedSupply = label;
    return out;
  }
  if (const int joined = joinedIsland(state); joined >= 0) {
    const IslandReading& r = solveWork(joined, state);
    const std::vector<int>& nets = island(joined).nets;
    for (std::size_t k = 0; k < nets.size(); ++k) at(out.nets, nets[k]) = r.nets[k];
  }
  return out;
}

void Circuit::place(int index, const IslandReading& r, CircuitReading& out) const {
  const Island& shape = island(index);
  for (std::size_t k = 0; k < shape.nets.size(); ++k) at(out.nets, shape.nets[k]) = r.nets[k];
  for (std::size_t k = 0; k < shape.parts.size(); ++k) at(out.parts, shape.parts[k]) = r.parts[k];
  for (std::size_t k = 0; k < shape.pins.size(); ++k) at(out.pins, shape.pins[k]) = r.pins[k];
  out.supplyAmps += r.supplyAmps;
  if (r.converged) return;
  out.converged = false;
  for (int p : shape.parts) out.unsolved.push_back(at(partIds_, p));
}

}  // namespace ignavo
