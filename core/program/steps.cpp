#include "program/steps.h"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <charconv>
#include <map>
#include <sstream>

#include "program/facts.h"
#include "program/kinds/list.h"
#include "program/names.h"
#include "program/typed.h"
#include "program/words.h"
#include "text/plain.h"

namespace ignavo {

using typed::lower, typed::trimmed;

IGNAVO_VALUE_DEFINED(StepKind);

const std::vector<const StepKind*>& stepKinds() {
  static const std::vector<const StepKind*> all = {
      &setStep(), &flipStep(),   &levelStep(), &waitStep(), &waitUntilStep(),
      &ifStep(),  &repeatStep(), &whileStep(), &loopStep(), &leaveStep(),
      &endStep(), &letStep(),    &addStep(),   &putStep(),  &remarkStep()};
  return all;
}

const StepKind* stepKind(const std::string& kind) {
  for (const StepKind* k : stepKinds())
    if (k->kind == kind) return k;
  return nullptr;
}

const SlotKind* StepKind::slot(const std::string& key) const {
  for (const SlotKind& s : slots)
    if (s.key == key) return &s;
  return nullptr;
}

const std::vector<TriggerKind>& triggerKinds() {
  static const std::vector<TriggerKind> kinds = {
      {"power", "When power comes on", false, TriggerKind::Edge::none, true},
      {"always", "Round and round", true},
      {"rise", "Each time {pin} goes high", false, TriggerKind::Edge::rise},
      {"fall", "Each time {pin} goes low", false, TriggerKind::Edge::fall}};
  return kinds;
}

const TriggerKind* triggerKind(const std::string& on) {
  for (const TriggerKind& k : triggerKinds())
    if (k.on == on) return &k;
  return nullptr;
}

namespace {
constexpr const char* pinSlot = "{pin}";
std::pair<std::string, std::string> aroundPin(const std::string& sign) {
  const std::size_t at = sign.find(pinSlot);
  return {sign.substr(0, at), sign.substr(at + std::string(pinSlot).size())};
}
}  // namespace

std::string signOf(const Trigger& trigger) {
  const TriggerKind* kind = triggerKind(trigger.on);
  if (!kind) return trigger.on;
  if (kind->edge == TriggerKind::Edge::none) return kind->sign;
  const auto [before, behind] = aroundPin(kind->sign);
  return before + (trigger.pin.empty() ? "…" : trigger.pin) + behind;
}

Step newStep(const StepKind& kind) {
  Step s;
  s.kind = kind.kind;
  for (const SlotKind& slot : kind.slots)
    if (!slot.optional) s.fields.emplace_back(slot.key, slot.defaultValue);
  for (const BodyKind& body : kind.bodies) s.bodies.emplace_back(body.key, Steps{});
  return s;
}

namespace {
// What stands in a field.
std::string slotText(const Expr& value, const SlotKind& slot) {
  switch (slot.type) {
    case SlotKind::Type::pin:
    case SlotKind::Type::text:
      return value.text;
    case SlotKind::Type::variable:
    case SlotKind::Type::list:
      return value.text.empty() ? std::string() : nameText(value.text);
    default:
      return phraseOf(value);
  }
}
}  // namespace

std::string phraseOf(const Step& step) {
  const StepKind* kind = stepKind(step.kind);
  if (!kind) return step.kind;
  return filled(kind->phrase, [&](const std::string& key) {
    const Expr* value = step.field(key);
    const SlotKind* slot = kind->slot(key);
    if (!value && slot && slot->optional) return std::string();
    std::string text = value && slot ? slotText(*value, *slot) : std::string();
    if (text.empty()) text = "…";
    if (slot && !slot->unit.empty() && value && value->isLiteral()) text += " " + slot->unit;
    return text;
  });
}

namespace {

// Takes the first word off `rest`.
std::string takeWord(std::string& rest) {
  rest = trimmed(rest);
  const auto end = rest.find_first_of(" \t");
  std::string word = rest.substr(0, end);
  rest = end == std::string::npos ? std::string() : trimmed(rest.substr(end));
  return word;
}

// Takes several words off it, in any case; nothing is taken where they do not stand there.
bool takeWords(std::string& rest, std::string words) {
  std::string behind = rest;
  while (!words.empty())
    if (lower(takeWord(behind)) != lower(takeWord(words))) return false;
  rest = behind;
  return true;
}

std::string unquoted(const std::string& text) {
  std::string out;
  for (std::size_t i = 1; i + 1 < text.size(); ++i) {
    if (text[i] == '\\' && i + 2 < text.size()) ++i;
    out += text[i];
  }
  return out;
}

bool dropWord(std::string& rest, std::initializer_list<const char*> words) {
  std::string copy = rest;
  const std::string first = lower(takeWord(copy));
  for (const char* w : words)
    if (first == w) {
      rest = copy;
      return true;
    }
  return false;
}

// "d2 high" -> "d2 is high"; "d2" -> "d2 is high": what people type for a condition.
ParsedExpr parseCondition(const std::string& typed, const Vocabulary& words) {
  std::string rest = typed;
  std::string word = takeWord(rest);
  if (lower(word) == "pin") word = takeWord(rest);
  if (words.pin(word)) {
    const std::string next = lower(rest);
    if (rest.empty()) return parseExpr(word + " is high", words);
    if (next == "high" || next == "low") return parseExpr(word + " is " + rest, words);
  }
  return parseExpr(typed, words);
}

ParsedExpr parseSlot(const SlotKind& slot, std::string& rest, const Vocabulary& words) {
  switch (slot.type) {
    case SlotKind::Type::pin: {
      dropWord(rest, {"pin", "the"});
      const std::string word = takeWord(rest);
      if (word.empty()) return {std::nullopt, stepSay("Which pin? For example D4.")};
      if (const auto pin = words.pin(word)) return {Expr::of(*pin), {}};
      return {std::nullopt,
              words.pins.empty()
                  ? stepSay("“{}” is not a pin: there is no board with pins.", word)
                  : stepSay("“{}” is not a pin. Pins are called {}, {} and so on.", word,
                            words.pins.front(), words.pins[words.pins.size() / 2])};
    }
    case SlotKind::Type::level: {
      dropWord(rest, {"to", "=", "is"});
      const std::string word = lower(rest);
      if (word.empty()) return {std::nullopt, stepSay("High or low?")};
      if (word == "on") rest = "high";
      if (word == "off") rest = "low";
      ParsedExpr value = parseExpr(rest, words);
      rest.clear();
      const bool number = value.value && value.value->shape == Expr::Shape::number;
      if (number && value.value->number != 0 && value.value->number != 1)
        return {std::nullopt, stepSay("High, or {0} %? Type “high”, or “dim … to {0} %”.",
                                      asNumber(value.value->number))};
      if (number) value.value = Expr::of(std::string(value.value->number != 0 ? "high" : "low"));
      return value;
    }
    case SlotKind::Type::number: {
      dropWord(rest, {"to", "at", "="});
      std::string text = rest;
      // "wait 1000" may mean either; a unit says which.
      constexpr double surelySeconds = 100;
      double plain = 0;
      const std::string bare = trimmed(text);
      const auto [stop, error] = std::from_chars(bare.data(), bare.data() + bare.size(), plain);
      if (slot.unit == "s" && error == std::errc() && stop == bare.data() + bare.size() &&
          plain >= surelySeconds)
        return {std::nullopt, stepSay("{0} seconds, or {0} milliseconds? Type “{0} s” or "
                                      "“{0} ms”.",
                                      asNumber(plain))};
      for (const char* tail : {" times", " time", " seconds", " second", " percent"})
        if (lower(text).ends_with(tail))
          text = text.substr(0, text.size() - std::string(tail).size());
      rest.clear();
      if (trimmed(text).empty()) return {std::nullopt, stepSay("How much? A number is missing.")};
      ParsedExpr value = parseExpr(text, words);
      if (value.value && value.value->shape == Expr::Shape::number &&
          (value.value->number < slot.min || value.value->number > slot.max))
        return {std::nullopt, stepSay("This can be from {} to {} {}.", asNumber(slot.min),
                                      asNumber(slot.max), slot.unit)};
      return value;
    }
    case SlotKind::Type::text: {
      const std::string text = trimmed(rest);
      rest.clear();
      if (text.empty()) return {std::nullopt, stepSay("Here some words are missing.")};
      return {Expr::of(text == "…" ? std::string() : text), {}};
    }
    case SlotKind::Type::any: {
      dropWord(rest, {"to", "=", "be"});
      if (trimmed(rest).empty()) return {std::nullopt, stepSay("A value is missing here.")};
      ParsedExpr value = parseExpr(rest, words);
      rest.clear();
      return value;
    }
    case SlotKind::Type::variable:
    case SlotKind::Type::list: {
      const bool list = slot.type == SlotKind::Type::list;
      dropWord(rest, {"variable", "list", "the"});
      std::string name = plainLine(trimmed(rest));
      rest.clear();
      if (name == "…") return {Expr::of(std::string()), {}};
      const bool inQuotes = name.size() > 1 && name.front() == '"' && name.back() == '"';
      if (inQuotes) name = unquoted(name);
      if (name.empty())
        return {std::nullopt, list ? stepSay("Which list?") : stepSay("Which variable?")};
      if (const auto known = list ? words.list(name) : words.variable(name))
        return {Expr::of(*known), {}};
      if (list) return {std::nullopt, stepSay("There is no list called {}.", name)};
      // A step that gives it a value makes it.
      if (!isName(name) || (!inQuotes && nameText(name) != name))
        return {std::nullopt, stepSay("“{}” cannot be the name of a variable.", name)};
      return {Expr::of(name), {}};
    }
    case SlotKind::Type::truth: {
      ParsedExpr value = parseCondition(rest, words);
      rest.clear();
      return value;
    }
  }
  return {};
}

// Where those words stand in a text, outside of quotes; behind `from`.
std::size_t findWords(const std::string& text, const std::string& words, std::size_t from) {
  bool quoted = false;
  for (std::size_t i = 0; i + words.size() <= text.size(); ++i) {
    if (text[i] == '"') quoted = !quoted;
    if (quoted && text[i] == '\\') ++i;
    if (quoted || i < from || (i > 0 && text[i - 1] != ' ')) continue;
    const std::size_t end = i + words.size();
    if (lower(text.substr(i, words.size())) == lower(words) &&
        (end == text.size() || text[end] == ' '))
      return i;
  }
  return std::string::npos;
}

// The fields of a step along the pieces of its phrase from `at` on. A field reaches to the words
// that follow it; where those come more than once, to the first with which everything can be read.
Message readFields(const StepKind& kind, const std::vector<PhrasePiece>& pieces, std::size_t at,
                   std::string rest, const Vocabulary& words, Step& step) {
  for (; at < pieces.size(); ++at) {
    const PhrasePiece& piece = pieces[at];
    if (piece.optional && trimmed(rest).empty()) return {};
    if (!piece.field) {
      takeWords(rest, trimmed(piece.text));  // it may be left out
      continue;
    }
    const SlotKind& slot = *kind.slot(piece.text);
    const std::string next =
        at + 1 < pieces.size() && !pieces[at + 1].field ? trimmed(pieces[at + 1].text) : "";
    Message problem;
    for (std::size_t from = next.empty() ? std::string::npos : findWords(rest, next, 0);
         from != std::string::npos; from = findWords(rest, next, from + 1)) {
      std::string part = rest.substr(0, from);
      const ParsedExpr value = parseSlot(slot, part, words);
      Message why = value.problem;
      if (value.value) {
        Step tried = step;
        tried.setField(slot.key, *value.value);
        why = readFields(kind, pieces, at + 1, rest.substr(from), words, tried);
        if (why.empty()) {
          step = std::move(tried);
          return {};
        }
      }
      if (problem.empty()) problem = std::move(why);
    }
    if (!problem.empty()) return problem;
    ParsedExpr value = parseSlot(slot, rest, words);
    if (!value.value) return value.problem;
    step.setField(slot.key, std::move(*value.value));
  }
  rest = trimmed(rest);
  return rest.empty() ? Message{} : stepSay("“{}” is not expected here.", rest);
}

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

}  // namespace

std::optional<Trigger> parseSign(const std::string& typed, const Vocabulary& words) {
  const std::string said = lower(trimmed(typed));
  for (const TriggerKind& kind : triggerKinds()) {
    if (kind.edge == TriggerKind::Edge::none) {
      if (lower(kind.sign) == said) return Trigger{kind.on, {}, {}};
      continue;
    }
    const auto [before, behind] = aroundPin(lower(kind.sign));
    if (said.size() <= before.size() + behind.size() || !said.starts_with(before) ||
        !said.ends_with(behind))
      continue;
    const std::string pin = said.substr(before.size(), said.size() - before.size() - behind.size());
    if (pin == "…") return Trigger{kind.on, {}, {}};
    if (const auto name = words.pin(pin)) return Trigger{kind.on, *name, {}};
  }
  return std::nullopt;
}

namespace {
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
  if (Message problem = readFields(kind, pieces, 0, after, words, step); !problem.empty())
    return {std::nullopt, std::move(problem)};
  return {step, {}};
}
}  // namespace

