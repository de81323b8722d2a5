#include "run/devices/board_processor.h"

#include <algorithm>
#include <cassert>
#include <cmath>

#include "project/indexing.h"
#include "run/devices/contacts.h"
#include "run/devices/pulse_trains.h"
#include "run/devices/serial_line.h"
#include "run/run.h"

namespace ignavo {

namespace {

constexpr int mostAtOnce = 64;  // then the scheduler has its say

// The pins of a board as its program counts them.
class BoardPins final : public PinAccess {
 public:
  BoardPins(Run& run, int board)
      : run_(run), board_(board), places_(at(run.model->boards, board).circuitPin) {
    wantsStores = !at(run.model->boards, board).storeSignals.empty();
    wantsSteps = !at(run.model->boards, board).laneSignals.empty();
    run.sawMoving = false;
    if (run.model->boards.size() > 1 && !run.stepwise) mayLookAheadUntil = run.until;
  }

  // It only looked, at what stands still.
  bool quiet() const { return !stirred_ && !run_.sawMoving && !run_.irregular; }

  bool readPin(int pin, Nanoseconds when) override {
    const int p = arrive(pin, when);
    if (p < 0) return false;
    const bool was = at(run_.state.pins, p).level, is = run_.read(p);
    return stir(was != is), is;
  }
  int readLevel(int pin, Nanoseconds when) override {
    const int p = arrive(pin, when);
    return p < 0 ? 0 : static_cast<int>(std::lround(run_.readPercent(p) * stages / 100));
  }
  bool setPin(int pin, bool high, Nanoseconds when) override {
    const int p = arrive(pin, when);
    return stir(mayWrite(p) && run_.makeOutput(p, high));
  }
  void flipPin(int pin, Nanoseconds when) override {
    if (const int p = arrive(pin, when); stir(mayWrite(p))) run_.flip(p);
  }
  void setLevel(int pin, double percent, Nanoseconds when) override {
    if (const int p = arrive(pin, when); stir(mayWrite(p))) run_.dim(p, percent);
  }
  bool sound(int pin, float hertz, Nanoseconds turn, Nanoseconds when) override {
    const int p = arrive(pin, when);
    return stir(mayWrite(p) && run_.sound(p, hertz, turn));
  }
  void silence(int pin, Nanoseconds when) override {
    if (const int p = arrive(pin, when); mayWrite(p)) stir(run_.makeOutput(p, false));
  }
  bool turnServo(int pin, float degrees, Nanoseconds turn, Nanoseconds when) override {
    const int p = arrive(pin, when);
    return stir(mayWrite(p) && run_.turnServo(p, degrees, turn));
  }
  std::int64_t edges(Nanoseconds from, Nanoseconds until) override {
    const int place = at(run_.state.places.pulses, board_);
    const std::int64_t count = run_.state.devices.as<PulseTrains>(place).edges(from, until);
    return stir(count > 0), count;
  }
  int toneLoad(int microsecondsOfEdge) override {
    const int place = at(run_.state.places.pulses, board_);
    return run_.state.devices.as<PulseTrains>(place).load(microsecondsOfEdge);
  }
  std::int64_t letters(Nanoseconds from, Nanoseconds until) override {
    const int place = at(run_.state.places.lines, board_);
    const std::int64_t count = run_.state.devices.as<SerialLine>(place).letters(from, until);
    return stir(count > 0), count;
  }
  int say(const SaidLine& line, SayingTime time, Nanoseconds when) override {
    stir(true);
    run_.state.now = when;
    return run_.say(board_, line, time);
  }
  bool saying(Nanoseconds turn, Nanoseconds when) override {
    run_.state.now = when;
    const int place = at(run_.state.places.lines, board_);
    return stir(run_.state.devices.as<SerialLine>(place).waits(turn));
  }
  int lettersWaiting(Nanoseconds turn) override {
    const int place = at(run_.state.places.lines, board_);
    const int count = run_.state.devices.as<SerialLine>(place).lettersWaiting(turn);
    return stir(count > 0), count;
  }
  void drive(int pin, PinDrive drive, Nanoseconds when) override {
    if (const int p = arrive(pin, when); stir(p >= 0)) run_.drive(p, drive);
  }
  void heard(const SaidLine& line, Nanoseconds when) override {
    stir(true);
    run_.state.now = std::max(run_.state.now, when);
    run_.hear(board_, line);
  }
  bool seenPin(int pin) override {
    const int p = at(places_, pin);
    return p >= 0 && at(run_.state.pins, p).level;
  }
  void stored(int cell, Cell value, Nanoseconds when) override {
    const RunModel::BoardProgram& row = at(run_.model->boards, board_);
    const int signal = at(row.storeSignals, cell);
    if (!stir(signal >= 0)) return;
    run_.trace.record(signal, std::max(run_.state.now, when),
                      static_cast<float>(number(value, at(row.compiled->memory, cell).type)));
  }
  void stepped(int lane, int step, Nanoseconds when) override {
    const RunModel::BoardProgram::LaneSignal& row =
        at(at(run_.model->boards, board_).laneSignals, lane);
    if (!stir(row.signal >= 0)) return;
    run_.trace.record(row.signal, std::max(run_.state.now, when),
                      step < 0 ? 0 : static_cast<float>(step - row.first + 1));
  }
  bool missed(const std::string& lane, Nanoseconds ceased, Nanoseconds when) override {
    run_.state.now = std::max(run_.state.now, when);
    stir(true);
    if (run_.state.devices.as<Contacts>(run_.state.places.contacts).bounced(ceased, when))
      return true;
    run_.tell(Event::What::missed, lane);
    return false;
  }
  void waits(bool begins, Nanoseconds when) override {
    const int signal = at(run_.model->boards, board_).waits;
    if (stir(signal >= 0))
      run_.trace.record(signal, std::max(run_.state.now, when), begins ? 1 : 0);
  }

