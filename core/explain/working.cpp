#include "explain/working.h"

#include <algorithm>
#include <cmath>

#include "project/indexing.h"
#include "run/devices/arm.h"
#include "run/motion.h"

// Combinations are gone through by how many things they change, each time those first that are
// most likely meant: pins that a program writes, other pins, what is pressed, what is turned.
namespace ignavo {

namespace {

constexpr double heardVolts = 1;  // a passive sounder that gets less is hardly heard
constexpr int mostTries = 3000, mostChanges = 6;

const PartReading* readingOf(Circuit& circuit, int part, const CircuitState& state,
                             CircuitReading& whole) {
  const int island = circuit.islandOfPart(part);
  if (circuit.anyShorted() || circuit.mayLetGo() || island < 0) {
    whole = circuit.solve(state);
    return whole.converged ? &at(whole.parts, part) : nullptr;
  }
  const auto& members = circuit.island(island).parts;
  const auto place = std::find(members.begin(), members.end(), part) - members.begin();
  const IslandReading& r = circuit.solveIsland(island, state);
  return r.converged ? &r.parts[static_cast<std::size_t>(place)] : nullptr;
}

// The leg of an arm that pulses go to: neither of its supply.
int signalLeg(const PartKind& kind) {
  for (int leg = 0; leg < static_cast<int>(kind.print.legs.size()); ++leg)
    if (leg != kind.readLegs.first && leg != kind.readLegs.second) return leg;
  return kind.readLegs.first;
}

bool armWorks(Circuit& circuit, int part, const PartKind& kind, const PartReading& r,
              const CircuitState& state) {
  const auto volts = [&](int leg) {
    return circuit.volts(circuit.nets().ofLeg({part, leg}), state);
  };
  const auto signal = volts(signalLeg(kind)), ground = volts(kind.readLegs.second);
  return r.volts && *r.volts >= Arm::leastVolts && signal && ground &&
         *signal - *ground > Arm::highVolts;
}

class NearestSearch {
 public:
  NearestSearch(Circuit& circuit, const Output& output, const CircuitState& from)
      : circuit_(circuit), output_(output), from_(from) {}

  void offer(Change change) { ways_.push_back(change); }
  Working run() {
    Working out;
    out.state = from_;
    for (int depth = 0;
         depth <= mostChanges && depth <= static_cast<int>(ways_.size()) && !out.found; ++depth) {
      chosen_.clear();
      descend(0, depth, from_, out);
    }
    return out;
  }

 private:
  static bool sameThing(const Change& a, const Change& b) {
    return (a.what == Change::What::pin) == (b.what == Change::What::pin) && a.index == b.index;
  }
  void descend(std::size_t next, int left, const CircuitState& state, Working& out) {
    if (left == 0) return attempt(state, out);
    for (std::size_t w = next; w < ways_.size() && !out.found && tries_ < mostTries; ++w) {
      const Change& way = ways_[w];
      if (std::any_of(chosen_.begin(), chosen_.end(),
                      [&](const Change& c) { return sameThing(c, way); }))
        continue;
      CircuitState then = state;
      apply(way, then);
      chosen_.push_back(way);
      descend(w + 1, left - 1, then, out);
      chosen_.pop_back();
    }
  }
  static void apply(const Change& way, CircuitState& state) {
    switch (way.what) {
      case Change::What::pin:
        at(state.pins, way.index) = way.on ? PinDrive::high : PinDrive::low;
        break;
      case Change::What::contact:
        at(state.pressed, way.index) = way.on;
        break;
      case Change::What::knob:
        at(state.turned, way.index) = way.turned;
        break;
    }
  }
  void attempt(const CircuitState& state, Working& out) {
    ++tries_;
    double amps = 0;
    if (!works(circuit_, output_, state, &amps)) return;
    out.found = true;
    out.state = state;
    out.changes = chosen_;
    out.amps = amps;
  }

  Circuit& circuit_;
  Output output_;
  const CircuitState& from_;
  std::vector<Change> ways_, chosen_;
  int tries_ = 0;
};

}  // namespace

bool works(Circuit& circuit, const Output& output, const CircuitState& state, double* amps) {
  const int part = output.part;
  const PartKind* kind = circuit.kindOf(part);
  if (!kind || kind->shows == Shows::nothing) return false;
  CircuitReading whole;
  const PartReading* r = readingOf(circuit, part, state, whole);
  if (!r) return false;
  double most = kind->lamps.size() > 1 ? 0 : r->amps;
  if (output.lamp >= 0)
    most = at(r->lamps, output.lamp);
  else if (kind->lamps.size() > 1)
    for (const double lamp : r->lamps) most = std::max(most, lamp);
  if (amps) *amps = most;
  switch (kind->moves) {
    case Moves::nothing:
      return most >= dimAmps;
    case Moves::tone:
      return std::abs(r->tracedVolts) >= heardVolts || std::abs(r->volts.value_or(0)) >= heardVolts;
    case Moves::buzz:
      return r->volts.value_or(0) > buzzerVolts;
    case Moves::spin:
      return std::abs(r->radiansPerSecond) >= leastRadians;
    case Moves::angle:
      return armWorks(circuit, part, *kind, *r, state);
  }
  return false;
}

Working nearestWorking(Circuit& circuit, const Output& output, const CircuitState& from,
                       const PinWays& pins) {
  const auto among = [](const std::vector<int>& list, int what) {
    return std::find(list.begin(), list.end(), what) != list.end();
  };
  const auto& island = circuit.island(circuit.islandOfPart(output.part));
  NearestSearch search(circuit, output, from);
  for (const bool first : {true, false})
    for (const int p : island.pins) {
      if (among(pins.driven, p) != first || among(pins.kept, p)) continue;
      if (at(from.pins, p) == PinDrive::burnt) continue;
      for (const bool high : {true, false}) {
        const bool stands = at(from.pins, p) == (high ? PinDrive::high : PinDrive::low);
        if (!stands || among(pins.uncertain, p)) search.offer({Change::What::pin, p, high});
      }
    }
  for (const int p : island.parts)
    if (const PartKind* kind = circuit.kindOf(p); kind && kind->sweepable())
      search.offer({Change::What::contact, p, at(from.pressed, p) == 0});
  for (const int p : island.parts)
    if (const PartKind* kind = circuit.kindOf(p); kind && !kind->knob.empty())
      for (const Turned to : {Turned::max, Turned::min, Turned::middle})
        search.offer({Change::What::knob, p, false, to});
  return search.run();
}

}  // namespace ignavo
