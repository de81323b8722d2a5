#pragma once
#include <cstdint>
#include <map>
#include <string>

#include "program/pulses.h"

namespace ignavo {

struct CompiledProgram;

// How long the turns of a program are is not measured but counted, by the steps and on the chip
// alike: each step has its share of microseconds, somewhat more than the cost table tells, and a
// turn in which more is done than it has room for takes whole turns more. So both agree about the
// number of every turn, whatever the values are; where the work itself takes a little longer than
// was counted, the next turn begins late and what follows catches up.
struct TurnWork {
  // May a turn ever hold more than it has room for? Else nothing is counted, and each takes one.
  bool counted = false;
  int turn = 0;   // microseconds of every turn, of a program that has nothing to do in it
  int start = 0;  // to start a lane
  int round = 0;  // a round of waits only, that takes its turn by itself
  // By id: a step, each time that it takes its turn; a wait that is worked out, when it begins.
  std::map<std::string, int> steps;
  int edge = 0;  // of a tone or pulse, beside whatever is done

  // The share of a step; 0 where it has none.
  int of(const std::string& step) const;
};

inline constexpr int turnMicroseconds = 250, leastTurnRoom = 25;
// So late a turn may begin; of what is later whole turns are left out.
inline constexpr int latestTurnMicroseconds = 2000;

// What the edges of a tone take of each turn, an edge each `width`; nothing where there is no tone.
// Both are scaled down, so that the chip divides by 16 bits.
inline constexpr std::uint32_t partsOfTurn = 16'000, loadScale = 16;
constexpr int loadOf(PulseTrain tone, int microsecondsOfEdge) {
  const auto edge = static_cast<std::uint32_t>(microsecondsOfEdge);
  if (tone.width == 0 || tone.width >= partsOfTurn * edge) return 0;
  return static_cast<int>(partsOfTurn / loadScale * edge / (tone.width / loadScale));
}
constexpr int turnRoom(int load) {
  const int left = turnMicroseconds - load;
  return left < leastTurnRoom ? leastTurnRoom : left;
}

// What a line takes by what stands in it, beside the share of its step.
inline constexpr int microsecondsOfLetter = 12;  // on the wire, with the end of the line
inline constexpr int microsecondsOfDigit = 52;   // of a whole number, its sign likewise
// A float of six digits, by the power of two that it stands at: m × 2^exponent, with m of 24 bits;
// 0, infinities and not-a-number are nothing. Halving makes room for ten times of it and so for
// tenths afterwards; that is most of it.
inline constexpr int microsecondsOfLarge = 500, microsecondsOfDouble = 52;
inline constexpr int microsecondsOfSmall = 2000, microsecondsOfHalf = 15;
constexpr int microsecondsOfRealAt(int exponent) {
  return exponent < 0 ? microsecondsOfSmall - microsecondsOfHalf * exponent
                      : microsecondsOfLarge + microsecondsOfDouble * exponent;
}
int microsecondsOf(float number);
int microsecondsOf(std::int32_t number);

// Fills `program.work` and the shares of its instructions, from what they cost.
void countWork(CompiledProgram& program);

}  // namespace ignavo
