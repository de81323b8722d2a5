#include <algorithm>
#include <cmath>

#include "project/indexing.h"
#include "run/devices/arm.h"
#include "run/devices/board_processor.h"
#include "run/devices/floating_pins.h"
#include "run/devices/heat.h"
#include "run/devices/island_in_time.h"
#include "run/devices/supply_guard.h"
#include "run/run.h"

// What of a run happens in the circuit: islands that are solved or go their way through time, what
// is read off them, and what that does to parts, pins and supplies.
namespace ignavo {

namespace {

double mean(double a, double b) { return (a + b) / 2; }

constexpr double seenAmps = 1e-12;  // leakage below a picoamp is nothing to be seen

}  // namespace

void Run::refreshAll() {
  feedBoards();
  for (int p = 0; p < static_cast<int>(state.pins.size()); ++p)
    at(state.circuit.pins, p) = driveOf(p);
  state.circuit.unpowered.clear();
  if (live())
    for (int b = 0; b < static_cast<int>(state.boards.size()); ++b)
      if (!feeds(b)) {
        state.circuit.unpowered.resize(state.boards.size(), 0);
        at(state.circuit.unpowered, b) = 1;
      }
  (void)regroup();
  for (auto& drawn : state.drawn) std::fill(drawn.begin(), drawn.end(), 0.0);
  for (std::size_t i = 0; i < state.active.size(); ++i) readIsland(state.active[i]);
  watchSupplies();
}

void Run::refreshIsland(int island) {
  if (regroup())
    for (std::size_t i = 0; i < state.active.size(); ++i) readIsland(state.active[i]);
  else
    readIsland(activeIsland(island));
  watchSupplies();
}

// Of the circuit's own islands; where supplies let go, of the joined one that it is part of.
int Run::activeIsland(int island) const {
  return model->circuit->isJoined(island, state.joined) ? state.joined : island;
}

std::map<int, PartMemory> Run::memories() {
  std::map<int, PartMemory> out;
  for (int place = state.places.islandsBegin; place < state.places.islandsEnd; ++place)
    state.devices.touch<IslandInTime>(place, [&](IslandInTime& i) {
      i.catchUp(now());
      out.merge(i.memory());
    });
  return out;
}

void Run::recall(const std::map<int, PartMemory>& memories) {
  for (int place = state.places.islandsBegin; place < state.places.islandsEnd; ++place)
    state.devices.touch<IslandInTime>(place, [&](IslandInTime& i) { i.recall(memories); });
}

// Are other islands solved together than before? Then what goes on in them goes on in the new
// ones, from where it is.
bool Run::regroup() {
  const int joined = live() ? model->circuit->joinedIsland(state.circuit) : -1;
  if (joined == state.joined && !state.active.empty()) return false;
  const std::map<int, PartMemory> remembered = memories();
  state.joined = joined;
  startIslands();
  recall(remembered);
  return true;
}

// Capacitors without charge, motors at rest.
void Run::startIslands() {
  Circuit& circuit = *model->circuit;
  state.active.clear();
  for (int i = 0; i < circuit.islandCount(); ++i)
    if (!circuit.isJoined(i, state.joined)) state.active.push_back(i);
  if (state.joined >= 0) state.active.push_back(state.joined);
  const auto count = static_cast<std::size_t>(std::max(circuit.islandCount(), state.joined + 1));
  state.drawn.assign(count, std::vector<double>(state.boards.size(), 0.0));
  Places& places = state.places;
  places.islands.assign(count, -1);
  std::vector<std::unique_ptr<Device>> islands;
  for (const int i : state.active) {
    if (!circuit.remembers(i)) continue;
    at(places.islands, i) = places.islandsBegin + static_cast<int>(islands.size());
    islands.push_back(std::make_unique<IslandInTime>(circuit, i, now()));
  }
  const int grown = static_cast<int>(islands.size()) - (places.islandsEnd - places.islandsBegin);
  state.devices.exchange(places.islandsBegin, places.islandsEnd, std::move(islands));
  places.islandsEnd += grown;
  const auto shiftPlaces = [&](std::vector<int>& behind) {
    for (int& place : behind)
      if (place >= 0) place += grown;
  };
  shiftPlaces(places.guards);
  shiftPlaces(places.heat);
  shiftPlaces(places.pinHeat);
  shiftPlaces(places.boards);
}

// Solves an island as it stands now and writes down what follows from it.
void Run::readIsland(int island) {
  const int place = at(state.places.islands, island);
  if (!live()) {
    if (place >= 0) state.devices.touch<IslandInTime>(place, [](IslandInTime& i) { i.stop(); });
    static const IslandReading dark;
    publish(island, dark, dark);
  } else if (place >= 0) {
    state.devices.touch<IslandInTime>(place, [&](IslandInTime& i) { i.change(*this); });
  } else {
    const IslandReading& r = model->circuit->solveIsland(island, state.circuit);
    publish(island, r, r);
  }
}

// The readings at the begin and the end of what lies ahead; the same where all is settled.
void Run::publish(int island, const IslandReading& here, const IslandReading& there) {
  std::vector<double>& drawn = at(state.drawn, island);
  if (drawn.size() == 1) {
    drawn[0] = mean(here.supplyAmps, there.supplyAmps);
  } else {
    std::fill(drawn.begin(), drawn.end(), 0.0);
    for (std::size_t k = 0; k < here.supplies.size(); ++k)
      if (const int board = at(model->supplyBoard, here.supplies[k].net); board >= 0)
        at(drawn, board) += mean(here.supplies[k].amps, there.supplies[k].amps);
  }
  publishPins(island, here, there);
  const std::vector<int>& parts = model->circuit->island(island).parts;
  static const PartReading dark;
  for (std::size_t k = 0; k < parts.size(); ++k) {
    const bool read = k < here.parts.size();
    publishPart(parts[k], read ? here.parts[k] : dark, read ? there.parts[k] : dark);
  }
}

void Run::publishPins(int island, const IslandReading& here, const IslandReading& there) {
  const std::vector<int>& members = model->circuit->island(island).pins;
  for (std::size_t k = 0; k < members.size(); ++k) {
    const int p = members[k];
    PinState& run = at(state.pins, p);
    const RunModel::PinRow& row = at(model->pins, p);
    const PinDrive drive = at(state.circuit.pins, p);
    const bool read = k < here.pins.size();
    run.floating = read && here.pins[k].floating;
    if (!read || !feeds(row.board))
      seeLevel(p, false);
    else if (drive == PinDrive::high || drive == PinDrive::low)
      seeLevel(p, drive == PinDrive::high);
    else if (!run.floating)
      takeLevel(p, here.pins[k]);
    else if (model->isWatched(p))
      state.devices.touch<FloatingPins>(state.places.floating,
                                        [&](FloatingPins& f) { f.watch(now()); });
    if (row.signal >= 0) trace.record(row.signal, now(), run.level);
    const double amps = read ? std::abs(mean(here.pins[k].amps, there.pins[k].amps)) : 0;
    const int heat = at(state.places.pinHeat, row.board);
    if (!state.devices.as<PinHeat>(heat).cold(row.onBoard, amps))
      // What it gave before it was too much is taken as having flown for long.
      state.devices.touch<PinHeat>(
          heat, [&](PinHeat& h) { h.change(row.onBoard, now(), amps, std::min(amps, run.amps)); });
    run.amps = amps;
  }
}

void Run::publishPart(int p, const PartReading& here, const PartReading& there) {
  const RunModel::PartRow& row = at(model->parts, p);
  const double volts = mean(here.volts.value_or(0), there.volts.value_or(0));
  const auto amps = [&](int lamp) {
    if (lamp < 0) return mean(here.amps, there.amps);
    const auto l = static_cast<std::size_t>(lamp);
    return l < here.lamps.size() ? mean(here.lamps[l], there.lamps[l]) : 0.0;
  };
  const int heat = at(state.places.heat, p);
  for (std::size_t k = 0; k < row.limits.size(); ++k) {
    const PartLimit& limit = row.limits[k];
    double value = 0;
    switch (limit.burn.of) {
      case Burn::Of::amps:
        value = amps(limit.lamp);
        break;
      case Burn::Of::watts:
        value = mean(here.watts, there.watts);
        break;
      case Burn::Of::volts:
        value = std::abs(volts);
        break;
      case Burn::Of::reverseVolts:
        value = -volts;
    }
    if (value > limit.limit || state.devices.as<PartHeat>(heat).hot(k))
      state.devices.touch<PartHeat>(heat, [&](PartHeat& h) { h.change(*this, k, value); });
  }
  if (const int arm = at(state.places.arms, p); arm >= 0)
    state.devices.touch<Arm>(
        arm, [&](Arm& a) { a.follow(mean(here.tracedVolts, there.tracedVolts), volts, now()); });
  for (std::size_t l = 0; l < row.signals.size(); ++l) {
    if (row.signals[l] < 0) continue;
    const double value = row.kind->tracedVolts
                             ? mean(here.tracedVolts, there.tracedVolts)
                             : amps(row.signals.size() > 1 ? static_cast<int>(l) : -1);
    trace.record(row.signals[l], now(), std::abs(value) < seenAmps ? 0 : static_cast<float>(value));
  }
}

IslandReading Run::readingOf(int island) {
  const int place = at(state.places.islands, island);
  return place < 0 ? model->circuit->solveIsland(island, state.circuit)
                   : state.devices.as<IslandInTime>(place).reading(now());
}

PartReading Run::readingOfPart(int part) {
  const int island = activeIsland(model->circuit->islandOfPart(part));
  const auto& members = model->circuit->island(island).parts;
  const auto place = std::find(members.begin(), members.end(), part) - members.begin();
  return readingOf(island).parts[static_cast<std::size_t>(place)];
}

PinReading Run::pinNow(int pin) {
  const int island = activeIsland(at(model->circuit->pins(), pin).island);
  const auto& members = model->circuit->island(island).pins;
  const auto index =
      static_cast<std::size_t>(std::find(members.begin(), members.end(), pin) - members.begin());
  const int place = at(state.places.islands, island);
  if (place < 0) return model->circuit->solveIsland(island, state.circuit).pins[index];
  const auto& inTime = state.devices.as<IslandInTime>(place);
  if (!inTime.settled() &&
      std::find(readMoving.begin(), readMoving.end(), place) == readMoving.end())
    readMoving.push_back(place);
  return inTime.pin(index, now());
}

double Run::boardAmps(int board) const {
  double amps = 0;
  for (const auto& drawn : state.drawn) amps += at(drawn, board);
  return amps;
}

double Run::mostAmps(int board) const {
  const BoardKind* kind = catalogue().boardKind(at(project().boards, board).type);
  return kind ? kind->usbMostAmps : HUGE_VAL;
}

double Run::loadIfPowered(int board) {
  Circuit& circuit = *model->circuit;
  if (circuit.shorted()) return HUGE_VAL;
  CircuitState rest = circuit.restState();
  rest.pressed = state.circuit.pressed;
  rest.broken = state.circuit.broken;
  if (state.boards.size() == 1) return circuit.solve(rest).supplyAmps;
  double amps = 0;
  for (int i = 0; i < circuit.islandCount(); ++i)
    for (const IslandReading::Supply& supply : circuit.solveIsland(i, rest).supplies)
      if (at(model->supplyBoard, supply.net) == board) amps += supply.amps;
  return amps;
}

void Run::watchSupplies() {
  for (const int place : state.places.guards)
    state.devices.touch<SupplyGuard>(place, [&](SupplyGuard& g) { g.look(*this); });
}

void Run::watchSuppliesSoon() {
  for (const int place : state.places.guards)
    state.devices.touch<SupplyGuard>(place, [&](SupplyGuard& g) { g.lookSoon(now()); });
}

}  // namespace ignavo
