#pragma once
#include <QObject>
#include <QString>
#include <QTimer>
#include <atomic>
#include <condition_variable>
#include <functional>
#include <memory>
#include <mutex>
#include <optional>
#include <thread>
#include <vector>

#include "document/clock.h"
#include "run/kernel.h"

namespace ignavo::app {

// Power, reset, pause and speed: runs the kernel in a thread of its own against
// the clock and hands out a consistent picture 60 times a second. In hand
// mode (tests, pictures) nothing moves but by advanceBy().
//
// The kernel is the worker's. What is done by hand, looked at or stepped is left with it and done
// within its frame; what it published last is taken up without waiting for it. Only what replaces
// the run or asks for all of it takes the kernel itself, and the worker, which runs in slices of a
// few milliseconds, lets go of it behind the slice, the step or the look back that it is at.
class RunControl : public QObject {
  Q_OBJECT
 public:
  explicit RunControl(Clock& clock, QObject* parent = nullptr);
  ~RunControl() override;

  void setByHand(bool byHand);
  void advanceBy(double seconds);

  // `code`: of boards that run it in place of their steps.
  void powerOn(std::shared_ptr<const Project> project, ChipPrograms code = {});
  void powerOff();
  void reset();
  void setPaused(bool paused);
  void setSpeed(double speed);
  void stepOnce();
  void give(Input in);  // takes effect right now
  void press(const QString& part, bool down);
  void key(const QString& name, bool down);  // of the computer
  // A pin by hand: high for so many percent of the time, until it is let go.
  void hold(const QString& board, const QString& pin, double percent);
  void letGo(const QString& board, const QString& pin);
  // As it is shown; nothing: nobody holds it.
  std::optional<double> heldPercent(const std::string& board, const std::string& pin) const;
  void replacePart(const QString& part);
  void replacePin(const QString& board, const QString& pin);
  // The project was edited while powered: from now on.
  void adopt(std::shared_ptr<const Project> project);
  // Or from power-on on: what was done by hand is done again with it, up to where the run is, and
  // what came of it before stands behind as the ghost. In another thread, at full speed; a new
  // errand takes the place of one that is under way. The present waits meanwhile.
  void turn(std::shared_ptr<const Project> project);
  // Runs on from the moment that is looked at, with that project from there on; what came after it
  // stands behind as the ghost.
  void branch(std::shared_ptr<const Project> project);
  bool isTurning() const { return turning_ != nullptr; }
  double turned() const { return turnedShare_; }  // of what is under way, 0 … 1
  // trace() already has what the pins do in it; the rest is on its way.
  bool isSketched() const { return sketch_ != nullptr; }
  void cancelTurn();
  // What ran before it was turned; null: it was not, or time went on since.
  std::shared_ptr<const Project> turnedFrom() const;
  // What runs at present, or is about to: what was given last, whatever moment is looked at; null
  // while off.
  std::shared_ptr<const Project> runs() const { return on_ ? runs_ : nullptr; }
  // Power-on and all that was done by hand once more, as time goes.
  void again();
  // What else is recorded: volts at a socket, amps of a part. By steps from power-on on, for the
  // past is made once more; of machine code from now on; and after each power-on.
  void probe(const Signal& signal);
  void unprobe(const Signal& signal);
  const std::vector<Signal>& probes() const { return probes_; }
  // What will be done by hand after the next power-on.
  void doNext(std::vector<Input> inputs) { next_ = std::move(inputs); }

  // Shows what has become of it since; once a frame by itself.
  void fetch();

  // Looks at an earlier moment; the present waits meanwhile.
  void lookAt(Nanoseconds moment);
  void lookAtNow();

  bool isOn() const { return on_; }
  bool isPaused() const { return paused_; }
  double speed() const { return speed_; }
  // Speed that was really reached lately; below speed() when the machine cannot keep up.
  double reachedSpeed() const;
  bool isLookingBack() const { return looking_; }
  // Does a board run its own code?
  bool runsCode() const { return runsCode_; }
  // What the run came to so far; while off, what the last one came to if boards ran their own code
  // in it, else null. What is compared with it can be its ghost.
  std::shared_ptr<const RunRecord> record();
  void setGhost(std::shared_ptr<const Trace> ghost);

