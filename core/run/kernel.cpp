#include "run/kernel.h"

#include <algorithm>
#include <cassert>

#include "project/indexing.h"
#include "run/devices/board_processor.h"
#include "run/motion.h"

// Inputs and the boards' own time in turn; and the states that looking back starts from.
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

constexpr std::size_t traceBytes = 160'000'000;  // below 200 MB, with what the heap takes besides
// How much a state may be behind the next one: acts of devices, which take up to some
// microseconds each.
constexpr std::int64_t actsBetween = 2'000;
// How many are kept; then every second one goes. Large runs keep fewer, so that it stays below
// some 100 MB; what a state takes is estimated, mostly that of an island's solver.
constexpr std::size_t mostKept = 2'000, leastKept = 50;
std::size_t keptOf(const RunState& state) {
  constexpr std::size_t all = 100'000'000, deviceBytes = 300, islandBytes = 30'000;
  const auto devices = static_cast<std::size_t>(state.devices.count());
  const auto islands =
      static_cast<std::size_t>(state.places.islandsEnd - state.places.islandsBegin);
  return std::clamp(all / (devices * deviceBytes + islands * islandBytes + 1), leastKept, mostKept);
}

}  // namespace

Kernel::Kernel(std::shared_ptr<const Project> project, RunSetup setup)
    : first_(project),
      run_(std::make_shared<const RunModel>(std::move(project), std::move(setup))) {
  keepState();
}
Kernel::~Kernel() = default;

// What was recorded before a state, as far as anything is told from it; of the signals that its
// project had.
Trace Kernel::traceBefore(const Kept& kept) const {
  Trace out = trace().upTo(kept.state.now);
  if (out.signals() == kept.model->signals) return out;
  out.forgetBefore(kept.state.now - longestLook);
  out.restart(kept.model->signals);
  return out;
}

// A past moment of another kernel.
Kernel::Kernel(const Kernel& later, const Kept& from, Nanoseconds moment)
    : first_(later.first_), run_(from.model, from.state, later.traceBefore(from)) {
  keeps_ = false;
  for (std::size_t i = from.inputs; i < later.log_.size() && later.log_[i].at <= moment; ++i)
    queue_.push_back(later.log_[i]);
  advance(moment);
}

Snapshot Kernel::lookBack(Nanoseconds moment) const {
  moment = std::clamp<Nanoseconds>(moment, 0, now());
  const auto after =
      std::upper_bound(kept_.begin(), kept_.end(), moment,
                       [](Nanoseconds t, const Kept& kept) { return t < kept.state.now; });
  assert(after != kept_.begin());
  return Kernel(*this, *std::prev(after), moment).snapshot();
}

void Kernel::keepState() {
  if (!keeps_) return;
  if (kept_.size() >= keptOf(run_.state)) {
    std::size_t n = 0;
    for (std::size_t i = 0; i < kept_.size(); i += 2) std::swap(kept_[n++], kept_[i]);
    kept_.resize(n);
  }
  kept_.push_back({run_.model, run_.state, log_.size()});
}

// What is held by hand is seen, also where nothing hangs on it.
void Kernel::watch(int pin) {
  if (at(run_.model->pins, pin).signal >= 0) return;
  const CircuitPin& named = at(run_.model->circuit->pins(), pin);
  probe({Signal::What::pinLevel, named.board, named.name});
}

void Kernel::probe(const Signal& signal) {
  RunSetup more = setup();
  if (std::find(more.probes.begin(), more.probes.end(), signal) != more.probes.end()) return;
  more.probes.push_back(signal);
  scheduler_.forget();
  run_.change(std::make_shared<const RunModel>(project(), std::move(more), run_.model.get()));
}

void Kernel::apply(const Input& in) {
  using What = Input::What;
  scheduler_.forget();
  const int pin = run_.model->circuit->pinIndex(in.id, in.key);
  const int board = in.id.empty() ? -1 : run_.model->boardOf(in.id);
  switch (in.what) {
    case What::press:
    case What::release:
      run_.press(run_.model->partOf(in.id), in.what == What::press);
      break;
    case What::setProp: {
      Project changed = *project();
      auto& parts = changed.parts.edit();
      for (auto& part : parts)
        if (part->id == in.id) part.edit().setProp(in.key, in.value);
      run_.change(std::make_shared<const RunModel>(
          std::make_shared<const Project>(std::move(changed)), setup(), run_.model.get()));
      break;
    }
    case What::reset:
      run_.tell(Event::What::reset, in.id);
      run_.startPrograms(board);
      break;
    case What::powerOff:
    case What::powerOn: {
      const bool on = in.what == What::powerOn;
      if (board >= 0)
        run_.switchBoard(board, on);
      else if (run_.state.on != on)
        run_.switchPower(on);
      break;
    }
    case What::drivePin:
      if (pin < 0) break;
      watch(pin);
      run_.hold(run_.model->circuit->pinIndex(in.id, in.key), std::get<double>(in.value));
      break;
    case What::freePin:
      if (pin >= 0) run_.letGo(pin);
      break;
    case What::keyDown:
    case What::keyUp:
      run_.keyChanged(board, in.key, in.what == What::keyDown);
      break;
    case What::replace:
      run_.replace(run_.model->partOf(in.id), pin);
      break;
    case What::project:
      // A knob that is turned is no change of the circuit to be marked.
      if (!differsInValuesOnly(*project(), *in.project)) run_.tell(Event::What::changed);
      run_.change(std::make_shared<const RunModel>(in.project, setup(), run_.model.get()));
      break;
  }
  run_.recover();
}

