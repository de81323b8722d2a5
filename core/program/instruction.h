#pragma once
#include <array>
#include <cstddef>
#include <cstdint>
#include <optional>
#include <vector>

#include "program/values.h"

// The instructions of a compiled program, and all that is known of one without running it: where a
// lane may go on after it, what it takes and gives, what it does to its pin, what it costs, how
// long it sleeps. Whoever runs programs (run/step_processor.h) or walks them (reach, pace) asks
// here.
namespace ignavo {

// The turns of a program that does not run freely.
inline constexpr std::int64_t turnNanoseconds = 250'000;

// Seconds that are written out, in turns, rounded up.
double turnsOf(double seconds);
// And seconds that are worked out, as the chip works it out; not-a-number is none.
std::int32_t turnsOf(float seconds);
inline constexpr double mostTurns = 2147483647;  // that anything can last

// How a program runs: in turns, or freely on a chip of so many hertz.
struct ProgramPace {
  bool inTurns = false;
  std::int64_t hertz = 16'000'000;
  std::int64_t measures = 104'000;  // nanoseconds
};

enum class OpCode : std::uint8_t {
  push,        // `value` onto the stack
  readPin,     // level of pin `arg`
  readLevel,   // share of the supply at pin `arg`: all of it is `number`
  load,        // what cell `arg` holds
  store,       // cell `arg` = popped value
  item,        // of the list from cell `arg`, `operands` of them, that at the popped position
  storeItem,   // there the value popped below it
  seconds,     // since power-on
  sense,       // signal operator `arg` with `operands`; its cells from `target`, its moment `value`
  wave,        // wave `arg` of the program, with the popped duty
  turns,       // the popped seconds as turns
  afresh,      // `operands` cells from `arg` and as many moments from `target` as `value` forget
  start,       // lane `arg` is started where the popped truth is so
  random,      // a whole number between the two on top of the stack
  operate,     // operator `arg` on the top of the stack; `reals`: with floats
  convert,     // the top of the stack from type `arg` to type `target`
  setPin,      // pin `arg` to the popped truth
  flipPin,     // pin `arg` to the other level
  setLevel,    // pin `arg` dimmed to the popped percent
  tone,        // pin `arg` sounds at the popped hertz
  silence,     // pin `arg` is low, and no tone or pulse raises it any more
  turnServo,   // pulses on pin `arg` for the popped degrees
  sayLine,     // line `arg` with the popped `operands`; to `target` while another is on its way
  lineSent,    // waits until all of it is
  readKey,     // is key `arg` held
  call,        // to `target`, and back to what follows
  back,        // there
  idle,        // nothing, until the lane is started by what starts it
  wait,        // sleep for the popped seconds, from the step before (docs/language.md)
  jump,        // to `target`
  branch,      // to `target` when the popped value is false
  countStart,  // counter `arg` = popped number, rounded
  countTurn,   // to `target` when counter `arg` is used up, else one less
  end,         // the lane is over
};

struct Instruction {
  OpCode code = OpCode::end;
  bool takesTurn = false;  // begins a step: in turns, one of these a turn
  bool endsStep = false;   // it is complete with this one
  bool loopHead = false;   // back to where a loop begins that may never end
  bool plain = false;      // what it takes is `number`; nothing is on the stack for it
  bool reals = false;
  bool measures = false;       // of a pin that can: it takes its time
  std::uint16_t operands = 0;  // of an operator
  bool isFork = false;         // shows which way it went
  bool stays = false;          // what is stored stays on the stack, too
  int arg = 0;
  int target = 0;
  Cell value;
  double number = 0;
  int cycles = 0;
  int share = 0;   // of the turn in which it is done (turn_work.h)
  int step = -1;   // index in CompiledProgram::steps
  int offset = 0;  // place among the instructions of that step
  int keeps = -1;  // cell that takes what a signal operator gives; -1: the stack does
};

// What one does, whatever its operands are.
struct InstructionFacts {
  int takes = 0, gives = 0;  // numbers off the stack and onto it; an operator takes its own count
  bool readsPin = false;     // asks what pin `arg` stands at
  bool writesPin = false;    // changes what pin `arg` gives
  bool wavers = false;       // it goes on and off from then on, without the program
  bool sleeps = false;       // the lane goes on later, or when its pin changes
  bool counts = false;       // with counter `arg`
  bool goesOn = true;        // may go on behind it
  bool jumps = false;        // may go on at `target`
  bool reachesOut() const { return readsPin || writesPin; }
};
// In the order of OpCode.
inline constexpr std::array<InstructionFacts, 34> instructionFacts = {{
    {.gives = 1},                                     // push
    {.gives = 1, .readsPin = true},                   // readPin
    {.gives = 1, .readsPin = true},                   // readLevel
    {.gives = 1},                                     // load
    {.takes = 1},                                     // store
    {.takes = 1, .gives = 1},                         // item
    {.takes = 2},                                     // storeItem
    {.gives = 1},                                     // seconds
    {.gives = 1},                                     // sense
    {.takes = 1, .gives = 1},                         // wave
    {.takes = 1, .gives = 1},                         // turns
    {},                                               // afresh
    {.takes = 1},                                     // start
    {.takes = 2, .gives = 1},                         // random
    {.gives = 1},                                     // operate
    {.takes = 1, .gives = 1},                         // convert
    {.takes = 1, .writesPin = true},                  // setPin
    {.writesPin = true},                              // flipPin
    {.takes = 1, .writesPin = true, .wavers = true},  // setLevel
    {.takes = 1, .writesPin = true, .wavers = true},  // tone
    {.writesPin = true},                              // silence
    {.takes = 1, .writesPin = true, .wavers = true},  // turnServo
    {},                                               // sayLine
    {},                                               // lineSent
    {.gives = 1},                                     // readKey
    {.goesOn = false, .jumps = true},                 // call
    {.goesOn = false},                                // back
    {.sleeps = true},                                 // idle
    {.takes = 1, .sleeps = true},                     // wait
    {.goesOn = false, .jumps = true},                 // jump
    {.takes = 1, .jumps = true},                      // branch
    {.takes = 1, .counts = true},                     // countStart
    {.counts = true, .jumps = true},                  // countTurn
    {.goesOn = false},                                // end
}};
static_assert(instructionFacts.size() == static_cast<std::size_t>(OpCode::end) + 1 &&
              !instructionFacts.back().goesOn);  // none is missing
constexpr const InstructionFacts& factsOf(OpCode code) {
  return instructionFacts[static_cast<std::size_t>(code)];
}
constexpr bool writesPin(OpCode code) { return factsOf(code).writesPin; }

// How many numbers it takes off the stack, and how many it leaves there.
int takenBy(const Instruction& instruction);
int givenBy(const Instruction& instruction);

// Where the lane may go on after instruction `at`: none to two places.
struct Successors {
  int to[2] = {0, 0};
  int count = 0;
  const int* begin() const { return to; }
  const int* end() const { return to + count; }
};
Successors successorsOf(const std::vector<Instruction>& code, int at);

// How long it sleeps, in seconds, 0 where it does not; nothing where only a run can tell.
std::optional<double> sleepOf(const std::vector<Instruction>& code, int at);
// Seconds from where it begins to where the next one does. In turns: a turn where it begins a
// step, and a wait is as much shorter, as it counts from that; nothing where only a run can tell.
std::optional<double> secondsOf(const std::vector<Instruction>& code, int at,
                                const ProgramPace& pace);
// What becomes of its pin's level: stays where it writes none.
enum class LevelAfter : std::uint8_t { stays, low, high, other, lowOrHigh, wavers };
LevelAfter levelAfter(const std::vector<Instruction>& code, int at);

}  // namespace ignavo
