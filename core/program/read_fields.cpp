#include "program/read_fields.h"

#include <algorithm>
#include <charconv>

#include "program/facts.h"
#include "program/items.h"
#include "program/keys.h"
#include "program/names.h"
#include "program/typed.h"
#include "program/words.h"
#include "project/project.h"
#include "text/plain.h"

namespace ignavo {

using typed::lower, typed::trimmed, typed::unquoted;

std::string slotText(const Expr& value, const SlotKind& slot) {
  switch (slot.type) {
    case SlotKind::Type::pin:
    case SlotKind::Type::text:
      return value.text;
    case SlotKind::Type::variable:
    case SlotKind::Type::list:
      return value.text.empty() ? std::string() : nameText(value.text);
    case SlotKind::Type::own:
    case SlotKind::Type::name:
      return value.text.empty() ? std::string() : nameText(value.text);
    case SlotKind::Type::key:
      return value.text;
    case SlotKind::Type::names:
    case SlotKind::Type::inputs:
    case SlotKind::Type::items: {
      std::string out;
      for (const auto& [key, inner] : value.args) {
        if (!out.empty()) out += ", ";
        if (slot.type == SlotKind::Type::inputs) out += nameText(key) + " ";
        out += slot.type == SlotKind::Type::names ? nameText(inner.text)
               : inner.shape == Expr::Shape::text ? quotedText(inner.text)
                                                  : phraseOf(inner);
      }
      return out;
    }
    case SlotKind::Type::said:
      return value.shape == Expr::Shape::text ? quotedText(value.text) : phraseOf(value);
    default:
      return phraseOf(value);
  }
}

std::string takeWord(std::string& rest) {
  rest = trimmed(rest);
  const auto end = rest.find_first_of(" \t");
  std::string word = rest.substr(0, end);
  rest = end == std::string::npos ? std::string() : trimmed(rest.substr(end));
  return word;
}

bool takeWords(std::string& rest, std::string words) {
  std::string behind = rest;
  while (!words.empty())
    if (lower(takeWord(behind)) != lower(takeWord(words))) return false;
  rest = behind;
  return true;
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

namespace {

// A name, in quotes or as it stands; empty: it cannot be one.
std::string newName(const std::string& typed) {
  const std::string text = trimmed(typed);
  const bool quoted = text.size() > 1 && text.front() == '"' && text.back() == '"';
  const std::string name = quoted ? unquoted(text) : text;
  if (name.find(',') != std::string::npos && !quoted) return {};
  return isName(name) && name.size() <= limits::nameLetters ? name : std::string();
}

// Words as they stand in quotes, or a value; what is neither is taken as words.
Expr saidValue(const std::string& typed, const Vocabulary& words) {
  const std::string text = trimmed(typed);
  if (text.size() > 1 && text.front() == '"' && text.back() == '"') {
    const ParsedExpr read = parseExpr(text, words);
    if (read.value) return *read.value;
  }
  ParsedExpr value = parseExpr(text, words);
  if (value.value && !namedLevel(*value.value)) return *value.value;
  const bool leftOpen = text.front() == '"' && text.find('"', 1) == std::string::npos;
  return Expr::of(leftOpen ? trimmed(text.substr(1)) : text);
}

// "times 3, pause 0.5", or only the values in their order.
ParsedExpr givenInputs(const std::string& typed, const std::vector<std::string>& inputs,
                       const Vocabulary& words) {
  Expr out;
  out.shape = Expr::Shape::list;
  for (const std::string& input : inputs) out.args.emplace_back(input, Expr::of(0.0));
  if (trimmed(typed).empty()) return {out, {}};
  std::size_t next = 0;
  for (const std::string& part : partsOf(typed)) {
    std::string rest = part;
    std::size_t place = inputs.size();
    for (std::size_t i = 0; i < inputs.size() && place == inputs.size(); ++i)
      for (const std::string& name : {nameText(inputs[i]), inputs[i]})
        if (std::string behind = part; takeWords(behind, name) && !behind.empty()) {
          rest = behind;
          place = i;
          break;
        }
    if (place == inputs.size()) place = next;
    if (place >= inputs.size())
      return {std::nullopt, inputs.empty() ? stepSay("This own step has no inputs.")
                                           : stepSay("“{}” is not expected here.", part)};
    next = place + 1;
    dropWord(rest, {"=", "be", "is"});
    ParsedExpr value = parseExpr(rest, words);
    if (!value.value) return value;
    out.args[place].second = std::move(*value.value);
  }
  return {out, {}};
}

// What stands behind the digits of a number.
std::string unitBehind(const std::string& number) {
  const std::string text = lower(trimmed(number));
  const std::size_t digits = text.find_last_of("0123456789.");
  return digits == std::string::npos ? std::string() : trimmed(text.substr(digits + 1));
}
bool fits(const std::string& unit, const std::string& slotUnit) {
  if (slotUnit == "s") return unit == "s" || unit == "ms" || unit == "us";
  return unit == lower(slotUnit);
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
      if (word == "…") return {Expr::of(std::string()), {}};
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
      for (const char* tail :
           {" times", " time", " seconds", " second", " percent", " degrees", " degree", " deg"})
        if (lower(text).ends_with(tail))
          text = text.substr(0, text.size() - std::string(tail).size());
      rest.clear();
      if (trimmed(text).empty()) return {std::nullopt, stepSay("How much? A number is missing.")};
      ParsedExpr value = parseExpr(text, words);
      // "wait pause s": what is worked out may have its unit behind it, too.
      if (!value.value && !slot.unit.empty() && lower(text).ends_with(" " + lower(slot.unit)))
        if (ParsedExpr bareValue = parseExpr(text.substr(0, text.size() - slot.unit.size()), words);
            bareValue.value)
          value = std::move(bareValue);
      if (value.value && value.value->shape == Expr::Shape::number)
        if (const std::string unit = unitBehind(text); !unit.empty() && !fits(unit, slot.unit))
          return {std::nullopt, stepSay("“{}” is not expected here.", unit)};
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
    case SlotKind::Type::own: {
      std::string name = plainLine(trimmed(rest));
      rest.clear();
      if (name == "…") return {Expr::of(std::string()), {}};
      if (name.size() > 1 && name.front() == '"' && name.back() == '"') name = unquoted(name);
      if (name.empty()) return {std::nullopt, stepSay("Which own step?")};
      if (const auto* own = words.ownStep(name)) return {Expr::of(own->name), {}};
      return {std::nullopt, stepSay("There is no own step called {}.", name)};
    }
    case SlotKind::Type::inputs:  // whose they are is known behind: see readAs
    case SlotKind::Type::name: {
      const std::string name = newName(rest);
      if (name.empty())
        return {std::nullopt, stepSay("“{}” cannot be a name here.", trimmed(rest))};
      rest.clear();
      return {Expr::of(name), {}};
    }
    case SlotKind::Type::names: {
      Expr out;
      out.shape = Expr::Shape::list;
      for (const std::string& part : partsOf(rest)) {
        const std::string name = newName(part);
        const bool twice = std::any_of(out.args.begin(), out.args.end(),
                                       [&](const auto& held) { return held.second.text == name; });
        if (name.empty() || twice)
          return {std::nullopt, stepSay("“{}” cannot be a name here.", part)};
        out.args.emplace_back("", Expr::of(name));
      }
      rest.clear();
      return {out, {}};
    }
    case SlotKind::Type::key: {
      const std::string key = keyOf(trimmed(rest));
      if (key.empty())
        return {std::nullopt, stepSay("“{}” is not a key. Keys are a to z, 0 to 9, space, return, "
                                      "left, right, up and down.",
                                      trimmed(rest))};
      rest.clear();
      return {Expr::of(key), {}};
    }
    case SlotKind::Type::said: {
      if (trimmed(rest).empty()) return {std::nullopt, stepSay("Here some words are missing.")};
      // Without quotes it is all one text.
      if (rest.find('"') != std::string::npos && itemsIn(rest, words).size() > 1)
        return {std::nullopt, stepSay("A note holds one text or value. A line of the log can hold "
                                      "several: log {}",
                                      trimmed(rest))};
      Expr value = saidValue(rest, words);
      rest.clear();
      return {std::move(value), {}};
    }
    case SlotKind::Type::items: {
      if (trimmed(rest).empty()) return {std::nullopt, stepSay("Here some words are missing.")};
      Expr out;
      out.shape = Expr::Shape::list;
      for (const std::string& item : itemsIn(rest, words))
        out.args.emplace_back("", saidValue(item, words));
      if (out.args.empty()) return {std::nullopt, stepSay("Here some words are missing.")};
      rest.clear();
      return {std::move(out), {}};
    }
    case SlotKind::Type::truth: {
      ParsedExpr value = parseCondition(rest, words);
      rest.clear();
      return value;
    }
  }
  return {};
}

}  // namespace

ParsedExpr parseSlotText(const SlotKind& slot, const std::string& typed, const Vocabulary& words,
                         const std::vector<std::string>& inputs) {
  if (slot.type == SlotKind::Type::inputs) return givenInputs(typed, inputs, words);
  std::string rest = typed;
  ParsedExpr out = parseSlot(slot, rest, words);
  if (out.value && !trimmed(rest).empty())
    return {std::nullopt, stepSay("“{}” is not expected here.", trimmed(rest))};
  return out;
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

// A field reaches to the words that follow it; where those come more than once, to the first with
// which everything can be read.
Message readFields(const std::vector<SlotKind>& slots, const std::vector<PhrasePiece>& pieces,
                   std::size_t at, std::string rest, const Vocabulary& words, Fields& fields) {
  const auto set = [](Fields& to, const std::string& key, Expr value) {
    for (auto& [held, old] : to)
      if (held == key) return void(old = std::move(value));
    to.emplace_back(key, std::move(value));
  };
  for (; at < pieces.size(); ++at) {
    const PhrasePiece& piece = pieces[at];
    if (piece.optional && trimmed(rest).empty()) return {};
    if (!piece.field) {
      takeWords(rest, trimmed(piece.text));  // it may be left out
      continue;
    }
    const SlotKind& slot = *std::find_if(slots.begin(), slots.end(),
                                         [&](const SlotKind& s) { return s.key == piece.text; });
    const std::string next =
        at + 1 < pieces.size() && !pieces[at + 1].field ? trimmed(pieces[at + 1].text) : "";
    Message problem;
    for (std::size_t from = next.empty() ? std::string::npos : findWords(rest, next, 0);
         from != std::string::npos; from = findWords(rest, next, from + 1)) {
      std::string part = rest.substr(0, from);
      const ParsedExpr value = parseSlot(slot, part, words);
      Message why = value.problem;
      if (value.value) {
        Fields tried = fields;
        set(tried, slot.key, *value.value);
        why = readFields(slots, pieces, at + 1, rest.substr(from), words, tried);
        if (why.empty()) {
          fields = std::move(tried);
          return {};
        }
      }
      if (problem.empty()) problem = std::move(why);
    }
    if (!problem.empty()) return problem;
    if (slot.type == SlotKind::Type::inputs) {
      const auto name = std::find_if(fields.begin(), fields.end(),
                                     [](const auto& f) { return f.first == ownNameKey; });
      const auto* own = name == fields.end() ? nullptr : words.ownStep(name->second.text);
      ParsedExpr given = givenInputs(rest, own ? own->inputs : std::vector<std::string>{}, words);
      if (!given.value) return given.problem;
      set(fields, slot.key, std::move(*given.value));
      return {};
    }
    ParsedExpr value = parseSlot(slot, rest, words);
    if (!value.value) return value.problem;
    set(fields, slot.key, std::move(*value.value));
  }
  rest = trimmed(rest);
  return rest.empty() ? Message{} : stepSay("“{}” is not expected here.", rest);
}

}  // namespace ignavo
