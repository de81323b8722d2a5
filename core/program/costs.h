#pragma once
#include <array>
#include <cstddef>
#include <cstdint>
#include <utility>
#include <vector>

#include "program/values.h"

namespace ignavo {

struct Instruction;

// What instructions cost on a chip. Cycles were counted in the listing (avr-objdump) of what the
// generator makes of a step, once in a loop, where its path forks as the mean of both; library
// functions by their mean.
struct CostTable {
  std::int64_t hertz = 16'000'000;

  int setPin = 2, setPinTo = 4;  // a level that is written out; one that is worked out
  int flipPin = 2;
  int setLevel = 16, setLevelTo = 330;
  int sound = 900, silence = 40, turnServo = 700;                   // beside the edges themselves
  int say = 600, sayText = 1500, sayWhole = 4000, sayReal = 25000;  // a line; what is in it
  int readKey = 4;
  int call = 30, back = 20;
  int readPin = 1;
  int readLevel = 230;  // beside the measuring itself
  int branch = 2, jump = 2;
  int countStart = 4, countTurn = 7;
  int constant = 4;  // put where an operator wants it
  int convert = 70;  // between whole and float; truths are whole
  int random = 700;
  int wait = 300;  // that is worked out; one that is written out is exact
  int load = 8, store = 8, item = 20;
  int sense = 60, wave = 40;  // signal operators
  int step = 60;              // in turns: a lane that is looked at, and what it stores

  // Measuring, in nanoseconds: all of it, the first time, and when after its beginning it samples.
  std::int64_t measures = 104'000, measuresFirst = 200'000, samples = 12'000;

  // Of a line with those values.
  int saying(const std::vector<ValueType>& items) const;
  // Of an operator with whole operands and with floats.
  std::pair<int, int> operation(int op) const;
};

// Cycles until an instruction is complete.
int cyclesOf(const Instruction& instruction, const CostTable& costs);

}  // namespace ignavo