  // What is to be shown: the present, or the moment looked at. Null while off.
  std::shared_ptr<const Snapshot> shown() const { return shown_; }
  std::shared_ptr<const Trace> trace() const { return sketch_ ? sketch_ : trace_; }
  // The run before this one, for comparison; may be null.
  std::shared_ptr<const Trace> ghost() const { return sketch_ ? beforeTurn_ : ghost_; }
  Nanoseconds shownAt() const { return shown_ ? shown_->now : 0; }
  const std::vector<Event>& events() const { return events_; }
  // What the boards had said by then, by time; of very much of it the last.
  const std::vector<SaidLine>& said() const { return said_; }
  bool isHeld(const QString& part) const;

 Q_SIGNALS:
  void updated();       // shown() or trace() is new
  void stateChanged();  // on, paused, speed
  void turnChanged();   // begun, on its way, done, or over
  // One step was asked for, and none is due within a second: seconds until the next one,
  // below 0 when none comes by itself.
  void nothingDue(double seconds);

 private:
  // The kernel for the interface, with all done that was left with the worker.
  class Held;
  void work();
  // What is left with the worker: done by hand since, a moment to look at (-1: none), steps; and
  // how it runs.
  struct Wanted {
    std::vector<Input> given;
    Nanoseconds look = -1;
    int steps = 0;
    bool paused = false, looking = false;
    double speed = 1;
  };
  Wanted takeWanted();
  void runOn(Nanoseconds length, double until, double speed);
  void doGiven();
  void letOthers(std::unique_lock<std::mutex>& lock);
  struct Turn;
  using Work = std::function<void(const std::function<void(double)>& told)>;
  void remake();
  void begin(std::shared_ptr<Turn> turn, Work work);
  void install(std::shared_ptr<Turn> turn);
  void showSketch(std::shared_ptr<const Trace> sketch);
  void endTurn();  // what is under way, and that anything was turned; with the kernel held
  void publish();  // likewise
  void lookBack(Nanoseconds moment);                          // likewise
  std::vector<SaidLine> saidUntil(Nanoseconds moment) const;  // likewise

  Clock& clock_;
  // The kernel, and how it is run.
  std::mutex mutex_;
  std::atomic<int> waiting_ = 0;  // who asks for it
  std::condition_variable wake_;
  std::thread worker_;
  bool quit_ = false;
  bool byHand_ = false;
  bool turns_ = false;  // the present waits for it
  std::unique_ptr<Kernel> kernel_;
  bool unseen_ = false;  // something was done by hand, and is not yet to be seen
  double pace_ = 1;      // simulated seconds that it makes in one of work, of late

  // What both leave for each other; held for moments only.
  mutable std::mutex exchange_;
  Wanted wanted_;
  std::optional<Kernel::Stepped> stepped_;
  std::shared_ptr<const Snapshot> nextShown_, nextPast_;
  std::shared_ptr<const Trace> nextTrace_;
  std::vector<Event> nextEvents_;
  std::vector<SaidLine> nextSaid_, pastSaid_;
  bool fresh_ = false;
  double reached_ = 1;

  QTimer frame_;
  bool on_ = false, paused_ = false, looking_ = false, runsCode_ = false;
  double speed_ = 1;
  std::shared_ptr<const Snapshot> shown_;
  std::shared_ptr<const Trace> trace_, ghost_;
  std::shared_ptr<const Trace> sketch_;     // of the past that is being made anew
  std::shared_ptr<const RunRecord> ended_;  // of code, at power-off
  std::shared_ptr<Turn> turning_;
  double turnedShare_ = 0;
  std::shared_ptr<const Project> runs_, turnedFrom_;
  std::shared_ptr<const Trace> beforeTurn_;
  std::vector<Input> next_;
  std::vector<Signal> probes_;
  Nanoseconds turnedAt_ = -1;  // the present when it was turned last
  std::vector<Event> events_;
  std::vector<SaidLine> said_;
};

}  // namespace ignavo::app
