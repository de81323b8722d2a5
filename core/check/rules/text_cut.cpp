#include "check/rules/list.h"
#include "program/said.h"
#include "text/plain.h"

namespace ignavo {

namespace {

int lettersOf(const std::string& text) { return static_cast<int>(letterCount(text)); }

// The fewest letters that it can have.
int leastLetters(const Expr& said, const Program& program, const Types& types) {
  if (said.shape == Expr::Shape::text) return lettersOf(said.text);
  const ValueType type = typeOf(said, types);
  if (type == ValueType::truth) return 4;
  if (type != ValueType::text) return 1;
  // A variable holds one of the texts that anything puts there.
  const Expr* name = said.shape == Expr::Shape::get ? said.arg(variableKey) : nullptr;
  const Variable* variable = name ? program.variable(name->text) : nullptr;
  if (!variable) return 0;
  int least = variable->start.shape == Expr::Shape::text ? lettersOf(variable->start.text) : 0;
  for (const auto& lane : program.lanes)
    forEachStep(lane->steps, [&](const Step& s) {
      const auto change = changeOf(s);
      if (!change || change->list || change->name != name->text) return;
      const bool text = change->value && change->value->shape == Expr::Shape::text;
      least = std::min(least, text ? lettersOf(change->value->text) : 0);
    });
  return least;
}

void applyTextCut(CheckContext& c) {
  for (const BoardItem& board : c.project.boards) {
    const Program* program = c.program(board.id);
    if (!program) continue;
    const Types types(*program);
    for (const auto& lane : program->lanes)
      forEachStep(lane->steps, [&](const Step& s) {
        if (!says(s)) return;
        int letters = -1;
        for (const Expr* item : saidBy(s)) letters += 1 + leastLetters(*item, *program, types);
        if (letters <= lineLetters) return;
        Finding f;
        f.rule = "text-cut";
        f.severity = Severity::warning;
        f.steps = {s.id};
        f.title = saysNote(s) ? say("A note is too long for one line")
                              : say("A line of the log is too long");
        f.reason =
            say("It has {} letters, and {} are the most that are sent: what stands behind "
                "them is cut off.",
                letters, lineLetters);
        f.figures = {{"letters", static_cast<double>(letters)}};
        c.findings.push_back(std::move(f));
      });
  }
}

}  // namespace

const Rule& textCutRule() {
  static const Rule rule{"text-cut",
                         Severity::warning,
                         "A note or a line of the log has more letters than are sent.",
                         "The end of it is never seen.",
                         "Say it in 60 letters, or in two lines.",
                         true,
                         applyTextCut};
  return rule;
}

}  // namespace ignavo
