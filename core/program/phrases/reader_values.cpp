#include <algorithm>
#include <cmath>

#include "program/expressions.h"
#include "program/keys.h"
#include "program/phrases/reader.h"
#include "program/words.h"

// Values and times, as text that the strict reader of expressions takes.
namespace ignavo::phrases {

using C = Concept;

namespace {
const char* operatorText(const Token& t) {
  static constexpr std::pair<const char*, const char*> signs[] = {
      {"+", "+"}, {"-", "-"}, {"−", "-"}, {"*", "×"}, {"×", "×"}, {"/", "÷"}, {"÷", "÷"}};
  for (const auto& [typed, text] : signs)
    if (t.text == typed) return text;
  if (t.is == C::add && t.text == "plus") return "+";
  if (t.is == C::takeAway && t.text == "minus") return "-";
  return nullptr;
}
}  // namespace

// An initializer list lives as long as what it is given to: these live for ever.
const PhraseReader::Units PhraseReader::anyUnit = {C::seconds, C::milliseconds, C::minutes,
                                                   C::percent, C::hertz,        C::kilohertz,
                                                   C::degrees, C::volts};

// Terms with signs between them.
PhraseReader::Text PhraseReader::value(Units units) {
  auto out = term(units);
  while (out && peek()) {
    if (take(C::remainder)) {
      const auto by = term(units);
      if (!by) return std::nullopt;
      out = "(remainder of " + *out + " ÷ " + *by + ")";
      continue;
    }
    const char* sign = operatorText(*peek());
    if (!sign || isSign("++") || isSign("--")) break;
    ++at_;
    const auto next = term(units);
    if (!next) return std::nullopt;
    *out += std::string(" ") + sign + " " + *next;
  }
  return out;
}

// In the unit that phrases use, where a unit follows that belongs here.
PhraseReader::Text PhraseReader::unitOf(double number, Units units) {
  if (!peek() || std::find(units.begin(), units.end(), peek()->is) == units.end())
    return numberText(number);
  const Token& unit = tokens_[at_++];
  if (unit.is == C::milliseconds) return numberText(number / 1000);
  if (unit.is == C::minutes) return numberText(number * unit.value);
  if (unit.is == C::kilohertz) return numberText(number * 1000);
  return numberText(number);
}

PhraseReader::Text PhraseReader::term(Units units) {
  const Deeper deeper(depth_);
  if (deeper.tooDeep()) return fail(stepSay("This is nested too deeply."));
  const Token* t = peek();
  if (!t) return fail(stepSay("A value is missing at the end."));
  if (takeSign("(")) {
    const auto inner = value(units);
    if (!inner) return std::nullopt;
    if (!takeSign(")")) return fail(stepSay("A bracket is not closed."));
    return "(" + *inner + ")";
  }
  if (takeSign("-") || takeSign("−")) {
    const auto inner = term(units);
    return inner ? Text("-" + *inner) : std::nullopt;
  }
  switch (t->is) {
    case C::number:
      ++at_;
      return unitOf(t->value, units);
    case C::half:
      ++at_;
      return numberText(0.5);
    case C::high:
    case C::on:
      ++at_;
      return std::string("true");
    case C::low:
    case C::off:
      ++at_;
      return std::string("false");
    case C::text:
      ++at_;
      return quotedText(t->name);
    case C::name:
      ++at_;
      return nameText(t->name);
    case C::variable:
      ++at_;
      return term(units);
    case C::random:
      ++at_;
      return randomNumber();
    case C::nameOfList:
    case C::item:
    case C::list:
      return listItem();
    case C::length: {
      ++at_;
      skip({C::list, C::of, C::into});
      const Token* list = peek();
      if (!list || list->is != C::nameOfList) return fail(stepSay("Of which list?"));
      ++at_;
      return "length of " + nameText(list->name);
    }
    case C::seconds:
      ++at_;
      return std::string("seconds since power-on");
    case C::dim:  // "level of"
      if (!t->text.starts_with("level")) return unknown();
      [[fallthrough]];
    case C::level:
    case C::volts: {
      const bool level = t->is != C::volts;
      ++at_;
      skip({C::of, C::to});
      const Token* pin = peek();
      if (!pin || pin->is != C::pin) return fail(stepSay("Of which pin? For example A0."));
      const auto one = onePin(
          *pin, [&](const std::string& p) { return (level ? "level of " : "volts at ") + p; });
      if (!one) return std::nullopt;
      ++at_;
      return (level ? "level of " : "volts at ") + *one;
    }
    case C::pin: {
      const auto one = onePin(*t, [](const std::string& p) { return p; });
      if (!one) return std::nullopt;
      ++at_;
      const PinWords* about = words_.about(*one);
      // What hangs nowhere may be asked for both: see measured.h.
      const bool senses = about && about->measures && about->part(Is::sensor);
      return senses ? "level of " + *one : *one;
    }
    default:
      return unknown();
  }
}

// Behind "random": "1 to 6", "1-6", "(1, 6)", "between 1 and 6". One number alone is asked.
PhraseReader::Text PhraseReader::randomNumber() {
  const bool bracket = takeSign("(");
  skip({C::from, C::of, C::inTurn});
  const auto from = term({});
  if (!from) return std::nullopt;
  const bool joint = takeSign("-") || takeSign("−") || takeSign("…") || takeSign(",") ||
                     take(C::to) || take(C::andAlso);
  if (!joint && (!is(C::number))) {
    if (bracket) takeSign(")");
    const bool written = from->find_first_not_of("0123456789") == std::string::npos;
    const std::string last = written ? numberText(std::atof(from->c_str()) - 1) : *from + " - 1";
    return fail(stepSay("From 1 to {0}, or from 0 to {1}?", *from, last),
                {"random from 1 to " + *from, "random from 0 to " + last});
  }
  const auto to = term({});
  if (!to) return std::nullopt;
  if (bracket && !takeSign(")")) return fail(stepSay("A bracket is not closed."));
  return "random from " + *from + " to " + *to;
}

// "item 2 of levels", "levels item 2", "levels 2"; brackets count from 0 elsewhere, so it is asked.
PhraseReader::Text PhraseReader::listItem() {
  skip({C::list});
  if (take(C::item)) {
    const auto index = term({});
    if (!index) return std::nullopt;
    skip({C::of, C::into, C::from, C::list});
    const Token* list = peek();
    if (!list || list->is != C::nameOfList) return fail(stepSay("Of which list?"));
    ++at_;
    return "item " + *index + " of " + nameText(list->name);
  }
  const Token* list = peek();
  if (!list || list->is != C::nameOfList) return fail(stepSay("Which list?"));
  const std::string name = nameText(list->name);
  ++at_;
  if (takeSign("[")) {
    const auto index = term({});
    if (!index) return std::nullopt;
    takeSign("]");
    const bool plain = index->find_first_not_of("0123456789") == std::string::npos;
    if (!plain) return "item " + *index + " of " + name;
    const int n = std::atoi(index->c_str());
    std::vector<std::string> choices;
    if (n > 0) choices.push_back("item " + *index + " of " + name);
    choices.push_back("item " + std::to_string(n + 1) + " of " + name);
    return fail(stepSay("Items are counted from 1: the first is item 1. Which is meant?"), choices);
  }
  skip({C::item});
  if (!is(C::number) && !is(C::name)) return fail(stepSay("Which item of {}?", name));
  const auto index = term({});
  return index ? Text("item " + *index + " of " + name) : std::nullopt;
}

// "0.5 s", "500 ms", "half a second", "1 min 30 s", "two and a half seconds"; nothing where none
// begins. A number without a unit is seconds.
std::optional<double> PhraseReader::duration() {
  const std::size_t from = at_;
  double total = 0;
  bool any = false;
  while (peek()) {
    double number = 1;
    bool said = false;
    const std::size_t before = at_;
    if (is(C::number)) {
      number = peek()->value;
      said = true;
      ++at_;
      // "two and a half seconds", "half of a second".
      if (is(C::andAlso) && is(C::half, 1)) at_ += 2, number += 0.5;
    } else if (take(C::half)) {
      number = 0.5;
      said = true;
    } else if (!is(C::seconds) && !is(C::minutes)) {
      break;  // "a second" is one
    }
    skip({C::of});
    if (take(C::milliseconds)) {
      number /= 1000;
    } else if (is(C::minutes)) {
      number *= peek()->value;
      ++at_;
    } else if (!take(C::seconds)) {
      if (!said || any || isUnit(0)) {
        at_ = before;
        break;
      }
      total = number;
      return total;
    }
    total += number;
    any = true;
    if (is(C::andAlso) && is(C::number, 1) && isUnit(2)) {
      ++at_;
      continue;
    }
    // "1 second and a half"; but "wait 1 s and 2 times …" begins something else.
    if (is(C::andAlso) && is(C::half, 1)) {
      at_ += 2;
      total += 0.5;
      break;
    }
    if (!is(C::number)) break;
  }
  if (!any) {
    at_ = from;
    return std::nullopt;
  }
  return total;
}

// How long: what was typed, in seconds; asks where it could be seconds or milliseconds.
PhraseReader::Text PhraseReader::durationText() {
  constexpr double surelySeconds = 100;
  const std::size_t from = at_;
  if (const auto seconds = duration()) {
    const bool bare = at_ == from + 1 && tokens_[from].is == C::number;
    if (bare && *seconds >= surelySeconds)
      return failAt(from, stepSay("{0} seconds, or {0} milliseconds?", numberText(*seconds)),
                    {numberText(*seconds / 1000) + " s", numberText(*seconds) + " s"});
    // Rounded to what a clock of microseconds can tell.
    return numberText(std::round(*seconds * 1e6) / 1e6);
  }
  return value({C::seconds, C::milliseconds, C::minutes});
}

std::string PhraseReader::lessBy(const std::string& by, const std::string& variable) {
  if (by.find_first_not_of("0123456789.") == std::string::npos)
    return "add -" + by + " to " + variable;
  const bool several = by.find(" + ") != std::string::npos || by.find(" - ") != std::string::npos;
  return "let " + variable + " be " + variable + " - " + (several ? "(" + by + ")" : by);
}

}  // namespace ignavo::phrases
