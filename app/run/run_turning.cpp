#include <QCoreApplication>
#include <QElapsedTimer>
#include <QPointer>
#include <atomic>

#include "document/workers.h"
#include "run/by_hand.h"
#include "run/held_kernel.h"
#include "run/run_control.h"

// The past made anew: with something changed, or up to a moment from which one runs on; and what
// was done by hand once more.
namespace ignavo::app {

// A past that is made anew, and what it is made of.
struct RunControl::Turn {
  std::shared_ptr<const Project> project;
  std::size_t inputs = 0;  // that the run had when it began
  std::atomic<bool> cancelled = false;
  bool branches = false;           // goes on from there, as time goes
  bool remakes = false;            // the very same once more, to record more of it
  std::unique_ptr<Kernel> kernel;  // when it is done
  std::function<void(std::shared_ptr<const Trace>)> sketched;

  // What the pins do, where that is there sooner than all.
  void sketch(const std::shared_ptr<const Project>& first, RunSetup setup,
              const std::vector<Input>& given, Nanoseconds until) {
    if (!setup.chipPrograms.empty()) return;
    setup.sketch = true;
    Kernel quick(first, std::move(setup));
    if (!quick.leavesOut()) return;
    for (const Input& input : given) quick.schedule(input);
    go(quick, until, [](double) {});
    if (!cancelled) sketched(std::make_shared<const Trace>(quick.trace()));
  }
  void advance(std::unique_ptr<Kernel> made, Nanoseconds until,
               const std::function<void(double)>& told) {
    go(*made, until, told);
    kernel = std::move(made);
  }

