#include "parts/circuit.h"

#include <algorithm>
#include <map>

#include "electric/disjoint_set.h"
#include "project/indexing.h"

namespace ignavo {

namespace {

using Role = PinShape::Role;

// Of a supply that is afloat: small beside all else, but not so small that its last digits are
// more than what leaks to a board that hangs on next to nothing.
constexpr double afloatOhms = 1e-3;

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
  mayLetGo_ = !lifting_.empty() || anyShorted();
}

void Circuit::findSupplies(const Project& project) {
  for (int b = 0; b < static_cast<int>(project.boards.size()); ++b) {
    const BoardItem& board = at(project.boards, b);
    const BoardKind* kind = catalogue().boardKind(board.type);
    BoardNets& own = boards_.emplace_back();
    if (project.boards.size() > 1) own.id = board.id;
    boardSupplies_.emplace_back();
    if (!kind) continue;
    const auto netOf = [&](const std::string& pin) {
      const int p = kind->shape.pinIndex(pin);
      return p < 0 ? -1 : nets_.ofPin({b, p});
    };
    own.main = static_cast<int>(supplies_.size());
    for (const SupplyKind& supply : kind->supplies) {
      const int net = netOf(supply.pin);
      supplies_.push_back({b, &supply, net, netOf(supply.from)});
      boardSupplies_.back().push_back(net);
    }
    const Program* program = project.program(board.id);
    for (int p = 0; p < static_cast<int>(kind->pins.size()); ++p) {
      const BoardPin& pin = at(kind->pins, p);
      if (pin.role == Role::ground) own.grounds.push_back(nets_.ofPin({b, p}));
      if (pin.role != Role::io) continue;
      int supply = own.main;
      for (int s = own.main; s < static_cast<int>(supplies_.size()); ++s)
        if (at(supplies_, s).kind->pin == pin.supply) supply = s;
      pins_.push_back({{b, p}, board.id, pin.name, nets_.ofPin({b, p}), -1, supply, kind});
      pulledUp_.push_back(program && program->pulledUp(pin.name) ? 1 : 0);
    }
  }
  findAfloat(project);
  // Those that are the reference first, so that theirs is the level of what they share.
  for (const bool afloat : {false, true}) {
    for (const BoardNets& board : boards_)
      if (board.afloat == afloat)
        for (const int net : board.grounds) {
          levels_.try_emplace(net, 0);
          if (!afloat) cut_.insert(net);
        }
    for (const BoardSupply& supply : supplies_) {
      BoardNets& board = at(boards_, supply.board);
      if (board.afloat != afloat) continue;
      if (!afloat) cut_.insert(supply.net);
      const bool grounded = std::any_of(boards_.begin(), boards_.end(), [&](const BoardNets& o) {
        return o.ground == board.ground &&
               std::find(o.grounds.begin(), o.grounds.end(), supply.net) != o.grounds.end();
      });
      double& level = levels_.try_emplace(supply.net, 0).first->second;
      if (!grounded) {
        level = std::max(level, supply.kind->volts);
        continue;
      }
      level = 0;
      board.shorted = true;
      if (shortedSupply_.empty() || supply.kind == at(supplies_, board.main).kind)
        shortedSupply_ = nameOf(supply);
    }
  }
}

std::string Circuit::nameOf(const BoardSupply& supply) const {
  const std::string& board = at(boards_, supply.board).id;
  return board.empty() ? supply.kind->label : board + " " + supply.kind->label;
}

// Which grounds are one, and which boards are no reference though parts join them to one that is.
void Circuit::findAfloat(const Project& project) {
  const auto netCount = static_cast<std::size_t>(nets_.all().size());
  electric::DisjointSet grounds(netCount), joined(netCount);
  const auto joinAll = [](electric::DisjointSet& set, const std::vector<int>& nets) {
    int first = -1;
    for (const int net : nets) {
      if (net < 0) continue;
      if (first >= 0) set.join(first, net);
      if (first < 0) first = net;
    }
  };
  for (const BoardNets& board : boards_) joinAll(grounds, board.grounds);
  for (const std::vector<int>& legs : legNets_) joinAll(joined, legs);
  for (int b = 0; b < static_cast<int>(boards_.size()); ++b) {
    std::vector<int> own = at(boards_, b).grounds;
    for (const int net : at(boardSupplies_, b)) own.push_back(net);
    for (const CircuitPin& pin : pins_)
      if (pin.ref.board == b) own.push_back(pin.net);
    joinAll(joined, own);
  }
  for (int n = 0; n < static_cast<int>(netCount); ++n) galvanic_.push_back(joined.of(n));
  for (BoardNets& board : boards_)
    if (!board.grounds.empty()) board.ground = grounds.of(board.grounds.front());
  for (std::size_t b = 0; b < boards_.size(); ++b) {
    BoardNets& board = boards_[b];
    if (board.ground < 0) continue;
    std::size_t first = b;
    for (std::size_t o = 0; o < boards_.size(); ++o)
      if (boards_[o].ground >= 0 && joined.of(boards_[o].ground) == joined.of(board.ground) &&
          project.boards[o].id < project.boards[first].id)
        first = o;
    board.afloat = boards_[first].ground != board.ground;
    if (board.afloat)
      for (const int net : board.grounds) alias_[net] = board.ground;
  }
}

bool Circuit::anyShorted() const {
  return std::any_of(boards_.begin(), boards_.end(), [](const BoardNets& b) { return b.shorted; });
}

bool Circuit::isUnplugged(const CircuitState& state, int board) const {
  return at(boards_, board).shorted ||
         (board < static_cast<int>(state.unplugged.size()) && at(state.unplugged, board) != 0);
}

int Circuit::feeders(int net) const {
  std::set<int> boards;
  for (const BoardSupply& s : supplies_)
    if (s.net == net) boards.insert(s.board);
  return static_cast<int>(boards.size());
}

bool Circuit::isSupplyNet(int net) const {
  const auto it = levels_.find(net);
  return it != levels_.end() && it->second > 0;
}
bool Circuit::isGroundNet(int net) const {
  const auto it = levels_.find(net);
  return it != levels_.end() && it->second == 0;
}
std::optional<double> Circuit::supplyVolts(int net) const {
  const auto it = levels_.find(net);
  return it == levels_.end() ? std::nullopt : std::optional<double>(it->second);
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
    if (net >= 0 && !isCut(net)) groups.join(net, other);
  };
  for (int p = 0; p < partCount; ++p)
    for (int net : at(legNets_, p)) join(net, netCount + p);
  for (int p = 0; p < pinCount; ++p) join(at(pins_, p).net, netCount + partCount + p);
  // What is afloat is one with its pins.
  for (int p = 0; p < pinCount; ++p) {
    const CircuitPin& pin = at(pins_, p);
    const BoardNets& board = at(boards_, pin.ref.board);
    if (!board.afloat) continue;
    for (const int net : board.grounds) join(net, netCount + partCount + p);
    for (const int net : at(boardSupplies_, pin.ref.board)) join(net, netCount + partCount + p);
  }

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
    if (index >= 0 && !isCut(n)) at(islands_, index)->shape.nets.push_back(n);
  }
  baseCount_ = static_cast<int>(islands_.size());
  for (auto& island : islands_)
    for (const int p : island->shape.pins) {
      const int board = at(pins_, p).ref.board;
      if (at(boards_, board).afloat &&
          std::find(island->afloat.begin(), island->afloat.end(), board) == island->afloat.end())
        island->afloat.push_back(board);
    }
  findWhatLifts();
  std::map<std::pair<int, double>, int> lone;  // by board and what holds it
  for (int i = 0; i < islandCount(); ++i) {
    const Island& shape = island(i);
    const bool alone = shape.parts.empty() && shape.pins.size() == 1 && shape.nets.size() == 1;
    const auto likeIt = [&](const CircuitPin& pin) {
      return lone.try_emplace({pin.ref.board, pin.shape().usbHighOhms}, i).first->second;
    };
    alike_.push_back(alone ? likeIt(at(pins_, shape.pins.front())) : i);
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
        if (isCut(net) && isSupplyNet(net)) nets.insert(net);
      battery = battery || !at(devices_, p).batteries.empty();
    }
    for (int p : island.shape.pins) {
      const CircuitPin& pin = at(pins_, p);
      for (const int net : {pin.net, at(supplies_, pin.supply).net})
        if (isCut(net) && isSupplyNet(net)) nets.insert(net);
    }
    island.touches.assign(nets.begin(), nets.end());
    hasBatteries_ = hasBatteries_ || battery;
    if (nets.size() > 1 || (battery && !nets.empty())) lifting_.push_back(i);
  }
}

