#include "run/run_control.h"

#include <algorithm>

namespace ignavo::app {

namespace {
constexpr double longestCatchUp = 0.05;  // seconds that may be made up for at once
constexpr double longestAtOnce = 0.012;  // seconds of work in a frame of 16 ms
}  // namespace

RunControl::RunControl(Clock& clock, QObject* parent) : QObject(parent), clock_(clock) {
  frame_.setInterval(frameMs);
  connect(&frame_, &QTimer::timeout, this, &RunControl::fetch);
  worker_ = std::thread([this] { work(); });
}

RunControl::~RunControl() {
  {
    const std::lock_guard lock(mutex_);
    endTurn();
    quit_ = true;
  }
  wake_.notify_all();
  worker_.join();
}

void RunControl::setByHand(bool byHand) {
  const std::lock_guard lock(mutex_);
  byHand_ = byHand;
}

void RunControl::advanceBy(double seconds) {
  {
    const std::lock_guard lock(mutex_);
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
  nextShown_ = std::make_shared<const Snapshot>(kernel_->snapshot());
  nextTrace_ = std::make_shared<const Trace>(kernel_->trace());
  nextEvents_ = kernel_->events();
  nextSaid_ = saidUntil(kernel_->now());
  fresh_ = true;
}

// The worker: keeps simulated time level with the clock.
void RunControl::work() {
  std::unique_lock lock(mutex_);
  double last = clock_.seconds();
  double remainder = 0;
  while (!quit_) {
    clock_.sleepToFrame(lock, wake_);
    const double now = clock_.seconds();
    const double wall = std::min(now - last, longestCatchUp);
    last = now;
    if (quit_ || !kernel_ || byHand_) continue;
    if (lookWanted_ >= 0) {
      nextPast_ = std::make_shared<const Snapshot>(kernel_->lookBack(lookWanted_));
      nextSaid_ = saidUntil(lookWanted_);
      lookWanted_ = -1;
      continue;
    }
    if (paused_ || looking_ || turns_) {
      remainder = 0;
      continue;
    }
    const double wanted = wall * speed_ * 1e9 + remainder;
    const auto ahead = static_cast<Nanoseconds>(wanted);
    remainder = wanted - static_cast<double>(ahead);
    const Nanoseconds start = kernel_->now(), goal = start + ahead;
    // In slices, so that a heavy program cannot hold the lock for long.
    while (kernel_->now() < goal) {
      kernel_->advance(std::min(goal, kernel_->now() + std::max<Nanoseconds>(ahead / 8, 1)));
      if (clock_.seconds() - now > longestAtOnce) break;
    }
    if (ahead > 0)
      reached_ = 0.8 * reached_ + 0.2 * speed_ * static_cast<double>(kernel_->now() - start) /
                                      static_cast<double>(ahead);
    publish();
  }
}

void RunControl::fetch() {
  bool news = false;
  {
    const std::lock_guard lock(mutex_);
    if (looking_ && nextPast_) {
      shown_ = std::move(nextPast_);
      said_ = nextSaid_;
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
}

void RunControl::probe(const Signal& signal) {
  if (std::find(probes_.begin(), probes_.end(), signal) != probes_.end()) return;
  probes_.push_back(signal);
  {
    const std::lock_guard lock(mutex_);
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
  const std::lock_guard lock(mutex_);
  return reached_;
}

void RunControl::powerOn(std::shared_ptr<const Project> project, ChipPrograms code) {
  {
    const std::lock_guard lock(mutex_);
    endTurn();
    runs_ = project;
    ghost_ = trace_;
    runsCode_ = !code.empty();
    ended_.reset();
    RunSetup setup{std::move(code), false};
    setup.probes = probes_;
    kernel_ = std::make_unique<Kernel>(std::move(project), std::move(setup));
    for (Input& input : std::exchange(next_, {})) kernel_->schedule(std::move(input));
    reached_ = speed_;
    on_ = true;
    paused_ = looking_ = false;
    lookWanted_ = -1;
    publish();
  }
  if (!byHand_) frame_.start();
  fetch();
  Q_EMIT stateChanged();
}

void RunControl::powerOff() {
  {
    const std::lock_guard lock(mutex_);
    endTurn();
    next_.clear();
    if (kernel_ && runsCode_) ended_ = std::make_shared<const RunRecord>(kernel_->record());
    kernel_.reset();
    on_ = paused_ = looking_ = runsCode_ = false;
    fresh_ = false;
    lookWanted_ = -1;
  }
  frame_.stop();
  shown_.reset();
  Q_EMIT stateChanged();
  Q_EMIT updated();
}

std::shared_ptr<const RunRecord> RunControl::record() const {
  const std::lock_guard lock(mutex_);
  return kernel_ ? std::make_shared<const RunRecord>(kernel_->record()) : ended_;
}

void RunControl::setGhost(std::shared_ptr<const Trace> ghost) {
  ghost_ = std::move(ghost);
  Q_EMIT updated();
}

void RunControl::give(Input in) {
  {
    const std::lock_guard lock(mutex_);
    if (!kernel_) return;
    kernel_->inputNow(std::move(in));
    // Inputs are seen at once, also while paused or driven by hand.
    if (paused_ || byHand_) {
      kernel_->advance(kernel_->now() + 1);
      publish();
    }
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
  {
    const std::lock_guard lock(mutex_);
    if (!on_ || paused_ == paused) return;
    paused_ = paused;
  }
  Q_EMIT stateChanged();
}

void RunControl::setSpeed(double speed) {
  {
    const std::lock_guard lock(mutex_);
    speed_ = speed;
    reached_ = speed;
  }
  Q_EMIT stateChanged();
}

void RunControl::stepOnce() {
  if (!on_) return;
  setPaused(true);
  if (looking_) lookAtNow();
  Kernel::Stepped stepped;
  {
    const std::lock_guard lock(mutex_);
    stepped = kernel_->stepOnce();
    publish();
  }
  fetch();
  using What = Kernel::Stepped::What;
  if (stepped.what == What::oneSecond || stepped.what == What::nothing)
    Q_EMIT nothingDue(stepped.untilStep == never ? -1
                                                 : static_cast<double>(stepped.untilStep) * 1e-9);
}

void RunControl::lookAt(Nanoseconds moment) {
  bool byHand = false;
  {
    const std::lock_guard lock(mutex_);
    if (!kernel_) return;
    moment = std::clamp<Nanoseconds>(moment, 0, kernel_->now());
    looking_ = true;
    lookWanted_ = moment;
    byHand = byHand_;
    if (byHand) {
      nextPast_ = std::make_shared<const Snapshot>(kernel_->lookBack(moment));
      nextSaid_ = saidUntil(moment);
      lookWanted_ = -1;
    }
  }
  wake_.notify_all();
  if (byHand) fetch();
  Q_EMIT stateChanged();
}

void RunControl::lookAtNow() {
  {
    const std::lock_guard lock(mutex_);
    if (!looking_) return;
    looking_ = false;
    lookWanted_ = -1;
    if (kernel_) publish();
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
