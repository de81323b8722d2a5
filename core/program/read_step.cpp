#include <algorithm>
#include <sstream>

#include "program/facts.h"
#include "program/groups.h"
#include "program/read_fields.h"
#include "program/typed.h"
#include "program/words.h"

// Typed steps: a phrase begins with what its kind is known by, and its fields stand along it.
namespace ignavo {

using typed::lower, typed::trimmed;

namespace {

// "set level of d9 to 30 %" and "set d9 to 30 %" are ways to say "dim d9 to 30 %".
std::string saidPlainly(const std::string& typed) {
  std::string rest = typed;
  if (!dropWord(rest, {"set", "turn", "put"})) return typed;
  if (dropWord(rest, {"level"})) {
    dropWord(rest, {"of"});
    return "dim " + rest;
  }
  return rest.ends_with('%') || lower(rest).ends_with(" percent") ? "dim " + rest : typed;
}

// What stands behind the beginning of its phrase, as that kind of step.
ParsedStep readAs(const StepKind& kind, const std::string& after, const Vocabulary& words) {
  Step step = newStep(kind);
  if (kind.slots.empty()) {
    if (!after.empty() && lower(kind.phrase).find(" " + lower(after)) == std::string::npos)
      return {std::nullopt, stepSay("“{}” is not expected here.", after)};
    return {step, {}};
  }
  std::vector<PhrasePiece> pieces = piecesOf(kind.phrase);
  if (!pieces.front().field) pieces.erase(pieces.begin());
  std::string rest = after;
  for (const SlotKind& slot : kind.slots)
    if (!slot.absent.empty() && lower(rest).ends_with(" " + slot.absent))
      rest = trimmed(rest.substr(0, rest.size() - slot.absent.size()));
  if (Message problem = readFields(kind.slots, pieces, 0, rest, words, step.fields);
      !problem.empty())
    return {std::nullopt, std::move(problem)};
  // What is not given to an own step is 0.
  const Expr* name = kind.runsOwn ? step.field(ownNameKey) : nullptr;
  const auto* own = name ? words.ownStep(name->text) : nullptr;
  if (own && !step.field(ownInputsKey)) {
    Expr given;
    given.shape = Expr::Shape::list;
    for (const std::string& input : own->inputs) given.args.emplace_back(input, Expr::of(0.0));
    step.setField(ownInputsKey, std::move(given));
  }
  return {step, {}};
}

// "ring 3" is a way to say "run ring with 3".
std::string runPlainly(const std::string& typed, const Vocabulary& words) {
  for (const Vocabulary::Own& own : words.own)
    for (const std::string& name : {nameText(own.name), own.name})
      if (std::string rest = typed; takeWords(rest, name)) {
        dropWord(rest, {"with"});
        return "run " + nameText(own.name) + (rest.empty() ? "" : " with " + rest);
      }
  return typed;
}
}  // namespace

ParsedStep parseStep(const std::string& typed, const Vocabulary& words) {
  std::string rest = runPlainly(saidPlainly(trimmed(typed)), words);
  if (rest.empty())
    return {std::nullopt, stepSay("Type what should happen, for example: set d13 high")};
  // The longest beginning that fits decides: "wait until" before "wait". Of several that begin
  // alike it is the one that can be read to its end.
  struct Begun {
    const StepKind* kind;
    std::string after;
  };
  std::vector<Begun> begun;
  std::size_t most = 0;
  for (const StepKind* k : stepKinds()) {
    std::vector<std::string> heads = k->aliases;
    heads.push_back(trimmed(piecesOf(k->phrase).front().text));
    // Of a phrase without fields the beginning is enough.
    if (k->slots.empty()) heads.push_back(heads.back().substr(0, heads.back().find(' ')));
    for (const std::string& head : heads) {
      std::string behind = rest;
      if (head.size() < most || !takeWords(behind, head)) continue;
      if (head.size() > most) begun.clear();
      most = head.size();
      begun.push_back({k, behind});
    }
  }
  // What is wrong is said of the one whose words stand there.
  std::optional<ParsedStep> likeliest;
  int mostWords = -1;
  for (const Begun& b : begun) {
    ParsedStep read = readAs(*b.kind, b.after, words);
    if (read.step) return read;
    int found = 0;
    for (const PhrasePiece& piece : piecesOf(b.kind->phrase))
      if (!piece.field && findWords(b.after, trimmed(piece.text), 0) != std::string::npos) ++found;
    if (found <= mostWords) continue;
    mostWords = found;
    likeliest = std::move(read);
  }
  if (likeliest) return *likeliest;
  std::string unknown = takeWord(rest);
  return {
      std::nullopt,
      stepSay(
          "“{}” is not a step. Steps begin with set, flip, dim, wait, if, repeat, as long as or "
          "keep going round.",
          unknown)};
}
bool isOtherwise(const std::string& typed) {
  const std::string word = lower(trimmed(typed));
  return word == "otherwise" || word == "else";
}
std::vector<std::string> completions(const std::string& typed, const Vocabulary& words) {
  const std::vector<std::string>& pins = words.pins;
  const std::string start = lower(typed);
  std::vector<std::string> out;
  const auto offer = [&](const std::string& phrase) {
    if (lower(phrase).starts_with(start) && lower(phrase) != start) out.push_back(phrase);
  };
  for (const std::string& pin : pins) offer("set " + pin + " high"), offer("set " + pin + " low");
  for (const std::string& pin : pins) offer("flip " + pin);
  for (const std::string& pin : pins)
    for (const char* percent : {"50", "30", "10", "100"})
      offer("dim " + pin + " to " + percent + " %");
  for (const std::string& pin : pins)
    offer("tone of 440 Hz on " + pin + " for 0.2 s"), offer("tone of 440 Hz on " + pin),
        offer("silence " + pin), offer("turn servo on " + pin + " to 90 °");
  for (const char* seconds : {"0.5", "1", "0.25", "0.1", "2"})
    offer(std::string("wait ") + seconds + " s");
  for (const std::string& pin : pins)
    offer("if " + pin + " is high"), offer("if " + pin + " is low");
  for (int n : {2, 3, 5, 10}) offer("repeat " + std::to_string(n) + " times");
  for (const std::string& pin : pins)
    for (const char* head : {"wait until ", "as long as "})
      offer(head + pin + " is high"), offer(head + pin + " is low");
  for (const char* phrase : {"keep going round", "leave the loop", "end this lane"}) offer(phrase);
  for (const std::string& variable : words.variables)
    offer("let " + nameText(variable) + " be 0"), offer("add 1 to " + nameText(variable));
  for (const Vocabulary::Own& own : words.own) {
    std::string inputs;
    for (const std::string& input : own.inputs)
      inputs += (inputs.empty() ? " with " : ", ") + nameText(input) + " 0";
    offer("run " + nameText(own.name) + inputs);
  }
  for (const char* phrase : {"post \"hello\" for 2 s", "log \"hello\""}) offer(phrase);
  for (const std::string& variable : words.variables) offer("log " + nameText(variable));
  for (const std::string& list : words.lists) offer("put 0 into item 1 of " + nameText(list));
  for (const std::string& group : groupPhrases(words)) offer(group);
  return out;
}
ParsedSteps parseSteps(const std::string& text, const Vocabulary& words, const ReadsLine& reads) {
  ParsedSteps out;
  struct Level {
    std::size_t indent;  // of its lines; of the line that opened it, while it has none
    Steps* list;
    bool fresh;
  };
  std::vector<Level> levels{{0, &out.steps, false}};
  std::istringstream lines(text);
  std::string line;
  const auto fail = [&](int number, Message why) {
    out.badLine = number;
    out.problem = std::move(why);
    return out;
  };
  for (int number = 1; std::getline(lines, line); ++number) {
    if (trimmed(line).empty()) continue;
    const std::size_t indent = line.find_first_not_of(' ');
    while (levels.size() > 1 &&
           (levels.back().fresh ? indent <= levels.back().indent : indent < levels.back().indent))
      levels.pop_back();
    if (levels.back().fresh) {
      levels.back().indent = indent;
      levels.back().fresh = false;
    } else if (indent > levels.back().indent) {
      Steps& list = *levels.back().list;
      if (list.empty() || list.back().bodies.empty())
        return fail(number,
                    stepSay("This line is indented, but the line above holds no steps inside."));
      if (levels.size() > static_cast<std::size_t>(64))
        return fail(number, stepSay("Nested too deeply."));
      levels.push_back({indent, &list.back().bodies.front().second, false});
    }
    if (isOtherwise(line)) {
      Steps& list = *levels.back().list;
      Steps* body = list.empty() ? nullptr : bodyOf(list.back(), Runs::ifNot);
      if (!body) return fail(number, stepSay("“otherwise” belongs right below an “if”."));
      levels.push_back({indent, body, true});
      continue;
    }
    ParsedStep step = parseStep(line, words);
    Steps read;
    if (step.step)
      read.push_back(std::move(*step.step));
    else if (reads)
      read = reads(line);
    if (read.empty()) return fail(number, step.problem);
    for (Step& s : read) levels.back().list->push_back(std::move(s));
  }
  return out;
}

}  // namespace ignavo
