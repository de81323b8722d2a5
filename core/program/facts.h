#pragma once
#include <optional>
#include <string>
#include <vector>

#include "program/steps.h"

// What steps and expressions say, whatever their rows in kinds/ and expressions.cpp call their
// fields, bodies, getters and operators. Nobody outside core/program and core/format names those.
namespace ignavo {

// ---- steps: the field for a purpose, null where the step has none of it

const Expr* pinOf(const Step& step);    // names the pin that it writes
const Expr* levelOf(const Step& step);  // high, low or a truth value for that pin
const Expr* shareOf(const Step& step);  // for how many percent of the time it has that pin high
const Expr* testOf(const Step& step);   // decides which of its bodies runs
const Expr* timesOf(const Step& step);  // how often its body runs
const Expr* waitOf(const Step& step);   // for how many seconds its lane waits
void setPinOf(Step& step, const std::string& pin);
void setTestOf(Step& step, Expr test);
// Where those fields stand, as edits name them; empty: nowhere.
std::string testKey(const Step& step);

using Runs = BodyKind::Runs;
const Steps* bodyOf(const Step& step, Runs when);
Steps* bodyOf(Step& step, Runs when);
std::string bodyKey(const Step& step, Runs when);
// When a body of that key runs.
Runs runsOf(const Step& step, const std::string& key);
bool isEndless(const Step& step);  // goes round for ever: nothing in it leaves it
bool leavesLoop(const Step& step);
bool endsLane(const Step& step);
bool looksAgain(const Step& step);  // waits until its test holds
// Is there nothing in there that takes a turn? Then going round through them takes one.
bool takeNoTurn(const Steps& steps);
bool leavesOutside(const Steps& steps);  // a loop that they stand in
// Does anything in there end the lane, or leave a loop that stands outside?
bool turnsOff(const Steps& steps);
// The test of a step that goes one of two ways; null where it has no such.
const Expr* forkTestOf(const Step& step);
bool isFork(const Step& step);    // goes one of two ways
bool isRepeat(const Step& step);  // counts how often it goes round
bool flipsPin(const Step& step);
bool runsOwnStep(const Step& step);
bool says(const Step& step);  // to the computer
bool saysNote(const Step& step);
const Expr* noteSecondsOf(const Step& step);  // that its note stays; null: until the next
// What it says: values, and texts as they stand.
std::vector<const Expr*> saidBy(const Step& step);
bool silencesPin(const Step& step);
// The angle that it turns a servo to; null: it turns none.
const Expr* angleOf(const Step& step);
std::string angleKey(const Step& step);

// What a step changes by name: a variable, or an item of a list.
struct NameChange {
  std::string name;
  bool list = false;
  bool adds = false;            // to what is there
  const Expr* value = nullptr;  // that is put there, or added
  const Expr* index = nullptr;  // of the item
};
std::optional<NameChange> changeOf(const Step& step);

// The pin that it writes; nothing where it writes none or has none yet.
std::optional<std::string> pinWritten(const Step& step);
// Which levels of that pin may come of it: of what is written out the one that is, of a share
// above nothing high, of what is worked out and of tones both.
struct LevelsGiven {
  bool high = false, low = false;
};
LevelsGiven levelsGiven(const Step& step);

// Steps made anew, without ids.
Step settingStep(const std::string& pin, bool high);
Step waitingStep(double seconds);
Step askingStep(Expr test);
Step settingVariable(const std::string& name, Expr value);

// The expression that a lane without steps keeps something equal to; null: it has steps.
const Expr* keptOf(const Trigger& trigger);
std::string keptField(const Trigger& trigger);  // where it stands in the sign
// The test that starts a lane each time it becomes true; null: something else does.
const Expr* startTestOf(const Trigger& trigger);
// What is worked out once a turn: the one or the other.
const Expr* sensedBy(const Trigger& trigger);
// Every so many seconds; nothing: something else starts it.
std::optional<double> startEveryOf(const Trigger& trigger);
bool isKept(const Trigger& trigger);  // it has no steps
// Which levels of its pin may come of a lane that keeps something; of others none.
LevelsGiven levelsGiven(const Trigger& trigger);
// Is there anything that a lane does?
bool doesSomething(const Lane& lane);

// What starts a lane at an edge of that kind.
std::string triggerAt(TriggerKind::Edge edge);

// ---- expressions

// The pin whose level or volts are asked for; null where none is.
const std::string* pinRead(const Expr& e);
bool measures(const Expr& e);  // asks a pin for how much, not whether
bool measuresPercent(const Expr& e);
std::optional<bool> namedLevel(const Expr& e);    // "high" or "low", written out
const Expr* operandOf(const Expr& e, int index);  // from 0; null: there is none
bool asksEqual(const Expr& e);
bool asksUnequal(const Expr& e);
bool negates(const Expr& e);
Expr negationOf(Expr e);
Expr pinIs(const std::string& pin, bool high);
// "D2 is high": a truth that is read off a pin, compared with one that is written out.
struct PinTest {
  std::string pin;
  bool high = false;
};
std::optional<PinTest> pinTest(const Expr& e);
// The same comparison but for values that are equal: "<" for "≤" and the other way round. Does
// the one given hold for equal values? Nothing where it is none of that kind.
struct Border {
  Expr other;
  bool holds = false;
};
std::optional<Border> borderOf(const Expr& comparison);
// The sign that holds just where an operator does not: "≥" for "<"; empty: there is none.
std::string oppositeOf(const std::string& sign);

}  // namespace ignavo
