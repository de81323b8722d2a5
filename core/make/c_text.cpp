#include "make/c_text.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <optional>
#include <set>

#include "make/c_expressions.h"
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

constexpr double longestDelaySeconds = 200;  // what one delay call can hold
constexpr double longestTaskSeconds = 3600;  // half of what the tick counter can tell apart

class Writer final : public CWriter {
 public:
  // `helpers`: the functions that it will call, found by writing it once without them.
  Writer(const Project& project, const std::string& board, std::set<std::string> helpers = {})
      : project_(project), board_(board), helpers_(std::move(helpers)) {
    const BoardItem* item = project.board(board);
    kind_ = item ? catalogue().boardKind(item->type) : nullptr;
    program_ = project.program(board);
    nets_ = Nets(project, catalogue());
  }

  std::set<std::string> helpers() const {
    std::set<std::string> all = expressions_.helpers();
    all.insert(waits_.begin(), waits_.end());
    return all;
  }
  CText write() {
    if (!kind_) return {};
    std::vector<const Lane*> lanes;
    if (program_)
      for (const auto& lane : program_->lanes)
        if (!lane->steps.empty()) lanes.push_back(&*lane);
    tasks_ = lanes.size() > 1;
    for (const PinUse& u : realUses())
      if (!u.dimmers.empty()) dimmed_.push_back(u.pin);
    header();
    for (const auto& lines : cHelpers(helpers_)) {
      for (const std::string& text : lines) line(text);
      line("");
    }
    pins();
    if (tasks_) {
      clock();
      for (std::size_t i = 0; i < lanes.size(); ++i) {
        dice(*lanes[i], std::to_string(i + 1));
        task(*lanes[i], static_cast<int>(i) + 1);
      }
    } else if (needsLongWait(lanes)) {
      line("/* For waits that one delay call cannot hold. */");
      open("static void wait_ms(uint32_t ms)");
      open("while (ms-- > 0)");
      line("_delay_ms(1);");
      close();
      close();
      line("");
    }
    if (!tasks_ && !lanes.empty()) dice(*lanes[0], "");
    mainFunction(lanes);
    return std::move(out_);
  }

  void line(const std::string& text) override {
    out_.text += text.empty() ? "" : std::string(static_cast<std::size_t>(indent_) * 4, ' ') + text;
    out_.text += '\n';
    ++lines_;
  }
  void open(const std::string& head) override {
    line(head + " {");
    ++indent_;
  }
  void middle(const std::string& text) override {
    --indent_;
    line("} " + text + " {");
    ++indent_;
  }
  void close() override {
    --indent_;
    line("}");
  }
  void body(const Steps* steps) override {
    if (!steps) return;
    for (const Step& s : *steps) {
      const StepKind* kind = stepKind(s.kind);
      if (!kind) continue;
      const int loop = bodyOf(s, Runs::again) ? 1 : 0;
      loops_ += loop;
      const std::size_t span = out_.spans.size();
      out_.spans.push_back({s.id, lines_ + 1, 0});
      kind->writeC(*this, s);
      out_.spans[span].last = lines_;
      loops_ -= loop;
    }
  }
  void waitUntil(const std::string& so) override {
    line(tasks_ ? "TASK_UNTIL(t, " + so + ");" : "while (!(" + so + ")) {}");
  }
  void round() override {
    if (tasks_) line("TASK_TURN(t);");
  }
  void leave() override {
    if (loops_ > 0)
      line("break;");
    else
      line("/* there is no loop to leave */");
  }
  void remark(const std::string& text) override { line("/* " + commentSafe(text) + " */"); }
  void endLane() override {
    if (again_) {
      line("goto again;");
      againUsed_ = true;
    } else {
      line(tasks_ ? "TASK_STOP(t);" : "for (;;) {}  /* the end */");
    }
  }
  void wait(const Expr& seconds) override {
    if (tasks_) return taskWait(seconds);
    if (seconds.shape != Expr::Shape::number)
      return line(helped("wait_seconds") + "(" + argument(seconds, ValueType::real) + ");");
    const double s = seconds.number;
    if (s > longestDelaySeconds)
      line(fmt::format("wait_ms({}UL);", std::llround(s * 1000)));
    else if (s < 0.001)
      line(fmt::format("_delay_us({});", s * 1e6));
    else
      line(fmt::format("_delay_ms({});", s * 1000));
  }
  std::string expression(const Expr& e, ValueType type) override {
    return expressions_.text(e, type);
  }
  std::string argument(const Expr& e, ValueType type) override {
    return expressions_.argument(e, type);
  }
  std::string remarkFor(const std::string& pin) override {
    const std::string label = commentSafe(pinLabel(project_, nets_, board_, pin));
    return label.empty() ? std::string() : "  /* " + label + " */";
  }
  std::string counterVariable() override {
    ++depth_;
    return depth_ == 1 ? "turn" : "turn" + std::to_string(depth_);
  }
  void counterDone() override { --depth_; }

