#pragma once
#include <map>
#include <memory>
#include <string>
#include <vector>

#include "parts/island_course.h"
#include "run/motion.h"
#include "run/processor.h"
#include "run/stress.h"
#include "run/trace.h"

namespace ignavo {

// Something that comes from outside the board. `id` is a part or board.
struct Input {
  enum class What {
    press,
    release,
    setProp,
    reset,
    powerOff,
    powerOn,
    drivePin,  // take a pin over by hand: `value` true / false
    freePin,
    replace,  // put a new part in place of a broken one, or a new chip for a burnt pin (key)
    project,  // the project was edited while powered
  };
  Nanoseconds at = 0;
  What what = What::press;
  std::string id;
  std::string key;  // property or pin
  PropValue value = 0.0;
  std::shared_ptr<const Project> project;
};

// Something that happened and that the user should see on the time axis.
struct Happening {
  enum class What { press, release, reset, powerOn, powerOff, tripped, recovered, broke, changed };
  Nanoseconds at = 0;
  What what = What::press;
  std::string id;
  double figure = 0;  // amps when tripped or broken
};

struct LaneView {
  std::string id;
  std::string step;  // running or waiting step, empty for none
  Nanoseconds waitLeft = 0;
  bool over = false;
  std::int64_t missed = 0;  // how often its trigger came while it was running
};

// How everything stands at one moment, to be looked at from another thread.
struct Snapshot {
  IGNAVO_VALUE(Snapshot);

  Nanoseconds now = 0;
  bool powered = false;
  bool tripped = false;  // the supply was overloaded: no power until the load is gone
  double supplyAmps = 0;
  std::shared_ptr<const Project> project;
  CircuitState state;
  CircuitReading reading;
  std::vector<std::uint8_t> levels;        // per circuit pin, as the program reads it
  std::vector<double> light;               // per part, 0 … 1; the brightest of its lamps
  std::vector<std::vector<double>> lamps;  // per part with several lamps, each of them
  std::vector<Motion> motion;              // per part
  std::vector<LaneView> lanes;
  std::map<std::string, std::int64_t> stepCounts;
  std::map<std::string, bool> forks;  // step id of an if -> taken
};

// Simulated time. Never reads a clock: the caller says how far to go. The same
// project, seed and inputs give the same trace, whatever the steps of advance().
class Kernel {
 public:
  explicit Kernel(std::shared_ptr<const Project> project);
  ~Kernel();

  // Takes effect at `input.at`, which must not lie in the past.
  void schedule(Input input);
  // Takes effect right after now.
  void inputNow(Input input);
  void advance(Nanoseconds until);
  // One step of any lane further. Never more than a second at once: where the next step comes
  // later it goes that second towards it, where none comes by itself to the next other event,
  // and where there is none within the second it stays.
  struct Stepped {
    enum class What { step, event, oneSecond, nothing } what = What::nothing;
    Nanoseconds untilStep = never;  // from now; never: no step comes by itself
  };
  Stepped stepOnce();

  Nanoseconds now() const { return now_; }
  const Trace& trace() const { return trace_; }
  const std::vector<Happening>& happenings() const { return happenings_; }
  const std::vector<Input>& inputs() const { return log_; }
  std::shared_ptr<const Project> project() const { return project_; }
  Snapshot snapshot();
  bool powered() const { return powered_ && !tripped_; }
  bool isBroken(const std::string& part) const;
  // Direction of a pin from its use: "output" or "input".
  std::string direction(const std::string& board, const std::string& pin) const;
  // How many periods were jumped over exactly.
  std::int64_t periodsSkipped() const { return skipped_; }
  void allowSkipping(bool allow) { maySkip_ = allow; }

  // A kernel that starts like this one and gets the same inputs up to `at`.
  static std::unique_ptr<Kernel> replay(std::shared_ptr<const Project> first,
                                        const std::vector<Input>& inputs, Nanoseconds at);
  std::shared_ptr<const Project> firstProject() const { return first_; }

 private:
  struct BoardRun;
  struct Anchor;
  struct PartStress {
    int part;
    int lamp;  // of a part with several; -1: the part as a whole
    Burn burn;
    Stress stress;
    Nanoseconds newAt = 0;  // when a new part was put in: what was before did not touch it
  };
  enum class PinRole : std::uint8_t { input, output };
  struct PinRun {
    PinRole role = PinRole::input;
    bool pull = false;
    bool high = false;      // what the program set
    signed char hand = -1;  // by hand: -1 no, 0 low, 1 high
    std::uint8_t level = 0;
    int signal = -1;
    bool burnt = false;
    bool floating = false;  // as read last
    // Dimmed: high for `share` of each period of the board's timers, the next one for `nextShare`.
    int share = 0, nextShare = 0;
    Nanoseconds pulseDue = never;  // its next edge; never: it is not dimmed
    double amps = 0;               // it gives or takes
    Stress stress{5.0, 0};         // of its current
  };
  // The arm of a part that goes to the angle that pulses ask for.
  struct Arm {
    int part = -1;
    bool high = false;  // in a pulse, since `risenAt`
    Nanoseconds risenAt = 0;
    bool asked = false;                   // a pulse came ever
    double from = 0, to = 0;              // degrees
    Nanoseconds began = 0, ends = never;  // of the turn under way
    Nanoseconds due = never;              // when to begin or end drawing its current
    double degreesAt(Nanoseconds now) const;
  };
  struct Contact {
    Nanoseconds at;
    int part;
    bool closed;
  };

