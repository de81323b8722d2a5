#pragma once
#include <cstdint>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "program/instruction.h"
#include "program/phrase.h"
#include "program/values.h"
#include "program/vocabulary.h"
#include "project/program_model.h"
#include "text/message.h"

namespace ignavo {

// The levels that a pin can be given, as they are written; and under which keys operands stand.
inline constexpr const char *levelHigh = "high", *levelLow = "low";
inline constexpr const char *firstOperand = "a", *secondOperand = "b";

// One operator: a row in expressions.cpp.
struct OperatorKind {
  using Calculation = Cell (*)(const Cell* operands, NumberFault&);

  std::string name;    // as in the file
  std::string phrase;  // as typed and shown, operands in braces
  int binds = 0;       // of a sign between two operands: higher binds tighter; 0: words before them
  enum class Gives : std::uint8_t { truth, number, real, whole } gives = Gives::number;
  bool takesTruth = false;
  int operandsBind = 5;  // of words before them: what binds less stands in brackets
  // With whole operands and with floats; the first is missing where there are only floats.
  Calculation whole = nullptr, real = nullptr;
  std::string inC;    // the sign in C, or the name of a function for whole operands
  std::string realC;  // of the function for floats
  bool realWorkedOut =
      false;  // floats that are known beforehand too: no compiler knows what it gives
  enum class Is : std::uint8_t {
    other,
    equality,
    inequality,
    negation,
    conjunction,
    disjunction,
    quotient,
  } is = Is::other;
  std::string opposite;  // of a comparison: the one that holds just where it does not
  std::string border;    // the one that differs from it for equal values only

  std::vector<std::string> operands() const;  // their keys, in order
  bool isSign() const { return binds > 0; }   // stands between its operands
  // With numbers as they come: whole where they are.
  double calculated(double a, double b = 0) const;
  double calculated(const std::vector<double>& operands) const;
};
const std::vector<OperatorKind>& operatorKinds();
const OperatorKind* operatorKind(const std::string& name);
int operatorIndex(const std::string& name);

// What stands in a getter's field: a name, or a whole number.
enum class FieldKind : std::uint8_t { pin, variable, list, key, whole };
FieldKind fieldKind(const std::string& key);

// What can be asked for: a row in expressions.cpp.
struct GetterKind {
  std::string name;    // the file's "get"
  std::string phrase;  // as typed and shown: "level of {pin}"
  ValueType gives = ValueType::truth;
  OpCode code = OpCode::readPin;
  std::string inC;            // of a pin: the beginning of the C function's name; else the name
  bool measures = false;      // how much, not whether
  const char* question = "";  // to ask where the pin is missing
  double full = 1;            // what the whole supply gives
  bool changes = false;       // asked again it gives something else: the order matters
  bool inTurns = false;       // needs a clock beside the program
  bool counts = false;        // how many a list holds: known before anything runs

  bool asksPin() const;
  std::vector<std::string> fields() const;    // the keys of all its fields
  std::vector<std::string> operands() const;  // of those that are worked out
};
const std::vector<GetterKind>& getterKinds();
const GetterKind* getterKind(const std::string& name);

// The types of what a program has by name: each is what all the values that are put there need.
// Found by joining until nothing changes (a fixed point of a lattice of height three).
class Types {
 public:
  Types() = default;  // nothing has a name
  explicit Types(const Program& program);

  // As own steps see them: their inputs hide variables of the same name.
  Types within(const std::string& own) const;
  ValueType input(const std::string& own, const std::string& name) const;
  ValueType variable(const std::string& name) const;
  ValueType list(const std::string& name) const;

 private:
  bool join(std::map<std::string, ValueType>& names, const std::string& name, ValueType with);
  std::map<std::string, ValueType> variables_, lists_;
  std::map<std::string, std::map<std::string, ValueType>> inputs_;  // of own steps, by name
};

// Type that an expression gives; what is nothing known is a whole number.
ValueType typeOf(const Expr& e, const Types& types = {});
// Of what type an operator's operands are while it works on them.
ValueType operandType(const Expr& e, const Types& types = {});
// The values that an operator works on or a getter asks with; of an operator ranges are taken
// apart: "a" and, of "from" and "to", both ends.
std::vector<const Expr*> operandsOf(const Expr& e);
bool isRange(const std::string& operandKey);

// "D2 is high", "3 + 4": the one way in which an expression is written.
// `nested` puts operators into brackets.
std::string phraseOf(const Expr& e, bool nested = false);

// A name as it is typed among other words: in quotes where it could be taken for something else.
std::string nameText(const std::string& name);
// A text in quotes.
std::string quotedText(const std::string& text);

struct ParsedExpr {
  std::optional<Expr> value;
  Message problem;  // when value is missing
};
// Reads a typed expression: numbers with an optional unit, D2, level of A0, high / low,
// true / false, operators by sign or word.
ParsedExpr parseExpr(const std::string& typed, const Vocabulary& words);

// Does asking for it change what comes next?
bool changes(const Expr& e);
// Is anything asked that needs a clock beside the program?
bool needsTurns(const Expr& e);

// Calls `visit(getter, pin)` for each reading of a pin in the expression.
template <typename Visit>
void forEachGetter(const Expr& e, Visit&& visit) {
  if (e.shape == Expr::Shape::get)
    if (const Expr* pin = e.arg(pinKey))
      if (const GetterKind* getter = getterKind(e.text)) visit(*getter, pin->text);
  for (const auto& [key, inner] : e.args) forEachGetter(inner, visit);
}
// Calls `visit(pin)` for each pin that the expression reads.
template <typename Visit>
void forEachPinRead(const Expr& e, Visit&& visit) {
  forEachGetter(e, [&](const GetterKind&, const std::string& pin) { visit(pin); });
}

}  // namespace ignavo
