#include "run/kernel.h"

#include <algorithm>
#include <cmath>

#include "project/indexing.h"
#include "run/board_run.h"
#include "run/random.h"

namespace ignavo {

namespace {

// The same parts in the same places, wires and programs; only values of parts differ.
bool differsInValuesOnly(const Project& a, const Project& b) {
  if (!(a.wires == b.wires) || !(a.programs == b.programs) || !(a.boards == b.boards) ||
      !(a.breadboards == b.breadboards) || a.parts->size() != b.parts->size())
    return false;
  for (std::size_t i = 0; i < a.parts->size(); ++i) {
    const Part &x = *(*a.parts)[i], &y = *(*b.parts)[i];
    if (x.id != y.id || x.type != y.type || !(x.legs == y.legs)) return false;
  }
  return !(a.parts == b.parts) || !(a.settings == b.settings);
}

constexpr std::size_t keptEdges = 6'000'000;  // below 200 MB

}  // namespace

IGNAVO_VALUE_DEFINED(Snapshot);

Kernel::Kernel(std::shared_ptr<const Project> project)
    : first_(project), project_(std::move(project)) {
  build(false);
}
Kernel::~Kernel() = default;

void Kernel::startPrograms() {
  for (auto& board : boards_) {
    const CompiledProgram program = board->processor.program();
    board->processor.start(program, now_);
  }
  for (PinRun& pin : pins_) {
    pin.high = false;
    pin.level = 0;
    pin.share = pin.nextShare = 0;
    pin.pulseDue = never;
  }
  timersBegan_ = now_;
  anchor_.reset();
  tops_ = 0;
  refreshAll();
}

void Kernel::switchPower(bool on) {
  powered_ = on;
  tripped_ = false;
  happenings_.push_back({now_, on ? Happening::What::powerOn : Happening::What::powerOff, {}, 0});
  calm();
  startCourses();
  startPrograms();
}

void Kernel::pressPart(const std::string& id, bool down) {
  int index = -1;
  for (std::size_t i = 0; i < project_->parts->size(); ++i)
    if ((*project_->parts)[i]->id == id) index = static_cast<int>(i);
  if (index < 0 || !circuit_->kindOf(index) || !circuit_->kindOf(index)->pressable) return;
  happenings_.push_back({now_, down ? Happening::What::press : Happening::What::release, id, 0});
  std::erase_if(contacts_, [&](const Contact& c) { return c.part == index; });
  const Part& part = *(*project_->parts)[static_cast<std::size_t>(index)];
  const int n = presses_[id]++;
  moveContact(index, down);
  if (part.text("contacts", "real") != "real") return;
  // Real contacts bounce: 1, 3 or 5 transitions within 0.2 … 3 ms.
  const std::uint64_t stream = keyOf(("bounce " + id).c_str());
  const auto count = static_cast<std::uint64_t>(n) * 16;
  const int transitions = 1 + 2 * static_cast<int>(randomBits(project_->seed, stream, count) % 3);
  const double span = 0.2e6 + 2.8e6 * randomShare(project_->seed, stream, count + 1);
  std::vector<Nanoseconds> times;
  for (int k = 1; k < transitions; ++k)
    times.push_back(
        now_ + 1 +
        static_cast<Nanoseconds>(
            span * randomShare(project_->seed, stream, count + 1 + static_cast<std::uint64_t>(k))));
  std::sort(times.begin(), times.end());
  bool closed = down;
  for (Nanoseconds t : times) contacts_.push_back({t, index, closed = !closed});
  std::stable_sort(contacts_.begin(), contacts_.end(),
                   [](const Contact& a, const Contact& b) { return a.at < b.at; });
}

void Kernel::moveContact(int part, bool closed) {
  if (at(state_.pressed, part) == (closed ? 1 : 0)) return;
  at(state_.pressed, part) = closed ? 1 : 0;
  anchor_.reset();
  tops_ = 0;
  refreshIsland(circuit_->islandOfPart(part));
}

void Kernel::apply(const Input& in) {
  using What = Input::What;
  anchor_.reset();
  tops_ = 0;
  const int pin = circuit_->pinIndex(in.id, in.key);
  switch (in.what) {
    case What::press:
      pressPart(in.id, true);
      break;
    case What::release:
      pressPart(in.id, false);
      break;
    case What::setProp: {
      Project changed = *project_;
      auto& parts = changed.parts.edit();
      for (auto& part : parts)
        if (part->id == in.id) part.edit().setProp(in.key, in.value);
      project_ = std::make_shared<const Project>(std::move(changed));
      build(true);
      break;
    }
    case What::reset:
      happenings_.push_back({now_, Happening::What::reset, {}, 0});
      startPrograms();
      break;
    case What::powerOff:
      if (powered_) switchPower(false);
      break;
    case What::powerOn:
      if (!powered_) switchPower(true);
      break;
    case What::drivePin:
      if (pin < 0) break;
      at(pins_, pin).hand = std::get_if<bool>(&in.value) && std::get<bool>(in.value) ? 1 : 0;
      refreshPin(pin);
      break;
    case What::freePin:
      if (pin < 0) break;
      at(pins_, pin).hand = -1;
      refreshPin(pin);
      break;
    case What::replace:
      if (pin >= 0) {
        at(pins_, pin).burnt = false;
        refreshPin(pin);
      }
      for (std::size_t i = 0; i < project_->parts->size(); ++i)
        if ((*project_->parts)[i]->id == in.id && state_.broken[i]) {
          state_.broken[i] = 0;
          for (PartStress& s : stress_)
            if (s.part == static_cast<int>(i)) s.stress.clear(), s.newAt = now_;
          refreshIsland(circuit_->islandOfPart(static_cast<int>(i)));
        }
      break;
    case What::project:
      // A knob that is turned is no change of the circuit to be marked.
      if (!differsInValuesOnly(*project_, *in.project))
        happenings_.push_back({now_, Happening::What::changed, {}, 0});
      project_ = in.project;
      contacts_.clear();
      build(true);
      break;
  }
  // The board comes back by itself once nothing overloads it any more.
  if (tripped_ && powered_ && loadIfPowered() < usbMostAmps()) {
    if (!live()) startCourses();  // nothing was fed meanwhile: all begins anew
    tripped_ = false;
    happenings_.push_back({now_, Happening::What::recovered, {}, 0});
    startPrograms();
  }
}

void Kernel::schedule(Input input) {
  const auto place = std::upper_bound(queue_.begin(), queue_.end(), input,
                                      [](const Input& a, const Input& b) { return a.at < b.at; });
  queue_.insert(place, std::move(input));
}

void Kernel::inputNow(Input input) {
  input.at = now_ + 1;
  schedule(std::move(input));
}

Nanoseconds Kernel::nextInternal() const {
  Nanoseconds next = contacts_.empty() ? never : contacts_.front().at;
  for (const PartStress& s : stress_)
    if (s.stress.hot()) next = std::min(next, s.stress.nextCheck());
  for (const PinRun& pin : pins_) {
    if (pin.stress.hot()) next = std::min(next, pin.stress.nextCheck());
    next = std::min(next, pin.pulseDue);
  }
  next = std::min(next, floatDue_);
  for (const Arm& arm : arms_) next = std::min(next, arm.due);
  for (int island : remembering_) next = std::min(next, at(courses_, island).due);
  return std::min(next, supplyGivesUp());
}

// What is due now by itself. False when it was only the circuit's own going on.
bool Kernel::happen() {
  if (!contacts_.empty() && contacts_.front().at <= now_) {
    const Contact c = contacts_.front();
    contacts_.erase(contacts_.begin());
    moveContact(c.part, c.closed);
  } else if ((dims_ && pulsePins()) || lookAtFloating() || moveArms()) {
    return true;
  } else if (finishSteps()) {
    watchSupply();
    return false;
  } else if (supplyGivesUp() <= now_) {
    checkSupply();
  } else {
    checkStress();
  }
  return true;
}

// When the next step of a lane is complete; never: none comes by itself.
Nanoseconds Kernel::nextStep() const {
  Nanoseconds soonest = never;
  if (powered_ && !tripped_ && !circuit_->shorted())
    for (const auto& board : boards_) soonest = std::min(soonest, board->processor.nextTime());
  return soonest;
}

// Runs to `until`, or up to one step of a lane, or up to the next event. True when it came.
bool Kernel::run(Nanoseconds until, Stop stop) {
  for (;;) {
    const Nanoseconds external = queue_.empty() ? never : queue_.front().at;
    const Nanoseconds internal = nextInternal();
    const Nanoseconds soonest = nextStep();
    const Nanoseconds t = std::min({external, internal, soonest});
    if (t > until) return false;
    if (external <= t) {
      now_ = std::max(now_, external);
      const Input input = queue_.front();
      queue_.erase(queue_.begin());
      log_.push_back(input);
      apply(input);
      if (stop == Stop::atEvent) return true;
    } else if (internal <= t) {
      now_ = internal;
      if (happen() && stop == Stop::atEvent) return true;
    } else {
      BoardRun& next = **std::find_if(boards_.begin(), boards_.end(), [&](const auto& board) {
        return board->processor.nextTime() == soonest;
      });
      const bool cameRound = next.processor.execute(next);
      now_ = soonest;
      if (stop != Stop::atEnd && next.processor.betweenSteps()) return true;
      if (cameRound) {
        trace_.extendTo(now_);
        laneCameRound(std::min({until, external, internal}));
      }
    }
  }
}

// At the beginning of an endless lane: does everything stand as it did once
// before? Then whole periods up to `limit` can be jumped over exactly.
void Kernel::laneCameRound(Nanoseconds limit) {
  if (!maySkip_) return;
  const bool quiet =
      contacts_.empty() && overloadedSince_ == never &&
      std::none_of(arms_.begin(), arms_.end(), [](const Arm& a) { return a.due != never; }) &&
      std::none_of(stress_.begin(), stress_.end(),
                   [](const PartStress& s) { return s.stress.hot(); }) &&
      std::none_of(pins_.begin(), pins_.end(), [](const PinRun& pin) { return pin.stress.hot(); });
  if (!quiet || noiseRead_) {
    noiseRead_ = false;
    anchor_.reset();
    tops_ = 0;
    return;
  }
  std::vector<std::uint8_t> levels;
  levels.reserve(pins_.size());
  for (const PinRun& pin : pins_) levels.push_back(pin.level);
  std::vector<double> courses = courseSignature();
  std::vector<Nanoseconds> pulses = pulseSignature();
  bool repeats = anchor_ && anchor_->state == state_ && anchor_->levels == levels &&
                 anchor_->courses == courses && anchor_->pulses == pulses;
  const Nanoseconds period = anchor_ ? now_ - anchor_->at : 0;
  for (std::size_t i = 0; repeats && i < boards_.size(); ++i)
    repeats = boards_[i]->processor.sameAs(anchor_->processors[i], period);
  if (repeats && period > 0) {
    std::int64_t times =
        limit == never ? 0 : std::max<std::int64_t>(0, (limit - 1 - now_) / period);
    if (trace_.repeatLast(period, times)) {
      const Nanoseconds jump = times * period;
      now_ += jump;
      skipped_ += times;
      for (int island : remembering_) {
        CourseRun& c = at(courses_, island);
        c.since += jump;
        if (c.due != never) c.due += jump;
      }
      for (PinRun& pin : pins_)
        if (pin.pulseDue != never) pin.pulseDue += jump;
      for (Arm& arm : arms_) arm.risenAt += jump;
      for (std::size_t i = 0; i < boards_.size(); ++i) {
        Processor& p = boards_[i]->processor;
        for (std::size_t l = 0; l < p.lanes().size(); ++l)
          p.addMissed(l, (p.lanes()[l].missed - anchor_->processors[i].lanes()[l].missed) * times);
        auto& counts = p.stepCounts();
        for (std::size_t s = 0; s < counts.size(); ++s)
          counts[s] += (counts[s] - anchor_->counts[i][s]) * times;
        p.shiftBy(jump);
      }
    }
    tops_ = 0;
    anchor_.reset();
  }
  ++tops_;
  if (!anchor_ || (tops_ & (tops_ - 1)) == 0) {
    anchor_ = std::make_unique<Anchor>();
    anchor_->at = now_;
    anchor_->state = state_;
    anchor_->levels = std::move(levels);
    anchor_->courses = std::move(courses);
    anchor_->pulses = std::move(pulses);
    for (const auto& board : boards_) {
      anchor_->processors.push_back(board->processor);
      anchor_->counts.push_back(board->processor.stepCounts());
    }
  }
}

void Kernel::advance(Nanoseconds until) {
  if (until <= now_) return;
  run(until, Stop::atEnd);
  now_ = std::max(now_, until);
  trace_.extendTo(now_);
  trace_.limitEdges(keptEdges);
}

Kernel::Stepped Kernel::stepOnce() {
  const bool skip = maySkip_;
  maySkip_ = false;
  const Nanoseconds begin = now_, limit = now_ + second;
  const bool comes = nextStep() != never;
  Stepped out;
  if (run(limit, comes ? Stop::atStep : Stop::atEvent)) {
    out.what = comes ? Stepped::What::step : Stepped::What::event;
  } else if (comes || now_ > begin) {
    out.what = comes ? Stepped::What::oneSecond : Stepped::What::nothing;
    now_ = std::max(now_, limit);
  }
  maySkip_ = skip;
  trace_.extendTo(now_);
  const Nanoseconds next = nextStep();
  out.untilStep = next == never ? never : next - now_;
  return out;
}

bool Kernel::isBroken(const std::string& id) const {
  for (std::size_t i = 0; i < project_->parts->size(); ++i)
    if ((*project_->parts)[i]->id == id) return state_.broken[i] != 0;
  return false;
}

std::string Kernel::direction(const std::string& board, const std::string& pin) const {
  const int p = circuit_->pinIndex(board, pin);
  if (p < 0) return {};
  return at(pins_, p).role == PinRole::output || at(pins_, p).hand >= 0 ? "output" : "input";
}

}  // namespace ignavo
