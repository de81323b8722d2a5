#include "check/sweep.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "program/own_steps.h"
#include "program/said.h"
#include "program/steps.h"
#include "project/indexing.h"
#include "run/random.h"

namespace ignavo {

namespace {
constexpr double mostPoses = 4096;
constexpr std::size_t mostSampled = 4096;
constexpr double mostCounted = 1e18;

std::string knobText(const Circuit& circuit, int part, Turned where) {
  const PartKind* kind = circuit.kindOf(part);
  const PropKind* knob = kind->prop(kind->knob);
  return knob ? fmt::format("{:g} {}", circuit.knobAt(part, where), knob->unit) : std::string();
}
}  // namespace

IGNAVO_VALUE_DEFINED(PartSweep);
IGNAVO_VALUE_DEFINED(PinSweep);
Sweep::~Sweep() = default;

Sweep::Sweep(const Project& project, Circuit& circuit, const std::function<bool()>& cancelled)
    : project_(project), circuit_(circuit) {
  parts_.resize(project.parts->size());
  pins_.resize(circuit.pins().size());
  swept_.resize(static_cast<std::size_t>(circuit.islandCount()));
  chooseOutputs();
  for (int i = 0; i < circuit_.islandCount(); ++i) {
    if (cancelled && cancelled()) return;
    if (!circuit_.anyShorted() || isFed(i)) sweepIsland(i);
  }
}

// Of a board whose supply is shorted nothing can be said. Is this island fed by something else?
bool Sweep::isFed(int island) const {
  const Circuit::Island& shape = circuit_.island(island);
  const auto lost = [&](int pin) { return circuit_.shorted(at(circuit_.pins(), pin).ref.board); };
  if (std::any_of(shape.pins.begin(), shape.pins.end(), lost)) return false;
  if (!shape.pins.empty()) return true;
  const auto feeds = [&](int part) {
    const PartKind* kind = circuit_.kindOf(part);
    const auto legs = static_cast<int>(kind ? kind->print.legs.size() : 0);
    for (int leg = 0; leg < legs; ++leg) {
      if (at(kind->print.legs, leg).feeds != LegShape::Feeds::nothing) return true;
      const int net = circuit_.nets().ofLeg({part, leg});
      for (const BoardSupply& supply : circuit_.supplies())
        if (supply.net == net && !circuit_.shorted(supply.board)) return true;
    }
    return false;
  };
  return std::any_of(shape.parts.begin(), shape.parts.end(), feeds);
}

bool Sweep::isOutput(int pin) const {
  return std::find(outputs_.begin(), outputs_.end(), pin) != outputs_.end();
}

void Sweep::addGroup(const std::string& board, const OutputGroup& ways) {
  Group group{{}, ways};
  for (const std::string& pin : ways.pins) {
    group.pins.push_back(circuit_.pinIndex(board, pin));
    if (group.pins.back() >= 0) outputs_.push_back(group.pins.back());
  }
  const double count =
      ways.any ? std::ldexp(1.0, static_cast<int>(std::min<std::size_t>(ways.pins.size(), 60)))
               : static_cast<double>(ways.vectors.size());
  poses_ = std::min(poses_ * count, mostCounted);
  groups_.push_back(std::move(group));
}

// The line to the computer is high but for what goes over it.
void Sweep::addLine(const BoardItem& board, const Program& program) {
  const BoardKind* kind = catalogue().boardKind(board.type);
  if (!kind || !usesLine(program)) return;
  for (const BoardPin& pin : kind->pins)
    if (const int p = circuit_.pinIndex(board.id, pin.name);
        pin.serial == "tx" && p >= 0 && !isOutput(p))
      addGroup(board.id, {{pin.name}, false, {1}, {1}});
}

void Sweep::chooseOutputs() {
  for (const auto& program : project_.programs) programmed_ = programmed_ || program->hasSteps();
  if (programmed_) {
    for (const BoardItem& board : project_.boards)
      if (const Program* program = project_.program(board.id)) {
        const Unfolded run = unfolded(*program);
        if (run.whole)
          for (const OutputGroup& group : outputGroups(compile(run.program)))
            addGroup(board.id, group);
        else  // too large to be looked at: every pin goes its own ways
          for (const PinUse& use : pinUses(*program))
            if (!use.writers.empty()) addGroup(board.id, {{use.pin}, true, {}, {}});
        addLine(board, *program);
      }
    std::sort(outputs_.begin(), outputs_.end());
    return;
  }
  // Without a program: a pin that reaches something to be seen, and no button.
  for (int p = 0; p < static_cast<int>(circuit_.pins().size()); ++p) {
    const CircuitPin& pin = at(circuit_.pins(), p);
    bool shows = false, pressable = false;
    for (int part : circuit_.island(pin.island).parts) {
      const PartKind* kind = circuit_.kindOf(part);
      shows = shows || (kind && (kind->shows != Shows::nothing || kind->gated));
      pressable = pressable || (kind && (kind->sweepable() || kind->senses));
    }
    const Net& net = at(circuit_.nets().all(), pin.net);
    if (shows && !pressable && !(net.wires.empty() && net.legs.empty())) outputs_.push_back(p);
  }
}

std::string poseWord(const PartKind& kind, bool pressed) {
  if (kind.thrownKey.empty()) return pressed ? "pressed" : "released";
  if (pressed) return kind.thrownValue;
  for (const std::string& choice : kind.prop(kind.thrownKey)->choices)
    if (choice != kind.thrownValue) return choice;
  return {};
}

Pose Sweep::poseOf(int island, const CircuitState& state) const {
  Pose pose;
  const bool several = project_.boards.size() > 1;
  for (int p : circuit_.island(island).pins) {
    if (!isOutput(p)) continue;
    const CircuitPin& pin = at(circuit_.pins(), p);
    const PinDrive drive = at(state.pins, p);
    if (drive != PinDrive::high && drive != PinDrive::low) continue;
    pose[(several ? pin.board + "." : "") + pin.name] = drive == PinDrive::high ? "high" : "low";
  }
  for (int part : circuit_.island(island).parts) {
    const PartKind* kind = circuit_.kindOf(part);
    const std::string& id = at(*project_.parts, part)->id;
    if (kind && kind->sweepable()) pose[id] = poseWord(*kind, at(state.pressed, part) != 0);
    if (at(state.turned, part) != Turned::asSet)
      pose[id] = knobText(circuit_, part, at(state.turned, part));
  }
  return pose;
}

CircuitState idleState(const Project& project, const Circuit& circuit) {
  CircuitState state = circuit.restState();
  for (const BoardItem& board : project.boards)
    if (const Program* program = project.program(board.id))
      for (const PinUse& use : pinUses(*program))
        if (const int pin = circuit.pinIndex(board.id, use.pin); pin >= 0 && !use.writers.empty())
          at(state.pins, pin) = PinDrive::low;
  for (const BoardItem& board : project.boards) {
    const Program* program = project.program(board.id);
    const BoardKind* kind = catalogue().boardKind(board.type);
    if (!program || !kind || !usesLine(*program)) continue;
    for (const BoardPin& shape : kind->pins)
      if (const int pin = circuit.pinIndex(board.id, shape.name); shape.serial == "tx" && pin >= 0)
        at(state.pins, pin) = PinDrive::high;
  }
  return state;
}

CircuitState stateOf(const Project& project, const Circuit& circuit, const Pose& pose) {
  CircuitState state = idleState(project, circuit);
  for (std::size_t p = 0; p < circuit.pins().size(); ++p) {
    const CircuitPin& pin = circuit.pins()[p];
    for (const std::string& name : {pin.name, pin.board + "." + pin.name})
      if (const auto it = pose.find(name); it != pose.end())
        state.pins[p] = it->second == "high" ? PinDrive::high : PinDrive::low;
  }
  for (int i = 0; i < static_cast<int>(project.parts->size()); ++i) {
    const auto it = pose.find(at(*project.parts, i)->id);
    const PartKind* kind = circuit.kindOf(i);
    if (it == pose.end() || !kind) continue;
    if (kind->sweepable()) at(state.pressed, i) = it->second == poseWord(*kind, true) ? 1 : 0;
    if (kind->senses && !kind->knob.empty())
      for (const Turned where : {Turned::min, Turned::middle, Turned::max})
        if (it->second == knobText(circuit, i, where)) at(state.turned, i) = where;
  }
  return state;
}

std::vector<int> Sweep::tiedTo(int island) const {
  std::vector<bool> in(groups_.size(), false);
  std::vector<int> islands{island}, pins;
  for (std::size_t i = 0; i < islands.size(); ++i)
    for (std::size_t g = 0; g < groups_.size(); ++g) {
      const auto touches = [&](int p) {
        return p >= 0 && at(circuit_.pins(), p).island == islands[i];
      };
      if (in[g] || std::none_of(groups_[g].pins.begin(), groups_[g].pins.end(), touches)) continue;
      in[g] = true;
      for (int p : groups_[g].pins) {
        if (p < 0) continue;
        pins.push_back(p);
        const int other = at(circuit_.pins(), p).island;
        if (std::find(islands.begin(), islands.end(), other) == islands.end())
          islands.push_back(other);
      }
    }
  std::sort(pins.begin(), pins.end());
  return pins;
}

std::vector<std::vector<PinDrive>> Sweep::waysOf(const std::vector<int>& tied) const {
  std::vector<std::vector<PinDrive>> out{std::vector<PinDrive>(tied.size(), PinDrive::low)};
  const auto place = [&](int pin) {
    return static_cast<std::size_t>(std::lower_bound(tied.begin(), tied.end(), pin) - tied.begin());
  };
  const auto holds = [&](int pin) {
    return pin >= 0 && std::binary_search(tied.begin(), tied.end(), pin);
  };
  for (const Group& group : groups_) {
    if (std::none_of(group.pins.begin(), group.pins.end(), holds)) continue;
    std::vector<std::uint32_t> ways = group.ways.lasting;
    const auto bits = std::min<std::size_t>(group.pins.size(), 12);
    if (group.ways.any)
      for (std::uint32_t way = 0; way < (1u << bits); ++way) ways.push_back(way);
    std::vector<std::vector<PinDrive>> next;
    for (const auto& before : out)
      for (const std::uint32_t way : ways) {
        if (static_cast<double>(next.size()) >= mostPoses) break;
        next.push_back(before);
        for (std::size_t k = 0; k < group.pins.size(); ++k)
          if (holds(group.pins[k]))
            next.back()[place(group.pins[k])] = (way >> k) & 1 ? PinDrive::high : PinDrive::low;
      }
    if (!next.empty()) out = std::move(next);
  }
  return out;
}

// Pins of which nothing is known: each alone and all together.
Sweep::SweepAxis Sweep::pinsAxis(const std::vector<int>& pins) const {
  SweepAxis axis;
  const auto level = [pins](const std::function<bool(int)>& high) {
    std::vector<PinDrive> drives;
    for (int k = 0; k < static_cast<int>(pins.size()); ++k)
      drives.push_back(high(k) ? PinDrive::high : PinDrive::low);
    return [pins, drives](CircuitState& s) {
      for (std::size_t k = 0; k < pins.size(); ++k) at(s.pins, pins[k]) = drives[k];
    };
  };
  axis.add(level([](int) { return false; }));
  for (int one = 0; one < static_cast<int>(pins.size()); ++one)
    axis.add(level([one](int k) { return k == one; }));
  if (pins.size() > 1) axis.add(level([](int) { return true; }));
  return axis;
}

std::vector<Sweep::SweepAxis> Sweep::axesOf(int island) const {
  const Circuit::Island& shape = circuit_.island(island);
  std::vector<SweepAxis> axes;
  const auto here = [&](int pin) { return pin >= 0 && at(circuit_.pins(), pin).island == island; };
  if (!programmed_) {
    std::vector<int> pins;
    for (int p : outputs_)
      if (here(p)) pins.push_back(p);
    if (!pins.empty()) axes.push_back(pinsAxis(pins));
  }
  const auto single = [&](int pin) {
    SweepAxis axis;
    for (const PinDrive drive : {PinDrive::low, PinDrive::high})
      axis.add([pin, drive](CircuitState& s) { at(s.pins, pin) = drive; });
    return axis;
  };
  for (const Group& group : groups_) {
    std::vector<int> bits;  // of the pins that are in this island
    for (int k = 0; k < static_cast<int>(group.pins.size()); ++k)
      if (here(at(group.pins, k))) bits.push_back(k);
    if (bits.empty()) continue;
    if (group.ways.any) {
      for (int k : bits) {
        axes.push_back(single(at(group.pins, k)));
        axes.back().grouped = true;
      }
      continue;
    }
    std::map<std::vector<bool>, bool> ways;  // levels of those pins -> lasts
    const auto project = [&](std::uint32_t way) {
      std::vector<bool> levels;
      for (int k : bits) levels.push_back((way >> k) & 1);
      return levels;
    };
    for (const std::uint32_t way : group.ways.vectors) ways.try_emplace(project(way), false);
    for (const std::uint32_t way : group.ways.lasting) ways[project(way)] = true;
    SweepAxis axis;
    axis.grouped = true;
    for (const auto& [levels, lasts] : ways)
      axis.add(
          [&group, bits, levels = levels](CircuitState& s) {
            for (std::size_t k = 0; k < bits.size(); ++k)
              at(s.pins, at(group.pins, bits[k])) = levels[k] ? PinDrive::high : PinDrive::low;
          },
          lasts);
    axes.push_back(std::move(axis));
  }
  for (int p : shape.parts) {
    const PartKind* kind = circuit_.kindOf(p);
    if (!kind) continue;
    SweepAxis axis;
    if (kind->sweepable())
      for (const std::uint8_t pressed : {std::uint8_t{0}, std::uint8_t{1}})
        axis.add([p, pressed](CircuitState& s) { at(s.pressed, p) = pressed; });
    if (kind->senses && !kind->knob.empty()) {
      axis.add([](CircuitState&) {});
      for (const Turned where : {Turned::min, Turned::middle, Turned::max})
        if (circuit_.knobAt(p, where) != circuit_.knobAt(p, Turned::asSet))
          axis.add([p, where](CircuitState& s) { at(s.turned, p) = where; });
    }
    if (!axis.ways.empty()) axes.push_back(std::move(axis));
  }
  return axes;
}

void Sweep::sweepIsland(int island) {
  const std::vector<SweepAxis> axes = axesOf(island);
  double all = 1;
  for (const SweepAxis& axis : axes) {
    const auto ways = static_cast<double>(axis.ways.size());
    all *= ways;
    if (!axis.grouped) poses_ = std::min(poses_ * ways, mostCounted);
  }
  const CircuitState rest = circuit_.restState();
  CircuitState state = rest;
  const auto solve = [&](const auto& choice) {
    state = rest;
    bool lasts = true;
    int effort = 0;
    for (std::size_t d = 0; d < axes.size(); ++d) {
      const std::size_t way = choice(d);
      effort += way != 0;
      axes[d].ways[way](state);
      lasts = lasts && axes[d].lasts[way];
    }
    take(island, state, lasts, effort);
  };
  at(swept_, island).reserve(static_cast<std::size_t>(std::min(all, mostPoses)));
  if (all <= mostPoses) {
    // One axis changes at a time (a reflected Gray code), so that each state is
    // near the one before.
    std::vector<std::size_t> digits(axes.size(), 0);
    std::vector<bool> down(axes.size(), false);
    for (bool more = true; more;) {
      solve([&](std::size_t d) { return digits[d]; });
      more = false;
      for (std::size_t d = 0; d < axes.size() && !more; ++d) {
        more = down[d] ? digits[d] > 0 : digits[d] + 1 < axes[d].ways.size();
        if (more)
          digits[d] += down[d] ? std::size_t(-1) : 1;
        else
          down[d] = !down[d];
      }
    }
  } else {
    // None, each alone, all, and a seeded sample of the rest.
    sampled_ = true;
    solve([](std::size_t) { return std::size_t(0); });
    for (std::size_t one = 0; one < axes.size(); ++one)
      for (std::size_t way = 1; way < axes[one].ways.size(); ++way)
        solve([&](std::size_t d) { return d == one ? way : 0; });
    solve([&](std::size_t d) { return axes[d].ways.size() - 1; });
    for (std::uint64_t i = 0; at(swept_, island).size() < mostSampled && i < mostSampled; ++i)
      solve([&](std::size_t d) {
        return static_cast<std::size_t>(randomBits(project_.seed, d, i) % axes[d].ways.size());
      });
  }
  keepStates(island);
}

void Sweep::keepStates(int island) {
  const std::vector<SweptPose>& swept = at(swept_, island);
  for (int k : circuit_.island(island).parts) {
    PartSweep& p = at(parts_, k);
    for (Peak* peak : {&p.amps, &p.reverseAmps, &p.watts, &p.volts, &p.reverseVolts})
      peak->keepState(swept);
    for (Peak& lamp : p.lamps) lamp.keepState(swept);
  }
  for (int k : circuit_.island(island).pins)
    for (Peak* peak : {&at(pins_, k).amps, &at(pins_, k).floating}) peak->keepState(swept);
}

void Sweep::take(int island, const CircuitState& state, bool lasts, int effort) {
  const Circuit::Island& shape = circuit_.island(island);
  const IslandReading& r = circuit_.sweepIsland(island, state);
  if (!r.converged) {
    for (int p : shape.parts) {
      const std::string& id = at(*project_.parts, p)->id;
      if (std::find(unsolved_.begin(), unsolved_.end(), id) == unsolved_.end())
        unsolved_.push_back(id);
    }
    return;
  }
  const std::size_t pose = at(swept_, island).size();
  at(swept_, island).push_back({state, lasts});
  for (std::size_t k = 0; k < shape.parts.size(); ++k) {
    PartSweep& p = at(parts_, shape.parts[k]);
    p.amps.offer(r.parts[k].amps, pose, effort);
    p.reverseAmps.offer(-r.parts[k].amps, pose, effort);
    p.watts.offer(r.parts[k].watts, pose, effort);
    p.volts.offer(std::abs(r.parts[k].volts.value_or(0)), pose, effort);
    p.reverseVolts.offer(-r.parts[k].volts.value_or(0), pose, effort);
    if (p.lamps.size() < r.parts[k].lamps.size()) p.lamps.resize(r.parts[k].lamps.size());
    for (std::size_t l = 0; l < p.lamps.size(); ++l)
      p.lamps[l].offer(r.parts[k].lamps[l], pose, effort);
  }
  for (std::size_t k = 0; k < shape.pins.size(); ++k) {
    PinSweep& p = at(pins_, shape.pins[k]);
    p.amps.offer(std::abs(r.pins[k].amps), pose, effort);
    if (r.pins[k].floating)
      p.floating.offer(1, pose, effort);
    else
      p.everFixed = true;
  }
}

}  // namespace ignavo