 private:
  const std::string& helped(const std::string& helper) { return *waits_.insert(helper).first; }

  void header() {
    line("/* " + commentSafe(project_.title) + " */");
    line("#define F_CPU 16000000UL  /* the chip runs at 16 MHz */");
    line("#include <avr/io.h>");
    if (tasks_)
      line("#include <avr/interrupt.h>");
    else
      line("#include <util/delay.h>");
    if (helpers_.contains("remainder_of_f") || helpers_.contains("size_of_f"))
      line("#include <math.h>");
    line("#include <stdbool.h>");
    line("#include <stdint.h>");
    line("");
    line("#define HIGH true");
    line("#define LOW false");
    line("");
  }

  const BoardPin& shape(const std::string& pin) const {
    return *std::find_if(kind_->pins.begin(), kind_->pins.end(),
                         [&](const BoardPin& p) { return p.name == pin; });
  }
  // "PD4" -> {'D', "4"}
  std::pair<char, std::string> port(const std::string& pin) const {
    for (const BoardPin& p : kind_->pins)
      if (p.name == pin && p.chipName.size() >= 3) return {p.chipName[1], p.chipName.substr(2)};
    return {0, {}};
  }
  std::vector<PinUse> realUses() const {
    std::vector<PinUse> uses;
    if (program_)
      for (const PinUse& u : pinUses(*program_))
        if (port(u.pin).first != 0) uses.push_back(u);
    return uses;
  }

  void pins() {
    const std::vector<PinUse> uses = realUses();
    for (const PinUse& u : uses) {
      const auto [letter, bit] = port(u.pin);
      const std::string label = commentSafe(pinLabel(project_, nets_, board_, u.pin));
      line(fmt::format("/* {}{}{}; the chip calls it P{}{} */", u.pin, label.empty() ? "" : ": ",
                       label, letter, bit));
      if (!u.writers.empty()) setFunctions(u, letter, bit);
      if (u.isRead()) {
        open(fmt::format("static inline bool read_{}(void)", u.pin));
        line(fmt::format("return (PIN{} & _BV({})) != 0;", letter, bit));
        close();
      }
      for (const GetterKind& getter : getterKinds())
        if (getter.measures && asked(getter, u.pin)) measureFunction(getter, u, bit);
      line("");
    }
    open("static void prepare_pins(void)");
    for (const PinUse& u : uses) {
      const auto [letter, bit] = port(u.pin);
      if (!u.writers.empty())
        line(fmt::format("DDR{} |= _BV({});  /* {} is an output */", letter, bit, u.pin));
      if (u.writers.empty() && program_->pulledUp(u.pin))
        line(fmt::format("PORT{} |= _BV({});  /* {} is pulled up */", letter, bit, u.pin));
    }
    close();
    line("");
  }

  // Is the pin flipped anywhere? Looked up once for all pins.
  bool flips(const PinUse& u) const {
    if (!flipped_) {
      flipped_.emplace();
      for (const auto& lane : program_->lanes)
        forEachStep(lane->steps, [&](const Step& s) {
          if (const auto pin = flipsPin(s) ? pinWritten(s) : std::nullopt) flipped_->insert(*pin);
        });
    }
    return flipped_->contains(u.pin);
  }
  // "2B" -> the register that holds its share, the one that connects it, and the bit for that
  struct Timer {
    std::string share, control, connect;
  };
  static Timer timerOf(const BoardPin& pin) {
    const char number = pin.timer[0], output = pin.timer[1];
    return {fmt::format("OCR{}{}", number, output), fmt::format("TCCR{}A", number),
            fmt::format("_BV(COM{}{}1)", number, output)};
  }

