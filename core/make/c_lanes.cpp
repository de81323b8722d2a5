#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "make/c_program.h"
#include "make/c_text.h"
#include "program/own_steps.h"

// Lanes as functions, what starts them, and own steps.
namespace ignavo {

namespace {

TriggerKind::Edge edgeOf(const Lane& lane) {
  const TriggerKind* trigger = triggerKind(lane.trigger.on);
  return trigger ? trigger->edge : TriggerKind::Edge::none;
}
bool startsAgain(const Lane& lane) {
  const TriggerKind* trigger = triggerKind(lane.trigger.on);
  return trigger && trigger->startsAgain();
}

}  // namespace

std::string CProgram::starting(const Lane& lane, const std::string& number) const {
  using Again = CompiledLane::Again;
  const Again again = againOf(lane.trigger).is;
  return fmt::format("start(&state{}, {});", number,
                     again == Again::restart ? "START_OVER"
                     : again == Again::queue ? "QUEUE"
                                             : "IGNORE");
}

void CProgram::laneFunction(const Lane& lane, const std::string& number) {
  const TriggerKind* trigger = triggerKind(lane.trigger.on);
  line(fmt::format("/* {} */", commentSafe(signOf(lane.trigger))));
  std::string begins = fmt::format(".runs = {}", startsAgain(lane) ? "false" : "true");
  const auto runner = std::find(runners_.begin(), runners_.end(), &lane);
  if (!own_.empty() && runner != runners_.end())
    begins += fmt::format(", .runner = {}", runner - runners_.begin());
  if (ownThrows_) begins += fmt::format(", .dice = {}UL", diceOf(project_.seed, lane.id));
  line(fmt::format("static struct lane state{} = {{{}}};", number, begins));
  open(fmt::format("static void lane{}(struct lane *l)", number));
  if (ownThrows_) expressions_.throwWith("l->dice");
  counters(lane.steps, "static int32_t ");
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
void CProgram::keepFunction(const Lane& lane, const std::string& number) {
  using Keeps = TriggerKind::Keeps;
  const Keeps keeps = triggerKind(lane.trigger.on)->keeps;
  const Expr& from = *keptOf(lane.trigger);
  const std::string& pin = lane.trigger.pin;
  line(fmt::format("/* {} */", commentSafe(signOf(lane.trigger))));
  open(fmt::format("static void keep{}(void)", number));
  for (const std::string& text : senses(from)) line(text);
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
void CProgram::testFunction(const Lane& lane, const std::string& number) {
  const Expr& so = *startTestOf(lane.trigger);
  helped("rose");
  if (ownThrows_) expressions_.throwWith("state" + number + ".dice");
  line(fmt::format("/* {} */", commentSafe(signOf(lane.trigger))));
  open(fmt::format("static void test{}(void)", number));
  for (const std::string& text : senses(so)) line(text);
  line("static struct signal rise;");
  line("if (rose(&rise, " + argument(so, ValueType::truth) + "))");
  line("    " + starting(lane, number));
  close();
  line("");
}

// ---- own steps: each lane that runs any of them has its own inputs and its own place in each

std::string CProgram::ownC(const Lane& own) const {
  const auto place = std::find(own_.begin(), own_.end(), &own) - own_.begin();
  return fmt::format("own{}", place + 1);
}

void CProgram::ownFunctions() {
  // What each keeps comes before all of them: they may run each other.
  for (const Lane* own : own_) {
    line(fmt::format("/* {} */", commentSafe(signOf(own->trigger))));
    open(fmt::format("static struct {}", ownC(*own)));
    line("uint16_t line;  /* that it stands in; 0: it is over */");
    for (const std::string& input : inputsOf(*own))
      line(fmt::format("{} {};", cType(names_.types().input(ownName(*own), input)),
                       names_.input(*own, input)));
    counters(own->steps, "int32_t ");
    close(fmt::format(" {}_in[{}];", ownC(*own), runners_.size()));
    line(fmt::format("static void {}(struct lane *l);", ownC(*own)));
  }
  line("");
  for (const Lane* own : own_) ownFunction(*own);
}

void CProgram::ownFunction(const Lane& own) {
  within_ = &own;
  names_.within(&own);
  expressions_.signalsIn("[l->runner]");
  if (ownThrows_) expressions_.throwWith("l->dice");
  line(fmt::format("/* {} */", commentSafe(signOf(own.trigger))));
  open(fmt::format("static void {}(struct lane *l)", ownC(own)));
  line(fmt::format("struct {0} *o = &{0}_in[l->runner];", ownC(own)));
  line("BEGIN_OWN");
  body(&own.steps);
  line("END_OWN;");
  close();
  line("");
  expressions_.signalsIn("");
  names_.within(nullptr);
  within_ = nullptr;
}

// ---- what starts lanes

// An edge from one turn to the next.
bool CProgram::watching() {
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
      if (lanes_[i]->trigger.pin != pin || edgeOf(*lanes_[i]) == TriggerKind::Edge::none) continue;
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

// Keys that were struck since the turn before.
bool CProgram::listening() {
  std::vector<std::string> struck;
  for (const Lane* lane : lanes_)
    if (const Expr* key = lane->trigger.field(keyKey))
      if (std::find(struck.begin(), struck.end(), key->text) == struck.end())
        struck.push_back(key->text);
  if (struck.empty()) return false;
  open("static void look_at_keys(void)");
  for (const std::string& key : struck) {
    const int place = names_.key(key);
    open(fmt::format("if (key_struck[{}])", place));
    line(fmt::format("key_struck[{}] = false;  /* {} */", place, key));
    for (std::size_t i = 0; i < lanes_.size(); ++i)
      if (const Expr* starts = lanes_[i]->trigger.field(keyKey); starts && starts->text == key)
        line(starting(*lanes_[i], std::to_string(i + 1)));
    close();
  }
  close();
  line("");
  return true;
}

// The clock: the k-th time is at k times the seconds, to the nanosecond.
bool CProgram::clocking() {
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
    line(fmt::format("static struct every every{0} = {{{1}UL, {2}UL, {1}UL, {2}UL}};  /* {3} s */",
                     number, every / turnNanoseconds, every % turnNanoseconds, *seconds));
    line(fmt::format("if (is_time(&every{}))", number));
    line("    " + starting(*lanes_[i], number));
  }
  if (!any) return false;
  close();
  line("");
  return true;
}

}  // namespace ignavo
