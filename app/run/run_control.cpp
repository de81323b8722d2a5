#include "run/run_control.h"

#include <algorithm>
#include <cmath>

#include "run/held_kernel.h"

namespace ignavo::app {

namespace {
constexpr double longestCatchUp = 0.05;  // seconds that may be made up for at once
constexpr double longestAtOnce = 0.012;  // seconds of work in a frame of 16 ms
constexpr double slice = 0.002;          // seconds of work before others are let at it
}  // namespace

RunControl::RunControl(Clock& clock, QObject* parent) : QObject(parent), clock_(clock) {
  frame_.setInterval(frameMs);
  connect(&frame_, &QTimer::timeout, this, &RunControl::fetch);
  worker_ = std::thread([this] { work(); });
}

RunControl::~RunControl() {
  {
    const Held held(*this);
    endTurn();
    quit_ = true;
  }
  wake_.notify_all();
  worker_.join();
}

void RunControl::setByHand(bool byHand) {
  const Held held(*this);
  byHand_ = byHand;
}

void RunControl::advanceBy(double seconds) {
  {
    const Held held(*this);
    if (!kernel_) return;
    kernel_->advance(kernel_->now() + static_cast<Nanoseconds>(seconds * 1e9));
    publish();
  }
  fetch();
}

// The last of what was said by a moment.
std::vector<SaidLine> RunControl::saidUntil(Nanoseconds moment) const {
  constexpr std::ptrdiff_t most = 500;
  const std::vector<SaidLine>& all = kernel_->said();
  const auto end =
      std::upper_bound(all.begin(), all.end(), moment,
                       [](Nanoseconds t, const SaidLine& line) { return t < line.at; });
  return {end - std::min(most, end - all.begin()), end};
}

void RunControl::publish() {
  auto shown = std::make_shared<const Snapshot>(kernel_->snapshot());
  // With what is there no longer: it did something before.
  auto trace = std::make_shared<const Trace>(kernel_->trace().withFormer());
  std::vector<Event> events = kernel_->events();
  std::vector<SaidLine> said = saidUntil(kernel_->now());
  unseen_ = false;
  const std::lock_guard lock(exchange_);
  nextShown_ = std::move(shown);
  nextTrace_ = std::move(trace);
  nextEvents_ = std::move(events);
  nextSaid_ = std::move(said);
  fresh_ = true;
}

void RunControl::lookBack(Nanoseconds moment) {
  auto past = std::make_shared<const Snapshot>(kernel_->lookBack(moment));
  std::vector<SaidLine> said = saidUntil(moment);
  const std::lock_guard lock(exchange_);
  nextPast_ = std::move(past);
  pastSaid_ = std::move(said);
}

// What was done by hand since, with the kernel held.
void RunControl::doGiven() {
  std::vector<Input> given;
  {
    const std::lock_guard lock(exchange_);
    given = std::exchange(wanted_.given, {});
  }
  if (!kernel_) return;
  for (Input& in : given) {
    kernel_->inputNow(std::move(in));
    unseen_ = true;
  }
}

// Whoever waits for the kernel has it next.
void RunControl::letOthers(std::unique_lock<std::mutex>& lock) {
  if (waiting_ == 0) return;
  lock.unlock();
  while (waiting_ > 0) std::this_thread::yield();
  lock.lock();
}

// The worker: keeps simulated time level with the clock.
void RunControl::work() {
  std::unique_lock lock(mutex_);
  double last = clock_.seconds();
  double remainder = 0;
  while (!quit_) {
    letOthers(lock);
    clock_.sleepToFrame(lock, wake_);
    const double now = clock_.seconds();
    const double wall = std::min(now - last, longestCatchUp);
    last = now;
    if (quit_ || !kernel_ || byHand_) continue;
    doGiven();
    const Wanted wanted = takeWanted();
    if (wanted.look >= 0) lookBack(std::min(wanted.look, kernel_->now()));
    if (wanted.steps > 0) {
      Kernel::Stepped stepped;
      for (int i = 0; i < wanted.steps; ++i) stepped = kernel_->stepOnce();
      publish();
      const std::lock_guard exchange(exchange_);
      stepped_ = stepped;
    } else if (wanted.paused || wanted.looking || turns_) {
      remainder = 0;
      if (!unseen_) continue;
      // What is done by hand is seen at once.
      kernel_->advance(kernel_->now() + 1);
      publish();
    } else {
      const double ahead = wall * wanted.speed * 1e9 + remainder;
      const auto length = static_cast<Nanoseconds>(ahead);
      remainder = ahead - static_cast<double>(length);
      runOn(length, now + longestAtOnce, wanted.speed);
    }
  }
}

// What else was left since, each thing once.
RunControl::Wanted RunControl::takeWanted() {
  const std::lock_guard exchange(exchange_);
  Wanted out = wanted_;
  out.look = std::exchange(wanted_.look, -1);
  out.steps = std::exchange(wanted_.steps, 0);
  return out;
}

// In slices of a moment, so that a heavy program cannot keep the kernel for long.
void RunControl::runOn(Nanoseconds length, double until, double speed) {
  const Nanoseconds start = kernel_->now(), goal = start + length;
  while (kernel_->now() < goal && !quit_ && waiting_ == 0) {
    const double begun = clock_.seconds();
    if (begun > until) break;
    const Nanoseconds from = kernel_->now();
    kernel_->advance(
        std::min(goal, from + std::max<Nanoseconds>(1, std::llround(pace_ * slice * 1e9))));
    const double took = std::max(clock_.seconds() - begun, 1e-6);
    const double made = static_cast<double>(kernel_->now() - from) * 1e-9 / took;
    // Slower at once, faster by and by.
    pace_ = made < pace_ ? made : std::min(made, 2 * pace_);
  }
  const Nanoseconds reached = kernel_->now() - start;
  publish();
  const std::lock_guard exchange(exchange_);
  if (length > 0)
    reached_ =
        0.8 * reached_ + 0.2 * speed * static_cast<double>(reached) / static_cast<double>(length);
}

void RunControl::fetch() {
  bool news = false;
  std::optional<Kernel::Stepped> stepped;
  {
    const std::lock_guard lock(exchange_);
    stepped = std::exchange(stepped_, std::nullopt);
    if (looking_ && nextPast_) {
      shown_ = std::move(nextPast_);
      said_ = pastSaid_;
      news = true;
    }
    nextPast_.reset();
    if (fresh_ && !looking_) {
      shown_ = nextShown_;
      trace_ = nextTrace_;
      events_ = nextEvents_;
      said_ = nextSaid_;
      fresh_ = false;
      news = true;
    }
  }
  if (news) Q_EMIT updated();
  using What = Kernel::Stepped::What;
  if (stepped && (stepped->what == What::oneSecond || stepped->what == What::nothing))
    Q_EMIT nothingDue(stepped->untilStep == never ? -1
                                                  : static_cast<double>(stepped->untilStep) * 1e-9);
}

void RunControl::probe(const Signal& signal) {
  if (std::find(probes_.begin(), probes_.end(), signal) != probes_.end()) return;
  probes_.push_back(signal);
  {
    const Held held(*this);
    if (!kernel_) return;
    kernel_->probe(signal);
    publish();
  }
  fetch();
  if (!runsCode_) remake();
}

// What was recorded stays in the run; nobody asks for it any more.
void RunControl::unprobe(const Signal& signal) { std::erase(probes_, signal); }

double RunControl::reachedSpeed() const {
  const std::lock_guard lock(exchange_);
  return reached_;
}

void RunControl::powerOn(std::shared_ptr<const Project> project, ChipPrograms code) {
  RunSetup setup{std::move(code), false};
  setup.probes = probes_;
  const bool runsCode = !setup.chipPrograms.empty();
  auto kernel = std::make_unique<Kernel>(project, std::move(setup));
  for (Input& input : std::exchange(next_, {})) kernel->schedule(std::move(input));
  {
    const Held held(*this);
    endTurn();
    runs_ = std::move(project);
    ghost_ = trace_;
    runsCode_ = runsCode;
    ended_.reset();
    kernel_ = std::move(kernel);
    pace_ = 1;
    on_ = true;
    paused_ = looking_ = false;
    publish();
    const std::lock_guard lock(exchange_);
    wanted_ = {};
    wanted_.speed = reached_ = speed_;
    stepped_.reset();
    nextPast_.reset();
  }
  if (!byHand_) frame_.start();
  fetch();
  Q_EMIT stateChanged();
}

void RunControl::powerOff() {
  {
    const Held held(*this);
    endTurn();
    next_.clear();
    if (kernel_ && runsCode_) ended_ = std::make_shared<const RunRecord>(kernel_->record());
    kernel_.reset();
    on_ = paused_ = looking_ = runsCode_ = false;
    const std::lock_guard lock(exchange_);
    wanted_ = {};
    wanted_.speed = speed_;
    stepped_.reset();
    nextPast_.reset();
    fresh_ = false;
  }
  frame_.stop();
  shown_.reset();
  Q_EMIT stateChanged();
  Q_EMIT updated();
}

std::shared_ptr<const RunRecord> RunControl::record() {
  const Held held(*this);
  return kernel_ ? std::make_shared<const RunRecord>(kernel_->record()) : ended_;
}

void RunControl::setGhost(std::shared_ptr<const Trace> ghost) {
  ghost_ = std::move(ghost);
  Q_EMIT updated();
}

void RunControl::give(Input in) {
  if (!on_) return;
  if (byHand_) {
    {
      const Held held(*this);
      kernel_->inputNow(std::move(in));
      kernel_->advance(kernel_->now() + 1);
      publish();
    }
  } else {
    const std::lock_guard lock(exchange_);
    wanted_.given.push_back(std::move(in));
    wake_.notify_all();
  }
  if (looking_) lookAtNow();
  fetch();
}

namespace {
Input inputOf(Input::What what, const QString& id = {}, const QString& key = {}) {
  Input in;
  in.what = what;
  in.id = id.toStdString();
  in.key = key.toStdString();
  return in;
}
}  // namespace

void RunControl::reset() { give(inputOf(Input::What::reset)); }

void RunControl::press(const QString& part, bool down) {
  give(inputOf(down ? Input::What::press : Input::What::release, part));
}

void RunControl::key(const QString& name, bool down) {
  give(inputOf(down ? Input::What::keyDown : Input::What::keyUp, {}, name));
}

void RunControl::hold(const QString& board, const QString& pin, double percent) {
  Input in = inputOf(Input::What::drivePin, board, pin);
  in.value = percent;
  give(std::move(in));
}

void RunControl::letGo(const QString& board, const QString& pin) {
  give(inputOf(Input::What::freePin, board, pin));
}

std::optional<double> RunControl::heldPercent(const std::string& board,
                                              const std::string& pin) const {
  if (!shown_) return std::nullopt;
  for (const Snapshot::HeldPin& held : shown_->held)
    if (held.board == board && held.pin == pin) return held.percent;
  return std::nullopt;
}

void RunControl::replacePart(const QString& part) { give(inputOf(Input::What::replace, part)); }

void RunControl::replacePin(const QString& board, const QString& pin) {
  give(inputOf(Input::What::replace, board, pin));
}

void RunControl::adopt(std::shared_ptr<const Project> project) {
  if (!on_) return;
  runs_ = project;
  Input in;
  in.what = Input::What::project;
  in.project = std::move(project);
  give(std::move(in));
}

void RunControl::setPaused(bool paused) {
  if (!on_ || paused_ == paused) return;
  {
    const std::lock_guard lock(exchange_);
    paused_ = wanted_.paused = paused;
  }
  Q_EMIT stateChanged();
}

void RunControl::setSpeed(double speed) {
  {
    const std::lock_guard lock(exchange_);
    speed_ = wanted_.speed = reached_ = speed;
  }
  Q_EMIT stateChanged();
}

void RunControl::stepOnce() {
  if (!on_) return;
  setPaused(true);
  if (looking_) lookAtNow();
  if (byHand_) {
    const Held held(*this);
    const Kernel::Stepped stepped = kernel_->stepOnce();
    publish();
    const std::lock_guard lock(exchange_);
    stepped_ = stepped;
  } else {
    const std::lock_guard lock(exchange_);
    ++wanted_.steps;
    wake_.notify_all();
  }
  fetch();
}

void RunControl::lookAt(Nanoseconds moment) {
  if (!on_) return;
  if (byHand_) {
    const Held held(*this);
    lookBack(std::clamp<Nanoseconds>(moment, 0, kernel_->now()));
  }
  {
    const std::lock_guard lock(exchange_);
    looking_ = wanted_.looking = true;
    if (!byHand_) wanted_.look = std::max<Nanoseconds>(moment, 0);
  }
  wake_.notify_all();
  if (byHand_) fetch();
  Q_EMIT stateChanged();
}

void RunControl::lookAtNow() {
  if (!looking_) return;
  {
    const std::lock_guard lock(exchange_);
    looking_ = wanted_.looking = false;
    wanted_.look = -1;
    fresh_ = on_;
  }
  fetch();
  Q_EMIT stateChanged();
}

bool RunControl::isHeld(const QString& part) const {
  if (!shown_) return false;
  const auto& parts = *shown_->project->parts;
  for (std::size_t i = 0; i < parts.size(); ++i)
    if (parts[i]->id == part.toStdString()) return shown_->state.pressed[i] != 0;
  return false;
}

}  // namespace ignavo::app