  void setFunctions(const PinUse& u, char letter, const std::string& bit) {
    const BoardPin& pin = shape(u.pin);
    const bool timer = !u.dimmers.empty() && pin.pwm;
    open(fmt::format("static inline void set_{}(bool level)", u.pin));
    if (timer) line(fmt::format("{} &= (uint8_t)~{};", timerOf(pin).control, timerOf(pin).connect));
    line("if (level)");
    line(fmt::format("    PORT{} |= _BV({});", letter, bit));
    line("else");
    line(fmt::format("    PORT{} &= (uint8_t)~_BV({});", letter, bit));
    close();
    if (flips(u)) {
      open(fmt::format("static inline void flip_{}(void)", u.pin));
      line(fmt::format(
          "set_{}(!(PORT{} & _BV({})){});", u.pin, letter, bit,
          timer ? fmt::format(" && !({} & {})", timerOf(pin).control, timerOf(pin).connect) : ""));
      close();
    }
    if (u.dimmers.empty()) return;
    if (!timer) line("/* This pin cannot be dimmed: it is switched. */");
    open(fmt::format("static void dim_{}(float percent)", u.pin));
    if (timer) {
      line("int16_t share = (int16_t)(percent * 2.56f + 0.5f);");
      line("if (share <= 0 || share >= 256) {");
      line(fmt::format("    set_{}(share > 0);", u.pin));
      line("} else {");
      line(fmt::format("    {} = (uint8_t)(share - 1);", timerOf(pin).share));
      line(fmt::format("    {} |= {};", timerOf(pin).control, timerOf(pin).connect));
      line("}");
    } else {
      line(fmt::format("set_{}(percent >= 50);", u.pin));
    }
    close();
  }

  bool asked(const GetterKind& getter, const std::string& pin) const {
    bool found = false;
    for (const auto& lane : program_->lanes)
      forEachStep(lane->steps, [&](const Step& s) {
        for (const auto& [key, value] : s.fields)
          forEachGetter(value, [&](const GetterKind& asks, const std::string& of) {
            found = found || (asks.name == getter.name && of == pin);
          });
      });
    return found;
  }
  // The share of the supply at an analog pin: level in percent, volts of 5.
  void measureFunction(const GetterKind& getter, const PinUse& u, const std::string& bit) {
    open(fmt::format("static float {}{}(void)", getter.inC, u.pin));
    if (shape(u.pin).analog) {
      line(fmt::format("ADMUX = _BV(REFS0) | {};", bit));
      line("ADCSRA = _BV(ADEN) | _BV(ADSC) | _BV(ADPS2) | _BV(ADPS1) | _BV(ADPS0);");
      line("while (ADCSRA & _BV(ADSC)) {}");
      line(fmt::format("return ADC * {}.0f / 1023;", getter.full));
    } else {
      line(fmt::format("return read_{}() ? {} : 0;  /* it cannot measure */", u.pin, getter.full));
    }
    close();
  }

  // Timers count 256 ticks of 4 microseconds, again and again.
  void startTimers() {
    for (const char number : {'0', '1', '2'}) {
      const bool dims = std::any_of(dimmed_.begin(), dimmed_.end(), [&](const std::string& pin) {
        return shape(pin).timer.starts_with(number);
      });
      if (!dims && !(tasks_ && number == '1')) continue;
      const char* mode = !dims           ? ""
                         : number == '1' ? "TCCR1A |= _BV(WGM10);\n"
                                         : "TCCR{0}A |= _BV(WGM{0}1) | _BV(WGM{0}0);\n";
      if (dims) {
        std::string text = fmt::format(fmt::runtime(mode), number);
        text.pop_back();
        line(text);
      }
      const std::string wide = dims && number == '1' ? "_BV(WGM12) | " : "";
      line(fmt::format(
          "TCCR{0}B = {1}{2};  /* 16 MHz / 64: a tick every 4 microseconds */", number, wide,
          number == '2' ? "_BV(CS22)" : fmt::format("_BV(CS{0}1) | _BV(CS{0}0)", number)));
    }
  }
  bool shortClock() const {
    return std::any_of(dimmed_.begin(), dimmed_.end(),
                       [&](const std::string& pin) { return shape(pin).timer.starts_with('1'); });
  }

