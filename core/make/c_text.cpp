#include "make/c_text.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>
#include <utility>

#include "make/c_expressions.h"
#include "make/c_lines.h"
#include "make/c_names.h"
#include "make/c_pins.h"
#include "make/c_turns.h"
#include "parts/catalogue.h"
#include "program/facts.h"

namespace ignavo {

std::string commentSafe(const std::string& text) {
  std::string out;
  for (char c : text) {
    if (static_cast<unsigned char>(c) < 0x20 || c == 0x7F) c = ' ';
    if (c == '/' && !out.empty() && out.back() == '*') out += ' ';
    if (c == '*' && !out.empty() && out.back() == '/') out += ' ';
    if (c == '\\' || c == '?') c = '.';  // no line splices, no trigraphs
    out += c;
  }
  return out;
}

namespace {

constexpr double longestDelaySeconds = 60;  // what one delay call is given

class Writer final : public CWriter {
 public:
  // `helpers`: the functions that it will call, found by writing it once without them.
  Writer(const Project& project, const BoardItem& board, const BoardKind& kind, const Chip& chip,
         std::set<std::string> helpers = {})
      : project_(project),
        chip_(chip),
        program_(project.program(board.id)),
        pins_(project, board, kind, chip),
        names_(program_ ? *program_ : noProgram()),
        expressions_(&names_),
        helpers_(std::move(helpers)) {
    if (!program_) return;
    for (const auto& lane : program_->lanes)
      if (!lane->steps.empty()) lanes_.push_back(&*lane);
    turns_ = whyInTurns(*program_).has_value();
  }

  std::set<std::string> helpers() const {
    std::set<std::string> all = expressions_.helpers();
    all.insert(waits_.begin(), waits_.end());
    return all;
  }
  CText write() {
    header();
    for (const auto& lines : cHelpers(helpers_)) {
      for (const std::string& text : lines) line(text);
      line("");
    }
    pins_.functions(c_);
    const std::vector<std::string> named = names_.declarations();
    for (const std::string& text : named) line(text);
    if (!named.empty()) line("");
    pins_.prepare(c_);
    if (program_) pins_.startTimers(c_, turns_);
    if (turns_)
      inTurns();
    else
      plain();
    return std::move(c_.out());
  }

