#pragma once
#include <map>
#include <memory>
#include <string>
#include <vector>

#include "run/motion.h"
#include "run/run.h"

namespace ignavo {

// How everything stands at one moment, to be looked at from another thread.
struct Snapshot {
  IGNAVO_VALUE(Snapshot);

  Nanoseconds now = 0;
  bool powered = false;
  bool tripped = false;  // a board's cable was overloaded: no power until the load is gone
  std::vector<std::string> trippedBoards;  // their ids
  std::vector<std::uint8_t> fed;           // per board: its chip has enough to run on
  std::vector<std::string> codeBoards;     // ids of those that run machine code, not their steps
  double supplyAmps = 0;
  std::shared_ptr<const Project> project;
  CircuitState state;
  CircuitReading reading;
  std::vector<std::uint8_t> levels;  // per circuit pin, as the program reads it
  // Pins that are held by hand, and at how many percent.
  struct HeldPin {
    std::string board, pin;
    double percent = 0;
    bool operator==(const HeldPin&) const = default;
  };
  std::vector<HeldPin> held;
  std::vector<double> light;               // per part, 0 … 1; the brightest of its lamps
  std::vector<std::vector<double>> lamps;  // per part with several lamps, each of them
  std::vector<double> boardLight;          // per board, of its own lamp
  std::vector<Motion> motion;              // per part
  std::vector<LaneView> lanes;
  std::map<std::string, std::int64_t> stepCounts;
  std::map<std::string, Nanoseconds> lastRuns;  // when steps were done last; of those that were
  std::map<std::string, bool> forks;            // step id of an if -> taken
  std::vector<ProgramFault> faults;             // board after board
  std::vector<VariableView> variables;          // likewise
  std::vector<ListRead> reads;                  // likewise
};

// Of a run as it stands. Not const: the circuit remembers what it solves.
Snapshot snapshotOf(Run& run);

}  // namespace ignavo
