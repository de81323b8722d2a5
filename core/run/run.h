#pragma once
#include <memory>
#include <string>
#include <vector>

#include "parts/island_course.h"
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

  Nanoseconds now() const { return state.now; }
  const Project& project() const { return *model->project; }
  const PartKind* kindOf(int part) const {
    return model->parts[static_cast<std::size_t>(part)].kind;
  }
  void tell(Event::What what, const std::string& id = {}, double figure = 0);

  // Does a board's supply give anything?
  bool feeds(int board) const;
  // Is there a voltage anywhere? Batteries feed on whatever the boards do.
  bool live() const;
  // The programs of the boards begin, their pins are low. All boards, or one.
  void startPrograms(int board = -1);
  void switchPower(bool on);
  void switchBoard(int board, bool on);
  // A board's supply gives up, or comes back.
  void trip(int board);
  void recover();
  bool isOn(int board) const;  // switched on, and its supply has not given up

  // Parts. `down`, `closed`: pressed, its contacts joined.
  void press(int part, bool down);
  void moveContact(int part, bool closed);
  void breakPart(int part);
  void burnPin(int pin);
  void replace(int part, int pin);

  // Pins, by their index in Circuit::pins().
  void makeOutput(int pin, bool high);
  void flip(int pin);
  void dim(int pin, double percent);
  void refreshPin(int pin);
  bool read(int pin);           // as a program reads it now
  double readPercent(int pin);  // as it measures
  void seeLevel(int pin, bool high);
  bool noise(int pin) const;  // of a pin that nothing holds

  // The circuit as it stands, solved where it changed; what follows is written down.
  void refreshAll();
  void refreshIsland(int island);
  void publish(int island, const IslandReading& here, const IslandReading& there);
  IslandReading readingOf(int island);
  // What a part shows in a reading of its island.
  PartReading readingOfPart(int part);
  double boardAmps(int board) const;
  double mostAmps(int board) const;  // that its cable may deliver

  // What parts remember, kept across a change of the project or of what is solved together.
  std::map<int, PartMemory> memories();
  void recall(const std::map<int, PartMemory>& memories);
  void startIslands();

  // The boards' guards look again when all that is due now has been done.
  void watchSuppliesSoon();

  // As far as a device may go by itself now, set by the scheduler.
  Nanoseconds until = never;
  // Set when something was read that no period has: noise.
  bool irregular = false;
  // Places of devices that were read while they were on their way; cleared by the scheduler.
  std::vector<int> readMoving;

 private:
  struct Kept;  // of the run before the project was edited
  Kept keep();
  void makeDevices(const Kept& kept);
  PinDrive driveOf(int pin) const;
  int activeIsland(int island) const;
  bool regroup();
  void readIsland(int island);
  void publishPins(int island, const IslandReading& here, const IslandReading& there);
  void publishPart(int part, const PartReading& here, const PartReading& there);
  void takeLevel(int pin, const PinReading& reading);
  PinReading pinNow(int pin);
  double drift(int pin) const;
  double loadIfPowered(int board);
  void watchSupplies();
  void feedBoards();
  void resetStress();
};

}  // namespace ignavo
