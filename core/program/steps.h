#pragma once
#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "program/compiled.h"
#include "program/expressions.h"

namespace ignavo {

// A field of a step.
struct SlotKind {
  enum class Type {
    pin,    // name of a pin that is written
    level,  // high, low or a truth value
    number,
    truth,     // a condition
    text,      // of one line, for people
    any,       // a value of whatever type
    variable,  // the name of one
    list,
    own,     // the name of an own step
    inputs,  // what its inputs are given, by name
    name,    // a new one
    names,
    key,    // of the computer
    said,   // a value, or words as they stand
    items,  // several of those
  };
  std::string key;
  Type type = Type::number;
  std::string unit;
  Expr defaultValue;
  double min = 0;
  double max = 0;
  double stepBy = 1;  // of the arrow keys
  bool optional = false;
  std::string absent = {};  // of one that may be left out: what is said in its place
};

struct BodyKind {
  std::string key;
  bool optional = false;
  enum class Runs : std::uint8_t { ifSo, ifNot, again } runs = Runs::again;
};

// What a step kind needs to write itself as C.
class CWriter {
 public:
  virtual ~CWriter() = default;
  virtual void line(const std::string& text) = 0;
  virtual void open(const std::string& head) = 0;    // "head {"
  virtual void middle(const std::string& text) = 0;  // "} text {"
  virtual void close() = 0;
  virtual void wait(const Expr& seconds) = 0;
  virtual void waitUntil(const Expr& so) = 0;
  virtual void asLongAs(const std::string& so) = 0;  // opens a loop
  virtual void round(bool takesTurn) = 0;            // a loop comes to its end
  virtual void leave() = 0;                          // the innermost loop
  virtual void endLane() = 0;
  virtual void remark(const std::string& text) = 0;
  virtual void body(const Steps* steps) = 0;
  virtual std::string expression(const Expr& e, ValueType type) = 0;
  // The same where C converts by itself: a number that is written out stays as it is.
  virtual std::string argument(const Expr& e, ValueType type) = 0;
  // What a variable or list is called there; empty: there is none of that name.
  virtual std::string variable(const std::string& name) = 0;
  virtual std::string list(const std::string& name) = 0;
  virtual const Types& types() const = 0;
  // The place of a position in a list.
  virtual std::string place(const std::string& list, const Expr& index) = 0;
  virtual std::string remarkFor(const std::string& pin) = 0;  // "  /* Red lamp */" or nothing
  virtual std::string counterVariable() = 0;
  virtual void counterDone() = 0;
  virtual void run(const Step& ownStep) = 0;
  virtual void say(const Step& saying) = 0;
};

// One step kind: everything there is to know about it but its picture.
struct StepKind {
  IGNAVO_VALUE(StepKind);

  std::string kind;     // the file's "do"
  std::string label;    // on the shelf
  std::string phrase;   // "set {pin} {to}"; fields in braces
  std::string example;  // as typed
  std::string help;
  std::vector<std::string> aliases;  // further first words
  std::vector<SlotKind> slots;
  std::vector<BodyKind> bodies;
  bool endless = false;  // goes round for ever unless it is left
  // Goes on elsewhere: behind the loop that it stands in, or not at all.
  enum class TurnsOff : std::uint8_t { no, loop, lane } turnsOff = TurnsOff::no;
  bool looksAgain = false;  // waits until its test holds
  bool takesTurn = true;    // in turns; what takes none is done along with the step before
  // What it changes by name: it gives a variable a value, adds to it, or puts one into a list.
  enum class Changes : std::uint8_t { nothing, variable, sum, list } changes = Changes::nothing;
  bool addsUp = false;    // done twice is something else than done once
  bool flips = false;     // gives its pin the other level
  bool dims = false;      // asks its pin for something between high and low
  bool sounds = false;    // gives its pin a tone
  bool pulses = false;    // or the pulses that turn a servo
  bool silences = false;  // ends either
  bool runsOwn = false;   // runs an own step
  enum class Says : std::uint8_t { nothing, note, log } says = Says::nothing;
  const char* inTurns = "";  // why a program with it does not run freely; empty: it may
  std::string waits;   // the slot that says for how many seconds its lane waits; empty: it does not
  std::string counts;  // the slot that says how often its body runs; empty: it does not count
  void (*compile)(Compiler&, const Step&) = nullptr;
  void (*writeC)(CWriter&, const Step&) = nullptr;

