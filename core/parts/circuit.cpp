#include "parts/circuit.h"

#include <algorithm>

#include "electric/disjoint_set.h"
#include "project/indexing.h"

namespace ignavo {

namespace {

using Role = PinShape::Role;

constexpr double supply3Volts = 3.3;

// Protection diodes of a pin: a silicon junction, 0.70 V at 10 mA.
const electric::JunctionModel& clampModel() {
  static const auto model =
      electric::JunctionModel::through(0.70, 0.010, electric::thermalVolts, 1.0);
  return model;
}

}  // namespace

IGNAVO_VALUE_DEFINED(CircuitState);
bool CircuitState::operator==(const CircuitState&) const = default;
IGNAVO_VALUE_DEFINED(PartReading);
IGNAVO_VALUE_DEFINED(IslandReading);
IGNAVO_VALUE_DEFINED(CircuitReading);
Circuit::~Circuit() = default;

Circuit::Circuit(const Project& project) : nets_(project, catalogue()) {
  for (const auto& part : *project.parts) {
    const PartKind* kind = catalogue().partKind(part->type);
    partKinds_.push_back(kind);
    partIds_.push_back(part->id);
    thrown_.push_back(kind && kind->pressed(*part) ? 1 : 0);
    devices_.push_back(kind && kind->devices ? kind->devices(*part) : PartDevices{});
    knobs_.push_back(0);
    if (const PropKind* knob = kind ? kind->prop(kind->knob) : nullptr)
      knobs_.back() = part->number(knob->key, knob->defaultValue);
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
      if (!kind->isInstrument() || r.ohms < floatingOhms)  // what only looks on joins nothing
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
    boardSupplies_.emplace_back();
    if (!kind) continue;
    const Program* program = project.program(project.boards[b].id);
    for (int p = 0; p < static_cast<int>(kind->pins.size()); ++p) {
      const PinRef ref{static_cast<int>(b), p};
      const int net = nets_.ofPin(ref);
      const BoardPin& pin = at(kind->pins, p);
      const auto supply = [&](double volts) {
        if (volts > 0) boardSupplies_.back().push_back(net);
        const auto [it, fresh] = supplies_.try_emplace(net, volts);
        if (fresh) return;
        if ((it->second == 0) != (volts == 0)) {
          shorted_ = true;
          shortedSupply_ = supplyName(std::max(it->second, volts));
        }
        it->second = it->second == 0 || volts == 0 ? 0 : std::max(it->second, volts);
      };
      switch (pin.role) {
        case Role::ground:
          supply(0);
          break;
        case Role::supply5:
          supply(kind->supplyVolts);
          boardVolts_ = kind->supplyVolts;
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
  if (const PropKind* knob = kind->prop(kind->knob)) switch (where) {
      case Turned::min:
        return knob->min;
      case Turned::max:
        return knob->max;
      case Turned::middle:
        return (knob->min + knob->max) / 2;
      case Turned::asSet:
        break;
    }
  return at(knobs_, part);
}

void Circuit::tryPart(int part, const Part& changed) {
  const PartKind* kind = at(partKinds_, part);
  if (!kind || !kind->devices) return;
  at(devices_, part) = kind->devices(changed);
  at(turnedDevices_, part).clear();
  hasBatteries_ = hasBatteries_ || !at(devices_, part).batteries.empty();
  forget(at(partIsland_, part));
}

void Circuit::trySupply(double volts) {
  triedVolts_ = volts;
  for (int i = 0; i < islandCount(); ++i) forget(i);
}

// What was remembered of an island, and of all that it was solved with.
void Circuit::forget(int index) {
  for (int i = 0; i < static_cast<int>(islands_.size()); ++i) {
    if (i != index && i < baseCount_) continue;
    IslandWork& island = *at(islands_, i);
    island.memo.clear();
    island.kept.clear();
    island.applied = {};
  }
  joinedOf_.clear();
  slices_.clear();
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
  const auto itemCount = static_cast<std::size_t>(netCount + partCount + pinCount);
  electric::DisjointSet groups(itemCount);
  const auto join = [&](int net, int other) {
    if (net >= 0 && !supplies_.contains(net)) groups.join(net, other);
  };
  for (int p = 0; p < partCount; ++p)
    for (int net : at(legNets_, p)) join(net, netCount + p);
  for (int p = 0; p < pinCount; ++p) join(at(pins_, p).net, netCount + partCount + p);

  std::vector<int> islandOfRoot(itemCount, -1);
  const auto islandOf = [&](int item) {
    int& index = at(islandOfRoot, groups.of(item));
    if (index < 0) {
      index = static_cast<int>(islands_.size());
      islands_.push_back(std::make_unique<IslandWork>());
    }
    return index;
  };
  partIsland_.assign(static_cast<std::size_t>(partCount), -1);
  for (int p = 0; p < pinCount; ++p) {
    at(pins_, p).island = islandOf(netCount + partCount + p);
    at(islands_, at(pins_, p).island)->shape.pins.push_back(p);
  }
  for (int p = 0; p < partCount; ++p) {
    at(partIsland_, p) = islandOf(netCount + p);
    at(islands_, at(partIsland_, p))->shape.parts.push_back(p);
  }
  for (int n = 0; n < netCount; ++n) {
    const int index = at(islandOfRoot, groups.of(n));
    if (index >= 0 && !supplies_.contains(n)) at(islands_, index)->shape.nets.push_back(n);
  }
  baseCount_ = static_cast<int>(islands_.size());
  findWhatLifts();
  std::unordered_map<int, int> lone;  // by board; looked up only
  for (int i = 0; i < islandCount(); ++i) {
    const Island& shape = island(i);
    const bool alone = shape.parts.empty() && shape.pins.size() == 1 && shape.nets.size() == 1;
    alike_.push_back(
        alone ? lone.try_emplace(at(pins_, shape.pins.front()).ref.board, i).first->second : i);
  }
}

// Which supplies each island is at, and whether anything could lift one of them.
void Circuit::findWhatLifts() {
  for (int i = 0; i < baseCount_; ++i) {
    IslandWork& island = *at(islands_, i);
    std::set<int> nets;
    bool battery = false;
    for (int p : island.shape.parts) {
      for (int net : at(legNets_, p))
        if (isSupplyNet(net)) nets.insert(net);
      battery = battery || !at(devices_, p).batteries.empty();
    }
    for (int p : island.shape.pins) {
      const CircuitPin& pin = at(pins_, p);
      if (isSupplyNet(pin.net)) nets.insert(pin.net);
      if (const int own = at(boardSupplyNet_, pin.ref.board); own >= 0) nets.insert(own);
    }
    island.touches.assign(nets.begin(), nets.end());
    hasBatteries_ = hasBatteries_ || battery;
    if (nets.size() > 1 || (battery && !nets.empty())) lifting_.push_back(i);
  }
}

int Circuit::nodeFor(IslandWork& island, int net) {
  using Gives = electric::Source::Gives;
  const auto [it, fresh] = island.nodeOfNet.try_emplace(net, 0);
  if (!fresh) return it->second;
  const auto supply = supplyVolts(net);
  if (supply && *supply == 0) return it->second = 0;
  it->second = island.network.addNode();
  if (supply) {
    const int source = island.network.addSource(it->second, *supply);
    at(island.network.sources, source).gives = island.letGo.off.contains(net)    ? Gives::nothing
                                               : island.letGo.nets.contains(net) ? Gives::delivers
                                                                                 : Gives::bothWays;
    island.supplySources.push_back(source);
    island.supplyNets.push_back(net);
  }
  return it->second;
}

// The island of all that is at the supplies that let go.
int Circuit::joinAt(const LetGo& letGo) {
  const auto [it, fresh] = joined_.try_emplace(letGo, static_cast<int>(islands_.size()));
  if (!fresh) return it->second;
  auto whole = std::make_unique<IslandWork>();
  whole->letGo = letGo;
  const auto append = [](std::vector<int>& to, const std::vector<int>& from) {
    to.insert(to.end(), from.begin(), from.end());
  };
  for (int i = 0; i < baseCount_; ++i) {
    const IslandWork& island = *at(islands_, i);
    if (std::none_of(island.touches.begin(), island.touches.end(),
                     [&](int net) { return letGo.nets.contains(net); }))
      continue;
    whole->members.push_back(i);
    append(whole->shape.nets, island.shape.nets);
    append(whole->shape.parts, island.shape.parts);
    append(whole->shape.pins, island.shape.pins);
  }
  append(whole->shape.nets, {letGo.nets.begin(), letGo.nets.end()});
  islands_.push_back(std::move(whole));
  return it->second;
}

Circuit::IslandWork& Circuit::builtIsland(int index) {
  IslandWork& island = *at(islands_, index);
  if (!island.built) build(island);
  return island;
}

void Circuit::build(IslandWork& island) {
  for (int p : island.shape.parts) {
    std::vector<electric::Node> nodes;
    for (int net : at(legNets_, p)) nodes.push_back(nodeFor(island, net));
    island.parts.push_back(addPart(island.network, at(devices_, p), std::move(nodes)));
  }
  for (int p : island.shape.pins) {
    const CircuitPin& pin = at(pins_, p);
    PinSlots slots;
    slots.node = nodeFor(island, pin.net);
    const int vcc = nodeFor(island, at(boardSupplyNet_, pin.ref.board));
    slots.up = island.network.addConductor(vcc, slots.node, 0);
    slots.down = island.network.addConductor(slots.node, 0, 0);
    slots.clampUp = island.network.addJunction(slots.node, vcc, clampModel());
    slots.clampDown = island.network.addJunction(0, slots.node, clampModel());
    slots.supply = vcc;
    island.pins.push_back(slots);
  }
  for (int n : island.shape.nets) {
    const auto it = island.nodeOfNet.find(n);
    island.netNodes.push_back(it == island.nodeOfNet.end() ? -1 : it->second);
  }
  island.solver = std::make_unique<electric::Solver>(island.network);
  island.built = true;
}

}  // namespace ignavo
