#pragma once
#include <cstdint>
#include <functional>
#include <string>
#include <vector>

#include "program/expressions.h"

// Signal operators: they remember something from turn to turn. They stand in lanes that keep
// something equal to a signal, in tests that start a lane, and in "wait until".
namespace ignavo {

// What an operator remembers: some values, and one moment, as a turn since power-on.
struct SenseState {
  Cell* cells;
  std::int64_t* until;  // `untimed`: there is none
};
inline constexpr std::int64_t untimed = -1;

struct SignalKind {
  // Works it out, once a turn. Values come in the order of `operands`; seconds come in turns.
  using Sense = Cell (*)(const SenseState&, const Cell* operands, std::int64_t turn);

  std::string name;    // the file's "sig"
  std::string phrase;  // operands in braces
  // The operands in the order of the file, and of what type they are worked out.
  struct Operand {
    std::string key;
    enum class Is : std::uint8_t { truth, whole, real, seconds, flag } is = Is::truth;
    std::string unit;
  };
  std::vector<Operand> operands;
  ValueType gives = ValueType::truth;
  int cells = 0;
  Sense sense = nullptr;
  std::string inC;         // the function
  bool chooses = false;    // remembers nothing: one of two values
  bool waves = false;      // goes by the clock
  bool addsUp = false;     // each rise makes a difference
  bool debounces = false;  // what is shorter than its seconds goes unseen
  std::string flag;        // the word that sets its flag
  std::string help;

  const Operand* operand(const std::string& key) const;
  // The key of its flag; empty: it has none.
  std::string flagKey() const;
  bool mayLack(const std::string& key) const;  // may it be left out?
};
const std::vector<SignalKind>& signalKinds();
const SignalKind* signalKind(const std::string& name);
int signalIndex(const std::string& name);

// The expression, once it has not changed for so many seconds.
Expr steadyOf(Expr e, double seconds);

// Where a signal comes into an expression: as in a thread, on which what stands further left is
// worked out first. `path` leads to it from there ("of", "a"); `value` is null where the thread
// begins: a pin that is read, a wave, a number.
struct ThreadEnd {
  std::string path;
  const Expr* value = nullptr;
};
ThreadEnd comesInto(const Expr& e);

// The signal operators in an expression that remember something or go by the clock, from the
// inside out, with the path that leads to each ("of/a"; empty: all of it).
void forEachOperator(const Expr& e,
                     const std::function<void(const std::string& path, const Expr&)>& visit);

// How an operator is called where what comes into it stands elsewhere: "at most every 0.2 s".
std::string operatorPhrase(const Expr& e);

// Of a wave; null: it has none.
const Expr* hertzOf(const Expr& wave);
const Expr* dutyOf(const Expr& wave);

// Does anything in there remember something?
bool senses(const Expr& e);

// A wave whose hertz are written out: so much of a round passes in each turn, of a round of so
// much. Counted in hundred-thousandths of a hertz, so that nothing is rounded for ever.
struct WaveSteps {
  std::uint32_t step = 0, round = 1;
};
WaveSteps waveSteps(double hertz);
// Where in the round it is at that turn since power-on.
std::uint32_t phaseOf(const WaveSteps& wave, std::int64_t turn);
// From one turn to the next such a wave goes on where it is; more turns on it is found again from
// the number of the turn, which takes longer.
inline constexpr int turnsThatWavesFollow = 4;
// The part of a round, of the same measure, for which it is high with that duty in percent.
std::uint32_t highPart(const WaveSteps& wave, double duty);
// For how many turns from that one on it is at least as it is in that one: itself, so 1 or more.
std::int64_t turnsAlike(const WaveSteps& wave, std::uint32_t high, std::int64_t turn);

}  // namespace ignavo