  void build(bool keepRunning);
  std::vector<Signal> wantedSignals() const;
  void startPrograms();
  Nanoseconds nextPulsePeriod() const;
  void apply(const Input& input);
  void pressPart(const std::string& id, bool down);
  void moveContact(int part, bool closed);
  void refreshPin(int pin);
  void seeLevel(int pin, bool high);
  void makeOutput(int pin, bool high);
  void dimPin(int pin, double percent);
  bool pulsePins();
  void watchFloating(int pin);
  void watchArm(int part, double signalVolts, double supplyVolts);
  bool moveArms();
  bool lookAtFloating();
  double driftOf(int pin) const;
  std::vector<Nanoseconds> pulseSignature() const;
  // Of the circuit's own islands; where supplies let go, of the joined one that it is part of.
  void refreshIsland(int island);
  void refreshAll();
  int activeIsland(int island) const {
    return circuit_->isJoined(island, joined_) ? joined_ : island;
  }
  bool regroup();
  std::map<int, PartMemory> partMemories();
  // Do the boards' supplies give anything?
  bool boardsFeed() const { return powered_ && !tripped_ && !circuit_->shorted(); }
  // Is there a voltage anywhere? Batteries feed on when a board's supply has given up.
  bool live() const { return boardsFeed() || (powered_ && circuit_->hasBatteries()); }
  // An island that remembers something, and the moment up to which it has come.
  struct CourseRun {
    std::unique_ptr<IslandCourse> course;
    Nanoseconds since = 0;
    Nanoseconds due = never;  // end of the step under way
  };
  void readIsland(int island);
  void startCourses();
  void catchUp(int island);
  void planCourse(int island);
  bool finishSteps();
  std::vector<double> courseSignature() const;
  void publish(int island, const IslandReading& here, const IslandReading& there);
  void publishPins(int island, const IslandReading& here, const IslandReading& there);
  void publishPart(int part, const PartReading& here, const PartReading& there);
  void takeLevel(int pin, const PinReading& reading);
  IslandReading readingNow(int island);
  PinReading pinNow(int pin);
  PinDrive driveOf(const PinRun& run) const;
  void watchSupply();
  Nanoseconds supplyGivesUp() const;
  void switchPower(bool on);
  void checkStress();
  void checkPins();
  void calm();
  void checkSupply();
  Nanoseconds nextInternal() const;
  bool noise(int pin) const;
  void laneCameRound(Nanoseconds limit);
  enum class Stop { atEnd, atStep, atEvent };
  bool run(Nanoseconds until, Stop stop);
  bool happen();
  Nanoseconds nextStep() const;
  double usbMostAmps() const;
  double loadIfPowered();

  std::shared_ptr<const Project> first_, project_;
  std::unique_ptr<Circuit> circuit_;
  Cow<std::vector<Cow<Part>>> builtParts_;  // the parts that state_ speaks of
  CircuitState state_;
  std::vector<PinRun> pins_;
  std::vector<std::unique_ptr<BoardRun>> boards_;
  std::vector<int> active_;         // the islands as they are solved now, joined ones among them
  int joined_ = -1;                 // the joined one; -1: there is none
  std::vector<CourseRun> courses_;  // per island; without a course where nothing remembers
  std::vector<int> remembering_;    // the islands with one
  std::vector<double> islandAmps_;
  // Signals of each part: its current, or one per lamp when it has several.
  std::vector<std::vector<int>> partSignals_;
  std::vector<PartStress> stress_;
  std::vector<Input> queue_;  // sorted by time, then order of arrival
  std::vector<Arm> arms_;
  std::vector<Contact> contacts_;  // bouncing contacts, sorted by time
  std::map<std::string, int> presses_;
  std::vector<Input> log_;
  std::vector<Happening> happenings_;
  Trace trace_;
  Nanoseconds now_ = 0;
  Nanoseconds timersBegan_ = 0;   // of the pins that dim
  bool dims_ = false;             // some step dims, or a pin is dimmed
  std::vector<int> watched_;      // pins that start lanes
  Nanoseconds floatDue_ = never;  // when to look again at those that float
  Nanoseconds overloadedSince_ = never;
  bool powered_ = true, tripped_ = false;
  bool noiseRead_ = false, maySkip_ = true;
  std::int64_t skipped_ = 0;
  std::unique_ptr<Anchor> anchor_;
  std::int64_t tops_ = 0;
};

}  // namespace ignavo
