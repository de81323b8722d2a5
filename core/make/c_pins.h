#pragma once
#include <set>
#include <string>
#include <utility>
#include <vector>

#include "bench/nets.h"
#include "make/c_lines.h"
#include "make/chips.h"
#include "parts/kinds.h"
#include "program/expressions.h"
#include "program/steps.h"
#include "program/turn_work.h"

namespace ignavo {

// The part of a board's program as C that knows its pins: a function for each thing that the steps
// do to a pin, what prepares them, and the timers that dim them.
class CPins {
 public:
  CPins(const Project& project, const BoardItem& board, const BoardKind& kind, const Chip& chip);

  void functions(CLines& out) const;
  // Tones and servo pulses, where any step asks for them and a timer is left.
  void pulses(CLines& out, const TurnWork& work) const;
  int pulsing() const;  // how many pins have any
  // `outputs`: further pins that are outputs.
  void prepare(CLines& out, const std::vector<std::string>& outputs) const;
  // Is there such a pin, with a port?
  bool has(const std::string& pin) const { return port(pin).first != 0; }
  // "  /* Red lamp */", or nothing.
  std::string remark(const std::string& pin) const;

  // The timer that wakes the chip from turn to turn: one that dims nothing. Null: it has to poll.
  const Chip::Timer* waker() const;
  // Starts the timers that dim, and in turns the clock and what wakes, all together.
  void startTimers(CLines& out, bool inTurns) const;

 private:
  const BoardPin& shape(const std::string& pin) const;
  std::pair<char, std::string> port(const std::string& pin) const;
  void setFunctions(CLines& out, const PinUse& use) const;
  void measureFunction(CLines& out, const GetterKind& getter, const PinUse& use) const;
  void pulseFunctions(CLines& out, const PinUse& use) const;
  bool dims(const Chip::Timer& timer) const;
  // Its place among those with pulses; -1: it has none.
  int pulsed(const std::string& pin) const;

  const Project& project_;
  std::string board_;
  const BoardKind& kind_;
  const Chip& chip_;
  const Program* program_;
  Nets nets_;
  std::vector<PinUse> uses_;
  std::set<std::string> flipped_, asked_;  // pins; "level_A0", what is asked of one
  std::set<std::string> timed_;            // steps that wait
};

}  // namespace ignavo
