#pragma once
#include <limits>
#include <map>
#include <optional>
#include <string>

#include "program/expressions.h"

namespace ignavo {

// Between which numbers a value lies, both included.
struct ValueRange {
  double least = -std::numeric_limits<double>::infinity();
  double most = std::numeric_limits<double>::infinity();
  bool isKnown() const { return least > -limit && most < limit; }
  static constexpr double limit = 1e30;
};

// What the variables, items and expressions of a program can give, by intervals: what is put
// somewhere is joined until nothing grows any more; what goes on growing is taken as without an
// end. Nothing is left out; much that is in it may never come.
class Ranges {
 public:
  explicit Ranges(const Program& program);

  ValueRange of(const Expr& e) const;
  // Can this test hold, and can it fail? Both where nothing is proved.
  struct Outcome {
    bool mayHold = true, mayFail = true;
  };
  Outcome outcome(const Expr& test) const;

 private:
  static ValueRange calculated(const Expr& e, ValueRange a, ValueRange b, bool whole);
  bool join(std::map<std::string, ValueRange>& names, const std::string& name, ValueRange with,
            bool widen);

  const Program& program_;
  Types types_;
  std::map<std::string, ValueRange> variables_, lists_;
};

// The ends that a value surely comes to, sooner or later; nothing where that is not known.
std::optional<ValueRange> reachedEnds(const Expr& value, const Program& program,
                                      const Ranges& ranges);

}  // namespace ignavo
