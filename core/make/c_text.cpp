#include "make/c_text.h"

#include <fmt/format.h>

#include <algorithm>

#include "make/c_program.h"
#include "make/c_said.h"
#include "parts/catalogue.h"
#include "program/own_steps.h"
#include "program/said.h"
#include "run/model.h"

// The whole of a program as C: what it knows of its chip and pins, its variables, its lanes, and
// main.
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

const Program& noProgram() {
  static const Program none;
  return none;
}

bool throwsIn(const Lane& lane) {
  bool thrown = false;
  for (const auto& [key, value] : lane.trigger.fields) thrown = thrown || changes(value);
  forEachStep(lane.steps, [&](const Step& s) {
    for (const auto& [key, value] : s.fields) thrown = thrown || changes(value);
  });
  return thrown;
}

bool runsOwn(const Lane& lane) {
  bool any = false;
  forEachStep(lane.steps, [&](const Step& s) { any = any || runsOwnStep(s); });
  return any;
}

}  // namespace

CProgram::CProgram(const Project& project, const BoardItem& board, const BoardKind& kind,
                   const Chip& chip, const TurnWork& work, Needs needs)
    : project_(project),
      chip_(chip),
      program_(project.program(board.id) ? *project.program(board.id) : noProgram()),
      pins_(project, board, kind, chip),
      names_(program_, [this](const std::string& t) { return text(t); }),
      expressions_(&names_),
      needs_(std::move(needs)),
      work_(work) {
  for (const auto& lane : program_.lanes)
    if (doesSomething(*lane)) lanes_.push_back(&*lane);
  turns_ = whyInTurns(program_).has_value();
  own_ = ownStepsRun(program_);
  for (const Lane* lane : lanes_)
    if (runsOwn(*lane)) runners_.push_back(lane);
  for (const Lane* own : own_) ownThrows_ = ownThrows_ || throwsIn(*own);
  keys_ = keysOf(program_);
  names_.listenTo(keys_);
  saying_ = sayingSteps(program_);
  talks_ = chip.hasLine && (!keys_.empty() || !saying_.empty());
}

CProgram::Needs CProgram::needs() const {
  Needs out{expressions_.helpers(), signals_, texts_, {}};
  out.helpers.insert(waits_.begin(), waits_.end());
  return out;
}

CText CProgram::write() {
  line("/* " + commentSafe(project_.title) + " */");
  int from = c_.count() + 1;
  header();
  if (turns_) line("static uint32_t turn;  /* of 250 microseconds, since power came on */\n");
  for (const auto& lines : cHelpers(needs_.helpers)) {
    for (const std::string& text : lines) line(text);
    line("");
  }
  if (turns_) {
    writeClock(c_, chip_, work_.counted);
    pins_.pulses(c_, work_);
  }
  pins_.functions(c_);
  const std::vector<std::string> named = names_.declarations();
  if (!named.empty()) {
    machinery(from);
    for (const std::string& text : named) line(text);
    line("");
    from = c_.count() + 1;
  }
  if (talks_) writeLine(c_, chip_, keys_, needs_.helpers, needs_.texts);
  pins_.prepare(c_, needs_.outputs);
  pins_.startTimers(c_, turns_);
  machinery(from);
  if (turns_)
    inTurns();
  else
    plain();
  c_.out().texts = texts_;
  return std::move(c_.out());
}

void CProgram::machinery(int from) {
  std::vector<CText::Lines>& all = c_.out().machinery;
  if (c_.count() < from) return;
  if (!all.empty() && all.back().last + 1 == from)
    all.back().last = c_.count();
  else
    all.push_back({from, c_.count()});
}

void CProgram::header() {
  line(fmt::format("#define F_CPU {}UL  /* the chip runs at {} MHz */", chip_.hertz,
                   chip_.hertz / 1000000));
  if (turns_) line("#include <avr/interrupt.h>");
  line("#include <avr/cpufunc.h>");
  line("#include <avr/io.h>");
  if (talks_) line("#include <avr/pgmspace.h>");
  if (turns_) line("#include <avr/sleep.h>");
  line("#include <math.h>");
  line("#include <stdbool.h>");
  line("#include <stdint.h>");
  if (talks_) line("#include <string.h>");
  if (!turns_) line("#include <util/delay.h>");
  line("");
  line("#define HIGH true");
  line("#define LOW false");
  line("");
}

namespace {
int deepestRepeat(const Steps& steps) {
  int most = 0;
  for (const Step& s : steps) {
    int inner = 0;
    for (const auto& [key, b] : s.bodies) inner = std::max(inner, deepestRepeat(b));
    most = std::max(most, (isRepeat(s) ? 1 : 0) + inner);
  }
  return most;
}
}  // namespace

