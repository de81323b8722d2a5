#include "program/names.h"

#include <algorithm>
#include <cctype>
#include <set>

#include "program/facts.h"
#include "program/own_steps.h"
#include "program/steps.h"
#include "program/typed.h"
#include "program/words.h"
#include "text/plain.h"

namespace ignavo {

using typed::lower;

namespace {

bool isLetter(unsigned char c) { return std::isalpha(c) || c == '_' || c >= 0x80; }

// Words of phrases: a name that is one of them stands in quotes.
const std::set<std::string>& phraseWords() {
  static const std::set<std::string> all = [] {
    std::set<std::string> out = {"high", "low",  "true",     "false",  "on",     "off",
                                 "is",   "s",    "ms",       "us",     "hz",     "deg",
                                 "to",   "be",   "variable", "list",   "pin",    "equals",
                                 "by",   "into", "for",      "number", "between"};
    const auto take = [&](const std::string& phrase) {
      for (const PhrasePiece& piece : piecesOf(phrase)) {
        if (piece.field) continue;
        std::string word;
        for (const char c : piece.text + " ") {
          if (isLetter(static_cast<unsigned char>(c))) {
            word += c;
          } else if (!word.empty()) {
            out.insert(lower(std::exchange(word, {})));
          }
        }
      }
    };
    for (const OperatorKind& k : operatorKinds()) take(k.phrase);
    for (const GetterKind& k : getterKinds()) take(k.phrase);
    return out;
  }();
  return all;
}

// "D2", "GP14": could be a pin of some board.
bool looksLikePin(const std::string& word) {
  const auto digits = word.find_first_of("0123456789");
  return digits != std::string::npos && digits <= 3 &&
         word.find_first_not_of("0123456789", digits) == std::string::npos;
}

// Is there an input of that name in a lane that is an own step?
bool hides(const Lane& lane, const std::string& variable) {
  if (!isOwn(lane)) return false;
  const std::vector<std::string> inputs = inputsOf(lane);
  return std::find(inputs.begin(), inputs.end(), variable) != inputs.end();
}

}  // namespace

bool isName(const std::string& name) {
  return !name.empty() && name.size() <= 4 * limits::nameLetters &&
         std::none_of(name.begin(), name.end(),
                      [](char c) { return static_cast<unsigned char>(c) < 0x20 || c == 0x7F; });
}

std::string quotedText(const std::string& text) {
  std::string out = "\"";
  for (const char c : text) {
    if (c == '"' || c == '\\') out += '\\';
    out += c;
  }
  return out + "\"";
}

std::string nameText(const std::string& name) {
  const bool plain = !name.empty() && isLetter(static_cast<unsigned char>(name[0])) &&
                     std::all_of(name.begin(), name.end(),
                                 [](char c) {
                                   return isLetter(static_cast<unsigned char>(c)) ||
                                          std::isdigit(static_cast<unsigned char>(c));
                                 }) &&
                     // Signs of more than one byte are no letters.
                     name.find("×") == std::string::npos && name.find("÷") == std::string::npos &&
                     name.find("\xE2") == std::string::npos && !looksLikePin(name) &&
                     !phraseWords().contains(lower(name));
  return plain ? name : quotedText(name);
}

// ---- types

bool Types::join(std::map<std::string, ValueType>& names, const std::string& name, ValueType with) {
  const auto [it, fresh] = names.emplace(name, with);
  if (fresh) return true;
  const ValueType all = joined(it->second, with);
  return std::exchange(it->second, all) != all;
}

Types::Types(const Program& program) {
  for (const Variable& v : program.variables) join(variables_, v.name, typeOf(v.start));
  for (const NumberList& l : program.lists) {
    join(lists_, l.name, ValueType::whole);
    for (const double item : l.items) join(lists_, l.name, typeOf(Expr::of(item)));
  }
  for (const auto& lane : program.lanes)
    if (isOwn(*lane))
      for (const std::string& input : inputsOf(*lane))
        join(inputs_[ownName(*lane)], input, ValueType::truth);
  // An own step that nothing runs reaches nothing.
  const std::vector<const Lane*> run = ownStepsRun(program);
  for (bool more = true; more;) {
    more = false;
    for (const auto& lane : program.lanes) {
      if (isOwn(*lane) && std::find(run.begin(), run.end(), &*lane) == run.end()) continue;
      const Types here = isOwn(*lane) ? within(ownName(*lane)) : *this;
      const std::vector<std::string> inputs =
          isOwn(*lane) ? inputsOf(*lane) : std::vector<std::string>{};
      forEachStep(lane->steps, [&](const Step& s) {
        if (const Lane* own = ownRun(program, s))
          for (const std::string& input : inputsOf(*own)) {
            const Expr* given = givenTo(s, input);
            const ValueType type = given ? typeOf(*given, here) : ValueType::whole;
            more = join(inputs_[ownName(*own)], input, type) || more;
          }
        const auto change = changeOf(s);
        if (!change) return;
        ValueType type = change->value ? typeOf(*change->value, here) : ValueType::whole;
        // What is counted in, and what stands in a list, is a number.
        if (change->adds || change->list) type = joined(type, ValueType::whole);
        const bool input = std::find(inputs.begin(), inputs.end(), change->name) != inputs.end();
        auto& names = change->list ? lists_ : input ? inputs_[ownName(*lane)] : variables_;
        more = join(names, change->name, type) || more;
      });
    }
    for (const auto& lane : program.lanes)
      if (const Expr* name = lane->trigger.field(variableKey))
        if (const Expr* from = keptOf(lane->trigger))
          more = join(variables_, name->text, typeOf(*from, *this)) || more;
  }
}

Types Types::within(const std::string& own) const {
  Types out = *this;
  if (const auto it = inputs_.find(own); it != inputs_.end())
    for (const auto& [name, type] : it->second) out.variables_[name] = type;
  return out;
}
ValueType Types::input(const std::string& own, const std::string& name) const {
  const auto it = inputs_.find(own);
  if (it == inputs_.end()) return ValueType::whole;
  const auto held = it->second.find(name);
  return held == it->second.end() ? ValueType::whole : held->second;
}

// ---- names

Project declareNames(Project project, const std::string& board) {
  const Program* program = project.program(board);
  if (!program) return project;
  std::vector<Variable> variables = program->variables;
  for (const auto& lane : program->lanes)
    forEachStep(lane->steps, [&](const Step& s) {
      const auto change = changeOf(s);
      if (!change || change->list || !isName(change->name)) return;
      if (hides(*lane, change->name)) return;
      const bool known = std::any_of(variables.begin(), variables.end(),
                                     [&](const Variable& v) { return v.name == change->name; });
      if (known || variables.size() >= limits::variables) return;
      Variable fresh;
      fresh.name = change->name;
      // One that only ever holds texts begins with none.
      if (change->value && change->value->shape == Expr::Shape::text && !namedLevel(*change->value))
        fresh.start = Expr::of(std::string());
      variables.push_back(std::move(fresh));
    });
  for (const auto& lane : program->lanes) {
    const Expr* name = lane->trigger.field(variableKey);
    if (!name || !isName(name->text) || variables.size() >= limits::variables) continue;
    if (std::any_of(variables.begin(), variables.end(),
                    [&](const Variable& v) { return v.name == name->text; }))
      continue;
    Variable fresh;
    fresh.name = name->text;
    variables.push_back(std::move(fresh));
  }
  if (variables.size() == program->variables.size()) return project;
  return edits::setVariables(std::move(project), board, std::move(variables));
}

std::string textOf(const Variable& v) {
  return "variable " + nameText(v.name) + " is " + phraseOf(v.start);
}

std::string textOf(const NumberList& l) {
  std::string out = "list " + nameText(l.name) + " is";
  const char* before = " ";
  for (const double item : l.items) out += std::exchange(before, ", ") + phraseOf(Expr::of(item));
  return out;
}

namespace {

// A name at the beginning of a text, in quotes or one word; what follows it stays.
std::string takeName(std::string& rest) {
  std::string name;
  std::size_t at = rest.find_first_not_of(' ');
  if (at == std::string::npos) at = rest.size();
  if (at < rest.size() && rest[at] == '"') {
    for (++at; at < rest.size() && rest[at] != '"'; ++at) {
      if (rest[at] == '\\' && at + 1 < rest.size()) ++at;
      name += rest[at];
    }
    if (at < rest.size()) ++at;
  } else {
    const std::size_t end = std::min(rest.find_first_of(" =", at), rest.size());
    name = rest.substr(at, end - at);
    at = end;
  }
  rest = rest.substr(at);
  return name;
}

// "is", "be", "=" or nothing, then the rest.
std::string behindIs(const std::string& text) {
  std::size_t at = std::min(text.find_first_not_of(' '), text.size());
  for (const char* word : {"is", "be", "="}) {
    const std::size_t length = std::char_traits<char>::length(word);
    if (lower(text.substr(at, length)) != word) continue;
    at = std::min(text.find_first_not_of(' ', at + length), text.size());
    break;
  }
  return text.substr(at);
}

std::optional<std::vector<double>> numbers(const std::string& text) {
  std::vector<double> out;
  std::string word;
  for (const char c : text + ",") {
    if (c != ',') {
      word += c;
      continue;
    }
    if (word.find_first_not_of(" \t\r") == std::string::npos) {
      if (out.empty() && text.find(',') == std::string::npos) return out;
      return std::nullopt;
    }
    const ParsedExpr item = parseExpr(word, {});
    if (!item.value || item.value->shape != Expr::Shape::number) return std::nullopt;
    out.push_back(item.value->number);
    word.clear();
  }
  return out;
}

}  // namespace

std::optional<ParsedName> parseName(const std::string& line) {
  std::string rest = plainLine(line);
  ParsedName out;
  const bool variable = lower(rest).starts_with("variable "),
             list = lower(rest).starts_with("list ");
  if (variable || list) {
    rest = rest.substr(rest.find(' ') + 1);
  } else if (const std::size_t equals = rest.find('=');
             equals == std::string::npos || rest.find(',', equals) == std::string::npos ||
             rest.find_first_not_of(' ') >= equals) {
    return std::nullopt;
  }
  const std::string name = takeName(rest);
  if (!isName(name) || name.size() > limits::nameLetters) {
    out.problem = stepSay("“{}” cannot be the name of a variable or list.", name);
    return out;
  }
  const std::string value = behindIs(rest);
  if (!variable) {
    const auto items = numbers(value);
    if (!items && !list) return std::nullopt;
    if (!items) {
      out.problem = stepSay("A list is some numbers with commas between them: 90, 70, 50");
    } else if (items->size() > limits::listItems) {
      out.problem =
          stepSay("A list holds {} numbers at most.", static_cast<int>(limits::listItems));
    } else {
      out.list.emplace();
      out.list->name = name;
      out.list->items = *items;
    }
    return out;
  }
  Expr start;
  if (!value.empty()) {
    const ParsedExpr read = parseExpr(value, {});
    if (!read.value || !read.value->isLiteral()) {
      out.problem = stepSay("A variable begins with a number, true, false or a text.");
      return out;
    }
    start = *read.value;
  }
  out.variable.emplace();
  out.variable->name = name;
  out.variable->start = std::move(start);
  return out;
}

Project withName(Project project, const std::string& board, const ParsedName& name) {
  const Program* program = project.program(board);
  const auto with = [](auto list, const auto& one) {
    const auto it = std::find_if(list.begin(), list.end(),
                                 [&](const auto& held) { return held.name == one.name; });
    if (it == list.end())
      list.push_back(one);
    else
      *it = one;
    return list;
  };
  if (name.variable)
    return edits::setVariables(
        std::move(project), board,
        with(program ? program->variables : std::vector<Variable>{}, *name.variable));
  if (name.list)
    return edits::setLists(std::move(project), board,
                           with(program ? program->lists : std::vector<NumberList>{}, *name.list));
  return project;
}

namespace {

void renameIn(Expr& e, const std::string& key, const std::string& from, const std::string& to) {
  for (auto& [name, inner] : e.args) {
    if (e.shape == Expr::Shape::get && name == key && inner.text == from) inner.text = to;
    renameIn(inner, key, from, to);
  }
}

void renameIn(Steps& steps, SlotKind::Type type, const std::string& key, const std::string& from,
              const std::string& to) {
  for (Step& s : steps) {
    const StepKind* kind = stepKind(s.kind);
    for (auto& [name, value] : s.fields) {
      const SlotKind* slot = kind ? kind->slot(name) : nullptr;
      if (slot && slot->type == type && value.text == from) value.text = to;
      renameIn(value, key, from, to);
    }
    for (auto& [name, body] : s.bodies) renameIn(body, type, key, from, to);
  }
}

Project renamed(Project project, const std::string& board, SlotKind::Type type, const char* key,
                const std::string& from, const std::string& to) {
  for (auto& program : project.programs) {
    if (program->board != board) continue;
    Program& edited = program.edit();
    for (Variable& v : edited.variables)
      if (type == SlotKind::Type::variable && v.name == from) v.name = to;
    for (NumberList& l : edited.lists)
      if (type == SlotKind::Type::list && l.name == from) l.name = to;
    for (auto& lane : edited.lanes) {
      if (type == SlotKind::Type::variable && hides(*lane, from)) continue;
      renameIn(lane.edit().steps, type, key, from, to);
      for (auto& [field, value] : lane.edit().trigger.fields) {
        if (type == SlotKind::Type::variable && field == variableKey && value.text == from)
          value.text = to;
        renameIn(value, key, from, to);
      }
    }
  }
  return project;
}

bool reads(const Expr& e, const std::string& key, const std::string& name) {
  return std::any_of(e.args.begin(), e.args.end(), [&](const auto& arg) {
    const GetterKind* kind = e.shape == Expr::Shape::get ? getterKind(e.text) : nullptr;
    return (kind && !kind->counts && arg.first == key && arg.second.text == name) ||
           reads(arg.second, key, name);
  });
}

NameUse useOf(const Program& program, bool list, const std::string& key, const std::string& name) {
  NameUse use;
  for (const auto& lane : program.lanes) {
    if (!list && hides(*lane, name)) continue;
    for (const auto& [field, value] : lane->trigger.fields) {
      if (!list && field == variableKey && value.text == name) use.changed = true;
      use.read = use.read || reads(value, key, name);
    }
    forEachStep(lane->steps, [&](const Step& s) {
      const auto change = changeOf(s);
      use.changed = use.changed || (change && change->list == list && change->name == name);
      for (const auto& [field, value] : s.fields) use.read = use.read || reads(value, key, name);
    });
  }
  return use;
}

}  // namespace

Project renameVariable(Project project, const std::string& board, const std::string& from,
                       const std::string& to) {
  return renamed(std::move(project), board, SlotKind::Type::variable, variableKey, from, to);
}
Project renameList(Project project, const std::string& board, const std::string& from,
                   const std::string& to) {
  return renamed(std::move(project), board, SlotKind::Type::list, listKey, from, to);
}
NameUse useOfVariable(const Program& program, const std::string& name) {
  return useOf(program, false, variableKey, name);
}
NameUse useOfList(const Program& program, const std::string& name) {
  return useOf(program, true, listKey, name);
}

}  // namespace ignavo
