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
  int setLevel = 8, setLevelTo = 380;
  // Beside the edges themselves; a pitch or an angle that is written out, or worked out.
  int sound = 900, soundTo = 1550, silence = 2, turnServo = 890, turnServoTo = 1270;
  int train = 700;  // of these, where it sounds or stands so already not
  // A line; each letter of it on the wire; a whole number and each of its digits.
  int say = 330, sayLetter = 115, sayWhole = 680, sayDigit = 680;
  // A float, and what the chip does to find its six digits: tenfolds, halves and tenths of 64 bits,
  // zeros that are cut off. (Halves are cheap; what a tenfold costs on top of them is too much.)
  int sayReal = 460, sayTenfold = 1085, sayHalf = -106, sayTenth = 1075, sayZero = 518;
  int readKey = 4;
  int call = 30, back = 20;
  int readPin = 1;
  int readLevel = 530;  // beside the measuring itself
  int branch = 2, jump = 2;
  int countStart = 4, countTurn = 7;
  int constant = 4;                       // put where an operator wants it
  int convert = 55;                       // between whole and float; truths are whole
  int random = 770, randomOfPower = 280;  // of 2, 4, 8, … numbers between two that are written out
  int wait = 390;                         // that is worked out; one that is written out is exact
  int load = 8, store = 8, item = 20;
  int seconds = 430;
  int sense = 15, wave = 60, waveHertz = 570, waveDuty = 220;  // signal operators
  // In turns: the turn itself; a lane that goes on, one that waits, one that nothing started; a pin
  // that starts lanes, a lane that the clock starts.
  int turn = 204, step = 36, waiting = 30, idle = 8, watch = 15, every = 100;

  // Measuring, in nanoseconds: all of it, the first time, and when after its beginning it samples.
  std::int64_t measures = 104'000, measuresFirst = 200'000, samples = 12'000;

  // Of a value in a line, beside its letters.
  int saying(Cell value, ValueType type) const;
  // Of an operator with whole operands and with floats.
  std::pair<int, int> operation(int op) const;
};

// Cycles until an instruction is complete.
int cyclesOf(const Instruction& instruction, const CostTable& costs);

}  // namespace ignavo