void CProgram::counters(const Steps& steps, const char* type) {
  const int deepest = deepestRepeat(steps);
  for (int i = 0; i < deepest; ++i)
    line(fmt::format("{}round{};", type, i == 0 ? std::string() : std::to_string(i + 1)));
}

// What the random numbers of a lane are made with, if it asks for any.
void CProgram::dice(const Lane& lane, const std::string& number) {
  expressions_.throwWith("dice" + number);
  if (!throwsIn(lane) || (ownThrows_ && !isKept(lane.trigger))) return;
  line(fmt::format("static uint32_t dice{} = {}UL;  /* never 0 */", number,
                   diceOf(project_.seed, lane.id)));
  line("");
}

// ---- freely: one lane, from the top

void CProgram::plain() {
  const Lane* lane = lanes_.empty() ? nullptr : lanes_.front();
  if (lane) dice(*lane, "");
  open("int main(void)");
  if (lane) counters(lane->steps, "int32_t ");
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

void CProgram::signalStates() {
  for (std::size_t s = 0; s < needs_.signals.size(); ++s)
    line(fmt::format("static struct signal s{}{};", s + 1,
                     needs_.signals[s] ? fmt::format("[{}]", runners_.size()) : std::string()));
  if (!needs_.signals.empty()) line("");
}

void CProgram::inTurns() {
  bool makesSteps = false, started = false;
  for (const Lane* lane : lanes_) {
    makesSteps = makesSteps || !isKept(lane->trigger);
    const TriggerKind* trigger = triggerKind(lane->trigger.on);
    started = started || (trigger && trigger->startsAgain());
  }
  CLanes lanes;
  lanes.any = makesSteps;
  lanes.runOwn = !own_.empty();
  lanes.throwDice = ownThrows_;
  lanes.talk = talks_;
  lanes.sounding = pins_.pulsing();
  const int from = c_.count() + 1;
  writeTurns(c_, pins_.waker(), lanes, work_);
  if (started) writeStart(c_, work_);
  machinery(from);
  signalStates();
  if (!own_.empty()) ownFunctions();
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
  const bool looks = watching(), listens = talks_ && listening(), clocked = clocking();
  open("int main(void)");
  line("prepare_pins();");
  if (talks_) line("start_line();");
  startTimers();
  line("sei();");
  open("for (;;)");
  if (talks_) line("move_line();");
  if (looks) line("look_at_pins();");
  if (listens) line("look_at_keys();");
  if (clocked) line("look_at_the_clock();");
  for (const std::string& text : once) line(text);
  for (const std::string& text : steps) line(text);
  line("next_turn();");
  close();
  close();
}

void CProgram::startTimers() {
  CLines probe;
  pins_.startTimers(probe, turns_);
  if (probe.count() > 0) line("start_timers();");
}

namespace {
// What nobody runs is not written, but for what its pins are.
Project withoutIdleSteps(Project project, const std::string& board) {
  for (auto& program : project.programs) {
    if (program->board != board) continue;
    const std::vector<const Lane*> run = ownStepsRun(*program);
    std::vector<Cow<Lane>> lanes;
    for (const auto& lane : program->lanes)
      if (!isOwn(*lane) || std::find(run.begin(), run.end(), &*lane) != run.end())
        lanes.push_back(lane);
    if (lanes.size() < program->lanes.size()) program.edit().lanes = std::move(lanes);
  }
  return project;
}
}  // namespace

CText cText(const Project& whole, const std::string& board) {
  const Project project = withoutIdleSteps(whole, board);
  const BoardItem* item = project.board(board);
  const BoardKind* kind = item ? catalogue().boardKind(item->type) : nullptr;
  const Chip* target = kind ? chip(kind->chip) : nullptr;
  if (!target) return {};
  CProgram::Needs needs;
  if (const Program* program = whole.program(board))
    for (const PinUse& use : pinUses(*program))
      if (!use.writers.empty()) needs.outputs.push_back(use.pin);
  TurnWork work;
  if (const Program* program = project.program(board))
    work = compile(*program, targetOf(*kind, *program, project.seed, {})).work;
  CProgram first(project, *item, *kind, *target, work, needs);
  (void)first.write();
  CProgram::Needs found = first.needs();
  found.outputs = needs.outputs;
  return CProgram(project, *item, *kind, *target, work, std::move(found)).write();
}

}  // namespace ignavo