ParsedStep parseStep(const std::string& typed, const Vocabulary& words) {
  std::string rest = saidPlainly(trimmed(typed));
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
  for (const std::string& list : words.lists) offer("put 0 into item 1 of " + nameText(list));
  return out;
}

std::string textOf(const Steps& steps, int indent) {
  std::string out;
  const std::string pad(static_cast<std::size_t>(indent) * 2, ' ');
  for (const Step& s : steps) {
    out += pad + phraseOf(s) + "\n";
    bool first = true;
    for (const auto& [key, body] : s.bodies) {
      if (!first && !body.empty()) out += pad + "otherwise\n";
      out += textOf(body, indent + 1);
      first = false;
    }
  }
  return out;
}

ParsedSteps parseSteps(const std::string& text, const Vocabulary& words) {
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
    if (!step.step) return fail(number, step.problem);
    levels.back().list->push_back(std::move(*step.step));
  }
  return out;
}

std::vector<std::string> PinUse::reading() const {
  std::vector<std::string> out = starts;
  out.insert(out.end(), readers.begin(), readers.end());
  return out;
}

std::vector<PinUse> pinUses(const Program& program) {
  std::map<std::string, PinUse> uses;
  for (const auto& lane : program.lanes) {
    const TriggerKind* trigger = triggerKind(lane->trigger.on);
    if (trigger && trigger->edge != TriggerKind::Edge::none && !lane->trigger.pin.empty())
      uses[lane->trigger.pin].starts.push_back(lane->id);
    forEachStep(lane->steps, [&](const Step& s) {
      const StepKind* kind = stepKind(s.kind);
      if (!kind) return;
      for (const auto& [key, value] : s.fields) {
        const SlotKind* slot = kind->slot(key);
        if (slot && slot->type == SlotKind::Type::pin) {
          if (value.text.empty()) continue;
          uses[value.text].writers.push_back(s.id);
          if (kind->dims) uses[value.text].dimmers.push_back(s.id);
        } else {
          forEachGetter(value, [&](const GetterKind& getter, const std::string& pin) {
            if (pin.empty()) return;
            uses[pin].readers.push_back(s.id);
            if (getter.measures) uses[pin].measurers.push_back(s.id);
          });
        }
      }
    });
  }
  std::vector<PinUse> out;
  for (auto& [pin, use] : uses) {
    use.pin = pin;
    out.push_back(std::move(use));
  }
  return out;
}

