#include <algorithm>

#include "project/indexing.h"
#include "run/board_run.h"

// A run as it is looked at, and run once more.
namespace ignavo {

Snapshot Kernel::snapshot() {
  Snapshot s;
  s.now = now_;
  s.powered = powered_;
  s.tripped = tripped_;
  s.project = project_;
  s.state = state_;
  if (live()) {
    s.reading = circuit_->blank();
    for (int i : active_) circuit_->place(i, readingNow(i), s.reading);
    s.supplyAmps = s.reading.supplyAmps;
  } else {
    s.reading = circuit_->blank();
    std::fill(s.reading.nets.begin(), s.reading.nets.end(), std::nullopt);
  }
  for (const PinRun& pin : pins_) s.levels.push_back(pin.level);
  s.lamps.resize(partSignals_.size());
  s.motion.resize(partSignals_.size());
  for (std::size_t p = 0; p < partSignals_.size(); ++p) {
    const std::vector<int>& signals = partSignals_[p];
    const PartKind* kind = circuit_->kindOf(static_cast<int>(p));
    double brightest = 0;
    if (kind && kind->shows == Shows::light)
      for (int signal : signals) {
        const double light = signal < 0 ? 0 : lightAt(trace_, signal, now_);
        brightest = std::max(brightest, light);
        if (signals.size() > 1) s.lamps[p].push_back(light);
      }
    s.light.push_back(brightest);
    if (kind && live() && !state_.broken[p])
      s.motion[p] =
          motionOf(*kind, s.reading.parts[p], trace_, signals.empty() ? -1 : signals.front(), now_);
  }
  for (const Arm& arm : arms_)
    if (arm.asked) s.motion[static_cast<std::size_t>(arm.part)].degrees = arm.degreesAt(now_);
  for (const auto& board : boards_) {
    const Processor& p = board->processor;
    const auto& program = p.program();
    for (std::size_t l = 0; l < p.lanes().size(); ++l) {
      const LaneState& lane = p.lanes()[l];
      LaneView view;
      view.id = program.lanes[l].id;
      view.over = lane.over;
      view.missed = lane.missed;
      if (const int step = p.stepOf(l); step >= 0 && powered()) {
        view.step = at(program.steps, step);
        if (lane.waiting >= 0) view.waitLeft = std::max<Nanoseconds>(0, lane.wake - now_);
      }
      s.lanes.push_back(std::move(view));
    }
    for (std::size_t k = 0; k < program.steps.size(); ++k) {
      s.stepCounts[program.steps[k]] = p.stepCounts()[k];
      if (p.forks()[k] >= 0) s.forks[program.steps[k]] = p.forks()[k] == 1;
    }
  }
  return s;
}

std::unique_ptr<Kernel> Kernel::replay(std::shared_ptr<const Project> first,
                                       const std::vector<Input>& inputs, Nanoseconds until) {
  auto kernel = std::make_unique<Kernel>(std::move(first));
  for (const Input& in : inputs)
    if (in.at <= until) kernel->schedule(in);
  kernel->advance(until);
  return kernel;
}

}  // namespace ignavo
