#pragma once
#include <cstdint>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "avr/machine.h"
#include "parts/circuit.h"
#include "program/values.h"
#include "run/time.h"
#include "text/message.h"

namespace ignavo {

// Something that a program said to the computer that its board hangs on.
struct SaidLine {
  Nanoseconds at = 0;
  std::string board, step;  // ids
  bool note = false;
  int number = 1;     // of the step among those that say something
  float seconds = 0;  // that a note stays; 0: until the next
  std::string text;
  bool operator==(const SaidLine&) const = default;
};

// What a processor needs of the world around it. Pins are counted as the processor's program
// counts them; moments never go back.
class PinAccess {
 public:
  virtual ~PinAccess() = default;
  virtual bool readPin(int pin, Nanoseconds at) = 0;
  // Share of the supply at the pin, 0 to `stages` of it.
  virtual int readLevel(int pin, Nanoseconds at) = 0;
  static constexpr int stages = 1023;
  // False: it stood so already, and nothing follows from it.
  virtual bool setPin(int pin, bool high, Nanoseconds at) = 0;
  virtual void flipPin(int pin, Nanoseconds at) = 0;
  virtual void setLevel(int pin, double percent, Nanoseconds at) = 0;
  // From now on, as if it had begun with the turn. False: it does so already.
  virtual bool sound(int pin, float hertz, Nanoseconds turn, Nanoseconds at) = 0;
  virtual void silence(int pin, Nanoseconds at) = 0;
  virtual bool turnServo(int pin, float degrees, Nanoseconds turn, Nanoseconds at) = 0;
  // Edges of tones and pulses that a timer makes after `from`, up to `until`.
  virtual std::int64_t edges(Nanoseconds /*from*/, Nanoseconds /*until*/) { return 0; }
  // What those of tones take of a turn, in microseconds, where an edge takes so many.
  virtual int toneLoad(int /*microsecondsOfEdge*/) { return 0; }
  // Letters that the line to the computer takes up after `from`, up to `until`, beside the first.
  virtual std::int64_t letters(Nanoseconds /*from*/, Nanoseconds /*until*/) { return 0; }
  // Over the line to the computer: how many letters its buffer had room for at once; `refused`
  // where at the beginning of the turn an earlier one was not all in it. What room there is is
  // counted as turns are: from the end of the work that was counted up to it.
  // It is put together until `ready`; then its first letter can go out.
  static constexpr int refused = -1;
  struct SayingTime {
    Nanoseconds turn, counted, ready;
  };
  virtual int say(const SaidLine& line, SayingTime time, Nanoseconds at) = 0;
  virtual bool saying(Nanoseconds turn, Nanoseconds at) = 0;  // is it not yet?
  // So many letters of it have no room yet at the beginning of that turn.
  virtual int lettersWaiting(Nanoseconds /*turn*/) { return 0; }

  // What only machine code does. A pin with all that a chip can do to it; a line that came over the
  // serial line whole; the level of a pin as it was seen last.
  virtual void drive(int /*pin*/, PinDrive /*drive*/, Nanoseconds /*at*/) {}
  virtual void heard(const SaidLine& /*line*/, Nanoseconds /*at*/) {}
  virtual bool seenPin(int /*pin*/) { return false; }

  // What starts a lane came in vain; before that it ended at `ceased`. True: that was contacts that
  // bounce, and no press of its own.
  virtual bool missed(const std::string& /*lane*/, Nanoseconds /*ceased*/, Nanoseconds /*at*/) {
    return false;
  }

  // A cell of a program's memory was changed; told only where somebody wants to know.
  bool wantsStores = false;
  virtual void stored(int /*cell*/, Cell /*value*/, Nanoseconds /*at*/) {}

  // A lane (its place in the program) comes to a step (likewise; -1: to its end); told only where
  // somebody wants to know.
  bool wantsSteps = false;
  virtual void stepped(int /*lane*/, int /*step*/, Nanoseconds /*at*/) {}

  // Where others run beside it: how far it may work out what it does while it keeps to itself.
  Nanoseconds mayLookAheadUntil = -1;

