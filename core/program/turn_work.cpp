#include "program/turn_work.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <set>
#include <vector>

#include "program/compiled.h"
#include "program/said.h"

// A step's share is all that its instructions can cost: both sides of "and", "or" and "choose",
// and what a lane notes down to go on with. Measuring takes its own time. What is done once a turn,
// and what looks after pins, clock and line, is the share of the turn itself.
namespace ignavo {

namespace {

class WorkCounter {
 public:
  explicit WorkCounter(CompiledProgram& program) : program_(program), costs_(program.costs) {}

  void count() {
    TurnWork& work = program_.work;
    work.edge = share(costs_.edgeOf(std::max(1, program_.pulsed)));
    work.start = share(costs_.starts + costs_.comes);
    work.round = share(goingOn());
    work.turn = share(ofTurn()) + measuring_;
    for (CompiledLane& lane : program_.lanes) noteSteps(lane);
    int most = work.turn;
    for (CompiledLane& lane : program_.lanes) most += mostOf(lane);
    work.counted = most > turnRoom(mostLoad()) || !program_.lines.empty();
  }

 private:
  // An eighth more: what the table tells of floats is a mean.
  int share(std::int64_t cycles) const {
    const double microseconds =
        static_cast<double>(cycles) * 1e6 / static_cast<double>(costs_.hertz);
    constexpr double more = 1.125;
    return static_cast<int>(std::ceil(microseconds * more));
  }
  // A lane that takes its turn, beside one that waits.
  int goingOn() const {
    return costs_.step - costs_.waiting + costs_.waitBegun + costs_.countedStep;
  }

  std::int64_t ofTurn() {
    const CostTable& c = costs_;
    std::int64_t cycles = c.turn + c.counting;
    const std::set<std::string> watched(program_.watched.begin(), program_.watched.end());
    cycles += c.watch * static_cast<std::int64_t>(watched.size());
    cycles += c.waiting * static_cast<std::int64_t>(program_.lanes.size());
    for (const CompiledLane& lane : program_.lanes)
      if (lane.every > 0) cycles += c.every;
    constexpr int tickEvery = 4;  // turns, rounded down
    cycles += c.tick / tickEvery;
    // A letter of a line that is on its way.
    if (!program_.lines.empty()) cycles += c.line + c.letter + c.sayMoved;
    for (const CompiledSignal& signal : program_.signals)
      for (const Instruction& i : signal.code) {
        cycles += i.cycles;
        measuring_ += measuringOf(i);
      }
    return cycles;
  }
  int measuringOf(const Instruction& i) const {
    constexpr int nanoseconds = 1000;
    return i.measures ? static_cast<int>(costs_.measures / nanoseconds) : 0;
  }

  void noteSteps(CompiledLane& lane) {
    struct Sum {
      std::int64_t cycles = 0;
      int measuring = 0;
      bool takesTurn = false, works = false;  // works: out a wait
      int first = -1;
    };
    std::map<int, Sum> sums;
    for (std::size_t k = 0; k < lane.code.size(); ++k) {
      const Instruction& i = lane.code[k];
      Sum& sum = sums[i.step];
      if (sum.first < 0) sum.first = static_cast<int>(k);
      sum.cycles += i.cycles;
      if (i.code == OpCode::call) sum.cycles += costs_.back;
      sum.measuring += measuringOf(i);
      sum.takesTurn = sum.takesTurn || i.takesTurn;
      sum.works = sum.works || (i.code == OpCode::wait && !i.plain);
    }
    for (const auto& [step, sum] : sums) {
      if (!sum.takesTurn && !sum.works) continue;
      const bool whole = step < 0;  // going round is the lane's own
      const int own = whole ? program_.work.round
                            : share(sum.cycles + (sum.takesTurn ? goingOn() : 0)) + sum.measuring;
      if (!whole) {
        int& held = program_.work.steps[program_.steps[static_cast<std::size_t>(step)]];
        held = std::max(held, own);
      }
      for (Instruction& i : lane.code)
        if (i.step == step && i.takesTurn) i.share = own;
      if (!sum.takesTurn) lane.code[static_cast<std::size_t>(sum.first)].share = own;
    }
  }

  // A step, and all the waits that are worked out between two.
  int mostOf(const CompiledLane& lane) const {
    int step = 0, waits = 0;
    for (const Instruction& i : lane.code)
      if (i.takesTurn)
        step = std::max(step, i.share);
      else
        waits += i.share;
    return step + waits + (lane.code.front().code == OpCode::idle ? program_.work.start : 0);
  }

  // Of all tones that can sound together, each at its highest.
  int mostLoad() const {
    std::map<int, int> pins;
    for (const CompiledLane& lane : program_.lanes)
      for (const Instruction& i : lane.code)
        if (i.code == OpCode::tone) {
          const float hertz = i.plain ? static_cast<float>(i.number) : highestHertz;
          int& most = pins[i.arg];
          most = std::max(most, loadOf(toneTrain(hertz), program_.work.edge));
        }
    int load = 0;
    for (const auto& [pin, most] : pins) load += most;
    return load;
  }

  CompiledProgram& program_;
  const CostTable& costs_;
  int measuring_ = 0;
};

}  // namespace

int TurnWork::of(const std::string& step) const {
  const auto it = steps.find(step);
  return it == steps.end() ? 0 : it->second;
}

int microsecondsOf(std::int32_t number) {
  return microsecondsOfDigit * static_cast<int>(written(number).size());
}

int microsecondsOf(float number) {
  constexpr std::uint32_t fraction = 0x7F'FFFF, exponents = 0xFF;
  constexpr int fractionBits = 23, bias = 150;
  const auto bits = std::bit_cast<std::uint32_t>(number);
  const int exponent = static_cast<int>(bits >> fractionBits & exponents);
  if (exponent == exponents || (exponent == 0 && (bits & fraction) == 0)) return 0;
  return microsecondsOfRealAt(std::max(1, exponent) - bias);
}

void countWork(CompiledProgram& program) {
  if (program.inTurns) WorkCounter(program).count();
}

}  // namespace ignavo
