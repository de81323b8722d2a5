#include "run/model.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "program/facts.h"
#include "program/steps.h"
#include "project/indexing.h"
#include "run/machine_processor.h"
#include "run/step_processor.h"

namespace ignavo {

namespace {

double limitOf(const DamageLimit& damage, const PartKind& kind, const Part& part) {
  switch (damage.of) {
    case DamageLimit::Of::amps:
      break;
    case DamageLimit::Of::watts:
      return damage.limit * kind.ratedWatts(part);
    case DamageLimit::Of::volts:
      return kind.absoluteMaximum(part).max;
    case DamageLimit::Of::reverseVolts:
      return kind.absoluteMaximum(part).reverse;
  }
  return damage.limit;
}

Signal::What tracedOf(const PartKind& kind) {
  return kind.tracedVolts ? Signal::What::partVolts : Signal::What::partAmps;
}
// What names the signal of one of several lamps.
const std::string& lampName(const PartKind& kind, std::size_t lamp) {
  return kind.print.legs[static_cast<std::size_t>(kind.lamps[lamp])].id;
}

}  // namespace

std::vector<PinAbility> pinAbilities(const BoardKind& kind) {
  std::vector<PinAbility> out;
  for (const BoardPin& pin : kind.pins) {
    if (pin.role != PinShape::Role::io) continue;
    const char timer = pin.timer.empty() ? '\0' : pin.timer.front();
    const bool pulses = timer != 0 && kind.pulseTimers.find(timer) != std::string::npos;
    out.push_back({pin.name, pin.pwm, pin.analog, pulses ? timer : '\0'});
  }
  return out;
}

CompileTarget targetOf(const BoardKind& kind, const Program& program, std::uint64_t seed,
                       const CostTable& costs) {
  CompileTarget out;
  out.costs = costs;
  out.seed = seed;
  const std::vector<PinAbility> pins = pinAbilities(kind);
  for (const PinAbility& pin : pins) {
    if (!pin.measures) out.digital.push_back(pin.name);
    if (!pin.dims) out.steady.push_back(pin.name);
  }
  out.pulses = pulseTimer(program, pins) != 0;
  return out;
}

RunModel::RunModel(std::shared_ptr<const Project> made, RunSetup how, const RunModel* before)
    : project(std::move(made)),
      setup(std::move(how)),
      circuit(std::make_unique<Circuit>(*project)) {
  chooseSignals();
  chooseProbes();
  readParts();
  readBoards(before);
  if (setup.sketch) chooseLeftOut();
}

// Islands in time that no program asks anything, and in which no arm is led.
void RunModel::chooseLeftOut() {
  std::set<int> asked;
  for (const BoardProgram& board : boards) {
    if (!board.compiled) continue;
    asked.insert(board.watched.begin(), board.watched.end());
    const auto look = [&](const std::vector<Instruction>& code) {
      for (const Instruction& i : code)
        if (factsOf(i.code).readsPin) asked.insert(at(board.circuitPin, i.arg));
    };
    for (const CompiledLane& lane : board.compiled->lanes) look(lane.code);
    for (const CompiledSignal& signal : board.compiled->signals) look(signal.code);
  }
  for (int i = 0; i < circuit->islandCount(); ++i) {
    const Circuit::Island& shape = circuit->island(i);
    const auto mayMiss = [&](int pin) {
      const PinRow& row = at(pins, pin);
      return !row.machine && !row.ofLine && asked.count(pin) == 0 && (row.output || row.signal < 0);
    };
    const auto unled = [&](int part) {
      const PartKind* kind = at(parts, part).kind;
      return !kind || kind->moves != Moves::angle;
    };
    leftOut.push_back(circuit->hasDynamicState(i) &&
                      std::all_of(shape.pins.begin(), shape.pins.end(), mayMiss) &&
                      std::all_of(shape.parts.begin(), shape.parts.end(), unled));
  }
}

int RunModel::partOf(const std::string& id) const {
  for (std::size_t i = 0; i < project->parts->size(); ++i)
    if ((*project->parts)[i]->id == id) return static_cast<int>(i);
  return -1;
}

int RunModel::boardOf(const std::string& id) const {
  for (std::size_t i = 0; i < project->boards.size(); ++i)
    if (project->boards[i].id == id) return static_cast<int>(i);
  return -1;
}

// Levels of the pins that are used, and what of the parts can be seen or heard.
void RunModel::chooseSignals() {
  for (const CircuitPin& pin : circuit->pins()) {
    const Net& net = at(circuit->nets().all(), pin.net);
    bool used = !net.wires.empty() || !net.legs.empty();
    if (const Program* program = project->program(pin.board))
      for (const PinUse& use : pinUses(*program)) used = used || use.pin == pin.name;
    PinRow row;
    row.board = pin.ref.board;
    if (used) {
      row.signal = static_cast<int>(signals.size());
      signals.push_back({Signal::What::pinLevel, pin.board, pin.name});
    }
    pins.push_back(std::move(row));
  }
  for (std::size_t p = 0; p < project->parts->size(); ++p) {
    const PartKind* kind = circuit->kindOf(static_cast<int>(p));
    PartRow row;
    row.kind = kind;
    const std::size_t lamps = kind ? std::max<std::size_t>(1, kind->lamps.size()) : 0;
    for (std::size_t l = 0; l < lamps; ++l) {
      const bool shown = kind->shows != Shows::nothing;
      row.signals.push_back(shown ? static_cast<int>(signals.size()) : -1);
      if (!shown) continue;
      const std::string& id = (*project->parts)[p]->id;
      if (lamps > 1)
        signals.push_back({Signal::What::partAmps, id, lampName(*kind, l)});
      else
        signals.push_back({tracedOf(*kind), id, {}});
    }
    parts.push_back(std::move(row));
  }
}

// What was asked for beside.
void RunModel::chooseProbes() {
  const auto probed = [&](const Signal& signal) {
    signals.push_back(signal);
    return static_cast<int>(signals.size()) - 1;
  };
  for (const Signal& probe : setup.probes) {
    const int part = partOf(probe.owner);
    if (std::find(signals.begin(), signals.end(), probe) != signals.end()) {
      if (part >= 0) at(parts, part).asked = true;
      continue;
    }
    switch (probe.what) {
      case Signal::What::pinLevel:
        if (const int pin = circuit->pinIndex(probe.owner, probe.name); pin >= 0)
          at(pins, pin).signal = probed(probe);
        break;
      case Signal::What::partVolts:
        if (part >= 0) at(parts, part).probedVolts = probed(probe);
        break;
      case Signal::What::partAmps:
        if (part >= 0) at(parts, part).probedAmps = probed(probe);
        break;
      case Signal::What::volts:
        if (const int net = circuit->nets().of({probe.owner, probe.name}); net >= 0) {
          netProbes.push_back({net, probed(probe)});
          for (int i = 0; i < circuit->islandCount(); ++i) {
            const std::vector<int>& nets = circuit->island(i).nets;
            netProbes.back().solved |= std::find(nets.begin(), nets.end(), net) != nets.end();
          }
        }
        break;
      case Signal::What::variable:  // where its board's program is read
      case Signal::What::step:
      case Signal::What::kept:
      case Signal::What::waits:
        break;
    }
  }
}

void RunModel::readParts() {
  for (std::size_t p = 0; p < parts.size(); ++p) {
    PartRow& row = parts[p];
    if (!row.kind) continue;
    const bool several = row.kind->lamps.size() > 1;
    for (const DamageLimit& damage : row.kind->damageLimits) {
      const double limit = limitOf(damage, *row.kind, *(*project->parts)[p]);
      if (limit <= 0) continue;
      for (std::size_t l = 0; l < row.signals.size(); ++l)
        row.limits.push_back({damage, several ? static_cast<int>(l) : -1, limit});
    }
  }
}

void RunModel::readBoards(const RunModel* before) {
  pinsOfBoard.resize(project->boards.size());
  feeders.resize(circuit->nets().all().size());
  for (const BoardSupply& supply : circuit->supplies())
    if (std::vector<int>& those = at(feeders, supply.net);
        std::find(those.begin(), those.end(), supply.board) == those.end())
      those.push_back(supply.board);
  for (std::size_t p = 0; p < pins.size(); ++p) {
    const CircuitPin& pin = circuit->pins()[p];
    const Program* program = project->program(pin.board);
    pins[p].pull = program && program->pulledUp(pin.name);
    std::vector<int>& own = at(pinsOfBoard, pin.ref.board);
    pins[p].onBoard = own.size();
    own.push_back(static_cast<int>(p));
  }
  for (std::size_t b = 0; b < project->boards.size(); ++b) {
    const BoardItem& board = project->boards[b];
    const BoardKind* kind = catalogue().boardKind(board.type);
    BoardProgram& row = boards.emplace_back();
    row.mostAmps = kind ? kind->mainSupply().maxAmps : HUGE_VAL;
    row.minVolts = kind ? kind->minVolts : 0;
    row.plentyAmps = circuit->shorted(static_cast<int>(b)) ? -HUGE_VAL : 0.9 * row.mostAmps;
    if (kind && setup.chipPrograms.count(board.id) != 0)
      readChipProgram(b, *kind);
    else
      readProgram(b, kind, before);
  }
}

// A board that runs its steps.
void RunModel::readProgram(std::size_t b, const BoardKind* kind, const RunModel* before) {
  const BoardItem& board = project->boards[b];
  BoardProgram& row = boards[b];
  const Program* program = project->program(board.id);
  const int was = before ? before->boardOf(board.id) : -1;
  const bool same = was >= 0 && before->project->programs == project->programs &&
                    before->project->seed == project->seed &&
                    at(before->project->boards, was).type == board.type &&
                    at(before->boards, was).compiled;
  auto compiled =
      same ? at(before->boards, was).compiled
           : std::make_shared<const CompiledProgram>(
                 program && kind
                     ? compile(*program, targetOf(*kind, *program, project->seed, setup.costs))
                     : CompiledProgram{});
  const auto pinOf = [&](const std::string& name) { return circuit->pinIndex(board.id, name); };
  for (std::size_t k = 0; k < compiled->pins.size(); ++k)
    row.circuitPin.push_back(pinOf(compiled->pins[k]));
  for (const std::string& name : compiled->written)
    if (const int p = pinOf(name); p >= 0) at(pins, p).output = true;
  for (const std::string& name : compiled->watched) {
    const int p = pinOf(name);
    if (p < 0) continue;
    if (std::find(row.watched.begin(), row.watched.end(), p) != row.watched.end()) continue;
    row.watched.push_back(p);
    for (std::size_t k = 0; k < row.circuitPin.size(); ++k)
      if (row.circuitPin[k] == p)
        at(pins, p).watchers.push_back({static_cast<int>(b), static_cast<int>(k)});
  }
  if (compiled->usesLine)
    for (const BoardPin& pin : kind->pins) {
      const int p = pin.serial.empty() ? -1 : pinOf(pin.name);
      if (p < 0) continue;
      at(pins, p).ofLine = true;
      at(pins, p).output = pin.serial == "tx";
      if (pin.serial == "tx") row.lineOut = p;
    }
  for (const CompiledLane& lane : compiled->lanes)
    for (const Instruction& i : lane.code) row.dims = row.dims || i.code == OpCode::setLevel;
  if (setup.tracesWaits) {
    row.waits = static_cast<int>(signals.size());
    signals.push_back({Signal::What::waits, board.id, {}});
  }
  for (const Signal& probe : setup.probes) {
    if (probe.what != Signal::What::variable || probe.owner != board.id) continue;
    for (std::size_t cell = 0; cell < compiled->memory.size(); ++cell) {
      const MemoryCell& held = compiled->memory[cell];
      if (held.of != MemoryCell::Of::variable || held.name != probe.name ||
          held.type == ValueType::text)
        continue;
      row.storeSignals.resize(compiled->memory.size(), -1);
      row.storeSignals[cell] = static_cast<int>(signals.size());
      signals.push_back(probe);
      break;
    }
  }
  for (const Signal& probe : setup.probes)
    for (const CompiledSignal& kept : compiled->signals) {
      if (probe.what != Signal::What::kept || probe.owner != board.id) continue;
      const auto record = [&](int cell, ValueType type) {
        if (cell < 0 || type == ValueType::text) return;
        row.storeSignals.resize(compiled->memory.size(), -1);
        at(row.storeSignals, cell) = static_cast<int>(signals.size());
        signals.push_back(probe);
      };
      if (probe.name == kept.lane) record(kept.shown, kept.type);
      for (const CompiledSignal::Operator& one : kept.operators)
        if (probe.name == operatorName(kept.lane, one.path)) record(one.cell, one.type);
    }
  for (const Signal& probe : setup.probes) {
    if (probe.what != Signal::What::step || probe.owner != board.id) continue;
    for (std::size_t lane = 0; lane < compiled->lanes.size(); ++lane) {
      if (compiled->lanes[lane].id != probe.name) continue;
      int first = static_cast<int>(compiled->steps.size());
      for (const Instruction& i : compiled->lanes[lane].code)
        if (i.step >= 0) first = std::min(first, i.step);
      row.laneSignals.resize(compiled->lanes.size());
      row.laneSignals[lane] = {static_cast<int>(signals.size()), first};
      signals.push_back(probe);
    }
  }
  row.compiled = compiled;
  row.fresh = stepProcessor(std::move(compiled));
}

// A board that runs machine code: all pins of its chip, and each of them may start something.
void RunModel::readChipProgram(std::size_t b, const BoardKind& kind) {
  const auto& program = setup.chipPrograms.at(project->boards[b].id);
  const avr::Chip& chip = *avr::chipNamed(program->chip);
  BoardProgram& row = boards[b];
  row.circuitPin.assign(chip.ports.size() * avr::pinsPerPort, -1);
  for (const BoardPin& pin : kind.pins) {
    const int chipPin = chip.pinNamed(pin.chipName);
    const int p = chipPin < 0 ? -1 : circuit->pinIndex(project->boards[b].id, pin.name);
    if (p < 0) continue;
    at(row.circuitPin, chipPin) = p;
    at(pins, p).machine = true;
    at(pins, p).watchers.push_back({static_cast<int>(b), chipPin});
  }
  row.fresh = std::make_unique<MachineProcessor>(program, kind.chipHertz);
}

}  // namespace ignavo
