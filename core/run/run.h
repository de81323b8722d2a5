#pragma once
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "parts/island_transient.h"
#include "run/input.h"
#include "run/model.h"
#include "run/state.h"
#include "run/trace.h"

namespace ignavo {

// A run as its devices see it: how everything stands, what follows from the project, and what they
// may do to each other and to the record of it. Time stands still in here; whoever lets it go on
// (the scheduler, the kernel) sets `state.now`.
class Run {
 public:
  // From power-on, all at rest.
  explicit Run(std::shared_ptr<const RunModel> model);
  // As it stood once.
  Run(std::shared_ptr<const RunModel> model, RunState state, Trace trace);
  // Goes on with an edited project: what can be kept of how everything stands is kept.
  void change(std::shared_ptr<const RunModel> next);

  std::shared_ptr<const RunModel> model;
  RunState state;
  Trace trace;
  std::vector<Event> events;
  std::vector<SaidLine> said;  // by time

  Nanoseconds now() const { return state.now; }
  const Project& project() const { return *model->project; }
  const PartKind* kindOf(int part) const {
    return model->parts[static_cast<std::size_t>(part)].kind;
  }
  void tell(Event::What what, const std::string& id = {}, double figure = 0);

  // Has a board's chip enough to run on?
  bool fed(int board) const { return state.boards[static_cast<std::size_t>(board)].fed; }
  // Does its cable feed it?
  bool plugged(int board) const;
  // Between a board's own supply and its ground, as it stands now.
  double boardVolts(int board);
  double minVolts(int board) const {
    return model->boards[static_cast<std::size_t>(board)].minVolts;
  }
  // Is there a voltage anywhere? Batteries feed on whatever the boards do.
  bool live() const { return state.live; }
  // The programs of the boards begin, their pins are low. All boards, or one.
  void startPrograms(int board = -1);
  void switchPower(bool on);
  void switchBoard(int board, bool on);
  // A board's cable gives up, or comes back.
  void trip(int board);
  void recover();
  // A board without its cable has too little to run on, or enough again.
  void starve(int board);
  void revive(int board);
  bool isOn(int board) const;  // switched on, and its supply has not given up

  // Parts. `down`, `closed`: pressed, its contacts joined.
  void press(int part, bool down);
  bool isOverlooked(int part) const;
  void moveContact(int part, bool closed);
  void breakPart(int part);
  void burnPin(int pin);
  void replace(int part, int pin);

  // Pins, by their index in Circuit::pins().
  bool makeOutput(int pin, bool high);  // false: it stood so already
  // By hand: high for so many percent of the time, 0 … 100, whatever a program does to it, until it
  // is let go.
  void hold(int pin, double percent);
  void letGo(int pin);
  std::optional<double> heldPercent(int pin) const;  // nothing: nobody holds it
  void flip(int pin);
  void drive(int pin, PinDrive drive);  // as machine code has it
  void dim(int pin, double percent);
  // As if it had begun with the turn; false: it does so already.
  bool sound(int pin, float hertz, Nanoseconds turn);
  bool turnServo(int pin, float degrees, Nanoseconds turn);
  // To the computer; false while an earlier line is on its way into the buffer.
  int say(int board, SaidLine line, PinAccess::SayingTime time);
  void hear(int board, SaidLine line);  // the same, once all of it came over the line
  void keyChanged(int board, const std::string& key, bool down);  // -1: of all boards
  void refreshPin(int pin);
  bool read(int pin);  // as a program reads it now
  double readPercent(int pin);
  // Likewise for whoever only looks: nothing follows from it, whenever it is asked.
  double percentSeen(int pin);
  // as it measures
  void seeLevel(int pin, bool high);
  bool noise(int pin) const;  // of a pin that nothing holds

  // The circuit as it stands, solved where it changed; what follows is written down.
  void refreshAll();
  void refreshIsland(int island);
  void refreshPart(int part);  // it was pressed, broken, replaced
  void publish(int island, const IslandReading& here, const IslandReading& there);
  // In so many pieces what the trace records of an island is to be written down on its way.
  int looksInto(int island, const IslandReading& here, const IslandReading& there,
                Nanoseconds length) const;
  IslandReading readingOf(int island);
  // What a part shows in a reading of its island.
  PartReading readingOfPart(int part);
  double boardAmps(int board) const;
  // That its cable may deliver.
  double mostAmps(int board) const {
    return model->boards[static_cast<std::size_t>(board)].mostAmps;
  }

