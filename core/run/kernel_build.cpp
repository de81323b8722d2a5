#include <algorithm>

#include "program/steps.h"
#include "project/indexing.h"
#include "run/board_run.h"
#include "run/costs.h"

// What of a run follows from the project, made anew when it is edited.
namespace ignavo {

namespace {

constexpr double pinPatienceSeconds = 5;

double limitOf(const Burn& burn, const PartKind& kind, const Part& part) {
  switch (burn.of) {
    case Burn::Of::amps:
      break;
    case Burn::Of::watts:
      return burn.limit * kind.ratedWatts(part);
    case Burn::Of::volts:
      return kind.bears(part).most;
    case Burn::Of::reverseVolts:
      return kind.bears(part).reverse;
  }
  return burn.limit;
}
}  // namespace

std::vector<Signal> Kernel::wantedSignals() const {
  std::vector<Signal> signals;
  for (const CircuitPin& pin : circuit_->pins()) {
    const Net& net = circuit_->nets().all()[static_cast<std::size_t>(pin.net)];
    bool used = !net.wires.empty() || !net.legs.empty();
    if (const Program* program = project_->program(pin.board))
      for (const PinUse& use : pinUses(*program)) used = used || use.pin == pin.name;
    if (used) signals.push_back({Signal::What::pinLevel, pin.board, pin.name});
  }
  for (std::size_t p = 0; p < project_->parts->size(); ++p) {
    const PartKind* kind = circuit_->kindOf(static_cast<int>(p));
    if (!kind || kind->shows == Shows::nothing) continue;
    const std::string& id = (*project_->parts)[p]->id;
    if (kind->lamps.size() < 2)
      signals.push_back(
          {kind->tracedVolts ? Signal::What::partVolts : Signal::What::partAmps, id, {}});
    for (std::size_t l = 0; kind->lamps.size() > 1 && l < kind->lamps.size(); ++l)
      signals.push_back({Signal::What::partAmps, id,
                         kind->print.legs[static_cast<std::size_t>(kind->lamps[l])].id});
  }
  return signals;
}

// Makes everything that follows from the project; what can be kept of a run is kept.
void Kernel::build(bool keepRunning) {
  std::map<std::pair<std::string, std::string>, PinRun> oldPins;
  std::map<std::string, std::pair<std::uint8_t, std::uint8_t>> oldParts;
  if (keepRunning) {
    for (std::size_t i = 0; i < pins_.size(); ++i) {
      const CircuitPin& pin = circuit_->pins()[i];
      oldPins[{pin.board, pin.name}] = pins_[i];
    }
  }
  std::map<std::string, PartMemory> memories;
  std::vector<std::string> partIdsBuilt;
  if (circuit_ && keepRunning) {
    const auto& parts = *builtParts_;
    for (auto& [part, memory] : partMemories())
      memories[parts[static_cast<std::size_t>(part)]->id] = std::move(memory);
    for (std::size_t i = 0; i < parts.size(); ++i) {
      oldParts[parts[i]->id] = {state_.pressed[i], state_.broken[i]};
      partIdsBuilt.push_back(parts[i]->id);
    }
  }
  builtParts_ = project_->parts;
  courses_.clear();  // they speak of the circuit that goes
  remembering_.clear();
  active_.clear();
  joined_ = -1;
  circuit_ = std::make_unique<Circuit>(*project_);
  state_ = circuit_->restState();
  for (std::size_t i = 0; i < project_->parts->size(); ++i)
    if (const auto it = oldParts.find((*project_->parts)[i]->id); it != oldParts.end()) {
      const PartKind* kind = circuit_->kindOf(static_cast<int>(i));
      // A switch stands as the project says; a button as it is held.
      if (kind && kind->pressable) state_.pressed[i] = it->second.first;
      state_.broken[i] = it->second.second;
    }

  const std::vector<Signal> signals = wantedSignals();
  if (keepRunning)
    trace_.restart(signals);
  else
    trace_ = Trace(signals);
  std::map<std::string, Arm> oldArms;
  for (const Arm& arm : arms_)
    if (keepRunning && arm.part < static_cast<int>(partIdsBuilt.size()))
      oldArms.emplace(at(partIdsBuilt, arm.part), arm);
  arms_.clear();
  partSignals_.clear();
  stress_.clear();
  for (std::size_t p = 0; p < project_->parts->size(); ++p) {
    const Part& part = *(*project_->parts)[p];
    const PartKind* kind = circuit_->kindOf(static_cast<int>(p));
    auto& own = partSignals_.emplace_back();
    if (!kind) continue;
    if (kind->moves == Moves::angle) {
      const auto held = oldArms.find(part.id);
      arms_.push_back(held == oldArms.end() ? Arm{} : held->second);
      arms_.back().part = static_cast<int>(p);
      state_.pressed[p] = arms_.back().ends != never ? 1 : 0;
    }
    const bool several = kind->lamps.size() > 1;
    for (std::size_t l = 0; l < (several ? kind->lamps.size() : 1); ++l)
      own.push_back(trace_.find(
          kind->tracedVolts ? Signal::What::partVolts : Signal::What::partAmps, part.id,
          several ? kind->print.legs[static_cast<std::size_t>(kind->lamps[l])].id : std::string()));
    for (const Burn& burn : kind->burns) {
      const double limit = limitOf(burn, *kind, part);
      if (limit <= 0) continue;
      for (std::size_t l = 0; l < own.size(); ++l)
        stress_.push_back({static_cast<int>(p), several ? static_cast<int>(l) : -1, burn,
                           Stress(burn.windowSeconds, limit)});
    }
  }
  pins_.clear();
  for (const CircuitPin& pin : circuit_->pins()) {
    PinRun run;
    if (const auto it = oldPins.find({pin.board, pin.name}); it != oldPins.end()) run = it->second;
    const Program* program = project_->program(pin.board);
    run.pull = program && program->pulledUp(pin.name);
    run.role = PinRole::input;
    run.signal = trace_.find(Signal::What::pinLevel, pin.board, pin.name);
    run.stress = Stress(pinPatienceSeconds, pin.kind->pinMostAmps);
    pins_.push_back(run);
  }
  std::vector<std::unique_ptr<BoardRun>> old = std::move(boards_);
  boards_.clear();
  watched_.clear();
  dims_ = false;
  floatDue_ = never;
  for (const BoardItem& board : project_->boards) {
    const Program* program = project_->program(board.id);
    auto run = std::make_unique<BoardRun>();
    run->kernel = this;
    run->board = board.id;
    const CompiledProgram compiled =
        program ? compile(*program, costsOf(board.type)) : CompiledProgram{};
    for (const std::string& pin : compiled.pins)
      run->circuitPin.push_back(circuit_->pinIndex(board.id, pin));
    for (const std::string& pin : compiled.written)
      if (const int p = circuit_->pinIndex(board.id, pin); p >= 0)
        at(pins_, p).role = PinRole::output;
    for (const std::string& pin : compiled.watched)
      if (const int p = circuit_->pinIndex(board.id, pin); p >= 0) watched_.push_back(p);
    for (const CompiledLane& lane : compiled.lanes)
      for (const Instruction& i : lane.code) dims_ = dims_ || i.code == OpCode::setLevel;
    const auto before =
        std::find_if(old.begin(), old.end(), [&](const auto& o) { return o->board == board.id; });
    if (keepRunning && before != old.end()) {
      run->processor = (*before)->processor;
      run->processor.adopt(compiled, now_);
    } else {
      run->processor.start(compiled, now_);
    }
    boards_.push_back(std::move(run));
  }
  // A pin stays dimmed until a step sets it, even when the step that dimmed it is gone.
  for (PinRun& pin : pins_) {
    if (pin.role == PinRole::input) pin.pulseDue = never;
    dims_ = dims_ || pin.pulseDue != never;
  }
  anchor_.reset();
  tops_ = 0;
  std::map<int, PartMemory> remembered;
  for (std::size_t i = 0; i < project_->parts->size(); ++i)
    if (const auto it = memories.find((*project_->parts)[i]->id); it != memories.end())
      remembered[static_cast<int>(i)] = it->second;
  startCourses();
  for (int island : remembering_) at(courses_, island).course->recall(remembered);
  refreshAll();
}

}  // namespace ignavo