  const SlotKind* slot(const std::string& key) const;
};

const std::vector<const StepKind*>& stepKinds();
const StepKind* stepKind(const std::string& kind);

// A step of that kind with its default values, without an id.
Step newStep(const StepKind& kind);
// The canonical phrase: "set D4 high", "wait 0.25 s", "if D2 is high".
std::string phraseOf(const Step& step);

// What stands in a field: "D4", "3 + 4", the name of a variable.
std::string slotText(const Expr& value, const SlotKind& slot);

struct ParsedStep {
  std::optional<Step> step;
  Message problem;  // when step is missing
};
// Reads a typed phrase. Forgiving in case, spaces, units and left-out words.
ParsedStep parseStep(const std::string& typed, const Vocabulary& words);
// Is it the word between the two ways of a fork?
bool isOtherwise(const std::string& typed);
// Canonical phrases that begin like what was typed, for completion.
std::vector<std::string> completions(const std::string& typed, const Vocabulary& words);

// Steps as text, one phrase a line, bodies indented by two spaces, and back.
std::string textOf(const Steps& steps, int indent = 0);
struct ParsedSteps {
  Steps steps;
  int badLine = 0;  // from 1; 0: all was read
  Message problem;
};
// `reads` is asked for the steps of a line that is no canonical phrase; none: it is none to it
// either.
using ReadsLine = std::function<Steps(const std::string& line)>;
ParsedSteps parseSteps(const std::string& text, const Vocabulary& words,
                       const ReadsLine& reads = {});

// When a lane runs, or what a lane without steps keeps: a row in triggers.cpp.
struct TriggerKind {
  std::string on;
  std::string sign;  // "Each time {pin} goes high"; fields in braces
  bool endless = false;
  enum class Edge { none, rise, fall } edge = Edge::none;  // of the trigger's pin
  bool once = false;                                       // never again until the board restarts
  std::string heading = {};     // drawn in its place, where what it keeps stands on a thread
  std::vector<SlotKind> slots;  // of the sign; the pin first, where it has one
  // What starts it besides: a test that becomes true, every so many seconds, or a key.
  enum class Starts : std::uint8_t { other, test, clock, key } starts = Starts::other;
  // It has no steps, but keeps something equal to its expression: a pin high or low, or dimmed, or
  // a variable.
  enum class Keeps : std::uint8_t { nothing, pin, level, variable } keeps = Keeps::nothing;
  std::string help;
  bool own = false;  // an own step: only steps run it

  bool startsAgain() const { return !endless && !once && !own && keeps == Keeps::nothing; }
  const SlotKind* slot(const std::string& key) const;
};
// What becomes of what starts a lane while it runs: a row in triggers.cpp.
struct AgainKind {
  CompiledLane::Again is = CompiledLane::Again::ignore;
  std::string name;   // the file's "again"
  std::string words;  // behind a sign; none where it is ignored
  std::string help;
};
const std::vector<AgainKind>& againKinds();
const AgainKind& againOf(const Trigger& trigger);

// The sign of a lane with its fields: "Each time D2 goes high"; "…" for what is missing.
std::string signOf(const Trigger& trigger);
// A trigger of that kind with its default values.
Trigger newTrigger(const TriggerKind& kind, std::string pin = {});
// Reads a sign in any case; nothing when it is none.
std::optional<Trigger> parseSign(const std::string& typed, const Vocabulary& words);
const std::vector<TriggerKind>& triggerKinds();
const TriggerKind* triggerKind(const std::string& on);

// Pins that a program's steps write / read, sorted, with the steps that do it.
struct PinUse {
  std::string pin;
  std::vector<std::string> writers;  // step ids
  std::vector<std::string> readers;
  std::vector<std::string> measurers;  // those of the readers that ask for its level in percent
  std::vector<std::string> dimmers;    // those of the writers that dim it
  std::vector<std::string> sounders;   // that sound a tone on it
  std::vector<std::string> turners;    // that turn a servo with it
  std::vector<std::string> silencers;  // that end a tone or pulses
  std::vector<std::string> starts;     // lanes that it starts

  // Does anything make pulses on it beside the program?
  bool isPulsed() const { return !sounders.empty() || !turners.empty(); }
  bool isRead() const { return !readers.empty() || !starts.empty(); }
  // Ids of all that reads it: steps, and lanes that it starts.
  std::vector<std::string> reading() const;
};
std::vector<PinUse> pinUses(const Program& program);

// Something about a step, or the sign of a lane, that needs the user: marks the step, stops
// nothing.
struct StepProblem {
  std::string step;
  std::string slot;
  enum class Code {
    pinMissing,
    noSuchPin,
    unreachable,
    behindLeave,
    behindEnd,
    nothingToLeave,
    cannotDim,
    noTimer,
    cannotMeasure,
    noSuchVariable,
    noSuchList,
    textAndNumber,
    signalElsewhere,
    noSuchOwnStep,
    runsItself,
    noSuchInput,
    inputMissing,
    noSuchKey,
  } code = Code::pinMissing;
  std::string value;
};
// A pin of the board, and what it can do besides high and low.
struct PinAbility {
  std::string name;
  bool dims = false;
  bool measures = false;
  char pulseTimer = 0;  // that dims it, and could make tones and pulses instead; 0: none such
};
// The timer that makes the edges of tones and pulses: the first whose pins nothing dims; 0: all do.
char pulseTimer(const Program& program, const std::vector<PinAbility>& pins);
std::vector<StepProblem> stepProblems(const Program& program, const std::vector<PinAbility>& pins);
Message sentence(const StepProblem& problem);

}  // namespace ignavo
