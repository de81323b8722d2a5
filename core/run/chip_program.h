#pragma once
#include <cstdint>
#include <map>
#include <memory>
#include <string>
#include <vector>

#include "program/costs.h"
#include "program/values.h"
#include "run/trace.h"

namespace ignavo {

// Machine code that a board runs in place of its steps, and what is known of it: of a program that
// the tool compiled, where its steps and variables are; of code from elsewhere nothing.
struct ChipProgram {
  std::string chip;  // for the compiler: "atmega328p"
  std::vector<std::uint8_t> bytes;
  std::uint32_t begins = 0;    // address of `main`: there t is 0; 0: at reset
  std::uint16_t freeFrom = 0;  // the first byte of memory behind the variables; 0: unknown
  // From a byte address on it is that step (its id; empty: none), by address.
  struct Stretch {
    std::uint32_t from = 0;
    std::string step;
  };
  std::vector<Stretch> steps;
  struct Variable {
    std::string name;
    int item = 0;  // of a list, from 1
    ValueType type = ValueType::whole;
    std::uint16_t at = 0;
  };
  std::vector<Variable> variables;
  // A lane holds the line of the text that it stands at, and whether it runs; 0: it is the one that
  // the chip is at.
  struct Lane {
    std::string id;
    std::uint16_t line = 0, runs = 0;
  };
  std::vector<Lane> lanes;
  std::vector<std::string> stepOfLine;  // ids, by line from 0; empty: none
  std::vector<std::string> texts;       // that variables hold, by number
  std::vector<std::string> says;        // ids of the steps that say something, from number 1

  const std::string& stepAt(std::uint32_t address) const;
};
// By board id.
using ChipPrograms = std::map<std::string, std::shared_ptr<const ChipProgram>>;

// How a project is run.
struct RunSetup {
  ChipPrograms chipPrograms;  // boards that run machine code in place of their steps
  bool tracesWaits = false;   // a signal of each board says when its free program waits
  CostTable costs = {};       // what its steps take
  // Recorded beside the levels of used pins and what of the parts can be seen or heard: volts at
  // a socket, volts and amps of a part, levels of further pins. What is not there is left out.
  std::vector<Signal> probes = {};
  // What pins do is there sooner: what takes its time, as a motor and what drives it does, and is
  // asked by no program is left out. Its volts, amps and heat, and what would follow from them,
  // are not known then (RunModel::leftOut).
  bool sketch = false;
};

}  // namespace ignavo