void Kernel::schedule(Input input) {
  const auto place = std::upper_bound(queue_.begin(), queue_.end(), input,
                                      [](const Input& a, const Input& b) { return a.at < b.at; });
  queue_.insert(place, std::move(input));
}

void Kernel::inputNow(Input input) {
  input.at = now() + 1;
  schedule(std::move(input));
}

// Runs to `until`, or up to one step of a lane, or up to the next event. True when it came.
bool Kernel::go(Nanoseconds until, Scheduler::Stop stop) {
  for (;;) {
    const bool input = !queue_.empty() && queue_.front().at <= until;
    const Nanoseconds horizon = queue_.empty() ? until : std::min(until, queue_.front().at);
    const auto outcome =
        scheduler_.run(run_, input ? horizon - 1 : until, horizon, stop, actsBetween);
    if (outcome == Scheduler::Outcome::stopped) return true;
    if (outcome == Scheduler::Outcome::paused) {
      keepState();
      run_.trace.limitBytes(traceBytes);  // a day may be asked for in one go
      continue;
    }
    if (!input) return false;
    run_.state.now = std::max(now(), queue_.front().at);
    log_.push_back(std::move(queue_.front()));
    queue_.erase(queue_.begin());
    const auto model = run_.model;
    apply(log_.back());
    if (run_.model != model) keepState();  // which took its time
    if (stop == Scheduler::Stop::atEvent) return true;
  }
}

void Kernel::advance(Nanoseconds until) {
  if (until <= now()) return;
  go(until, Scheduler::Stop::atEnd);
  run_.state.now = std::max(now(), until);
  run_.trace.extendTo(now());
  run_.trace.limitBytes(traceBytes);
}

// When the next step of a lane is complete; never: none comes by itself.
Nanoseconds Kernel::nextStep() const {
  Nanoseconds soonest = never;
  for (const int place : run_.state.places.boards)
    soonest = std::min(soonest, run_.state.devices.at(place).due());
  return soonest;
}

Kernel::Stepped Kernel::stepOnce() {
  const bool skip = scheduler_.skips();
  scheduler_.allowSkipping(false);
  const Nanoseconds begin = now(), limit = now() + second;
  const bool comes = nextStep() != never;
  Stepped out;
  if (go(limit, comes ? Scheduler::Stop::atStep : Scheduler::Stop::atEvent)) {
    out.what = comes ? Stepped::What::step : Stepped::What::event;
  } else if (comes || now() > begin) {
    out.what = comes ? Stepped::What::oneSecond : Stepped::What::nothing;
    run_.state.now = std::max(now(), limit);
  }
  scheduler_.allowSkipping(skip);
  run_.trace.extendTo(now());
  const Nanoseconds next = nextStep();
  out.untilStep = next == never ? never : next - now();
  return out;
}

bool Kernel::powered() const {
  if (!run_.state.on) return false;
  for (int b = 0; b < static_cast<int>(run_.state.boards.size()); ++b)
    if (!run_.fed(b)) return false;
  return true;
}

bool Kernel::isBroken(const std::string& id) const {
  const int part = run_.model->partOf(id);
  return part >= 0 && at(run_.state.circuit.broken, part) != 0;
}

bool Kernel::leavesOut() const {
  const std::vector<std::uint8_t>& left = run_.model->leftOut;
  return std::find(left.begin(), left.end(), 1) != left.end();
}

std::string Kernel::direction(const std::string& board, const std::string& pin) const {
  const int p = run_.model->circuit->pinIndex(board, pin);
  if (p < 0) return {};
  const PinDrive chip = at(run_.state.pins, p).chip;
  return chip == PinDrive::low || chip == PinDrive::high || at(run_.model->pins, p).output ||
                 at(run_.state.pins, p).hand >= 0
             ? "output"
             : "input";
}

std::unique_ptr<Kernel> Kernel::replay(std::shared_ptr<const Project> first,
                                       const std::vector<Input>& inputs, Nanoseconds until,
                                       const RunSetup& setup) {
  auto kernel = std::make_unique<Kernel>(std::move(first), setup);
  for (const Input& in : inputs)
    if (in.at <= until) kernel->schedule(in);
  kernel->advance(until);
  return kernel;
}

}  // namespace ignavo
