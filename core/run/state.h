#pragma once
#include <map>
#include <string>
#include <vector>

#include "parts/circuit.h"
#include "run/devices.h"

namespace ignavo {

// A board's pin, beside what the circuit does to it.
struct PinState {
  bool high = false;      // what the program set
  signed char hand = -1;  // by hand: -1 no, 0 low, 1 high, as it stands now
  bool burnt = false;
  bool level = false;               // as the program reads it
  bool floating = false;            // as read last
  PinDrive chip = PinDrive::input;  // what machine code does to it
  double amps = 0;                  // it gives or takes
};

struct BoardState {
  bool on = true;        // its cable is not switched off by itself
  bool plugged = true;   // its cable feeds it; as power was settled last
  bool tripped = false;  // its cable was overloaded: no power until the load is gone
  bool fed = false;      // its chip has enough to run on, from the cable or otherwise
  double amps = 0;       // that its cable gives, but for the last digits
  bool sameAs(const BoardState& o) const {
    return on == o.on && tripped == o.tripped && fed == o.fed;
  }
};

// Where the devices of each kind stand in the list; in the order in which they act at one moment.
struct Places {
  int contacts = -1;
  int hands = -1;           // levels that pins are held at by hand
  std::vector<int> timers;  // per board
  std::vector<int> pulses;  // per board: its tones and servo pulses
  std::vector<int> lines;   // per board: to the computer
  int floating = -1;
  std::vector<int> arms;  // per part; -1: it has none
  int islandsBegin = 0, islandsEnd = 0;
  std::vector<int> islands;  // per island, joined ones included; -1: nothing goes on in it
  std::vector<int> guards;   // per board
  std::vector<int> heat;     // per part; -1: it has no limits
  std::vector<int> pinHeat;  // per board
  std::vector<int> boards;   // per board: its processor
};

// How all that is not a device stands in a run.
struct StandingState {
  Nanoseconds now = 0;
  bool on = true;     // the one power switch
  bool live = false;  // there is a voltage somewhere; as everything was refreshed last
  std::vector<BoardState> boards;
  CircuitState circuit;
  std::vector<PinState> pins;              // per Circuit::pins()
  std::vector<int> active;                 // the islands as they are solved now, joined ones too
  int joined = -1;                         // the joined one; -1: there is none
  std::vector<std::vector<double>> drawn;  // per island: amps out of each board's supplies
  std::map<std::string, int> presses;      // how often each part was pressed or let go
  std::map<std::string, Nanoseconds> pressedAt;  // when each part was pressed last
  Places places;
};

// How everything in a run stands at one moment: a value. What it stands for is in the RunModel that
// it was made with.
struct RunState : StandingState {
  Devices devices;

  // Becomes what it has become since, in the same run: quicker than a copy.
  void follow(const RunState& later) {
    StandingState::operator=(later);
    devices.follow(later.devices);
  }
};

}  // namespace ignavo
