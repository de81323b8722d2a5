#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "make/c_program.h"
#include "make/c_text.h"
#include "program/own_steps.h"
#include "program/said.h"

// What the step kinds write with.
namespace ignavo {

namespace {
constexpr double longestDelaySeconds = 60;  // what one delay call is given
}  // namespace

void CProgram::line(const std::string& text) { c_.line(stepping() + text); }
void CProgram::open(const std::string& head) { c_.open(stepping() + head); }
void CProgram::middle(const std::string& text) { c_.middle(text); }
void CProgram::close() { c_.close(); }

void CProgram::body(const Steps* steps) {
  if (!steps) return;
  for (const Step& s : *steps) {
    const StepKind* kind = stepKind(s.kind);
    if (!kind) continue;
    const int loop = bodyOf(s, Runs::again) ? 1 : 0;
    loops_ += loop;
    std::vector<CText::Span>& spans = c_.out().spans;
    const std::size_t span = spans.size();
    spans.push_back({s.id, c_.count() + 1, 0});
    const Step* around = std::exchange(step_, &s);
    takesTurn_ = turns_ && kind->takesTurn;
    kind->writeC(*this, s);
    takesTurn_ = false;
    step_ = around;
    c_.out().spans[span].last = c_.count();
    loops_ -= loop;
  }
}

int CProgram::share() const { return step_ ? work_.of(step_->id) : work_.round; }
std::string CProgram::step() const {
  return work_.counted ? fmt::format("STEP({})", share()) : "STEP";
}

void CProgram::asLongAs(const std::string& so) {
  if (!turns_) return open("while (" + so + ")");
  takesTurn_ = false;
  open("for (;;)");
  takesTurn_ = true;
  line("if (!(" + so + "))");
  line("    break;");
}

std::vector<std::string> CProgram::senses(const Expr& e) {
  const auto before = static_cast<std::size_t>(expressions_.signals());
  std::vector<std::string> lines = expressions_.senses(e);
  signals_.resize(before);
  signals_.resize(static_cast<std::size_t>(expressions_.signals()), within_);
  return lines;
}

void CProgram::waitUntil(const Expr& test) {
  takesTurn_ = false;
  const int before = expressions_.signals();
  const std::vector<std::string> first = senses(test);
  const std::string so = expression(test, ValueType::truth);
  if (first.empty()) return line(turns_ ? stepUntil(so) : "while (!(" + so + ")) {}");
  // They begin afresh with each wait.
  for (int s = before + 1; s <= expressions_.signals(); ++s)
    line(fmt::format("{} = (struct signal){{0}};", expressions_.signalName(s)));
  open(step());
  for (const std::string& text : first) line(text);
  line("if (!(" + so + "))");
  line("    return;");
  close();
}

std::string CProgram::stepUntil(const std::string& so) const {
  return work_.counted ? fmt::format("STEP_UNTIL({}, {});", share(), so)
                       : "STEP_UNTIL(" + so + ");";
}

void CProgram::round(bool takesTurn) {
  if (turns_ && takesTurn) line(step() + ";  /* a round takes a turn */");
}
void CProgram::leave() { line(loops_ > 0 ? "break;" : "/* there is no loop to leave */"); }
void CProgram::remark(const std::string& text) { line("/* " + commentSafe(text) + " */"); }
void CProgram::endLane() { line(turns_ ? "STOP;" : "for (;;) {}  /* the end */"); }

void CProgram::wait(const Expr& seconds) {
  if (seconds.shape != Expr::Shape::number) {
    const std::string text = argument(seconds, ValueType::real);
    const StepKind* kind = turns_ && step_ ? stepKind(step_->kind) : nullptr;
    if (kind && !kind->takesTurn && work_.counted) line(fmt::format("spent += {};", share()));
    return line(turns_ ? "WAIT(" + helped("turns_of") + "(" + text + "));"
                       : helped("wait_seconds") + "(" + text + ");");
  }
  const double s = seconds.number;
  if (turns_) return line(fmt::format("WAIT({}UL);  /* {} s */", turnsOf(s), s));
  const auto minutes = static_cast<long>(s / longestDelaySeconds);
  const double rest = s - static_cast<double>(minutes) * longestDelaySeconds;
  if (minutes > 0) line(fmt::format("{}({});", helped("wait_minutes"), minutes));
  if (rest <= 0) return;
  if (rest < 0.001)
    line(fmt::format("_delay_us({});", rest * 1e6));
  else
    line(fmt::format("_delay_ms({});", rest * 1000));
}

std::string CProgram::expression(const Expr& e, ValueType type) {
  return expressions_.text(e, type);
}
std::string CProgram::argument(const Expr& e, ValueType type) {
  return expressions_.argument(e, type);
}
std::string CProgram::variable(const std::string& name) { return names_.variable(name); }
std::string CProgram::list(const std::string& name) { return names_.list(name); }
const Types& CProgram::types() const { return names_.types(); }
std::string CProgram::place(const std::string& list, const Expr& index) {
  return expressions_.place(list, index);
}
std::string CProgram::remarkFor(const std::string& pin) { return pins_.remark(pin); }

std::string CProgram::counterVariable() {
  ++depth_;
  return (within_ ? "o->" : "") +
         (depth_ == 1 ? std::string("round") : "round" + std::to_string(depth_));
}
void CProgram::counterDone() { --depth_; }

void CProgram::run(const Step& ownStep) {
  const Lane* own = ownRun(program_, ownStep);
  if (!own || (within_ && comesBack(program_, *within_, *own)))
    return line("{}  /* there is no such own step to run here */");
  for (const std::string& input : inputsOf(*own)) {
    const ValueType type = names_.types().input(ownName(*own), input);
    const Expr* given = givenTo(ownStep, input);
    line(fmt::format("{}_in[l->runner].{} = {};", ownC(*own), names_.input(*own, input),
                     argument(given ? *given : Expr::of(0.0), type)));
  }
  if (std::exchange(takesTurn_, false)) line(step());  // not in one line with what follows
  line(fmt::format("RUN({});  /* {} */", ownC(*own), commentSafe(ownName(*own))));
}

int CProgram::text(const std::string& text) {
  const auto it = std::find(texts_.begin(), texts_.end(), text);
  if (it != texts_.end()) return static_cast<int>(it - texts_.begin());
  texts_.push_back(text);
  return static_cast<int>(texts_.size()) - 1;
}

void CProgram::say(const Step& step) {
  const auto number = std::find(saying_.begin(), saying_.end(), step.id) - saying_.begin() + 1;
  const bool note = saysNote(step);
  takesTurn_ = false;
  line(stepUntil("!line_waits"));
  line(fmt::format("begin_line('{}', {});", note ? 'N' : 'L', number));
  if (note) {
    const Expr* seconds = noteSecondsOf(step);
    line(helped("note_seconds") + "(" +
         argument(seconds ? *seconds : Expr::of(0.0), ValueType::real) + ");");
  }
  for (const Expr* item : saidBy(step)) {
    if (item->shape == Expr::Shape::text) {
      line(fmt::format("{}({});  /* {} */", helped("say_text"), text(item->text),
                       commentSafe(firstLetters(item->text, lineLetters))));
      continue;
    }
    const ValueType type = typeOf(*item, names_.types());
    const char* says = type == ValueType::truth  ? "say_truth"
                       : type == ValueType::real ? "say_real"
                       : type == ValueType::text ? "say_text"
                                                 : "say_whole";
    line(helped(says) + "(" + argument(*item, type) + ");");
  }
  line("SEND_LINE;");
}

}  // namespace ignavo
