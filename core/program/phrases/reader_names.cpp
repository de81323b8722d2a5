#include <algorithm>

#include "program/expressions.h"
#include "program/names.h"
#include "program/phrases/reader.h"
#include "program/pin_words.h"
#include "program/words.h"

// Variables, lists, and what is said to the computer.
namespace ignavo::phrases {

using C = Concept;

// "count = 0", "count++", "let count be 3", "set count to 5", "count += 2".
std::optional<PhraseReader::Lines> PhraseReader::nameStatement() {
  const bool said = take(C::let);
  take(C::variable);
  const Token* t = peek();
  if (!t) return fail(stepSay("Which variable?"));
  // Behind "let", and before "=", any word is a name.
  const bool word = !t->text.empty() && std::ispunct(static_cast<unsigned char>(t->text[0])) == 0;
  const bool named = t->is == C::name || t->is == C::unknown || isSign("=", 1) ||
                     (said && word && t->is != C::pin && t->is != C::number);
  if (!named) return levelStatement();
  const Token name = *t;
  ++at_;
  // Another name could be meant as well as a slip in this one.
  const bool known = name.is == C::name && !name.mended;
  return assign(known ? name.name : name.text, name, known);
}

// A word that nothing is called: "berth = 3", "berth++"; "speed is 5" is asked.
std::optional<PhraseReader::Lines> PhraseReader::newNameStatement() {
  if (is(C::equal, 1) || isSign("++", 1) || isSign("+=", 1) || isSign("-=", 1) || isSign("--", 1))
    return nameStatement();
  if (!is(C::number, 1) || tokens_.size() != at_ + 2) return unknown();
  return fail(stepSay("Nothing is called “{}” yet. Is it a new variable?", peek()->text),
              {"let " + nameText(peek()->text) + " be " + numberText(peek(1)->value)});
}

// A random number that is kept nowhere.
std::optional<PhraseReader::Lines> PhraseReader::randomStatement() {
  ++at_;
  const Beginning head(said_, "let draw be ");
  const auto number = randomNumber();
  if (!number) return std::nullopt;
  said_.clear();
  std::vector<std::string> choices;
  for (const std::string& name : words_.variables)
    choices.push_back("let " + nameText(name) + " be " + *number);
  if (choices.empty()) choices.push_back("let draw be " + *number);
  return failAt(0, stepSay("A random number is kept in a variable. In which?"), choices);
}

namespace {
// The variable whose name is a slip away; empty: none is.
std::string nearName(const std::string& typed, const std::vector<std::string>& names) {
  for (const std::string& name : names)
    if (typed.size() > 3 && slipsBetween(typed, name, 2) <= 2) return name;
  return {};
}
}  // namespace

std::optional<PhraseReader::Lines> PhraseReader::assign(const std::string& name, const Token& token,
                                                        bool known) {
  const std::string text = nameText(name);
  if (!known && !isName(name)) return fail(stepSay("“{}” cannot be the name of a variable.", name));
  const auto asked = [&](const std::string& phraseBefore,
                         const std::string& phraseBehind) -> std::optional<Lines> {
    const std::string near = nearName(name, words_.variables);
    if (known || near.empty()) return Lines{phraseBefore + text + phraseBehind};
    said_.clear();
    const auto place =
        static_cast<std::size_t>(std::find_if(tokens_.begin(), tokens_.end(),
                                              [&](const Token& t) { return t.at == token.at; }) -
                                 tokens_.begin());
    return failAt(
        place, stepSay("Is {} meant, or a new variable?", near),
        {phraseBefore + nameText(near) + phraseBehind, phraseBefore + text + phraseBehind});
  };
  if (known && (is(C::add) || isSign("+")) && (is(C::number, 1) || is(C::name, 1))) {
    ++at_;
    const auto by = value();
    return by ? std::optional<Lines>(Lines{"add " + *by + " to " + text}) : std::nullopt;
  }
  if (takeSign("++")) return asked("add 1 to ", "");
  if (takeSign("--")) return asked("add -1 to ", "");
  if (isSign("+=") || isSign("-=")) {
    const bool minus = isSign("-=");
    ++at_;
    const auto by = value();
    if (!by) return std::nullopt;
    if (minus && known) return Lines{lessBy(*by, text)};
    return asked(std::string("add ") + (minus ? "-" : "") + *by + " to ", "");
  }
  skip({C::equal, C::to, C::inTurn});
  if (atEnd()) return fail(stepSay("Which value?"), {"let " + text + " be 0"});
  for (std::size_t i = at_; !known && i < tokens_.size(); ++i)
    if (tokens_[i].is == C::unknown && tokens_[i].text == token.text)
      return failAt(i, stepSay("{} is new here. What does it begin with?", name),
                    {"let " + text + " be 0", "let " + text + " be 1"});
  const Beginning head(said_, "let " + text + " be ");
  // A truth can be kept, too: "flag = button".
  const std::size_t from = at_;
  std::optional<std::string> what;
  bool compares = false;
  const bool reading =
      is(C::pin) && peek()->pins.size() == 1 && words_.about(peek()->pins.front()) &&
      words_.about(peek()->pins.front())->measures && !part(peek()->pins.front(), Is::button);
  const bool number = reading || is(C::number) || is(C::random) || is(C::name) || is(C::item) ||
                      is(C::nameOfList) || is(C::text) || isSign("(") || isSign("-");
  if (!number) what = condition();
  if (!what) {
    if (question_ && !number) return std::nullopt;
    at_ = from;
    what = value();
    // "ready = count > 3".
    if (what && (is(C::less) || is(C::more) || is(C::atMost) || is(C::atLeast) || is(C::equal))) {
      at_ = from;
      what = condition();
      compares = true;
    }
  }
  if (!what) return std::nullopt;
  // "count = count + 1".
  const std::string plus = text + " + ", minus = text + " - ";
  const bool alone = !compares && what->find(" + ", plus.size()) == std::string::npos &&
                     what->find(" - ", plus.size()) == std::string::npos;
  if (known && alone && what->starts_with(plus))
    return Lines{"add " + what->substr(plus.size()) + " to " + text};
  if (known && alone && what->starts_with(minus))
    return Lines{lessBy(what->substr(minus.size()), text)};
  return asked("let ", " be " + *what);
}

// "add 2 to count", "increase count by 2", "subtract 1 from count", "reset count".
std::optional<PhraseReader::Lines> PhraseReader::sumStatement() {
  const bool resets = is(C::reset), less = is(C::takeAway);
  ++at_;
  std::string by = "1";
  const bool value = is(C::number) || isSign("(") || isSign("-") || is(C::random) || is(C::half) ||
                     is(C::level) || is(C::volts) || is(C::item) || is(C::pin) ||
                     (is(C::name) && (is(C::to, 1) || is(C::from, 1)));
  if (value) {
    const Beginning head(said_, "add ");
    const auto read = this->value();
    if (!read) return std::nullopt;
    by = *read;
  }
  skip({C::to, C::from, C::of, C::variable, C::into});
  if (is(C::nameOfList))
    return fail(stepSay("A list has as many items as it has from the start. To change one: put a "
                        "value into it."),
                {"put " + by + " into item 1 of " + nameText(peek()->name)});
  const Token* t = peek();
  const auto phrase = [&](const std::string& variable) {
    return resets ? "let " + variable + " be 0"
           : less ? lessBy(by, variable)
                  : "add " + by + " to " + variable;
  };
  if (!t && !resets && words_.variables.size() == 1)
    return Lines{phrase(nameText(words_.variables.front()))};
  if (!t || (t->is != C::name && t->is != C::unknown)) {
    std::vector<std::string> choices;
    for (const std::string& name : words_.variables) choices.push_back(phrase(nameText(name)));
    fail(resets ? stepSay("Reset what? A variable can be.") : stepSay("To which variable?"),
         std::move(choices));
    if (t && t->mended) question_->plain = false;
    return std::nullopt;
  }
  const Token name = *t;
  const bool known = name.is == C::name && !name.mended;
  ++at_;
  if (take(C::by) || is(C::number)) {
    const auto read = this->value();
    if (!read) return std::nullopt;
    by = *read;
  }
  const std::string typed = known ? name.name : name.text;
  const std::string near = known ? std::string() : nearName(typed, words_.variables);
  if (!near.empty())
    return failAt(at_ - 1, stepSay("Is {} meant, or a new variable?", near),
                  {phrase(nameText(near)), phrase(nameText(typed))});
  return Lines{phrase(nameText(typed))};
}

// "put 30 into item 2 of levels", "levels[2] = 30", "next level".
std::optional<PhraseReader::Lines> PhraseReader::listStatement() {
  if (take(C::next)) {
    if (words_.lists.empty()) return unknown();
    std::string list = words_.lists.front();
    for (const std::string& name : words_.lists)
      if (peek() && slipsBetween(peek()->text, name, 2) <= 2) list = name;
    std::string counter = words_.variables.empty() ? "count" : nameText(words_.variables.front());
    return failAt(0, stepSay("A variable says which item of {} it is. Count it on:", list),
                  {"add 1 to " + counter});
  }
  if (take(C::put)) {
    const Beginning head(said_, "put ");
    const auto what = value();
    if (!what) return std::nullopt;
    skip({C::into, C::to, C::inTurn, C::list});
    if (is(C::name)) {
      const std::string name = nameText(peek()->name);
      ++at_;
      return Lines{"let " + name + " be " + *what};
    }
    said_.clear();
    const auto item = listItem();
    return item ? std::optional<Lines>(Lines{"put " + *what + " into " + *item}) : std::nullopt;
  }
  const auto item = listItem();
  if (!item) return std::nullopt;
  skip({C::equal, C::to, C::inTurn});
  const auto what = value();
  return what ? std::optional<Lines>(Lines{"put " + *what + " into " + *item}) : std::nullopt;
}

// Words as they stand, or a value: the strict reader sees which.
std::optional<PhraseReader::Lines> PhraseReader::sayStatement(const char* verb) {
  ++at_;
  const bool post = std::string(verb) == "post";
  if (atEnd()) return fail(stepSay("What should it say?"), {std::string(verb) + " \"hello\""});
  // With its full stop, but without the brackets of a call.
  std::string text = called_ ? rest() : typed_.substr(peek()->at);
  // "show hello for 2 s": the time stands at the end.
  std::string tail;
  std::size_t end = tokens_.size();
  if (post)
    for (std::size_t i = tokens_.size(); i-- > at_ + 1;)
      if (tokens_[i].text == "for") {
        const std::size_t before = at_;
        at_ = i + 1;
        if (const auto seconds = duration(); seconds && atEnd()) {
          tail = " for " + numberText(*seconds) + " s";
          text = typed_.substr(tokens_[before].at, tokens_[i].at - tokens_[before].at);
          while (!text.empty() && text.back() == ' ') text.pop_back();
          end = i;
        }
        at_ = before;
        break;
      }
  if (const auto values = saidValues(end)) {
    text = *values;
  } else if (post && tail.empty() && is(C::text)) {
    const Token quoted = *peek();
    ++at_;
    if (const auto seconds = duration(); seconds && atEnd()) {
      text = quotedText(quoted.name);
      tail = " for " + numberText(*seconds) + " s";
    }
  }
  at_ = tokens_.size();
  return Lines{std::string(verb) + " " + text + tail};
}

// "light sensor", "it is" light sensor: texts and values up to there, where a sensor is among them
// and all of it is understood.
PhraseReader::Text PhraseReader::saidValues(std::size_t end) {
  const bool measures = std::any_of(
      tokens_.begin() + static_cast<std::ptrdiff_t>(at_),
      tokens_.begin() + static_cast<std::ptrdiff_t>(end), [&](const Token& t) {
        return t.is == Concept::pin && t.pins.size() == 1 && part(t.pins.front(), Is::sensor);
      });
  const std::size_t from = at_;
  std::string out;
  while (measures && at_ < end) {
    while (takeSign(",") || takeSign("+") || take(Concept::andAlso)) {
    }
    Text item;
    if (is(Concept::text))
      item = quotedText(tokens_[at_++].name);
    else if (at_ < end)
      item = value({});
    if (!item || at_ > end) {
      at_ = from;
      question_.reset();
      return std::nullopt;
    }
    out += (out.empty() ? "" : ", ") + *item;
  }
  return out.empty() ? std::nullopt : Text(out);
}

}  // namespace ignavo::phrases