namespace {

// What an expression asks of names that are not there, or of what is no number.
struct NameProblems {
  const Program& program;
  Types types;

  std::optional<std::pair<StepProblem::Code, std::string>> in(const Expr& e) const {
    using Why = StepProblem::Code;
    if (e.shape == Expr::Shape::get) {
      const Expr *variable = e.arg(variableKey), *list = e.arg(listKey);
      if (variable && !program.variable(variable->text))
        return std::pair(Why::noSuchVariable, variable->text);
      if (list && !program.list(list->text)) return std::pair(Why::noSuchList, list->text);
    }
    if (e.shape == Expr::Shape::op)
      for (const Expr* operand : operandsOf(e))
        if (operand && !namedLevel(*operand) && typeOf(*operand, types) == ValueType::text)
          return std::pair(Why::textAndNumber, phraseOf(*operand));
    for (const auto& [key, inner] : e.args)
      if (const auto found = in(inner)) return found;
    return std::nullopt;
  }
  std::optional<std::pair<StepProblem::Code, std::string>> in(const Step& s) const {
    using Why = StepProblem::Code;
    const auto change = changeOf(s);
    if (!change) return std::nullopt;
    if (change->list && !program.list(change->name))
      return std::pair(Why::noSuchList, change->name);
    if (!change->list && !program.variable(change->name))
      return std::pair(Why::noSuchVariable, change->name);
    // What is given there is text and the place holds numbers, or the other way.
    const ValueType is = change->value ? typeOf(*change->value, types) : ValueType::whole;
    const ValueType there = change->list ? types.list(change->name) : types.variable(change->name);
    if ((is == ValueType::text) != (there == ValueType::text) ||
        (change->adds && there == ValueType::text) || (change->list && is == ValueType::text))
      return std::pair(Why::textAndNumber, change->name);
    return std::nullopt;
  }
};

void problemsIn(const Steps& steps, const std::vector<PinAbility>& pins, bool inLoop,
                const NameProblems& names, std::vector<StepProblem>& out) {
  using Why = StepProblem::Code;
  const auto check = [&](const Step& s, const std::string& slot, const std::string& pin, bool dim,
                         bool measure) {
    const auto found =
        std::find_if(pins.begin(), pins.end(), [&](const PinAbility& p) { return p.name == pin; });
    if (pin.empty())
      out.push_back({s.id, slot, Why::pinMissing, {}});
    else if (found == pins.end())
      out.push_back({s.id, slot, Why::noSuchPin, pin});
    else if (dim && !found->dims)
      out.push_back({s.id, slot, Why::cannotDim, pin});
    else if (measure && !found->measures)
      out.push_back({s.id, slot, Why::cannotMeasure, pin});
  };
  std::optional<Why> ended;
  for (const Step& s : steps) {
    const StepKind* kind = stepKind(s.kind);
    if (!kind) continue;
    if (ended) out.push_back({s.id, {}, *ended, {}});
    if (leavesLoop(s) && !inLoop) out.push_back({s.id, {}, Why::nothingToLeave, {}});
    if (const auto problem = names.in(s))
      out.push_back({s.id, {}, problem->first, problem->second});
    for (const auto& [key, value] : s.fields) {
      const SlotKind* slot = kind->slot(key);
      if (const auto problem = names.in(value))
        out.push_back({s.id, key, problem->first, problem->second});
      if (slot && slot->type == SlotKind::Type::pin)
        check(s, key, value.text, kind->dims, false);
      else
        forEachGetter(value, [&](const GetterKind& getter, const std::string& pin) {
          check(s, key, pin, false, getter.measures);
        });
    }
    for (const auto& [key, body] : s.bodies)
      problemsIn(body, pins, inLoop || runsOf(s, key) == Runs::again, names, out);
    if (!ended && isEndless(s)) ended = Why::unreachable;
    if (!ended && endsLane(s)) ended = Why::behindEnd;
    if (!ended && leavesLoop(s) && inLoop) ended = Why::behindLeave;
  }
}

}  // namespace