int Circuit::nodeFor(IslandWork& island, int net) {
  using Gives = electric::Source::Gives;
  if (const auto other = alias_.find(net); other != alias_.end()) net = other->second;
  const auto [it, fresh] = island.nodeOfNet.try_emplace(net, 0);
  if (!fresh) return it->second;
  if (isCut(net) && isGroundNet(net)) return it->second = 0;
  it->second = island.network.addNode();
  if (!isCut(net)) return it->second;
  const int source = island.network.addSource(it->second, *supplyVolts(net));
  const bool fed = std::any_of(supplies_.begin(), supplies_.end(), [&](const BoardSupply& s) {
    return s.net == net && s.kind->onUsb && !at(boards_, s.board).afloat &&
           !island.letGo.unplugged.contains(s.board);
  });
  at(island.network.sources, source).gives = !fed                              ? Gives::nothing
                                             : island.letGo.nets.contains(net) ? Gives::delivers
                                                                               : Gives::bothWays;
  island.supplySources.push_back(source);
  island.supplyNets.push_back(net);
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
    const auto anyOf = [](const auto& all, auto is) {
      return std::any_of(all.begin(), all.end(), is);
    };
    const auto feedsOne = [&](int net) {
      return anyOf(supplies_, [&](const BoardSupply& s) {
        return s.from == net && letGo.unplugged.contains(s.board);
      });
    };
    if (!anyOf(island.touches, [&](int net) { return letGo.nets.contains(net); }) &&
        !anyOf(island.afloat, [&](int board) { return letGo.unplugged.contains(board); }) &&
        !anyOf(island.shape.nets, feedsOne))
      continue;
    whole->members.push_back(i);
    append(whole->afloat, island.afloat);
    append(whole->shape.nets, island.shape.nets);
    append(whole->shape.parts, island.shape.parts);
    append(whole->shape.pins, island.shape.pins);
  }
  append(whole->shape.nets, {letGo.nets.begin(), letGo.nets.end()});
  islands_.push_back(std::move(whole));
  return it->second;
}