  static bool needsLongWait(const std::vector<const Lane*>& lanes) {
    bool needs = false;
    for (const Lane* lane : lanes)
      forEachStep(lane->steps, [&](const Step& s) {
        const Expr* e = waitOf(s);
        needs = needs || (e && e->shape == Expr::Shape::number && e->number > longestDelaySeconds);
      });
    return needs;
  }

  void clock() {
    line("/* Time since power-on in ticks of 4 microseconds. */");
    // A timer that dims counts to 255 only.
    const bool brief = shortClock();
    line(fmt::format("static volatile {} overflows;", brief ? "uint32_t" : "uint16_t"));
    line("ISR(TIMER1_OVF_vect) { overflows++; }");
    line("");
    open("static uint32_t now(void)");
    line("uint8_t held = SREG;");
    line("cli();");
    line("uint16_t ticks = TCNT1;");
    line("uint32_t high = overflows;");
    line(fmt::format("if ((TIFR1 & _BV(TOV1)) && ticks < {})", brief ? "0x80" : "0x8000"));
    line("    high++;");
    line("SREG = held;");
    line(fmt::format("return (high << {}) | ticks;", brief ? 8 : 16));
    close();
    line("");
    line("/* Each task goes on where it left off: at the line that it waits in. */");
    line("struct task { uint16_t line; uint32_t wake; };");
    line(
        "#define TASK_BEGIN(t) if ((int32_t)(now() - (t)->wake) < 0) return; switch ((t)->line) { "
        "case 0:;");
    line(
        "#define TASK_WAIT(t, ticks) do { (t)->wake = now() + (ticks); (t)->line = __LINE__; "
        "return; case __LINE__:; } while (0)");
    line(
        "#define TASK_TURN(t) do { (t)->wake = now(); (t)->line = __LINE__; return; case "
        "__LINE__:; } while (0)");
    line(
        "#define TASK_UNTIL(t, so) do { (t)->wake = now(); (t)->line = __LINE__; case __LINE__:; "
        "if (!(so)) return; } while (0)");
    line(
        "#define TASK_STOP(t) do { (t)->wake = now() + 0x7FFFFFFF; (t)->line = 0xFFFF; return; } "
        "while (0)");
    line("#define TASK_END(t) } (t)->wake = now() + 0x7FFFFFFF; (t)->line = 0xFFFF");
    line("");
  }

  void taskWait(const Expr& seconds) {
    if (seconds.shape != Expr::Shape::number)
      return line("TASK_WAIT(t, " + helped("ticks_of") + "(" + argument(seconds, ValueType::real) +
                  "));");
    double s = seconds.number;
    if (s > longestTaskSeconds) {
      const auto hours = static_cast<long long>(s / longestTaskSeconds);
      const std::string i = counterVariable();
      open(fmt::format("for ({0} = 0; {0} < {1}; {0}++)", i, hours));
      line(fmt::format("TASK_WAIT(t, {}UL);  /* an hour */",
                       std::llround(longestTaskSeconds * 250000)));
      close();
      counterDone();
      s -= static_cast<double>(hours) * longestTaskSeconds;
    }
    line(fmt::format("TASK_WAIT(t, {}UL);  /* {} s */", std::llround(s * 250000), s));
  }

  int deepestRepeat(const Steps& steps) const {
    int most = 0;
    for (const Step& s : steps) {
      int here = isRepeat(s) ? 1 : 0;
      const Expr* e = waitOf(s);
      if (tasks_ && e && e->number > longestTaskSeconds) here = 1;
      int inner = 0;
      for (const auto& [key, b] : s.bodies) inner = std::max(inner, deepestRepeat(b));
      most = std::max(most, here + inner);
    }
    return most;
  }
  void counters(const Steps& steps, const char* storage) {
    const int deepest = deepestRepeat(steps);
    for (int i = 0; i < deepest; ++i)
      line(fmt::format("{}int32_t turn{};", storage,
                       i == 0 ? std::string() : std::to_string(i + 1)));
  }

