#pragma once
#include <array>
#include <cstddef>
#include <cstdint>
#include <iterator>
#include <string>
#include <utility>
#include <vector>

#include "program/cost_rows.h"
#include "program/values.h"

namespace ignavo {

struct Instruction;

// What instructions cost on a chip, in cycles. Most are measured on its core (cost_rows.h), as the
// mean over many values; the rest, parts of loops that cannot be had alone, were counted in the
// listing (avr-objdump) of what the generator makes of a step.
struct CostTable {
  std::int64_t hertz = 16'000'000;
  // What so many cycles take. Asked for with each instruction, where a division is slow.
  std::int64_t nanoseconds(std::int64_t cycles) const {
    if (hertz == 16'000'000) return cycles * 125 / 2;
    return cycles * 1'000'000'000 / hertz;
  }

  int setPin = measured::setPin,
      setPinTo = measured::setPinTo;  // a level that is written out; one that is worked out
  int flipPin = measured::flipPin;
  int setLevel = measured::setLevel, setLevelTo = measured::setLevelTo;
  // Beside the edges themselves; a pitch or an angle that is written out, or worked out.
  int sound = measured::sound, soundTo = measured::soundTo, silence = measured::silence,
      turnServo = measured::turnServo, turnServoTo = measured::turnServoTo;
  int train = measured::train;  // of these, where it sounds or stands so already not
  // An edge of a tone or pulse that falls into what is done, where one pin has some; where several
  // have, all of them are looked through.
  int edge = 318, edgeAmongMore = 320, edgePin = 48;
  int edgeOf(int pins) const { return pins == 1 ? edge : edgeAmongMore + edgePin * pins; }
  // A line, beside its number; each letter of it on the wire, and of that what puts it into the
  // buffer; a whole number, beside its digits: each of them, more for each that stands behind it.
  int say = 590, sayLetter = 160, sayMoved = 103, sayWhole = 208, sayDigit = 627, sayBehind = 15;
  // A float, and what the chip does to find its six digits: tenfolds, doublings, halves and tenths
  // of 64 bits (of these each byte of what is divided and each bit of what comes out), zeros that
  // are cut off, digits that are put in their places. From the core, by least squares over 380
  // floats; the error is 31 of 30,000 cycles.
  int sayReal = 344, sayTenfold = 247, sayDouble = 92, sayHalf = 132, sayTenth = 178,
      sayTenthByte = 240, sayTenthBit = 8, sayZero = 867, sayPlaced = 297, sayNothing = 92;
  int letter = 70;  // on the wire, where it falls into what is done
  int readKey = measured::readKey;
  int call = measured::call, back = measured::back;
  int readPin = measured::readPin;
  int readLevel = measured::readLevel;  // beside the measuring itself
  int branch = measured::branch, jump = measured::jump;
  int countStart = measured::countStart, countTurn = measured::countTurn;
  int constant = measured::constant;  // put where an operator wants it
  int convert = measured::convert;    // between whole and float; truths are whole
  int round = 450;                    // a float that becomes whole
  int random = measured::random,
      randomOfPower =
          measured::randomOfPower;  // of 2, 4, 8, … numbers between two that are written out
  int wait = measured::wait;        // that is worked out; one that is written out is exact
  int load = measured::load, store = measured::store, item = measured::item;
  int seconds = measured::seconds;
  int sense = measured::sense, wave = measured::wave, waveHertz = measured::waveHertz,
      waveDuty = measured::waveDuty;  // signal operators
  int waveKnown = 310;                // hertz that are no number, but known beforehand
  int waveAfresh = 1245;  // where it was not asked for long: from the number of the turn
  // In turns: the turn itself; a lane that goes on, one that waits, one that nothing started; a pin
  // that starts lanes, a lane that the clock starts. When that comes, and whatever else starts a
  // lane. A wait that begins, and repeat, as lanes keep it; looking after the line to the computer.
  int turn = measured::turn, step = measured::step, waiting = measured::waiting,
      idle = measured::idle, watch = measured::watch, every = measured::every,
      comes = measured::comes, starts = measured::starts, waitBegun = measured::waitBegun,
      countTurnKept = measured::countTurnKept, line = measured::line;
  int passedOver = 92;  // each time of such a lane that has come and gone since the turn before
  // Where turns are counted: the turn besides, and each step.
  int counting = measured::counting, countedStep = 20;
  int tick = 62;  // of the clock, every 1.024 ms, where it falls into what is done

  // Measuring, in nanoseconds: all of it, the first time, and when after its beginning it samples.
  std::int64_t measures = 104'000, measuresFirst = 200'000, samples = 12'000;

  // Of a value in a line, beside its letters.
  int saying(Cell value, ValueType type) const;
  int digits(std::uint32_t number) const;

  // An operator with whole operands and with floats.
  struct Operation {
    int whole = 0, real = 0;
    bool operator==(const Operation&) const = default;
  };
  std::array<Operation, std::size(measured::operators)> operations = measuredOperations();
  static std::size_t operationNamed(const std::string& name);  // its place; their number: none
  Operation operation(int op) const;

  // Floats that take another time than most: what is done with zeros is soon done, and a remainder
  // is worked out bit by bit of how much larger the first is.
  int timesZero = 45, zeroDivided = 100, byZero = 20;
  int remainderOfZero = 92, remainderLarger = 48, remainderBit = 17, remainderTurned = 120,
      remainderKnown = 140;  // of two that are known beforehand
  // A sum, against its mean: bit by bit and byte by byte the smaller is moved to where the larger
  // stands, and what comes out to where it should stand; more where they change places, less where
  // one is too small to matter or nothing is left.
  int sumLess = 14, sumBit = 8, sumByte = 50, sumPlaces = 11, sumCarry = 8, sumShift = 9,
      sumAlone = 19, sumGone = 24;
  // A whole number that becomes a float is moved so far to the left until a byte is full; one of
  // more than 24 bits to the right.
  int convertMore = 9, convertBit = 6, convertRight = 9, convertLarge = 33, convertSign = 6,
      convertZero = 40;

 private:
  static constexpr std::array<Operation, std::size(measured::operators)> measuredOperations() {
    std::array<Operation, std::size(measured::operators)> out;
    for (std::size_t i = 0; i < out.size(); ++i)
      out[i] = {measured::operators[i].whole, measured::operators[i].real};
    return out;
  }
};

// Cycles until an instruction is complete.
int cyclesOf(const Instruction& instruction, const CostTable& costs);
// With what is on the stack for it: of floats the values matter.
int cyclesOf(const Instruction& instruction, const std::vector<Cell>& stack,
             const CostTable& costs);

}  // namespace ignavo