  void line(const std::string& text) override { c_.line(stepping() + text); }
  void open(const std::string& head) override { c_.open(stepping() + head); }
  void middle(const std::string& text) override { c_.middle(text); }
  void close() override { c_.close(); }
  void body(const Steps* steps) override {
    if (!steps) return;
    for (const Step& s : *steps) {
      const StepKind* kind = stepKind(s.kind);
      if (!kind) continue;
      const int loop = bodyOf(s, Runs::again) ? 1 : 0;
      loops_ += loop;
      std::vector<CText::Span>& spans = c_.out().spans;
      const std::size_t span = spans.size();
      spans.push_back({s.id, c_.count() + 1, 0});
      takesTurn_ = turns_ && kind->takesTurn;
      kind->writeC(*this, s);
      takesTurn_ = false;
      c_.out().spans[span].last = c_.count();
      loops_ -= loop;
    }
  }
  void asLongAs(const std::string& so) override {
    if (!turns_) return open("while (" + so + ")");
    takesTurn_ = false;
    open("for (;;)");
    takesTurn_ = true;
    line("if (!(" + so + "))");
    line("    break;");
  }
  void waitUntil(const std::string& so) override {
    takesTurn_ = false;
    line(turns_ ? "STEP_UNTIL(" + so + ");" : "while (!(" + so + ")) {}");
  }
  void round(bool takesTurn) override {
    if (turns_ && takesTurn) line("STEP;  /* a round takes a turn */");
  }
  void leave() override {
    if (loops_ > 0)
      line("break;");
    else
      line("/* there is no loop to leave */");
  }
  void remark(const std::string& text) override { line("/* " + commentSafe(text) + " */"); }
  void endLane() override { line(turns_ ? "STOP;" : "for (;;) {}  /* the end */"); }
  void wait(const Expr& seconds) override {
    if (seconds.shape != Expr::Shape::number) {
      const std::string text = argument(seconds, ValueType::real);
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
  std::string expression(const Expr& e, ValueType type) override {
    return expressions_.text(e, type);
  }
  std::string argument(const Expr& e, ValueType type) override {
    return expressions_.argument(e, type);
  }
  std::string variable(const std::string& name) override { return names_.variable(name); }
  std::string list(const std::string& name) override { return names_.list(name); }
  const Types& types() const override { return names_.types(); }
  std::string place(const std::string& list, const Expr& index) override {
    return expressions_.place(list, index);
  }
  std::string remarkFor(const std::string& pin) override { return pins_.remark(pin); }
  std::string counterVariable() override {
    ++depth_;
    return depth_ == 1 ? "round" : "round" + std::to_string(depth_);
  }
  void counterDone() override { --depth_; }

 private:
  static const Program& noProgram() {
    static const Program none;
    return none;
  }
  const std::string& helped(const std::string& helper) { return *waits_.insert(helper).first; }
  // Before what takes a turn; its first line says so.
  std::string stepping() { return std::exchange(takesTurn_, false) ? "STEP " : ""; }
  static long long turnsOf(double seconds) {
    const auto nanoseconds = static_cast<double>(std::llround(seconds * 1e9));
    return std::llround(std::ceil(nanoseconds / static_cast<double>(turnNanoseconds)));
  }

  void header() {
    line("/* " + commentSafe(project_.title) + " */");
    line(fmt::format("#define F_CPU {}UL  /* the chip runs at {} MHz */", chip_.hertz,
                     chip_.hertz / 1000000));
    if (turns_) line("#include <avr/interrupt.h>");
    line("#include <avr/cpufunc.h>");
    line("#include <avr/io.h>");
    if (turns_) line("#include <avr/sleep.h>");
    line("#include <math.h>");
    line("#include <stdbool.h>");
    line("#include <stdint.h>");
    if (!turns_) line("#include <util/delay.h>");
    line("");
    line("#define HIGH true");
    line("#define LOW false");
    line("");
  }

  int deepestRepeat(const Steps& steps) const {
    int most = 0;
    for (const Step& s : steps) {
      int inner = 0;
      for (const auto& [key, b] : s.bodies) inner = std::max(inner, deepestRepeat(b));
      most = std::max(most, (isRepeat(s) ? 1 : 0) + inner);
    }
    return most;
  }
  void counters(const Steps& steps, const char* storage) {
    const int deepest = deepestRepeat(steps);
    for (int i = 0; i < deepest; ++i)
      line(fmt::format("{}int32_t round{};", storage,
                       i == 0 ? std::string() : std::to_string(i + 1)));
  }
  // What the random numbers of a lane are made with, if it asks for any.
  void dice(const Lane& lane, const std::string& number) {
    expressions_.throwWith("dice" + number);
    bool thrown = false;
    forEachStep(lane.steps, [&](const Step& s) {
      for (const auto& [key, value] : s.fields) thrown = thrown || changes(value);
    });
    if (!thrown) return;
    line(fmt::format("static uint32_t dice{} = {}UL;  /* never 0 */", number,
                     diceOf(project_.seed, lane.id)));
    line("");
  }

  // ---- freely: one lane, from the top

  void plain() {
    const Lane* lane = lanes_.empty() ? nullptr : lanes_.front();
    if (lane) dice(*lane, "");
    open("int main(void)");
    if (lane) counters(lane->steps, "");
    line("prepare_pins();");
    startTimers();
    const TriggerKind* trigger = lane ? triggerKind(lane->trigger.on) : nullptr;
    if (trigger && trigger->endless) {
      open("for (;;)");
      body(&lane->steps);
      close();
    } else {
      if (lane) body(&lane->steps);
      line("for (;;) {}");
    }
    close();
  }

  // ---- in turns: a function for each lane

  void inTurns() {
    writeTurns(c_, chip_, pins_.waker());
    bool started = false;
    for (const Lane* lane : lanes_) started = started || edgeOf(*lane) != TriggerKind::Edge::none;
    if (started) writeStart(c_);
    for (std::size_t i = 0; i < lanes_.size(); ++i) {
      dice(*lanes_[i], std::to_string(i + 1));
      laneFunction(*lanes_[i], i + 1);
    }
    watching();
    open("int main(void)");
    line("prepare_pins();");
    startTimers();
    line("sei();");
    open("for (;;)");
    if (started) line("look_at_pins();");
    for (std::size_t i = 1; i <= lanes_.size(); ++i) line(fmt::format("lane{0}(&state{0});", i));
    line("next_turn();");
    close();
    close();
  }

  void startTimers() {
    CLines probe;
    pins_.startTimers(probe, turns_);
    if (probe.count() > 0) line("start_timers();");
  }

  static TriggerKind::Edge edgeOf(const Lane& lane) {
    const TriggerKind* trigger = triggerKind(lane.trigger.on);
    return trigger ? trigger->edge : TriggerKind::Edge::none;
  }

  void laneFunction(const Lane& lane, std::size_t number) {
    const TriggerKind* trigger = triggerKind(lane.trigger.on);
    line(fmt::format("/* {} */", commentSafe(signOf(lane.trigger))));
    line(fmt::format("static struct lane state{} = {{.runs = {}}};", number,
                     edgeOf(lane) == TriggerKind::Edge::none ? "true" : "false"));
    open(fmt::format("static void lane{}(struct lane *l)", number));
    counters(lane.steps, "static ");
    line("BEGIN");
    if (trigger && trigger->endless) {
      open("for (;;)");
      body(&lane.steps);
      round(takeNoTurn(lane.steps));
      close();
    } else {
      body(&lane.steps);
    }
    line("END;");
    close();
    line("");
  }

  // What starts lanes: an edge from one turn to the next.
  void watching() {
    std::vector<std::string> watched;
    for (const Lane* lane : lanes_)
      if (edgeOf(*lane) != TriggerKind::Edge::none && pins_.has(lane->trigger.pin) &&
          std::find(watched.begin(), watched.end(), lane->trigger.pin) == watched.end())
        watched.push_back(lane->trigger.pin);
    bool any = false;
    for (const Lane* lane : lanes_) any = any || edgeOf(*lane) != TriggerKind::Edge::none;
    if (!any) return;
    line("/* Starts lanes where a pin is no longer as it was a turn ago. */");
    open("static void look_at_pins(void)");
    for (const std::string& pin : watched) {
      line(fmt::format("static bool was_{};", pin));
      line(fmt::format("bool is_{0} = read_{0}();", pin));
      for (std::size_t i = 0; i < lanes_.size(); ++i) {
        if (lanes_[i]->trigger.pin != pin || edgeOf(*lanes_[i]) == TriggerKind::Edge::none)
          continue;
        const bool rise = edgeOf(*lanes_[i]) == TriggerKind::Edge::rise;
        line(fmt::format("if (turn > 0 && {}is_{} && {}was_{})", rise ? "" : "!", pin,
                         rise ? "!" : "", pin));
        line(fmt::format("    start(&state{});", i + 1));
      }
      line(fmt::format("was_{0} = is_{0};", pin));
    }
    close();
    line("");
  }

  const Project& project_;
  const Chip& chip_;
  const Program* program_;
  CPins pins_;
  CNames names_;
  CLines c_;
  CExpressions expressions_;
  std::set<std::string> helpers_, waits_;
  std::vector<const Lane*> lanes_;
  bool turns_ = false;
  bool takesTurn_ = false;  // what is written next
  int depth_ = 0;
  int loops_ = 0;  // around what is written
};

}  // namespace

CText cText(const Project& project, const std::string& board) {
  const BoardItem* item = project.board(board);
  const BoardKind* kind = item ? catalogue().boardKind(item->type) : nullptr;
  const Chip* target = kind ? chip(kind->chip) : nullptr;
  if (!target) return {};
  Writer first(project, *item, *kind, *target);
  (void)first.write();
  return Writer(project, *item, *kind, *target, first.helpers()).write();
}

}  // namespace ignavo
