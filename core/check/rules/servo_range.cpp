#include "check/rules/list.h"
#include "program/ranges.h"
#include "project/edits.h"

namespace ignavo {

namespace {

constexpr double leastDegrees = 0, mostDegrees = 180;
constexpr double felt = 0.5;  // less an arm does not show

bool outside(ValueRange r) { return r.least < leastDegrees - felt || r.most > mostDegrees + felt; }

// The pin of the one reading in an expression where it stands once, and all else is written out;
// nothing where there is none or more.
struct OneReading {
  int readings = 0;
  std::string pin;
};
void findReading(const Expr& e, OneReading& out) {
  if (e.shape == Expr::Shape::get || e.shape == Expr::Shape::sig) {
    out.pin = pinRead(e) && measures(e) ? *pinRead(e) : std::string();
    out.readings += out.pin.empty() ? 2 : 1;
    return;
  }
  for (const auto& [key, inner] : e.args) findReading(inner, out);
}

// Is there a knob on that pin? It surely comes to both of its ends.
bool hasKnob(const CheckContext& c, const std::string& board, const std::string& pin) {
  const int index = c.circuit.pinIndex(board, pin);
  if (index < 0) return false;
  const CircuitPin& p = c.circuit.pins()[static_cast<std::size_t>(index)];
  return c.wired(p) && std::any_of(c.circuit.island(p.island).parts.begin(),
                                   c.circuit.island(p.island).parts.end(), [&](int part) {
                                     const PartKind* kind = c.circuit.kindOf(part);
                                     return kind && kind->divides;
                                   });
}

void applyServoRange(CheckContext& c) {
  for (const BoardItem& board : c.project.boards) {
    const Program* program = c.program(board.id);
    if (!program) continue;
    const Ranges ranges(*program);
    for (const auto& lane : program->lanes)
      forEachStep(lane->steps, [&](const Step& s) {
        const Expr* angle = angleOf(s);
        if (!angle) return;
        std::optional<ValueRange> told = reachedEnds(*angle, *program, ranges);
        const ValueRange may = ranges.of(*angle);
        OneReading reading;
        findReading(*angle, reading);
        if (!told && reading.readings == 1 && hasKnob(c, board.id, reading.pin)) told = may;
        const bool always = may.most < leastDegrees - felt || may.least > mostDegrees + felt;
        if (!always && !(told && outside(*told))) return;
        const ValueRange shown = told ? *told : may;
        Finding f;
        f.rule = "servo-range";
        f.severity = Severity::warning;
        f.steps = {s.id};
        const int pin = c.circuit.pinIndex(board.id, pinWritten(s).value_or(std::string()));
        if (pin >= 0) f.pins = {c.pinName(c.circuit.pins()[static_cast<std::size_t>(pin)])};
        const double nearest = shown.least > mostDegrees ? mostDegrees : leastDegrees;
        if (shown.least == shown.most) {
          f.title = say("A servo does not turn to {}°", asNumber(shown.least));
          f.reason = say("Its arm goes from 0 to 180°; told {}°, it stays at {}.",
                         asNumber(shown.least), asNumber(nearest));
          f.remedies.push_back({say("Turn it to {}°", asNumber(nearest)),
                                edits::setExpr(c.project, s.id, angleKey(s), Expr::of(nearest))});
        } else {
          f.title = say("A servo is told angles outside of 0 to 180°");
          f.reason = say("“{}” goes from {} to {}°; beyond its ends the arm stays where it is.",
                         phraseOf(s), asNumber(shown.least), asNumber(shown.most));
        }
        f.figures = {{"least", shown.least}, {"most", shown.most}};
        c.findings.push_back(std::move(f));
      });
  }
}

}  // namespace

const Rule& servoRangeRule() {
  static const Rule rule{"servo-range",
                         Severity::warning,
                         "A servo is told an angle outside of 0 to 180°.",
                         "The arm stays at the end, and on the table it may push against its stop.",
                         "Stay between 0 and 180°; “map … to 0 … 180” fits other numbers in.",
                         true,
                         applyServoRange};
  return rule;
}

}  // namespace ignavo
