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
         std::set<std::string> helpers = {}, int states = 0)
      : project_(project),
        chip_(chip),
        program_(project.program(board.id)),
        pins_(project, board, kind, chip),
        names_(program_ ? *program_ : noProgram()),
        expressions_(&names_),
        helpers_(std::move(helpers)),
        states_(states) {
    if (!program_) return;
    for (const auto& lane : program_->lanes)
      if (doesSomething(*lane)) lanes_.push_back(&*lane);
    turns_ = whyInTurns(*program_).has_value();
  }

  std::set<std::string> helpers() const {
    std::set<std::string> all = expressions_.helpers();
    all.insert(waits_.begin(), waits_.end());
    return all;
  }
  int signals() const { return expressions_.signals(); }
  CText write() {
    header();
    if (turns_) line("static uint32_t turn;  /* of 250 microseconds, since power came on */\n");
    for (const auto& lines : cHelpers(helpers_)) {
      for (const std::string& text : lines) line(text);
      line("");
    }
    if (turns_) {
      writeClock(c_, chip_);
      pins_.pulses(c_);
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
  void waitUntil(const Expr& test) override {
    takesTurn_ = false;
    const int before = expressions_.signals();
    const std::vector<std::string> first = expressions_.senses(test);
    const std::string so = expression(test, ValueType::truth);
    if (first.empty()) return line(turns_ ? "STEP_UNTIL(" + so + ");" : "while (!(" + so + ")) {}");
    // They begin afresh with each wait.
    for (int s = before + 1; s <= expressions_.signals(); ++s)
      line(fmt::format("s{0} = (struct signal){{0}};", s));
    open("STEP");
    for (const std::string& text : first) line(text);
    line("if (!(" + so + "))");
    line("    return;");
    close();
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
    for (const auto& [key, value] : lane.trigger.fields) thrown = thrown || changes(value);
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
    bool makesSteps = false;
    for (const Lane* lane : lanes_) makesSteps = makesSteps || !isKept(lane->trigger);
    writeTurns(c_, pins_.waker(), makesSteps);
    bool started = false;
    for (const Lane* lane : lanes_) started = started || startsAgain(*lane);
    if (started) writeStart(c_);
    for (int s = 1; s <= states_; ++s) line(fmt::format("static struct signal s{};", s));
    if (states_ > 0) line("");
    // What is worked out once a turn, in the order of the lanes; then those make their steps.
    std::vector<std::string> once, steps;
    for (std::size_t i = 0; i < lanes_.size(); ++i) {
      const Lane& lane = *lanes_[i];
      const std::string number = std::to_string(i + 1);
      dice(lane, number);
      if (isKept(lane.trigger)) {
        keepFunction(lane, number);
        once.push_back("keep" + number + "();");
        continue;
      }
      laneFunction(lane, number);
      steps.push_back(fmt::format("lane{0}(&state{0});", number));
      if (!startTestOf(lane.trigger)) continue;
      testFunction(lane, number);
      once.push_back("test" + number + "();");
    }
    const bool looks = watching();
    const bool clocked = clocking();
    open("int main(void)");
    line("prepare_pins();");
    startTimers();
    line("sei();");
    open("for (;;)");
    if (looks) line("look_at_pins();");
    if (clocked) line("look_at_the_clock();");
    for (const std::string& text : once) line(text);
    for (const std::string& text : steps) line(text);
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
  static bool startsAgain(const Lane& lane) {
    const TriggerKind* trigger = triggerKind(lane.trigger.on);
    return trigger && trigger->startsAgain();
  }
  std::string starting(const Lane& lane, const std::string& number) const {
    using Again = CompiledLane::Again;
    const Again again = againOf(lane.trigger).is;
    return fmt::format("start(&state{}, {});", number,
                       again == Again::restart ? "START_OVER"
                       : again == Again::queue ? "QUEUE"
                                               : "IGNORE");
  }

  void laneFunction(const Lane& lane, const std::string& number) {
    const TriggerKind* trigger = triggerKind(lane.trigger.on);
    line(fmt::format("/* {} */", commentSafe(signOf(lane.trigger))));
    line(fmt::format("static struct lane state{} = {{.runs = {}}};", number,
                     startsAgain(lane) ? "false" : "true"));
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

  // Something that is kept equal to an expression.
  void keepFunction(const Lane& lane, const std::string& number) {
    using Keeps = TriggerKind::Keeps;
    const Keeps keeps = triggerKind(lane.trigger.on)->keeps;
    const Expr& from = *keptOf(lane.trigger);
    const std::string& pin = lane.trigger.pin;
    line(fmt::format("/* {} */", commentSafe(signOf(lane.trigger))));
    open(fmt::format("static void keep{}(void)", number));
    for (const std::string& text : expressions_.senses(from)) line(text);
    if (keeps == Keeps::variable) {
      const std::string& name = lane.trigger.field(variableKey)->text;
      if (const std::string variable = names_.variable(name); !variable.empty())
        line(variable + " = " + argument(from, names_.types().variable(name)) + ";");
      else
        line("/* there is no such variable */");
    } else if (!pins_.has(pin)) {
      line("/* there is no such pin */");
    } else if (keeps == Keeps::pin) {
      line("set_" + pin + "(" + argument(from, ValueType::truth) + ");" + remarkFor(pin));
    } else {
      line("dim_" + pin + "(" + argument(from, ValueType::real) + ");" + remarkFor(pin));
    }
    close();
    line("");
  }

  // A test that starts its lane each time it becomes true.
  void testFunction(const Lane& lane, const std::string& number) {
    const Expr& so = *startTestOf(lane.trigger);
    helped("rose");
    line(fmt::format("/* {} */", commentSafe(signOf(lane.trigger))));
    open(fmt::format("static void test{}(void)", number));
    for (const std::string& text : expressions_.senses(so)) line(text);
    line("static struct signal rise;");
    line("if (rose(&rise, " + argument(so, ValueType::truth) + "))");
    line("    " + starting(lane, number));
    close();
    line("");
  }

  // What starts lanes: an edge from one turn to the next.
  bool watching() {
    std::vector<std::string> watched;
    for (const Lane* lane : lanes_)
      if (edgeOf(*lane) != TriggerKind::Edge::none && pins_.has(lane->trigger.pin) &&
          std::find(watched.begin(), watched.end(), lane->trigger.pin) == watched.end())
        watched.push_back(lane->trigger.pin);
    if (watched.empty()) return false;
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
        line("    " + starting(*lanes_[i], std::to_string(i + 1)));
      }
      line(fmt::format("was_{0} = is_{0};", pin));
    }
    close();
    line("");
    return true;
  }

  // Lanes that the clock starts: the k-th time is at k times the seconds, to the nanosecond.
  bool clocking() {
    bool any = false;
    for (std::size_t i = 0; i < lanes_.size(); ++i) {
      const auto seconds = startEveryOf(lanes_[i]->trigger);
      if (!seconds) continue;
      if (!any) {
        writeEvery(c_);
        open("static void look_at_the_clock(void)");
      }
      any = true;
      const long long every = std::max(1LL, std::llround(std::min(*seconds, 9e8) * 1e9));
      const std::string number = std::to_string(i + 1);
      line(
          fmt::format("static struct every every{0} = {{{1}UL, {2}UL, {1}UL, {2}UL}};  /* {3} s */",
                      number, every / turnNanoseconds, every % turnNanoseconds, *seconds));
      line(fmt::format("if (is_time(&every{}))", number));
      line("    " + starting(*lanes_[i], number));
    }
    if (!any) return false;
    close();
    line("");
    return true;
  }

  const Project& project_;
  const Chip& chip_;
  const Program* program_;
  CPins pins_;
  CNames names_;
  CLines c_;
  CExpressions expressions_;
  std::set<std::string> helpers_, waits_;
  int states_ = 0;  // of signal operators
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
  return Writer(project, *item, *kind, *target, first.helpers(), first.signals()).write();
}

}  // namespace ignavo