  // What parts remember, kept across a change of the project or of what is solved together.
  std::map<int, PartMemory> memories();
  void recall(const std::map<int, PartMemory>& memories);
  void startIslands();

  // The boards' guards look again when all that is due now has been done.
  void watchSuppliesSoon();

  int acting = -1;  // the board whose processor does something just now
  // As far as a device may go by itself now, set by the scheduler.
  Nanoseconds until = never;
  bool stepwise = false;          // and no further than to the end of a program's step
  bool stopsAtLoopHeads = false;  // nor beyond a loop's head
  // Set when something was read that no period has: noise.
  bool irregular = false;
  bool sawMoving = false;  // set where anything was read that was on its way; cleared by who asks
  // Places of devices that were read while they were on their way; cleared by the scheduler.
  std::vector<int> readMoving;

 private:
  // What follows from the reading of an island, in the order in which it is done.
  struct Outcome {
    std::uint64_t code = 0;     // of the state that it belongs to
    std::vector<double> drawn;  // amps out of each board's supplies
    struct Pin {
      int pin;
      signed char level;  // 0, 1; −1: as it was
      bool floating;
      double amps;
    };
    struct Limit {
      int part;
      std::size_t limit;
      double value;
    };
    struct Leads {
      int arm;
      double signalVolts, supplyVolts;
    };
    struct Value {
      int signal;
      float value;
    };
    std::vector<Pin> pins;
    std::vector<Limit> limits;
    std::vector<Leads> arms;
    std::vector<Value> values;
    bool cool = false;  // nothing is above what it bears for ever
  };

  struct Kept;  // of the run before the project was edited
  Kept keep();
  void makeDevices(const Kept& kept);
  void listHeat();
  PinDrive driveOf(int pin) const;
  // Does its level change without a step: is it dimmed, does it sound, are there pulses on it?
  bool wavers(int pin) const;
  template <typename Change>
  bool train(int pin, Change&& change);
  void release(int pin);  // only steps change it from now on
  int activeIsland(int island) const;
  bool regroup();
  void readIsland(int island);
  void sketchIsland(int island);
  std::optional<std::uint64_t> codeOf(int island);
  void follow(int island, const IslandReading& here, const IslandReading& there,
              Outcome& out) const;
  void followPins(int island, const IslandReading& here, const IslandReading& there,
                  Outcome& out) const;
  void followPart(int part, const PartReading& here, const PartReading& there, Outcome& out) const;
  void followProbes(int island, const IslandReading& here, const IslandReading& there,
                    Outcome& out) const;
  void probeBesideIslands();
  void happen(int island, const Outcome& outcome);
  bool isCold(int island) const;
  // The level that a pin takes; −1: the one that it has.
  signed char levelOf(int pin, const PinReading& reading) const;
  bool isDriven(int pin) const;  // high or low, by whomever
  signed char drivenLevel(int pin, const PinReading& reading, bool settled) const;
  void settlePower();
  void resetBoard(int board);
  void recordVariables(int board);
  void driveAll();
  void draw(const IslandReading::Supply& supply, double amps,
            const std::vector<std::uint8_t>& unplugged, std::vector<double>& drawn) const;
  PinReading pinNow(int pin);
  double drift(int pin) const;
  std::vector<std::uint8_t> withoutCable(int given = -1) const;
  double loadIfPowered(int board);
  void watchSupplies();
  void resetStress();

  // Of islands in which nothing goes on: what followed from the states that they had last. It
  // decides nothing, it is only quicker.
  struct Known {
    static constexpr std::size_t pinBits = 3, partBits = 4;
    bool fits = false;  // how it stands fits in 64 bits
    std::vector<Outcome> outcomes;
    std::size_t oldest = 0;
    std::optional<std::uint64_t> partsCode;  // how its parts stand
    std::optional<std::uint64_t> code;       // and its pins
    std::vector<int> heat;                   // places of what could be hot
    // Its pins as they were read last, and how all stood then.
    std::optional<std::uint64_t> readCode;
    std::vector<PinReading> pins;
  };
  std::vector<Known> known_;    // per island of the circuit
  std::vector<int> pinShifts_;  // where a pin stands in the code of its island
  Outcome scratch_;
};

}  // namespace ignavo
