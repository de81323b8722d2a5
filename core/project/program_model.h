#pragma once
#include <string>
#include <utility>
#include <vector>

#include "project/cow.h"
#include "project/value.h"

namespace ignavo {

// Keys of the file that this version does not know, kept as raw JSON text and
// written back: (key, text).
using Extras = std::vector<std::pair<std::string, std::string>>;

// Under this key stands the name of a pin, in steps and in what expressions ask.
inline constexpr const char* pinKey = "pin";
// And under these what a program has by name.
inline constexpr const char *variableKey = "name", *listKey = "list";
// A key of the computer, in what starts a lane and in what is asked.
inline constexpr const char* keyKey = "key";
// The trigger of a lane that is an own step, and under which keys its name and its inputs stand, in
// its sign and in the steps that run it.
inline constexpr const char *ownTrigger = "own", *ownNameKey = "step", *ownInputsKey = "inputs";
// And here what a lane without steps keeps something equal to.
inline constexpr const char* keptKey = "from";

// An expression tree. What a `get` or `op` name means stands in
// program/expressions; here it is only shape.
struct Expr {
  IGNAVO_VALUE(Expr);

  enum class Shape { number, truth, text, get, op, sig, list };
  Shape shape = Shape::number;
  double number = 0;
  bool truth = false;
  std::string text;                                // a text, or the name of the getter / operator
  std::vector<std::pair<std::string, Expr>> args;  // by key; keys are empty in a list

  static Expr of(double value);
  static Expr of(bool value);
  static Expr of(std::string value);
  static Expr readPin(std::string pin);
  static Expr readLevel(std::string pin);  // of an analog pin, in percent
  static Expr readVariable(std::string name);
  static Expr binary(std::string op, Expr a, Expr b);

  const Expr* arg(const std::string& key) const;
  bool isLiteral() const {
    return shape == Shape::number || shape == Shape::truth || shape == Shape::text;
  }
  bool operator==(const Expr&) const;
};

// Another name for a pin wherever an expression asks for it.
void renamePin(Expr& e, const std::string& from, const std::string& to);

struct Step;
using Steps = std::vector<Step>;

// One instruction. `kind` is the file's "do"; fields and bodies are keyed as in
// the file, in the order of the kind's catalogue row.
struct Step {
  IGNAVO_VALUE(Step);

  std::string id;
  std::string kind;
  std::vector<std::pair<std::string, Expr>> fields;
  std::vector<std::pair<std::string, Steps>> bodies;
  Extras extras;

  const Expr* field(const std::string& key) const;
  Expr* field(const std::string& key);
  void setField(const std::string& key, Expr value);
  const Steps* body(const std::string& key) const;
  Steps* body(const std::string& key);
  bool operator==(const Step&) const;
};

// What a field holds, by the keys of the kind that it belongs to.
using Fields = std::vector<std::pair<std::string, Expr>>;

// When a lane runs, or what a lane without steps keeps: the rows are in program/triggers.
struct Trigger {
  IGNAVO_VALUE(Trigger);
  Trigger(std::string on, std::string pin, Fields fields = {});

  std::string on = "always";
  std::string pin;  // of triggers that look at one; of signals the one that they keep
  Fields fields;
  std::string again;  // what happens when it comes while its lane runs; empty: it is ignored
  Extras extras;

  const Expr* field(const std::string& key) const;
  void setField(const std::string& key, Expr value);
  bool operator==(const Trigger&) const;
};

// One thing that the board does beside others.
struct Lane {
  IGNAVO_VALUE(Lane);

  std::string id;
  Trigger trigger;
  Steps steps;
  Extras extras;
  bool operator==(const Lane&) const;
};

struct PinSetting {
  std::string pin;
  std::string pull;   // "", "up"
  std::string label;  // in place of what hangs on it; empty: that
  Extras extras;
  bool operator==(const PinSetting&) const = default;
};

// A place for one value; its type follows from all that is put there.
struct Variable {
  IGNAVO_VALUE(Variable);

  std::string name;
  Expr start;  // a number, a truth or a text
  Extras extras;
  bool operator==(const Variable&) const;
};

// Places for numbers, counted from 1. `items`: at power-on.
struct NumberList {
  IGNAVO_VALUE(NumberList);

  std::string name;
  std::vector<double> items;
  Extras extras;
  bool operator==(const NumberList&) const;
};

// The program of one board.
struct Program {
  IGNAVO_VALUE(Program);

  std::string board;
  std::vector<PinSetting> pins;
  std::vector<Variable> variables;
  std::vector<NumberList> lists;
  std::vector<Cow<Lane>> lanes;
  Extras extras;

  bool hasSteps() const;
  bool pulledUp(const std::string& pin) const;
  // The label that a user gave the pin; empty when none.
  std::string labelOf(const std::string& pin) const;
  const Variable* variable(const std::string& name) const;
  const NumberList* list(const std::string& name) const;
  bool operator==(const Program&) const;
};

// Calls `visit(step)` for each step of `steps`, depth first, in reading order.
template <typename Visit>
void forEachStep(const Steps& steps, Visit&& visit) {
  for (const Step& step : steps) {
    visit(step);
    for (const auto& [key, body] : step.bodies) forEachStep(body, visit);
  }
}

}  // namespace ignavo
