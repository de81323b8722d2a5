#include "parts/circuit.h"

#include <algorithm>
#include <numeric>

namespace ignavo {

namespace {

using Role = PinShape::Role;

constexpr double supply3Volts = 3.3;
constexpr double floatingOhms = 1e6;
constexpr std::size_t memoLimit = 8192;

// Protection diodes of a pin: a silicon junction, 0.70 V at 10 mA.
const electric::JunctionModel& clampModel() {
  static const auto model =
      electric::JunctionModel::through(0.70, 0.010, electric::thermalVolts, 1.0);
  return model;
}

template <typename T>
decltype(auto) at(T& v, int i) {
  return v[static_cast<std::size_t>(i)];
}

}  // namespace

Circuit::Circuit(const Project& project) : nets_(project, catalogue()) {
  for (const auto& part : *project.parts) {
    const PartKind* kind = catalogue().partKind(part->type);
    partKinds_.push_back(kind);
    partIds_.push_back(part->id);
    thrown_.push_back(kind && kind->pressed(*part) ? 1 : 0);
    devices_.push_back(kind && kind->devices ? kind->devices(*part) : PartDevices{});
    knobs_.push_back(0);
    if (kind)
      for (const PropKind& prop : kind->props)
        if (prop.key == kind->knob) knobs_.back() = part->number(prop.key, prop.otherwise);
    turnedDevices_.emplace_back();
    if (kind && kind->devices && kind->senses && !kind->knob.empty())
      for (int place = 0; place < turnedPlaces; ++place) {
        Part turned = *part;
        turned.setProp(kind->knob,
                       knobAt(static_cast<int>(knobs_.size()) - 1, static_cast<Turned>(place)));
        turnedDevices_.back().push_back(kind->devices(turned));
      }
    const int index = static_cast<int>(legNets_.size());
    std::vector<int> legs;
    for (int l = 0; kind && l < static_cast<int>(kind->print.legs.size()); ++l)
      legs.push_back(nets_.ofLeg({index, l}));
    for (const auto& r : devices_.back().resistors)
      edges_.push_back({at(legs, r.a), at(legs, r.b), index, r.ohms, false, false});
    for (const auto& c : devices_.back().contacts)
      edges_.push_back({at(legs, c.a), at(legs, c.b), index, c.ohms, true, c.whenPressed});
    legNets_.push_back(std::move(legs));
  }
  findSupplies(project);
  cutIslands(project);
}

void Circuit::findSupplies(const Project& project) {
  for (std::size_t b = 0; b < project.boards.size(); ++b) {
    const BoardKind* kind = catalogue().boardKind(project.boards[b].type);
    boardSupplyNet_.push_back(-1);
    if (!kind) continue;
    const Program* program = project.program(project.boards[b].id);
    for (int p = 0; p < static_cast<int>(kind->pins.size()); ++p) {
      const PinRef ref{static_cast<int>(b), p};
      const int net = nets_.ofPin(ref);
      const BoardPin& pin = at(kind->pins, p);
      const auto supply = [&](double volts) {
        const auto [it, fresh] = supplies_.try_emplace(net, volts);
        if (fresh) return;
        if ((it->second == 0) != (volts == 0)) shorted_ = true;
        it->second = it->second == 0 || volts == 0 ? 0 : std::max(it->second, volts);
      };
      switch (pin.role) {
        case Role::ground:
          supply(0);
          break;
        case Role::supply5:
          supply(kind->supplyVolts);
          boardSupplyNet_.back() = net;
          break;
        case Role::supply3:
          supply(supply3Volts);
          break;
        case Role::supplyIn:
          break;
        case Role::io:
          pins_.push_back({ref, project.boards[b].id, pin.name, net, -1, kind});
          pulledUp_.push_back(program && program->pulledUp(pin.name) ? 1 : 0);
      }
    }
  }
}

bool Circuit::isSupplyNet(int net) const {
  const auto it = supplies_.find(net);
  return it != supplies_.end() && it->second > 0;
}
bool Circuit::isGroundNet(int net) const {
  const auto it = supplies_.find(net);
  return it != supplies_.end() && it->second == 0;
}
std::optional<double> Circuit::supplyVolts(int net) const {
  const auto it = supplies_.find(net);
  return it == supplies_.end() ? std::nullopt : std::optional<double>(it->second);
}

double Circuit::knobAt(int part, Turned where) const {
  const PartKind* kind = at(partKinds_, part);
  for (const PropKind& prop : kind->props)
    if (prop.key == kind->knob) switch (where) {
        case Turned::least:
          return prop.least;
        case Turned::most:
          return prop.most;
        case Turned::middle:
          return (prop.least + prop.most) / 2;
        case Turned::asSet:
          break;
      }
  return at(knobs_, part);
}

int Circuit::pinIndex(const std::string& board, const std::string& name) const {
  for (std::size_t i = 0; i < pins_.size(); ++i)
    if (pins_[i].board == board && pins_[i].name == name) return static_cast<int>(i);
  return -1;
}

// Nets, parts and pins that belong together without crossing a supply net.
void Circuit::cutIslands(const Project& project) {
  const int netCount = static_cast<int>(nets_.all().size());
  const int partCount = static_cast<int>(project.parts->size());
  const int pinCount = static_cast<int>(pins_.size());
  std::vector<int> parent(static_cast<std::size_t>(netCount + partCount + pinCount));
  std::iota(parent.begin(), parent.end(), 0);
  const auto root = [&](int i) {
    while (at(parent, i) != i) i = at(parent, i) = at(parent, at(parent, i));
    return i;
  };
  const auto join = [&](int net, int other) {
    if (net < 0 || supplies_.contains(net)) return;
    const int a = root(net), b = root(other);
    at(parent, std::max(a, b)) = std::min(a, b);
  };
  for (int p = 0; p < partCount; ++p)
    for (int net : at(legNets_, p)) join(net, netCount + p);
  for (int p = 0; p < pinCount; ++p) join(at(pins_, p).net, netCount + partCount + p);

  std::vector<int> islandOfRoot(parent.size(), -1);
  const auto islandOf = [&](int item) {
    int& index = at(islandOfRoot, root(item));
    if (index < 0) {
      index = static_cast<int>(islands_.size());
      islands_.emplace_back();
    }
    return index;
  };
  partIsland_.assign(static_cast<std::size_t>(partCount), -1);
  for (int p = 0; p < pinCount; ++p) {
    at(pins_, p).island = islandOf(netCount + partCount + p);
    at(islands_, at(pins_, p).island).shape.pins.push_back(p);
  }
  for (int p = 0; p < partCount; ++p) {
    at(partIsland_, p) = islandOf(netCount + p);
    at(islands_, at(partIsland_, p)).shape.parts.push_back(p);
  }
  for (int n = 0; n < netCount; ++n) {
    const int index = at(islandOfRoot, root(n));
    if (index >= 0 && !supplies_.contains(n)) at(islands_, index).shape.nets.push_back(n);
  }
}

int Circuit::nodeFor(IslandWork& island, int net) {
  const auto [it, fresh] = island.nodeOfNet.try_emplace(net, 0);
  if (!fresh) return it->second;
  const auto supply = supplyVolts(net);
  if (supply && *supply == 0) return it->second = 0;
  it->second = island.network.addNode();
  if (supply) {
    island.supplySources.push_back(island.network.addSource(it->second, *supply));
    island.supplyNets.push_back(net);
  }
  return it->second;
}

void Circuit::build(IslandWork& island) {
  for (int p : island.shape.parts) {
    PartSlots slots;
    for (int net : at(legNets_, p)) slots.legNodes.push_back(nodeFor(island, net));
    const auto node = [&](int leg) { return at(slots.legNodes, leg); };
    const PartDevices& d = at(devices_, p);
    for (const auto& r : d.resistors)
      slots.resistors.push_back(island.network.addConductor(node(r.a), node(r.b), 1 / r.ohms));
    for (const auto& c : d.contacts)
      slots.contacts.push_back(island.network.addConductor(node(c.a), node(c.b), 0));
    for (const auto& j : d.diodes)
      slots.junctions.push_back(
          island.network.addJunction(node(j.anode), node(j.cathode), j.model));
    for (const auto& e : d.batteries) {
      slots.batteries.push_back(
          island.network.addBattery(node(e.plus), node(e.minus), e.volts, e.ohms));
      slots.ties.push_back(island.network.addConductor(node(e.minus), 0, 0));
    }
    for (const auto& q : d.bipolars)
      slots.bipolars.push_back(
          island.network.addBipolar(node(q.collector), node(q.base), node(q.emitter), q.model));
    for (const auto& m : d.mosfets)
      slots.mosfets.push_back(
          island.network.addMosfet(node(m.drain), node(m.gate), node(m.source), m.model));
    for (const auto& m : d.motors)
      slots.motors.push_back(island.network.addMotor(node(m.a), node(m.b), m.model));
    island.parts.push_back(std::move(slots));
  }
  for (int p : island.shape.pins) {
    const CircuitPin& pin = at(pins_, p);
    PinSlots slots;
    slots.node = nodeFor(island, pin.net);
    const int vcc = nodeFor(island, at(boardSupplyNet_, pin.ref.board));
    slots.up = island.network.addConductor(vcc, slots.node, 0);
    slots.down = island.network.addConductor(slots.node, 0, 0);
    island.network.addJunction(slots.node, vcc, clampModel());
    island.network.addJunction(0, slots.node, clampModel());
    island.pins.push_back(slots);
  }
  island.solver = std::make_unique<electric::Solver>(island.network);
  island.built = true;
}

CircuitState Circuit::restState() const {
  CircuitState s;
  for (std::uint8_t up : pulledUp_) s.pins.push_back(up ? PinDrive::pullUp : PinDrive::input);
  s.pressed = thrown_;
  s.broken.assign(partKinds_.size(), 0);
  s.turned.assign(partKinds_.size(), Turned::asSet);
  return s;
}

void Circuit::setParameters(IslandWork& island, const CircuitState& state) {
  electric::Network& net = island.network;
  for (std::size_t i = 0; i < island.parts.size(); ++i) {
    const int p = island.shape.parts[i];
    const auto& places = at(turnedDevices_, p);
    const PartDevices& d = places.empty()
                               ? at(devices_, p)
                               : places[static_cast<std::size_t>(at(state.turned, p))];
    const PartSlots& slots = island.parts[i];
    const bool broken = at(state.broken, p) != 0;
    for (std::size_t k = 0; k < slots.resistors.size(); ++k)
      at(net.conductors, slots.resistors[k]).siemens = broken ? 0 : 1 / d.resistors[k].ohms;
    for (std::size_t k = 0; k < slots.contacts.size(); ++k)
      at(net.conductors, slots.contacts[k]).siemens =
          !broken && (at(state.pressed, p) != 0) == d.contacts[k].whenPressed
              ? 1 / d.contacts[k].ohms
              : 0;
    for (int j : slots.junctions) at(net.junctions, j).open = broken;
    for (int e : slots.batteries) at(net.batteries, e).open = broken;
    for (int q : slots.bipolars) at(net.bipolars, q).open = broken;
    for (int m : slots.mosfets) at(net.mosfets, m).open = broken;
    for (int m : slots.motors) at(net.motors, m).open = broken;
  }
  for (std::size_t i = 0; i < island.pins.size(); ++i) {
    const CircuitPin& pin = at(pins_, island.shape.pins[i]);
    const PinDrive drive = at(state.pins, island.shape.pins[i]);
    const BoardKind& k = *pin.kind;
    at(net.conductors, island.pins[i].up).siemens = drive == PinDrive::high     ? 1 / k.outOhms
                                                    : drive == PinDrive::pullUp ? 1 / k.pullUpOhms
                                                                                : 0;
    at(net.conductors, island.pins[i].down).siemens =
        drive == PinDrive::low ? 1 / k.outOhms : (drive == PinDrive::high ? 0 : 1 / k.leakOhms);
  }
}

namespace {

// Nodes with a path to the reference or to a source, grown from those already in `reached`.
void growReached(const electric::Network& net, std::vector<bool>& reached) {
  for (bool grown = true; grown;) {
    grown = false;
    const auto link = [&](int a, int b) {
      if (at(reached, a) == at(reached, b)) return;
      at(reached, a) = at(reached, b) = true;
      grown = true;
    };
    for (const auto& c : net.conductors)
      if (c.siemens > 0) link(c.a, c.b);
    for (const auto& j : net.junctions)
      if (!j.open) link(j.anode, j.cathode);
    for (const auto& e : net.batteries)
      if (!e.open) link(e.plus, e.minus);
    for (const auto& q : net.bipolars) {
      link(q.collector, q.innerCollector), link(q.base, q.innerBase);
      if (!q.open) link(q.innerCollector, q.innerBase), link(q.innerBase, q.emitter);
    }
    for (const auto& m : net.mosfets)  // a gate is insulated
      if (!m.open) link(m.drain, m.source);
    for (const auto& m : net.motors)
      if (!m.open) link(m.a, m.b);
  }
}

}  // namespace

// Nodes that have a voltage. A group of parts that only a battery feeds gets the
// minus of its first battery as reference.
std::vector<bool> Circuit::tieBatteries(IslandWork& island) {
  constexpr double tieSiemens = 1;
  electric::Network& net = island.network;
  for (const PartSlots& slots : island.parts)
    for (int tie : slots.ties) at(net.conductors, tie).siemens = 0;
  std::vector<bool> reached(static_cast<std::size_t>(net.nodes()), false);
  reached[0] = true;
  for (const auto& s : net.sources) at(reached, s.plus) = true;
  growReached(net, reached);
  for (const PartSlots& slots : island.parts)
    for (std::size_t k = 0; k < slots.batteries.size(); ++k) {
      const electric::Battery& e = at(net.batteries, slots.batteries[k]);
      if (e.open || at(reached, e.minus)) continue;
      at(net.conductors, slots.ties[k]).siemens = tieSiemens;
      growReached(net, reached);
    }
  return reached;
}

PartReading Circuit::readPart(const IslandWork& island, std::size_t index,
                              const electric::Solution& s, const std::vector<bool>& reached) const {
  const electric::Network& net = island.network;
  const PartSlots& slots = island.parts[index];
  const int part = island.shape.parts[index];
  const PartKind* kind = at(partKinds_, part);
  PartReading r;
  r.legs.assign(slots.legNodes.size(), 0.0);
  if (!kind || !s.converged) return r;
  const PartDevices& d = at(devices_, part);
  const auto flow = [&](int from, int to, double amps) {
    at(r.legs, from) += amps;
    at(r.legs, to) -= amps;
  };
  for (std::size_t k = 0; k < slots.resistors.size(); ++k)
    flow(d.resistors[k].a, d.resistors[k].b, s.conductorAmps(net, slots.resistors[k]));
  for (std::size_t k = 0; k < slots.contacts.size(); ++k)
    flow(d.contacts[k].a, d.contacts[k].b, s.conductorAmps(net, slots.contacts[k]));
  for (std::size_t k = 0; k < slots.junctions.size(); ++k) {
    const double amps = at(s.junctionAmps, slots.junctions[k]);
    flow(d.diodes[k].anode, d.diodes[k].cathode, amps);
    if (k < kind->lamps.size()) r.lamps.push_back(amps);
  }
  for (std::size_t k = 0; k < slots.batteries.size(); ++k)
    flow(d.batteries[k].minus, d.batteries[k].plus, at(s.batteryAmps, slots.batteries[k]));
  for (std::size_t k = 0; k < slots.bipolars.size(); ++k) {
    const electric::BipolarAmps& q = at(s.bipolarAmps, slots.bipolars[k]);
    flow(d.bipolars[k].collector, d.bipolars[k].emitter, q.collector);
    flow(d.bipolars[k].base, d.bipolars[k].emitter, q.base);
  }
  for (std::size_t k = 0; k < slots.mosfets.size(); ++k)
    flow(d.mosfets[k].drain, d.mosfets[k].source, at(s.mosfetAmps, slots.mosfets[k]));
  for (std::size_t k = 0; k < slots.motors.size(); ++k) {
    const electric::MotorPoint& m = at(s.motors, slots.motors[k]);
    flow(d.motors[k].a, d.motors[k].b, m.amps);
    r.radiansPerSecond = m.radiansPerSecond;
  }
  for (std::size_t l = 0; l < r.legs.size(); ++l) r.watts += r.legs[l] * s.volt(slots.legNodes[l]);
  const int first = at(slots.legNodes, kind->readLegs.first);
  const int second = at(slots.legNodes, kind->readLegs.second);
  if (at(reached, first) && at(reached, second)) r.volts = s.volt(first) - s.volt(second);
  r.amps = kind->lamps.size() > 1 ? -at(r.legs, kind->readLegs.second)
                                  : at(r.legs, kind->readLegs.first);
  return r;
}

IslandReading Circuit::compute(IslandWork& island, const CircuitState& state) {
  if (!island.built) build(island);
  setParameters(island, state);
  const std::vector<bool> reached = tieBatteries(island);
  const electric::Network& net = island.network;
  const electric::Solution s = island.solver->solve(net);
  const auto volts = [&](int node) {
    return s.converged && at(reached, node) ? std::optional<double>(s.volt(node)) : std::nullopt;
  };
  IslandReading out;
  out.converged = s.converged;
  for (int n : island.shape.nets) {
    const auto it = island.nodeOfNet.find(n);
    out.nets.push_back(it == island.nodeOfNet.end() ? std::nullopt : volts(it->second));
  }
  for (std::size_t i = 0; i < island.parts.size(); ++i)
    out.parts.push_back(readPart(island, i, s, reached));
  for (std::size_t i = 0; i < island.pins.size(); ++i) {
    const PinSlots& slots = island.pins[i];
    const PinDrive drive = at(state.pins, island.shape.pins[i]);
    PinReading r;
    r.volts = volts(slots.node);
    if (s.converged) r.amps = s.conductorAmps(net, slots.up) - s.conductorAmps(net, slots.down);
    if (s.converged && drive == PinDrive::input &&
        !supplies_.contains(at(pins_, island.shape.pins[i]).net)) {
      // Conductance to every level, its own leak apart.
      const double siemens =
          1 / island.solver->resistanceAt(slots.node) - at(net.conductors, slots.down).siemens;
      r.floating = siemens < 1 / floatingOhms;
    }
    out.pins.push_back(r);
  }
  for (std::size_t k = 0; k < island.supplySources.size() && s.converged; ++k) {
    const int source = island.supplySources[k];
    out.supplies.push_back({island.supplyNets[k], s.volt(at(net.sources, source).plus),
                            at(s.sourceAmps, source)});
    out.supplyAmps += out.supplies.back().amps;
  }
  return out;
}

const IslandReading& Circuit::solveIsland(int index, const CircuitState& state) {
  IslandWork& island = at(islands_, index);
  std::string key;
  for (int p : island.shape.pins) key.push_back(static_cast<char>(at(state.pins, p)));
  for (int p : island.shape.parts)
    key.push_back(static_cast<char>(at(state.pressed, p) | (at(state.broken, p) << 1) |
                                    (static_cast<int>(at(state.turned, p)) << 2)));
  const auto it = island.memo.find(key);
  if (it != island.memo.end()) return it->second;
  if (island.memo.size() >= memoLimit) island.memo.clear();
  return island.memo.emplace(std::move(key), compute(island, state)).first->second;
}

CircuitReading Circuit::solve(const CircuitState& state) {
  CircuitReading out;
  out.shorted = shorted_;
  out.nets.resize(nets_.all().size());
  out.parts.resize(partKinds_.size());
  out.pins.resize(pins_.size());
  if (shorted_) {
    out.converged = false;
    return out;
  }
  for (int n = 0; n < static_cast<int>(out.nets.size()); ++n) at(out.nets, n) = supplyVolts(n);
  for (int i = 0; i < islandCount(); ++i) {
    const Island& shape = island(i);
    const IslandReading& r = solveIsland(i, state);
    for (std::size_t k = 0; k < shape.nets.size(); ++k) at(out.nets, shape.nets[k]) = r.nets[k];
    for (std::size_t k = 0; k < shape.parts.size(); ++k) at(out.parts, shape.parts[k]) = r.parts[k];
    for (std::size_t k = 0; k < shape.pins.size(); ++k) at(out.pins, shape.pins[k]) = r.pins[k];
    out.supplyAmps += r.supplyAmps;
    if (r.converged) continue;
    out.converged = false;
    for (int p : shape.parts) out.unsolved.push_back(at(partIds_, p));
  }
  return out;
}

}  // namespace ignavo
