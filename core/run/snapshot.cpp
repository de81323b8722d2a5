#include "run/snapshot.h"

#include <algorithm>

#include "parts/catalogue.h"
#include "project/indexing.h"
#include "run/devices/arm.h"
#include "run/devices/board_processor.h"
#include "run/lamp_light.h"

namespace ignavo {

IGNAVO_VALUE_DEFINED(Snapshot);

namespace {

void readParts(Run& run, Snapshot& s) {
  const auto count = run.model->parts.size();
  s.lamps.resize(count);
  s.motion.resize(count);
  for (std::size_t p = 0; p < count; ++p) {
    const RunModel::PartRow& row = run.model->parts[p];
    double brightest = 0;
    if (row.kind && row.kind->shows == Shows::light)
      for (int signal : row.signals) {
        const double light = signal < 0 ? 0 : lightAt(run.trace, signal, run.now());
        brightest = std::max(brightest, light);
        if (row.signals.size() > 1) s.lamps[p].push_back(light);
      }
    s.light.push_back(brightest);
    if (row.kind && run.live() && !run.state.circuit.broken[p])
      s.motion[p] = motionOf(*row.kind, s.reading.parts[p], run.trace,
                             row.signals.empty() ? -1 : row.signals.front(), run.now());
    if (const int place = run.state.places.arms[p]; place >= 0)
      if (const Arm& arm = run.state.devices.as<Arm>(place); arm.asked())
        s.motion[p].degrees = arm.degreesAt(run.now());
  }
}

// A board's own lamp shines with its pin, where that is driven.
void readBoardLamps(const Run& run, Snapshot& s) {
  for (const BoardItem& board : run.project().boards) {
    const BoardKind* kind = catalogue().boardKind(board.type);
    const int pin = kind ? run.model->circuit->pinIndex(board.id, kind->lampPin) : -1;
    const PinDrive drive = pin < 0 ? PinDrive::input : at(s.state.pins, pin);
    const int signal = run.trace.find(Signal::What::pinLevel, board.id, kind ? kind->lampPin : "");
    const bool driven = drive == PinDrive::high || drive == PinDrive::low;
    s.boardLight.push_back(!driven                   ? 0
                           : signal >= 0             ? lightAt(run.trace, signal, run.now())
                           : drive == PinDrive::high ? 1
                                                     : 0);
  }
}

}  // namespace

Snapshot snapshotOf(Run& run) {
  Snapshot s;
  s.now = run.now();
  s.powered = run.state.on;
  for (std::size_t b = 0; b < run.state.boards.size(); ++b)
    if (run.state.boards[b].tripped) s.trippedBoards.push_back(run.project().boards[b].id);
  s.tripped = !s.trippedBoards.empty();
  for (const BoardState& board : run.state.boards) s.fed.push_back(board.fed ? 1 : 0);
  for (const auto& [board, code] : run.model->setup.chipPrograms) s.codeBoards.push_back(board);
  s.project = run.model->project;
  s.state = run.state.circuit;
  readBoardLamps(run, s);
  s.reading = run.model->circuit->blank();
  if (run.live()) {
    for (int i : run.state.active) run.model->circuit->place(i, run.readingOf(i), s.reading);
    s.supplyAmps = s.reading.supplyAmps;
  } else {
    std::fill(s.reading.nets.begin(), s.reading.nets.end(), std::nullopt);
  }
  for (const PinState& pin : run.state.pins) s.levels.push_back(pin.level ? 1 : 0);
  const std::vector<CircuitPin>& pins = run.model->circuit->pins();
  for (std::size_t p = 0; p < pins.size(); ++p)
    if (const auto percent = run.heldPercent(static_cast<int>(p)))
      s.held.push_back({pins[p].board, pins[p].name, *percent});
  readParts(run, s);
  ProcessorView view;
  for (std::size_t b = 0; b < run.state.places.boards.size(); ++b) {
    run.state.devices.as<BoardProcessor>(run.state.places.boards[b])
        .show(run, run.fed(static_cast<int>(b)), view);
    for (ProgramFault& fault : view.faults)
      if (fault.board.empty()) fault.board = run.model->project->boards[b].id;
    for (ListRead& read : view.reads)
      if (read.board.empty()) read.board = run.model->project->boards[b].id;
    for (VariableView& variable : view.variables)
      if (variable.board.empty()) variable.board = run.model->project->boards[b].id;
  }
  s.lanes = std::move(view.lanes);
  s.stepCounts = std::move(view.stepCounts);
  s.lastRuns = std::move(view.lastRuns);
  s.faults = std::move(view.faults);
  s.forks = std::move(view.forks);
  s.variables = std::move(view.variables);
  s.reads = std::move(view.reads);
  return s;
}

}  // namespace ignavo