 private:
  int arrive(int pin, Nanoseconds when) {
    run_.state.now = std::max(run_.state.now, when);
    return at(places_, pin);
  }
  bool stir(bool does) {
    stirred_ = stirred_ || does;
    return does;
  }
  // A pin that the serial line owns is its own.
  bool mayWrite(int p) const { return p >= 0 && !at(run_.model->pins, p).ofLine; }
  Run& run_;
  int board_;
  const std::vector<int>& places_;
  bool stirred_ = false;
};

// The same for whoever looks: pins stand as the program saw them last, and nothing follows from
// being asked. Nobody writes.
class SeenPins final : public PinAccess {
 public:
  SeenPins(Run& run, int board) : run_(run), places_(at(run.model->boards, board).circuitPin) {}

  bool readPin(int pin, Nanoseconds) override {
    const int p = at(places_, pin);
    return p >= 0 && at(run_.state.pins, p).level;
  }
  int readLevel(int pin, Nanoseconds) override {
    const int p = at(places_, pin);
    return p < 0 ? 0 : static_cast<int>(std::lround(run_.percentSeen(p) * stages / 100));
  }
  bool setPin(int, bool, Nanoseconds) override { return never(); }
  void flipPin(int, Nanoseconds) override { never(); }
  void setLevel(int, double, Nanoseconds) override { never(); }
  bool sound(int, float, Nanoseconds, Nanoseconds) override { return never(); }
  void silence(int, Nanoseconds) override { never(); }
  bool turnServo(int, float, Nanoseconds, Nanoseconds) override { return never(); }
  int say(const SaidLine&, SayingTime, Nanoseconds) override { return never() ? 0 : refused; }
  bool saying(Nanoseconds, Nanoseconds) override { return never(); }

 private:
  static bool never() {
    assert(!"whoever looks writes nothing");
    return false;
  }
  Run& run_;
  const std::vector<int>& places_;
};

}  // namespace

void BoardProcessor::show(Run& run, bool running, ProcessorView& out) const {
  SeenPins pins(run, board_);
  processor_->show(pins, run.now(), running, out);
}

Device::Done BoardProcessor::act(Run& run) {
  BoardPins pins(run, board_);
  const int place = at(run.state.places.boards, board_);
  Processor::Executed done;
  run.trace.programsBegin();
  run.acting = board_;
  // It goes on by itself until something else is due.
  Nanoseconds limit = 0;
  std::uint64_t changes = 0;
  for (int k = 0; k < mostAtOnce; ++k) {
    if (k == 0 || changes != run.state.devices.changes()) {
      changes = run.state.devices.changes();
      limit = std::min(run.until, run.state.devices.dueBeside(place) - 1);
      if (k > 0 && processor_->nextTime() > limit) break;  // what it did makes another due first
    }
    done = processor_->execute(pins, limit);
    run.state.now = std::max(run.state.now, done.at);
    if ((done.atLoopHead && run.stopsAtLoopHeads) || (done.step && run.stepwise) ||
        processor_->nextTime() > limit)
      break;
  }
  run.acting = -1;
  return {.event = false, .step = done.step, .atLoopHead = done.atLoopHead, .quiet = pins.quiet()};
}

}  // namespace ignavo
