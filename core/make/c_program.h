#pragma once
#include <map>
#include <set>
#include <string>
#include <utility>
#include <vector>

#include "make/c_expressions.h"
#include "make/c_lines.h"
#include "make/c_names.h"
#include "make/c_pins.h"
#include "make/c_turns.h"
#include "program/facts.h"

namespace ignavo {

// A board's program as C. It is written twice: what the first time shows that is needed (helpers,
// memory of signal operators, texts) is declared the second time.
class CProgram final : public CWriter {
 public:
  struct Needs {
    std::set<std::string> helpers;
    // Of each "struct signal" the own step that it belongs to; null: a lane.
    std::vector<const Lane*> signals;
    std::vector<std::string> texts;
    std::vector<std::string> outputs;  // pins that any step writes, also such as nobody runs
  };
  CProgram(const Project& project, const BoardItem& board, const BoardKind& kind, const Chip& chip,
           const TurnWork& work, Needs needs = {});

  CText write();
  Needs needs() const;

  // What step kinds write with (c_steps.cpp).
  void line(const std::string& text) override;
  void open(const std::string& head) override;
  void middle(const std::string& text) override;
  void close() override;
  void close(const std::string& behind) { c_.close(behind); }
  void body(const Steps* steps) override;
  void asLongAs(const std::string& so) override;
  void waitUntil(const Expr& test) override;
  void round(bool takesTurn) override;
  void leave() override;
  void remark(const std::string& text) override;
  void endLane() override;
  void wait(const Expr& seconds) override;
  std::string expression(const Expr& e, ValueType type) override;
  std::string argument(const Expr& e, ValueType type) override;
  std::string variable(const std::string& name) override;
  std::string list(const std::string& name) override;
  const Types& types() const override;
  std::string place(const std::string& list, const Expr& index) override;
  std::string remarkFor(const std::string& pin) override;
  std::string counterVariable() override;
  void counterDone() override;
  void run(const Step& ownStep) override;
  void say(const Step& saying) override;

 private:
  const std::string& helped(const std::string& helper) { return *waits_.insert(helper).first; }
  // Before what takes a turn; its first line says so, and where turns are counted its share.
  std::string stepping() { return std::exchange(takesTurn_, false) ? step() + " " : ""; }
  std::string step() const;
  std::string stepUntil(const std::string& so) const;
  int share() const;  // of the step that is written
  // The signal operators in an expression, each before it.
  std::vector<std::string> senses(const Expr& e);
  // The texts that variables and lines hold: their places in a table.
  int text(const std::string& text);

  // The whole (c_text.cpp).
  void header();
  void machinery(int from);  // what was written from that line on knows the chip
  void plain();
  void inTurns();
  void startTimers();
  void counters(const Steps& steps, const char* storage);
  void dice(const Lane& lane, const std::string& number);

  // Lanes, what starts them, own steps (c_lanes.cpp).
  std::string starting(const Lane& lane, const std::string& number) const;
  void laneFunction(const Lane& lane, const std::string& number);
  void keepFunction(const Lane& lane, const std::string& number);
  void testFunction(const Lane& lane, const std::string& number);
  void ownFunctions();
  void ownFunction(const Lane& own);
  std::string ownC(const Lane& own) const;  // "own1"
  bool watching();
  bool listening();
  bool clocking();
  void signalStates();

  const Project& project_;
  const Chip& chip_;
  const Program& program_;
  CPins pins_;
  CNames names_;
  CLines c_;
  CExpressions expressions_;
  Needs needs_;
  std::set<std::string> waits_;
  std::vector<const Lane*> lanes_;
  std::vector<const Lane*> own_;            // own steps that any of them runs
  std::vector<const Lane*> runners_;        // lanes that run any
  std::vector<std::string> keys_, saying_;  // ids of the steps that say something
  bool talks_ = false;                      // over the serial line
  bool ownThrows_ = false;                  // an own step asks for random numbers
  bool turns_ = false;
  bool takesTurn_ = false;        // what is written next
  const Lane* within_ = nullptr;  // the own step that is written
  std::vector<const Lane*> signals_;
  std::vector<std::string> texts_{std::string()};
  const TurnWork& work_;
  const Step* step_ = nullptr;  // that is written
  int depth_ = 0;
  int loops_ = 0;  // around what is written
};

}  // namespace ignavo
