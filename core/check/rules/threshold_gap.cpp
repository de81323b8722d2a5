#include <algorithm>
#include <cmath>

#include "check/rules/list.h"
#include "project/edits.h"

namespace ignavo {

namespace {

constexpr double mostPercent = 100;
constexpr std::size_t farthest = 8;  // tests further apart make no one decision

// An `if` without an otherwise that asks for the level of one pin and for nothing else.
struct Test {
  const Step* step;
  std::string pin;
};

// The only pin whose level the expression depends on; nothing when there is more to it.
bool onlyLevel(const Expr& e, std::string& pin) {
  if (e.isLiteral()) return true;
  if (e.shape == Expr::Shape::get) {
    const std::string* read = pinRead(e);
    if (!measuresPercent(e) || !read || (!pin.empty() && pin != *read)) return false;
    pin = *read;
    return !pin.empty();
  }
  if (e.shape != Expr::Shape::op) return false;
  return std::all_of(e.args.begin(), e.args.end(),
                     [&](const auto& arg) { return onlyLevel(arg.second, pin); });
}

double valueAt(const Expr& e, double percent) {
  switch (e.shape) {
    case Expr::Shape::number:
      return e.number;
    case Expr::Shape::truth:
      return e.truth ? 1 : 0;
    case Expr::Shape::text:
      return namedLevel(e).value_or(false) ? 1 : 0;
    case Expr::Shape::get:
      return percent;
    default:
      break;
  }
  const OperatorKind* k = operatorKind(e.text);
  const Expr *a = operandOf(e, 0), *b = operandOf(e, 1);
  return k && a ? k->calculated(valueAt(*a, percent), b ? valueAt(*b, percent) : 0) : 0;
}

bool holds(const Test& t, double percent) { return valueAt(*forkTestOf(*t.step), percent) != 0; }

void numbersIn(const Expr& e, std::vector<double>& out) {
  if (e.shape == Expr::Shape::number && e.number > 0 && e.number < mostPercent)
    out.push_back(e.number);
  for (const auto& [key, inner] : e.args) numbersIn(inner, out);
}

// A stretch of values; a single one when both ends are the same.
struct Band {
  double from = 0, to = 0;
  bool both = false;
};

// Where neither or both hold, between values at which one does. Nothing when one test
// holds wherever the other does: then they are stages, not sides.
std::optional<Band> gapBetween(const Test& a, const Test& b) {
  std::vector<double> marks{0, mostPercent};
  for (const Test* t : {&a, &b}) numbersIn(*forkTestOf(*t->step), marks);
  std::sort(marks.begin(), marks.end());
  marks.erase(std::unique(marks.begin(), marks.end()), marks.end());
  std::vector<Band> all;  // each number, and what lies between them
  for (std::size_t i = 0; i < marks.size(); ++i) {
    if (i > 0) all.push_back({marks[i - 1], marks[i]});
    all.push_back({marks[i], marks[i]});
  }
  std::vector<int> count;
  bool onlyA = false, onlyB = false;
  for (const Band& s : all) {
    const double middle = (s.from + s.to) / 2;
    const bool inA = holds(a, middle), inB = holds(b, middle);
    onlyA = onlyA || (inA && !inB);
    onlyB = onlyB || (inB && !inA);
    count.push_back((inA ? 1 : 0) + (inB ? 1 : 0));
  }
  if (!onlyA || !onlyB) return std::nullopt;
  const auto first = std::find_if(count.begin(), count.end(), [](int n) { return n > 0; });
  const auto last = std::find_if(count.rbegin(), count.rend(), [](int n) { return n > 0; }).base();
  for (auto at = first; at != last; ++at) {
    if (*at == 1) continue;
    auto end = at;
    while (end + 1 != last && *(end + 1) == *at) ++end;
    return Band{all[static_cast<std::size_t>(at - count.begin())].from,
                all[static_cast<std::size_t>(end - count.begin())].to, *at == 2};
  }
  return std::nullopt;
}

// The second test with the sign that closes a gap of a single value.
std::optional<Remedy> closed(const Project& project, const Test& a, const Test& b, bool both) {
  const auto border = borderOf(*forkTestOf(*b.step));
  if (!border || border->holds != both) return std::nullopt;
  Step mended = *b.step;
  setTestOf(mended, border->other);
  if (gapBetween(a, {&mended, b.pin})) return std::nullopt;
  return Remedy{say("Make it “{}”", phraseOf(mended)),
                edits::setExpr(project, b.step->id, testKey(mended), border->other)};
}

void report(CheckContext& c, const std::string& board, const Test& a, const Test& b,
            const Band& gap) {
  const int index = c.circuit.pinIndex(board, a.pin);
  if (index < 0) return;
  const CircuitPin& pin = c.circuit.pins()[static_cast<std::size_t>(index)];
  Finding f;
  f.rule = "threshold-gap";
  f.severity = Severity::note;
  f.pins = {c.pinName(pin)};
  f.steps = {a.step->id, b.step->id};
  f.sockets = {{pin.board, pin.name}};
  const Place from = asNumber(gap.from), to = asNumber(gap.to), pinName = f.pins.front();
  const bool one = gap.from == gap.to;
  f.title = one && gap.both ? say("At exactly {} % both tests on {} hold", from, pinName)
            : one           ? say("At exactly {} % neither test on {} holds", from, pinName)
            : gap.both      ? say("Between {} and {} % both tests on {} hold", from, to, pinName)
                       : say("Between {} and {} % neither test on {} holds", from, to, pinName);
  f.reason = say(
      gap.both ? "“{}” and “{}” are both so there, and the second undoes what the first did. One "
                 "“if” with an “otherwise” always takes exactly one way."
               : "“{}” and “{}” leave that out: there all stays as it was. One “if” with an "
                 "“otherwise” always takes exactly one way.",
      phraseOf(*a.step), phraseOf(*b.step));
  f.figures = {{"from_percent", gap.from}, {"to_percent", gap.to}};
  if (gap.from == gap.to)
    if (auto r = closed(c.project, a, b, gap.both)) f.remedies.push_back(std::move(*r));
  c.findings.push_back(std::move(f));
}

void walk(CheckContext& c, const std::string& board, const Steps& steps) {
  std::vector<Test> tests;
  for (const Step& step : steps) {
    const Steps* otherwise = bodyOf(step, Runs::ifNot);
    const Expr* test = forkTestOf(step);
    std::string pin;
    if (test && otherwise && otherwise->empty() && typeOf(*test) == ValueType::truth &&
        onlyLevel(*test, pin) && !pin.empty())
      tests.push_back({&step, pin});
    for (const auto& [key, body] : step.bodies) walk(c, board, body);
  }
  // With three tests and more the two that leave something out are neighbours: a gap
  // between two that a third fills is none.
  for (std::size_t i = 0; i < tests.size(); ++i)
    for (std::size_t j = i + 1; j < std::min(tests.size(), i + 1 + farthest); ++j) {
      if (tests[i].pin != tests[j].pin) continue;
      const auto gap = gapBetween(tests[i], tests[j]);
      if (!gap) continue;
      const double middle = (gap->from + gap->to) / 2;
      const bool filled = !gap->both && std::any_of(tests.begin(), tests.end(), [&](const Test& t) {
        return t.pin == tests[i].pin && holds(t, middle);
      });
      if (!filled) return report(c, board, tests[i], tests[j], *gap);
    }
}

void applyThresholdGap(CheckContext& c) {
  for (const BoardItem& board : c.project.boards)
    if (const Program* program = c.program(board.id))
      for (const auto& lane : program->lanes) walk(c, board.id, lane->steps);
}

}  // namespace

const Rule& thresholdGapRule() {
  static const Rule rule{
      "threshold-gap",
      Severity::note,
      "Two tests on one reading leave a value at which neither holds, or both do.",
      "Just there nothing happens, or two things at once, and it looks like a loose contact.",
      "One “if” with an “otherwise”, or < for one side and ≥ for the other.",
      true,
      applyThresholdGap};
  return rule;
}

}  // namespace ignavo
