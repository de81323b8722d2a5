#include "check/rules/list.h"
#include "program/ranges.h"

namespace ignavo {

namespace {

void reportTest(CheckContext& c, const std::string& owner, const Expr& test, const Message& what) {
  Finding f;
  f.rule = "test-never";
  f.severity = Severity::warning;
  f.steps = {owner};
  f.title = say("“{}” can never be", phraseOf(test));
  f.reason = what;
  f.figures = {{"tests", 1}};
  c.findings.push_back(std::move(f));
}

// What the first side of a comparison can be, where that says why.
Message whyNever(const Expr& test, const Ranges& ranges) {
  const Expr *a = operandOf(test, 0), *b = operandOf(test, 1);
  if (a && b) {
    const ValueRange left = ranges.of(*a);
    if (left.isKnown() && left.least != left.most)
      return say("{} goes from {} to {}.", phraseOf(*a), asNumber(left.least, 6),
                 asNumber(left.most, 6));
    if (left.isKnown()) return say("{} is always {}.", phraseOf(*a), asNumber(left.least, 6));
  }
  return say("Whatever happens, it does not hold: the values that it looks at never come there.");
}

void applyTestNever(CheckContext& c) {
  for (const BoardItem& board : c.project.boards) {
    const Program* program = c.program(board.id);
    if (!program) continue;
    const Ranges ranges(*program);
    for (const auto& lane : program->lanes) {
      if (const Expr* so = startTestOf(lane->trigger); so && !ranges.outcome(*so).mayHold)
        reportTest(c, lane->id, *so, whyNever(*so, ranges));
      forEachStep(lane->steps, [&](const Step& s) {
        const Expr* so = testOf(s);
        if (so && !ranges.outcome(*so).mayHold) reportTest(c, s.id, *so, whyNever(*so, ranges));
      });
    }
  }
}

}  // namespace

const Rule& testNeverRule() {
  static const Rule rule{"test-never",
                         Severity::warning,
                         "A test that can never hold.",
                         "What stands under it is never done.",
                         "Compare with a value that can come.",
                         true,
                         applyTestNever};
  return rule;
}

}  // namespace ignavo