std::vector<StepProblem> stepProblems(const Program& program, const std::vector<PinAbility>& pins) {
  std::vector<StepProblem> out;
  const NameProblems names{program, Types(program)};
  for (const auto& lane : program.lanes) problemsIn(lane->steps, pins, false, names, out);
  return out;
}

Message sentence(const StepProblem& problem) {
  using Why = StepProblem::Code;
  switch (problem.code) {
    case Why::pinMissing:
      return stepSay("This step has no pin yet.");
    case Why::noSuchPin:
      return stepSay("This board has no pin {}.", problem.value);
    case Why::cannotDim:
      return stepSay("{} cannot be dimmed; pins with a ∿ can.", problem.value);
    case Why::cannotMeasure:
      return stepSay("{} cannot measure a level; the analog pins can.", problem.value);
    case Why::noSuchVariable:
      return problem.value.empty() ? stepSay("This step has no variable yet.")
                                   : stepSay("There is no variable called {}.", problem.value);
    case Why::noSuchList:
      return problem.value.empty() ? stepSay("This step has no list yet.")
                                   : stepSay("There is no list called {}.", problem.value);
    case Why::textAndNumber:
      return stepSay("A text and a number cannot be mixed: {}.", problem.value);
    case Why::unreachable:
      return stepSay("Never reached: the loop above goes on for ever.");
    case Why::behindLeave:
      return stepSay("Never reached: the step above leaves the loop.");
    case Why::behindEnd:
      return stepSay("Never reached: the step above ends the lane.");
    case Why::nothingToLeave:
      return stepSay("This step stands in no loop: there is nothing to leave.");
  }
  return {};
}

}  // namespace ignavo
