#pragma once
#include <memory>
#include <string>
#include <vector>

#include "parts/circuit.h"
#include "program/compiled.h"
#include "program/steps.h"
#include "run/chip_program.h"
#include "run/processor.h"
#include "run/trace.h"

namespace ignavo {

// What a board's pins can do for a program.
std::vector<PinAbility> pinAbilities(const BoardKind& kind);
// What that program is compiled for there.
CompileTarget targetOf(const BoardKind& kind, const Program& program, std::uint64_t seed,
                       const CostTable& costs = {});

// One limit of a part, or of one lamp of a part with several, that must not be exceeded for long.
struct PartLimit {
  DamageLimit damage;
  int lamp = -1;  // of a part with several; -1: the part as a whole
  double limit = 0;
};

// All of a run that follows from the project and does not change until it is edited. The circuit
// remembers what it has solved, which changes no answer; it is not safe for several threads.
struct RunModel {
  // `before`: of the project before it was edited; what did not change is taken from it.
  explicit RunModel(std::shared_ptr<const Project> project, RunSetup setup = {},
                    const RunModel* before = nullptr);

  struct BoardProgram {
    std::unique_ptr<const Processor> fresh;           // at rest, to be copied
    std::shared_ptr<const CompiledProgram> compiled;  // of a board that runs its steps
    std::vector<int> circuitPin;                      // of each pin of the program; -1: no such pin
    std::vector<int> watched;                         // circuit pins whose edges start something
    bool dims = false;
    std::vector<int> storeSignals;  // of its memory cells that are recorded; empty: none is
    // Of its lanes whose steps are recorded: the signal, and the first of the program's steps that
    // is its own; empty: nobody wants to know.
    struct LaneSignal {
      int signal = -1, first = 0;
    };
    std::vector<LaneSignal> laneSignals;
    int waits = -1;         // signal that says when it waits; -1: nobody wants to know
    int lineOut = -1;       // circuit pin of the line to the computer; -1: the program says nothing
    double mostAmps = 0;    // that its cable may deliver
    double minVolts = 0;    // that its chip needs
    double plentyAmps = 0;  // up to this nobody needs to look closely
  };
  struct PartRow {
    const PartKind* kind = nullptr;
    std::vector<int> signals;  // in the trace: its current or volts, or one per lamp; -1: none
    int probedVolts = -1, probedAmps = -1;  // further ones, that were asked for
    bool asked = false;                     // for its own signals as well
    std::vector<PartLimit> limits;
  };
  struct PinRow {
    int board = -1;
    std::size_t onBoard = 0;  // in pinsOfBoard
    int signal = -1;          // of its level; -1: nobody wants to see it
    bool pull = false;        // pulled up
    bool output = false;      // the program gives it a level
    bool ofLine = false;      // the serial line owns it
    bool machine = false;     // its board runs machine code, which says what it does
    // Where its level goes: boards, and the pin as that board's program counts.
    std::vector<std::pair<int, int>> watchers;
  };

  std::shared_ptr<const Project> project;
  RunSetup setup;
  std::unique_ptr<Circuit> circuit;
  std::vector<Signal> signals;  // what the trace records
  struct NetProbe {
    int net, signal;
    bool solved = false;  // it lies in an island; else a supply or ground, or joined with nothing
  };
  std::vector<NetProbe> netProbes;
  std::vector<PartRow> parts;
  std::vector<PinRow> pins;                   // per Circuit::pins()
  std::vector<BoardProgram> boards;           // per Project::boards
  std::vector<std::vector<int>> pinsOfBoard;  // circuit pins
  std::vector<std::vector<int>> feeders;      // per net: the boards that feed it

  std::vector<std::uint8_t> leftOut;  // per island: of a sketch
  bool leavesOut(int island) const {
    return static_cast<std::size_t>(island) < leftOut.size() &&
           leftOut[static_cast<std::size_t>(island)] != 0;
  }

  int partOf(const std::string& id) const;  // -1: none
  int boardOf(const std::string& id) const;
  bool isLineOut(int pin) const {
    return boards[static_cast<std::size_t>(pins[static_cast<std::size_t>(pin)].board)].lineOut ==
           pin;
  }

 private:
  void chooseSignals();
  void chooseProbes();
  void readParts();
  void readBoards(const RunModel* before);
  void readProgram(std::size_t board, const BoardKind* kind, const RunModel* before);
  void readChipProgram(std::size_t board, const BoardKind& kind);
  void chooseLeftOut();
};

}  // namespace ignavo
