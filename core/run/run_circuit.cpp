#include <algorithm>
#include <cmath>
#include <limits>

#include "project/indexing.h"
#include "run/devices/arm.h"
#include "run/devices/board_processor.h"
#include "run/devices/floating_pins.h"
#include "run/devices/heat.h"
#include "run/devices/island_in_time.h"
#include "run/run.h"

// What of a run happens in the circuit: islands that are solved or go their way through time, what
// is read off them, and what that does to parts and pins.
namespace ignavo {

namespace {

double mean(double a, double b) { return (a + b) / 2; }

constexpr double seenAmps = 1e-12;  // leakage below a picoamp is nothing to be seen
constexpr double seenVolts = 1e-9;
constexpr float noVolts = std::numeric_limits<float>::quiet_NaN();

}  // namespace

void Run::driveAll() {
  for (int p = 0; p < static_cast<int>(state.pins.size()); ++p)
    at(state.circuit.pins, p) = driveOf(p);
  for (Known& known : known_) known.code.reset();
}

void Run::refreshAll() {
  settlePower();
  driveAll();
  state.circuit.unplugged = live() ? withoutCable() : std::vector<std::uint8_t>();
  (void)regroup();
  // A chip that has nothing left stops before anything follows from what it does. Where something
  // takes its time, its guard looks when that has begun.
  const auto atRest = [&] {
    return state.joined < 0 || at(state.places.islands, state.joined) < 0;
  };
  for (int b = 0; b < static_cast<int>(state.boards.size()); ++b)
    if (fed(b) && !plugged(b) && atRest() && boardVolts(b) < minVolts(b)) {
      at(state.boards, b).fed = false;
      resetBoard(b);
      settlePower();
      driveAll();
      (void)regroup();
    }
  for (auto& drawn : state.drawn) std::fill(drawn.begin(), drawn.end(), 0.0);
  for (BoardState& board : state.boards) board.amps = 0;
  probeBesideIslands();
  for (std::size_t i = 0; i < state.active.size(); ++i) readIsland(state.active[i]);
  watchSupplies();
}

void Run::refreshPart(int part) {
  const int island = model->circuit->islandOfPart(part);
  at(known_, island).partsCode.reset();
  at(known_, island).code.reset();
  refreshIsland(island);
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
  if (state.joined < 0 && !state.active.empty() && !model->circuit->mayLetGo() &&
      state.circuit.unplugged.empty())
    return false;
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
  for (BoardState& board : state.boards) board.amps = 0;
  Places& places = state.places;
  places.islands.assign(count, -1);
  std::vector<std::unique_ptr<Device>> islands;
  for (const int i : state.active) {
    if (!circuit.hasDynamicState(i) || model->leavesOut(i)) continue;
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
  listHeat();
}

// Solves an island as it stands now and writes down what follows from it.
void Run::readIsland(int island) {
  if (model->leavesOut(island)) return sketchIsland(island);
  const int place = at(state.places.islands, island);
  if (!live()) {
    if (place >= 0) state.devices.touch<IslandInTime>(place, [](IslandInTime& i) { i.stop(); });
    static const IslandReading dark;
    publish(island, dark, dark);
  } else if (place >= 0) {
    state.devices.touch<IslandInTime>(place, [&](IslandInTime& i) { i.change(*this); });
  } else {
    const auto code = codeOf(island);
    Known* known = code ? &at(known_, island) : nullptr;
    if (known)
      for (const Outcome& outcome : known->outcomes)
        if (outcome.code == *code) return happen(island, outcome);
    const IslandReading& r = model->circuit->solveIsland(island, state.circuit);
    if (!known) return publish(island, r, r);
    constexpr std::size_t most = 8;
    if (known->outcomes.size() < most) known->outcomes.emplace_back();
    Outcome& outcome = known->outcomes[known->oldest++ % most];
    follow(island, r, r, outcome);
    outcome.code = *code;
    happen(island, outcome);
  }
}

// Of what is left out: its pins stand as they are driven.
void Run::sketchIsland(int island) {
  const Circuit::Island& shape = model->circuit->island(island);
  for (const int p : shape.pins) {
    const RunModel::PinRow& row = at(model->pins, p);
    if (!row.output) continue;
    seeLevel(p, fed(row.board) && at(state.circuit.pins, p) == PinDrive::high);
    if (row.signal >= 0) trace.record(row.signal, now(), at(state.pins, p).level);
  }
  const auto unknown = [&](int signal) {
    if (signal >= 0) trace.record(signal, now(), noVolts);
  };
  for (const int p : shape.parts) {
    const RunModel::PartRow& row = at(model->parts, p);
    for (const int signal : row.signals) unknown(signal);
    unknown(row.probedAmps);
    unknown(row.probedVolts);
  }
  for (const RunModel::NetProbe& probe : model->netProbes)
    if (std::find(shape.nets.begin(), shape.nets.end(), probe.net) != shape.nets.end())
      unknown(probe.signal);
}

// How all stands on which an island depends, in one number; nothing where that is too much, or
// where more than the island itself decides.
std::optional<std::uint64_t> Run::codeOf(int island) {
  const Circuit& circuit = *model->circuit;
  if (state.joined >= 0 || !state.circuit.unplugged.empty()) return std::nullopt;
  Known& known = at(known_, island);
  if (known.code) return known.code;
  if (!known.fits) return std::nullopt;
  const Circuit::Island& shape = circuit.island(island);
  if (!known.partsCode) {
    std::uint64_t code = 0;
    for (const int p : shape.parts)
      code = code << Known::partBits | at(state.circuit.pressed, p) |
             static_cast<std::uint64_t>(at(state.circuit.broken, p)) << 1 |
             static_cast<std::uint64_t>(at(state.circuit.turned, p)) << 2;
    known.partsCode = code;
  }
  std::uint64_t code = *known.partsCode;
  for (const int p : shape.pins)
    code = code << Known::pinBits | static_cast<std::uint64_t>(at(state.circuit.pins, p));
  return known.code = code;
}

// The readings at the begin and the end of what lies ahead; the same where all is settled.
void Run::publish(int island, const IslandReading& here, const IslandReading& there) {
  follow(island, here, there, scratch_);
  happen(island, scratch_);
}

// What was asked for, in pieces that nobody sees as such; the current of lamps, of which only the
// light is told, in pieces that its threshold is told from.
int Run::looksInto(int island, const IslandReading& here, const IslandReading& there,
                   Nanoseconds length) const {
  constexpr double pieceVolts = 0.02, pieceShare = 0.02, pieceAmps = 2e-7;
  constexpr Nanoseconds seen = 1'000, litFor = 1'000'000;
  constexpr double most = 200;  // of one step, which seldom takes more than a third of the way
  double pieces = 1;
  const auto count = [&](double change, double piece, Nanoseconds least) {
    const double longest = static_cast<double>(length) / static_cast<double>(least);
    pieces = std::max(pieces, std::min({std::abs(change) / piece, longest, most}));
  };
  const auto countVolts = [&](std::optional<double> from, std::optional<double> to) {
    if (from && to) count(*to - *from, pieceVolts, seen);
  };
  const auto countAmps = [&](double from, double to, Nanoseconds least) {
    const double larger = std::max(std::abs(from), std::abs(to));
    count(to - from, pieceAmps + pieceShare * larger, least);
  };
  const Circuit::Island& shape = model->circuit->island(island);
  for (std::size_t k = 0; k < shape.parts.size() && k < here.parts.size(); ++k) {
    const RunModel::PartRow& row = at(model->parts, shape.parts[k]);
    const PartReading &from = here.parts[k], &to = there.parts[k];
    if (row.probedVolts >= 0) countVolts(from.volts, to.volts);
    if (row.probedAmps >= 0) countAmps(from.amps, to.amps, seen);
    if (row.asked) {
      countAmps(from.amps, to.amps, seen);
      countVolts(from.tracedVolts, to.tracedVolts);
    }
    if (!row.kind || row.kind->shows != Shows::light) continue;
    for (std::size_t l = 0; l < from.lamps.size(); ++l)
      countAmps(from.lamps[l], to.lamps[l], row.asked ? seen : litFor);
  }
  for (const RunModel::NetProbe& probe : model->netProbes) {
    const auto it = std::find(shape.nets.begin(), shape.nets.end(), probe.net);
    const auto n = static_cast<std::size_t>(it - shape.nets.begin());
    if (n < here.nets.size()) countVolts(here.nets[n], there.nets[n]);
  }
  return static_cast<int>(std::ceil(pieces));
}

void Run::follow(int island, const IslandReading& here, const IslandReading& there,
                 Outcome& out) const {
  out.drawn.assign(state.boards.size(), 0.0);
  for (std::size_t k = 0; k < here.supplies.size(); ++k)
    draw(here.supplies[k], mean(here.supplies[k].amps, there.supplies[k].amps),
         state.circuit.unplugged, out.drawn);
  out.pins.clear();
  out.limits.clear();
  out.arms.clear();
  out.values.clear();
  out.cool = true;
  followPins(island, here, there, out);
  const std::vector<int>& parts = model->circuit->island(island).parts;
  static const PartReading dark;
  for (std::size_t k = 0; k < parts.size(); ++k) {
    const bool read = k < here.parts.size();
    followPart(parts[k], read ? here.parts[k] : dark, read ? there.parts[k] : dark, out);
  }
  if (!model->netProbes.empty()) followProbes(island, here, there, out);
}

// Volts of the nets that were asked for; a net without any way to ground has none.
void Run::followProbes(int island, const IslandReading& here, const IslandReading& there,
                       Outcome& out) const {
  const std::vector<int>& nets = model->circuit->island(island).nets;
  for (const RunModel::NetProbe& probe : model->netProbes) {
    std::optional<double> volts;
    if (const auto it = std::find(nets.begin(), nets.end(), probe.net); it != nets.end()) {
      const auto k = static_cast<std::size_t>(it - nets.begin());
      if (k < here.nets.size() && here.nets[k] && there.nets[k])
        volts = mean(*here.nets[k], *there.nets[k]);
    } else {
      // A supply may be lifted by what hangs on it.
      const auto of = [&](const IslandReading& reading) -> std::optional<double> {
        for (const IslandReading::Supply& supply : reading.supplies)
          if (supply.net == probe.net) return supply.volts;
        return std::nullopt;
      };
      const auto begin = of(here), end = of(there);
      if (!begin || !end) continue;  // not of this island
      volts = mean(*begin, *end);
    }
    if (volts && std::abs(*volts) < seenVolts) volts = 0;
    out.values.push_back({probe.signal, volts ? static_cast<float>(*volts) : noVolts});
  }
}

// What no island decides.
void Run::probeBesideIslands() {
  for (const RunModel::NetProbe& probe : model->netProbes) {
    if (probe.solved) continue;
    const auto volts = live() ? model->circuit->volts(probe.net, state.circuit) : std::nullopt;
    trace.record(probe.signal, now(), volts ? static_cast<float>(*volts) : noVolts);
  }
}

void Run::followPins(int island, const IslandReading& here, const IslandReading& there,
                     Outcome& out) const {
  const std::vector<int>& members = model->circuit->island(island).pins;
  const bool settled = &here == &there;  // one reading is handed in for both
  for (std::size_t k = 0; k < members.size(); ++k) {
    const int p = members[k];
    const bool read = k < here.pins.size();
    const bool floating = read && here.pins[k].floating;
    signed char level = -1;
    if (!read || !fed(at(model->pins, p).board))
      level = 0;
    else if (isDriven(p))
      level = drivenLevel(p, here.pins[k], settled);
    else if (!floating)
      level = levelOf(p, here.pins[k]);
    const double amps = read ? std::abs(mean(here.pins[k].amps, there.pins[k].amps)) : 0;
    out.pins.push_back({p, level, floating, amps});
    out.cool = out.cool && amps <= at(model->circuit->pins(), p).kind->pinMostAmps;
  }
}

void Run::followPart(int p, const PartReading& here, const PartReading& there, Outcome& out) const {
  const RunModel::PartRow& row = at(model->parts, p);
  const double volts = mean(here.volts.value_or(0), there.volts.value_or(0));
  const auto amps = [&](int lamp) {
    if (lamp < 0) return mean(here.amps, there.amps);
    const auto l = static_cast<std::size_t>(lamp);
    return l < here.lamps.size() ? mean(here.lamps[l], there.lamps[l]) : 0.0;
  };
  for (std::size_t k = 0; k < row.limits.size(); ++k) {
    const PartLimit& limit = row.limits[k];
    double value = 0;
    switch (limit.damage.of) {
      case DamageLimit::Of::amps:
        value = amps(limit.lamp);
        break;
      case DamageLimit::Of::watts:
        value = mean(here.watts, there.watts);
        break;
      case DamageLimit::Of::volts:
        value = std::abs(volts);
        break;
      case DamageLimit::Of::reverseVolts:
        value = -volts;
    }
    out.limits.push_back({p, k, value});
    out.cool = out.cool && value <= limit.limit;
  }
  if (const int arm = at(state.places.arms, p); arm >= 0)
    out.arms.push_back({arm, mean(here.tracedVolts, there.tracedVolts), volts});
  for (std::size_t l = 0; l < row.signals.size(); ++l) {
    if (row.signals[l] < 0) continue;
    const double value = row.kind->tracedVolts
                             ? mean(here.tracedVolts, there.tracedVolts)
                             : amps(row.signals.size() > 1 ? static_cast<int>(l) : -1);
    out.values.push_back(
        {row.signals[l], std::abs(value) < seenAmps ? 0 : static_cast<float>(value)});
  }
  if (row.probedAmps >= 0) {
    const double value = mean(here.amps, there.amps);
    out.values.push_back(
        {row.probedAmps, std::abs(value) < seenAmps ? 0 : static_cast<float>(value)});
  }
  if (row.probedVolts >= 0)
    out.values.push_back({row.probedVolts, !here.volts || !there.volts ? noVolts
                                           : std::abs(volts) < seenVolts
                                               ? 0
                                               : static_cast<float>(volts)});
}

// Is nothing of an island counted for being too hot?
bool Run::isCold(int island) const {
  const std::vector<int>& heat = at(known_, island).heat;
  for (const int place : heat)
    if (state.devices.dueOf(place) != never) return false;
  return true;
}

void Run::happen(int island, const Outcome& outcome) {
  std::vector<double>& drawn = at(state.drawn, island);
  for (std::size_t b = 0; b < drawn.size(); ++b) {
    state.boards[b].amps += outcome.drawn[b] - drawn[b];
    drawn[b] = outcome.drawn[b];
  }
  const bool cool = outcome.cool && island < static_cast<int>(known_.size()) && isCold(island);
  for (const Outcome::Pin& pin : outcome.pins) {
    PinState& run = at(state.pins, pin.pin);
    const RunModel::PinRow& row = at(model->pins, pin.pin);
    run.floating = pin.floating;
    if (pin.level >= 0)
      seeLevel(pin.pin, pin.level != 0);
    else if (pin.floating && !row.watchers.empty() && !row.machine)
      state.devices.touch<FloatingPins>(state.places.floating,
                                        [&](FloatingPins& f) { f.watch(now()); });
    if (row.signal >= 0) trace.record(row.signal, now(), run.level);
    if (!cool) {
      const int heat = at(state.places.pinHeat, row.board);
      if (pin.amps > at(model->circuit->pins(), pin.pin).kind->pinMostAmps ||
          state.devices.as<PinHeat>(heat).hot(row.onBoard))
        // What it gave before it was too much is taken as having flown for long.
        state.devices.touch<PinHeat>(heat, [&](PinHeat& h) {
          h.change(*this, row.onBoard, pin.amps, std::min(pin.amps, run.amps));
        });
    }
    run.amps = pin.amps;
  }
  if (!cool)
    for (const Outcome::Limit& l : outcome.limits) {
      const int heat = at(state.places.heat, l.part);
      if (l.value > at(model->parts, l.part).limits[l.limit].limit ||
          state.devices.as<PartHeat>(heat).hot(l.limit))
        state.devices.touch<PartHeat>(heat,
                                      [&](PartHeat& h) { h.change(*this, l.limit, l.value); });
    }
  for (const Outcome::Leads& leads : outcome.arms)
    state.devices.touch<Arm>(
        leads.arm, [&](Arm& a) { a.follow(leads.signalVolts, leads.supplyVolts, now()); });
  for (const Outcome::Value& v : outcome.values) trace.record(v.signal, now(), v.value);
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
  if (place < 0) {
    const auto code = codeOf(island);
    if (!code) return model->circuit->solveIsland(island, state.circuit).pins[index];
    // Programs ask again and again.
    Known& known = at(known_, island);
    if (known.readCode != code) {
      known.pins = model->circuit->solveIsland(island, state.circuit).pins;
      known.readCode = code;
    }
    return known.pins[index];
  }
  const auto& inTime = state.devices.as<IslandInTime>(place);
  if (!inTime.settled()) {
    sawMoving = true;
    if (std::find(readMoving.begin(), readMoving.end(), place) == readMoving.end())
      readMoving.push_back(place);
  }
  return inTime.pin(index, now());
}

}  // namespace ignavo