 private:
  // In slices, to be told of and cancelled.
  void go(Kernel& made, Nanoseconds until, const std::function<void(double)>& told) const {
    constexpr Nanoseconds slices = 200;
    for (Nanoseconds i = 1; i <= slices && !cancelled; ++i) {
      made.advance(i == slices ? until : until / slices * i);
      told(static_cast<double>(i) / slices);
    }
  }
};

void RunControl::turn(std::shared_ptr<const Project> project) {
  RunRecord record;
  {
    const Held held(*this);
    if (!kernel_) return;
    record = kernel_->record();
    record.setup.probes = probes_;
    // A run that went on since is a new past.
    if (!turnedFrom_ || record.now != turnedAt_) {
      turnedFrom_ = runs_;
      beforeTurn_ = std::make_shared<const Trace>(record.trace);
    }
    turnedAt_ = record.now;
    turns_ = true;
  }
  runs_ = project;
  auto turn = std::make_shared<Turn>();
  turn->project = std::move(project);
  turn->inputs = record.inputs.size();
  begin(turn, [turn, record = std::move(record)](const std::function<void(double)>& told) {
    const auto first =
        std::make_shared<const Project>(asAtPowerOn(*turn->project, *record.project));
    std::vector<Input> inputs = doneByHand(record);
    turn->sketch(first, record.setup, inputs, record.now);
    auto kernel = std::make_unique<Kernel>(first, record.setup);
    for (Input& input : inputs) kernel->schedule(std::move(input));
    turn->advance(std::move(kernel), record.now, told);
  });
}

void RunControl::branch(std::shared_ptr<const Project> project) {
  if (!looking_) return;
  RunRecord record;
  const Nanoseconds moment = shownAt();
  {
    const Held held(*this);
    if (!kernel_) return;
    record = kernel_->record();
    record.setup.probes = probes_;
    turns_ = true;
  }
  turnedFrom_.reset();
  beforeTurn_ = std::make_shared<const Trace>(record.trace);
  turnedAt_ = -1;
  runs_ = project;
  auto turn = std::make_shared<Turn>();
  turn->project = std::move(project);
  turn->inputs = record.inputs.size();
  turn->branches = true;
  begin(turn, [turn, moment, record = std::move(record)](const std::function<void(double)>& told) {
    // As it was, up to there; what was built since counts from there on.
    auto kernel = std::make_unique<Kernel>(record.project, record.setup);
    for (const Input& input : record.inputs)
      if (input.at <= moment) kernel->schedule(input);
    turn->advance(std::move(kernel), moment, told);
    if (turn->cancelled || *turn->kernel->project() == *turn->project) return;
    Input edit;
    edit.what = Input::What::project;
    edit.project = turn->project;
    turn->kernel->inputNow(std::move(edit));
    turn->kernel->advance(moment + 1);
  });
}

// By steps all of the past can be recorded, in the time that it takes to make it once more.
void RunControl::remake() {
  RunRecord record;
  {
    const Held held(*this);
    if (!kernel_) return;
    record = kernel_->record();
    turns_ = true;
  }
  record.setup.probes = probes_;
  turnedFrom_.reset();
  beforeTurn_ = ghost_;
  turnedAt_ = -1;
  auto turn = std::make_shared<Turn>();
  turn->project = runs_;
  turn->inputs = record.inputs.size();
  turn->remakes = true;
  begin(turn, [turn, record = std::move(record)](const std::function<void(double)>& told) {
    auto kernel = std::make_unique<Kernel>(record.project, record.setup);
    for (const Input& input : record.inputs) kernel->schedule(input);
    turn->advance(std::move(kernel), record.now, told);
  });
}

// In another thread, unless the run is moved by hand.
void RunControl::begin(std::shared_ptr<Turn> turn, Work work) {
  if (turning_) turning_->cancelled = true;
  if (turn->branches || turn->remakes) sketch_.reset();
  turning_ = turn;
  turnedShare_ = 0;
  if (byHand_) {
    turn->sketched = [this](std::shared_ptr<const Trace> sketch) { showSketch(sketch); };
    work([](double) {});
    return install(std::move(turn));
  }
  QPointer<RunControl> self(this);
  turn->sketched = [self, made = std::weak_ptr(turn)](std::shared_ptr<const Trace> sketch) {
    QMetaObject::invokeMethod(
        qApp,
        [self, made, sketch] {
          const auto of = made.lock();
          if (self && of && self->turning_ == of) self->showSketch(sketch);
        },
        Qt::QueuedConnection);
  };
  workers().start([self, work = std::move(work), turn] {
    QElapsedTimer since;
    since.start();
    qint64 toldAt = 0;
    work([&](double share) {
      constexpr qint64 often = 100;  // milliseconds
      if (since.elapsed() - toldAt < often) return;
      toldAt = since.elapsed();
      QMetaObject::invokeMethod(
          qApp,
          [self, turn, share] {
            if (!self || self->turning_ != turn) return;
            self->turnedShare_ = share;
            Q_EMIT self->turnChanged();
          },
          Qt::QueuedConnection);
    });
    QMetaObject::invokeMethod(
        qApp,
        [self, turn] {
          if (self && self->turning_ == turn) self->install(turn);
        },
        Qt::QueuedConnection);
  });
  Q_EMIT turnChanged();
}

void RunControl::showSketch(std::shared_ptr<const Trace> sketch) {
  sketch_ = std::move(sketch);
  Q_EMIT turnChanged();
  Q_EMIT updated();
}

// Puts the past that was made anew in the place of the one before.
void RunControl::install(std::shared_ptr<Turn> turn) {
  turning_.reset();
  sketch_.reset();
  const Nanoseconds moment = shownAt();
  bool again = false;
  {
    const Held held(*this);
    if (!kernel_) return;
    again = kernel_->inputs().size() != turn->inputs;  // something was done meanwhile
    const bool givesUp = turn->branches || turn->remakes;
    if (again && givesUp) turns_ = false;  // in the present: one went back to it
  }
  if (again && (turn->branches || turn->remakes)) return Q_EMIT turnChanged();
  if (again) return this->turn(turn->project);
  {
    const Held held(*this);
    kernel_ = std::move(turn->kernel);
    turns_ = false;
    ghost_ = beforeTurn_;
    looking_ = looking_ && !turn->branches;
    if (turn->branches) paused_ = false;
    publish();
    // The moment that is looked at stays in sight: the present is not shown in between.
    if (looking_) lookBack(moment);
    const std::lock_guard lock(exchange_);
    wanted_.paused = paused_;
    wanted_.looking = looking_;
    wanted_.look = -1;
    if (looking_) {
      trace_ = nextTrace_;
      events_ = nextEvents_;
      fresh_ = false;
    } else {
      nextPast_.reset();
    }
  }
  fetch();
  Q_EMIT turnChanged();
  Q_EMIT stateChanged();
  Q_EMIT updated();
}

void RunControl::cancelTurn() {
  if (!turning_) return;
  turning_->cancelled = true;
  turning_.reset();
  sketch_.reset();
  {
    const Held held(*this);
    turns_ = false;
  }
  Q_EMIT turnChanged();
  Q_EMIT updated();
}

// Whatever moment is looked at, the trace goes up to the present.
std::shared_ptr<const Project> RunControl::turnedFrom() const {
  return trace_ && trace_->end() == turnedAt_ ? turnedFrom_ : nullptr;
}

void RunControl::endTurn() {
  if (turning_) turning_->cancelled = true;
  turning_.reset();
  sketch_.reset();
  turns_ = false;
  turnedFrom_.reset();
  beforeTurn_.reset();
  turnedAt_ = -1;
}

void RunControl::again() {
  RunRecord record;
  std::shared_ptr<const Project> project;
  {
    const Held held(*this);
    if (!kernel_) return;
    record = kernel_->record();
    project = std::make_shared<const Project>(asAtPowerOn(*kernel_->project(), *record.project));
  }
  doNext(doneByHand(record));
  powerOn(std::move(project), record.setup.chipPrograms);
}

}  // namespace ignavo::app