  void task(const Lane& lane, int number) {
    const TriggerKind* trigger = triggerKind(lane.trigger.on);
    line(fmt::format("/* {} */", commentSafe(signOf(lane.trigger))));
    open(fmt::format("static void task{}(struct task *t)", number));
    counters(lane.steps, "static ");
    line("TASK_BEGIN(t)");
    if (trigger && (trigger->endless || edgeOf(lane))) {
      open("for (;;)");
      edge(lane);
      laneBody(lane);
      line("TASK_TURN(t);");
      close();
    } else {
      body(&lane.steps);
    }
    line("TASK_END(t);");
    close();
    line("");
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

  // The steps of a lane that comes round; one that its pin starts can be ended early.
  void laneBody(const Lane& lane) {
    again_ = edgeOf(lane);
    againUsed_ = false;
    body(&lane.steps);
    if (againUsed_) line("again:;");
    again_ = false;
  }

  bool edgeOf(const Lane& lane) const {
    const TriggerKind* trigger = triggerKind(lane.trigger.on);
    return trigger && trigger->edge != TriggerKind::Edge::none;
  }
  // Waits until the lane's pin goes to its level; it has to be at the other one first.
  void edge(const Lane& lane) {
    if (!edgeOf(lane)) return;
    if (lane.trigger.pin.empty() || port(lane.trigger.pin).first == 0)
      return line(tasks_ ? "TASK_UNTIL(t, false);  /* no pin to look at */"
                         : "for (;;) {}  /* no pin to look at */");
    const bool rise = triggerKind(lane.trigger.on)->edge == TriggerKind::Edge::rise;
    const std::string read = "read_" + lane.trigger.pin + "()";
    for (const std::string& so : {rise ? "!" + read : read, rise ? read : "!" + read})
      line(tasks_ ? "TASK_UNTIL(t, " + so + ");" : "while (!(" + so + ")) {}");
  }

  void mainFunction(const std::vector<const Lane*>& lanes) {
    open("int main(void)");
    if (tasks_) {
      for (std::size_t i = 1; i <= lanes.size(); ++i)
        line(fmt::format("struct task t{} = {{0, 0}};", i));
    } else if (!lanes.empty()) {
      counters(lanes[0]->steps, "");
    }
    line("prepare_pins();");
    startTimers();
    if (tasks_) {
      line("TIMSK1 = _BV(TOIE1);");
      line("sei();");
      open("for (;;)");
      for (std::size_t i = 1; i <= lanes.size(); ++i) line(fmt::format("task{0}(&t{0});", i));
      close();
    } else {
      const TriggerKind* trigger = lanes.empty() ? nullptr : triggerKind(lanes[0]->trigger.on);
      const bool endless = trigger && (trigger->endless || edgeOf(*lanes[0]));
      if (lanes.empty()) {
        open("for (;;)");
        close();
      } else if (endless) {
        open("for (;;)");
        edge(*lanes[0]);
        laneBody(*lanes[0]);
        close();
      } else {
        body(&lanes[0]->steps);
        line("for (;;) {}");
      }
    }
    close();
  }

  const Project& project_;
  std::string board_;
  const BoardKind* kind_ = nullptr;
  const Program* program_ = nullptr;
  Nets nets_;
  CText out_;
  CExpressions expressions_;
  std::set<std::string> helpers_, waits_;
  bool tasks_ = false;
  std::vector<std::string> dimmed_;
  mutable std::optional<std::set<std::string>> flipped_;
  int indent_ = 0;
  int lines_ = 0;
  int depth_ = 0;
  int loops_ = 0;                           // around what is written
  bool again_ = false, againUsed_ = false;  // the label at which a lane waits for its pin again
};

}  // namespace

CText cText(const Project& project, const std::string& board) {
  Writer first(project, board);
  (void)first.write();
  return Writer(project, board, first.helpers()).write();
}

}  // namespace ignavo
