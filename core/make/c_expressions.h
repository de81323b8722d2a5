#pragma once
#include <map>
#include <set>
#include <string>
#include <vector>

#include "program/expressions.h"

namespace ignavo {

class CNames;

// Expressions as C for a chip whose int may be narrower than a whole number: wholes are int32_t,
// other numbers float, truths bool, with as many brackets as C and its compiler's warnings ask for.
class CExpressions {
 public:
  // `names`: of what the program has; it must outlive this. Null: it has nothing.
  explicit CExpressions(const CNames* names = nullptr) : names_(names) {}

  // The expression as that type, to stand alone, as an argument or beside an assignment.
  std::string text(const Expr& e, ValueType type) { return piece(e, type).text; }
  // The same where C converts a written number by itself: 30 for 30.0f.
  std::string argument(const Expr& e, ValueType type);
  // The lines that work out the signal operators in an expression, one after the other, each into
  // a value of its own; the expression, written afterwards, takes those.
  std::vector<std::string> senses(const Expr& e);
  // What those lines remember from turn to turn: how many "struct signal" there are by now.
  int signals() const { return signals_; }
  std::string signalName(int number) const { return "s" + std::to_string(number) + signalsIn_; }
  // Behind their names from now on: where there is one for each lane, which of them.
  void signalsIn(std::string place) { signalsIn_ = std::move(place); }
  // An item of a list, as what stands left of an assignment as well.
  std::string place(const std::string& list, const Expr& index);
  // The variable that holds the lane's random numbers, from now on.
  void throwWith(std::string dice) { dice_ = std::move(dice); }
  // Functions that what was written so far calls, by name.
  const std::set<std::string>& helpers() const { return helpers_; }

 private:
  // How tightly C holds a text together: the larger, the tighter.
  enum Binding { alternative = 1, both, equal, ordered, sum, product, prefix, primary };
  struct Piece {
    std::string text;
    int binds = primary;
  };
  Piece piece(const Expr& e, ValueType type);
  Piece natural(const Expr& e, ValueType type);
  Piece operation(const Expr& e, const OperatorKind& kind);
  std::string call(const std::string& helper, const std::vector<const Expr*>& operands,
                   ValueType type, const std::string& first = {});
  Piece converted(Piece piece, ValueType from, ValueType to);
  static std::string bracketed(const Piece& piece, int atLeast) {
    return piece.binds >= atLeast ? piece.text : "(" + piece.text + ")";
  }

  // The operands as that type; where more than one of them changes what comes next, C is told in
  // which order to work them out: `before` declares them.
  std::vector<Piece> pieces(const std::vector<const Expr*>& operands, ValueType type,
                            std::string& before);

  const Types& types() const;
  std::string held(const Expr& e, const GetterKind& getter);
  Piece chosen(const Expr& e);
  void sense(const Expr& e, std::vector<std::string>& lines);
  std::string turns(const Expr* seconds);

  const CNames* names_;
  std::set<std::string> helpers_;
  std::map<const Expr*, std::string> sensed_;
  int signals_ = 0, values_ = 0;
  std::string dice_, signalsIn_;
};

// The lines that define helpers, with those that they need themselves, each group of lines apart.
std::vector<std::vector<std::string>> cHelpers(const std::set<std::string>& names);

}  // namespace ignavo
