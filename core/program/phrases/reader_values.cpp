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

// Terms with signs between them.
PhraseReader::Text PhraseReader::value() {
  auto out = term();
  while (out && peek()) {
    if (take(C::remainder)) {
      const auto by = term();
      if (!by) return std::nullopt;
      out = "(remainder of " + *out + " ÷ " + *by + ")";
      continue;
    }
    const char* sign = operatorText(*peek());
    if (!sign || isSign("++") || isSign("--")) break;
    ++at_;
    const auto next = term();
    if (!next) return std::nullopt;
    *out += std::string(" ") + sign + " " + *next;
  }
  return out;
}

PhraseReader::Text PhraseReader::term() {
  const Token* t = peek();
  if (!t) return fail(stepSay("A value is missing at the end."));
  if (takeSign("(")) {
    if (++depth_ > 16) return fail(stepSay("This is nested too deeply."));
    const auto inner = value();
    --depth_;
    if (!inner) return std::nullopt;
    if (!takeSign(")")) return fail(stepSay("A bracket is not closed."));
    return "(" + *inner + ")";
  }
  if (takeSign("-") || takeSign("−")) {
    const auto inner = term();
    return inner ? Text("-" + *inner) : std::nullopt;
  }
  switch (t->is) {
    case C::number: {
      ++at_;
      const double value = t->value;
      if (take(C::milliseconds)) return numberText(value / 1000);
      if (is(C::minutes)) return numberText(value * tokens_[at_++].value);
      if (take(C::kilohertz)) return numberText(value * 1000);
      skip({C::seconds, C::percent, C::hertz, C::degrees, C::volts});
      return numberText(value);
    }
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
      return term();
    case C::random:
      ++at_;
      return randomNumber();
    case C::nameOfList:
    case C::item:
    case C::list:
      return listItem({});
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
      return about && about->measures ? "level of " + *one : *one;
    }
    default:
      return unknown();
  }
}

// Behind "random": "1 to 6", "1-6", "(1, 6)", "between 1 and 6". One number alone is asked.
PhraseReader::Text PhraseReader::randomNumber() {
  const bool bracket = takeSign("(");
  skip({C::from, C::of, C::inTurn});
  const auto from = term();
  if (!from) return std::nullopt;
  const bool joint = takeSign("-") || takeSign("−") || takeSign("…") || takeSign(",") ||
                     take(C::to) || take(C::andAlso);
  if (!joint && (!is(C::number))) {
    if (bracket) takeSign(")");
    const std::string n = *from;
    const double most = peek() || !n.empty() ? std::atof(n.c_str()) : 0;
    return fail(stepSay("From 1 to {0}, or from 0 to {1}?", n, numberText(most - 1)),
                {"random from 1 to " + n, "random from 0 to " + numberText(most - 1)});
  }
  const auto to = term();
  if (!to) return std::nullopt;
  if (bracket && !takeSign(")")) return fail(stepSay("A bracket is not closed."));
  return "random from " + *from + " to " + *to;
}

// "item 2 of levels", "levels item 2", "levels 2"; brackets count from 0 elsewhere, so it is asked.
PhraseReader::Text PhraseReader::listItem(const std::string&) {
  skip({C::list});
  if (take(C::item)) {
    const auto index = term();
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
    const auto index = term();
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
  const auto index = term();
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
    if (is(C::andAlso) && is(C::half, 1)) {
      // "1 second and a half"; but "wait 1 s and 2 times …" begins something else.
      if (is(C::half, 1)) {
        at_ += 2;
        total += 0.5;
        break;
      }
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
    const bool bare = at_ == from + 1 && is(C::number, static_cast<std::size_t>(-1));
    if (bare && *seconds >= surelySeconds)
      return failAt(from, stepSay("{0} seconds, or {0} milliseconds?", numberText(*seconds)),
                    {numberText(*seconds / 1000) + " s", numberText(*seconds) + " s"});
    // Rounded to what a clock of microseconds can tell.
    return numberText(std::round(*seconds * 1e6) / 1e6);
  }
  return value();
}

}  // namespace ignavo::phrases