  // A program that runs freely begins to wait, or goes on.
  virtual void waits(bool /*begins*/, Nanoseconds /*at*/) {}
};

// A lane of a program as it is looked at.
struct LaneView {
  std::string id;
  std::string step;  // running or waiting step, empty for none
  Nanoseconds waitLeft = 0;
  bool over = false;
  std::int64_t missed = 0;   // how often its trigger came while it was running
  std::int64_t bounced = 0;  // of these: only by contacts that bounced
  // Of a lane that keeps something: that; of one that a test starts: the test.
  struct Value {
    ValueType type = ValueType::truth;
    double number = 0;
  };
  std::optional<Value> value;
  // And what stands along its thread (CompiledSignal::parts), from the left.
  struct Part {
    std::string path;
    Value value;
    std::optional<Nanoseconds> left;  // that something goes on of which its time is measured
  };
  std::vector<Part> parts;
};

// What a variable or an item of a list holds.
struct VariableView {
  std::string board;  // id
  std::string name;
  int item = 0;  // of a list, from 1
  ValueType type = ValueType::whole;
  double number = 0;  // of a truth: 0 or 1
  std::string text;
  bool operator==(const VariableView&) const = default;
};

// Which item of a list was asked for last, from 1; where there is none such, as it was asked.
struct ListRead {
  std::string board;  // id
  std::string list;
  int position = 0;
  bool operator==(const ListRead&) const = default;
};

// Something that a program did that its learner should know; it went on.
struct ProgramFault {
  NumberFault what = NumberFault::wrapped;
  Nanoseconds at = 0;
  std::string step;   // id
  std::string board;  // id
  avr::Fault chip;    // what machine code did that a chip cannot do; then it stands
  bool operator==(const ProgramFault&) const = default;
};
Message sentence(const ProgramFault& fault);

// What a processor can show of itself.
struct ProcessorView {
  std::vector<ProgramFault> faults;     // the first of each kind of each step, in order of time
  std::vector<VariableView> variables;  // as they were declared, lists after variables
  std::vector<ListRead> reads;
  std::vector<LaneView> lanes;
  std::map<std::string, std::int64_t> stepCounts;  // how often each step was done
  std::map<std::string, Nanoseconds> lastRuns;     // when it was done last; of those that were
  std::map<std::string, bool> forks;               // step id of an if -> taken
};

// A board's processor with a program on it. Owns no clock: the caller asks when the next thing
// will be done, and has it done. A value; copies go on independently.
class Processor {
 public:
  virtual ~Processor() = default;
  virtual std::unique_ptr<Processor> copy() const = 0;

  // Power comes on, or the reset button was pressed.
  virtual void start(Nanoseconds at) = 0;
  // Goes on where `before`, with an earlier version of the program, stands now, as far as what it
  // was doing is still there; else it begins anew.
  virtual void adopt(const Processor& before, Nanoseconds now) = 0;

  // When the next thing will be done; `never` when all is over.
  virtual Nanoseconds nextTime() const = 0;
  // Does that, and what follows from it alone and is done by `limit`. The moment of the last of it
  // is `at`.
  struct Executed {
    Nanoseconds at = 0;
    bool step = false;        // a step is complete
    bool atLoopHead = false;  // at the beginning of a loop that never ends
  };
  virtual Executed execute(PinAccess& pins, Nanoseconds limit) = 0;

  // What it worked out ahead counts no longer, but for what it did by then; before something
  // happens to it that is not its own doing.
  virtual void forgetBeyond(Nanoseconds /*done*/) {}
  // A pin that it watches rose or fell; by what another board does now, just behind now.
  virtual void pinChanged(int pin, bool high, Nanoseconds now) = 0;

  // A key of the computer went down or up.
  virtual void keyChanged(const std::string& /*key*/, bool /*down*/, Nanoseconds /*now*/) {}

  // Is everything that decides how it goes on as in `then`, apart from `later` in time?
  virtual bool sameAs(const Processor& then, Nanoseconds later) const = 0;
  // As of a device (device.h): the first moment ahead that does not move along with a jump.
  virtual Nanoseconds standsUntil(const Processor& /*then*/) const { return never; }
  // What it did since `then` it did `times` times more, each of `later`.
  virtual void jump(const Processor& then, Nanoseconds later, std::int64_t times) = 0;

  // Has it looked at a pin, as it counts them, since that moment? Nothing: it never does, or
  // nobody knows.
  virtual std::optional<bool> lookedAt(int /*pin*/, Nanoseconds /*since*/) const {
    return std::nullopt;
  }

  // `running`: has it power, so that it is in the middle of something? Pins are only asked.
  virtual void show(PinAccess& pins, Nanoseconds now, bool running, ProcessorView& out) const = 0;
};

}  // namespace ignavo