// Supplies within an island: those of boards that are afloat, and what regulators make for boards
// without a cable.
void Circuit::addSupplies(IslandWork& island) {
  electric::Network& net = island.network;
  for (const int board : island.afloat)
    island.ties.push_back({nodeFor(island, at(boards_, board).ground), -1});
  for (auto& [ground, tie] : island.ties) tie = net.addConductor(ground, 0, 0);
  for (int s = 0; s < static_cast<int>(supplies_.size()); ++s) {
    const BoardSupply& supply = at(supplies_, s);
    const BoardNets& board = at(boards_, supply.board);
    const bool unplugged = island.letGo.unplugged.contains(supply.board);
    const bool afloatHere =
        std::find(island.afloat.begin(), island.afloat.end(), supply.board) != island.afloat.end();
    if (board.afloat ? !afloatHere : !unplugged) continue;
    const int ground = board.afloat ? nodeFor(island, board.ground) : 0;
    if (unplugged) {
      // What nothing leads to has no voltage to make another one from.
      if (supply.from < 0 || isGroundNet(supply.net) ||
          (!isCut(supply.from) && !island.nodeOfNet.contains(supply.from)))
        continue;
      const int in = nodeFor(island, supply.from), out = nodeFor(island, supply.net);
      if (in != ground && in != out)
        net.addRegulator(in, out, ground, {supply.kind->volts, supply.kind->dropVolts});
    } else if (supply.kind->onUsb) {
      const int out = nodeFor(island, supply.net);
      if (out == ground) continue;
      island.afloatSupplies.push_back(
          {net.addRegulator(ground, out, ground, {supply.kind->volts, 0, afloatOhms}), s});
    }
  }
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
    const int board = pin.ref.board;
    PinSlots slots;
    slots.node = nodeFor(island, pin.net);
    const int vcc = slots.supply = nodeFor(island, at(supplies_, pin.supply).net);
    const int ground = slots.ground =
        at(boards_, board).afloat ? nodeFor(island, at(boards_, board).ground) : 0;
    slots.up = island.network.addConductor(vcc, slots.node, 0);
    slots.down = island.network.addConductor(slots.node, ground, 0);
    slots.clampUp = island.network.addJunction(slots.node, vcc, clampModel());
    slots.clampDown = island.network.addJunction(ground, slots.node, clampModel());
    if (const double ohms = pin.shape().usbHighOhms;
        ohms > 0 && !island.letGo.unplugged.contains(board))
      island.network.addConductor(vcc, slots.node, 1 / ohms);
    island.pins.push_back(slots);
  }
  addSupplies(island);
  for (int n : island.shape.nets) {
    const auto other = alias_.find(n);
    const auto it = island.nodeOfNet.find(other == alias_.end() ? n : other->second);
    island.netNodes.push_back(it == island.nodeOfNet.end() ? -1 : it->second);
  }
  island.solver = std::make_unique<electric::Solver>(island.network);
  island.built = true;
}

}  // namespace ignavo
