#include <algorithm>
#include <cmath>

#include "program/expressions.h"
#include "program/phrases/reader.h"
#include "program/pin_words.h"
#include "program/words.h"

// What is done to pins: levels, shares, tones, angles.
namespace ignavo::phrases {

using C = Concept;

std::optional<PhraseReader::Lines> PhraseReader::forEver() {
  return fail(stepSay("A lane that goes round does so for ever by itself. Only for steps that are "
                      "to go on for ever in another lane:"),
              {"keep going round"});
}

std::optional<PhraseReader::Lines> PhraseReader::statement() {
  const Token* t = peek();
  if (!t) return fail(stepSay("Something is missing at the end."));
  // "level = 3": a name, whatever the word means elsewhere.
  const bool word = t->is != C::pin && t->is != C::number && t->is != C::sign && t->is != C::text &&
                    t->is != C::nameOfList && t->is != C::item;
  if (word && isSign("=", 1)) return nameStatement();
  switch (t->is) {
    case C::ifSo:
      return ifStatement();
    case C::asLongAs: {
      const auto so = test("as long as ");
      if (so && *so == "true") return forEver();
      return so ? loopStatement("as long as " + *so) : std::nullopt;
    }
    case C::until:
    case C::repeat:
      return repeatStatement();
    case C::inTurn:  // "for 5 times"
      if (!is(C::number, 1) || !is(C::times, 2)) return unknown();
      ++at_;
      return repeatStatement();
    case C::forever:
      return forEver();
    case C::leave:
      ++at_;
      return Lines{"leave the loop"};
    case C::end:
      ++at_;
      return Lines{"end this lane"};
    case C::stop:
      return stopStatement();
    case C::wait:
    case C::hold:
      return waitStatement();
    case C::tone:
    case C::sound:
      return toneStatement();
    case C::silence:
      return silenceStatement();
    case C::turn:
      return turnStatement();
    case C::dim:
      return dimStatement();
    case C::flip: {
      ++at_;
      const Beginning head(said_, "flip ");
      const auto pins = pinList();
      if (!pins) return std::nullopt;
      Lines out;
      for (const std::string& pin : *pins) out.push_back("flip " + pin);
      return out;
    }
    case C::let:
    case C::variable:
    case C::name:
      return nameStatement();
    case C::add:
    case C::takeAway:
    case C::reset:
      return sumStatement();
    case C::log:
      return sayStatement("log");
    case C::post:
      return sayStatement("post");
    case C::blink: {
      ++at_;
      const Beginning head(said_, "blink ");
      const auto pins = pinList();
      return pins ? blinkStatement(*pins) : std::nullopt;
    }
    case C::put:
      if (is(C::pin, 1)) {
        ++at_;
        return levelStatement();
      }
      return listStatement();
    case C::nameOfList:
    case C::item:
    case C::next:
      return listStatement();
    case C::ownStep:
    case C::run: {
      if (t->is == C::run) ++at_;
      if (!is(C::ownStep)) return fail(stepSay("Which own step?"));
      const std::string name = nameText(peek()->name);
      ++at_;
      std::string with;
      skip({C::inTurn});
      if (peek()) with = " with " + rest();
      at_ = tokens_.size();
      return Lines{"run " + name + with};
    }
    case C::random: {
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
    case C::number:
    case C::half:
    case C::seconds: {
      // "500ms", "half a second", "3 times", "13 on".
      if (is(C::times, 1) || (!t->exact && t->text == "twice")) return repeatStatement();
      const std::size_t from = at_;
      const auto seconds = duration();
      const bool time = seconds && at_ > from && (t->is != C::number || at_ > from + 1);
      if (time) return Lines{"wait " + numberText(std::round(*seconds * 1e6) / 1e6) + " s"};
      at_ = from;
      return levelStatement();
    }
    case C::times:  // "x = 3"
    case C::unknown:
      // A name that is new: "berth = 3".
      if (is(C::equal, 1) || isSign("++", 1) || isSign("+=", 1) || isSign("-=", 1) ||
          isSign("--", 1))
        return nameStatement();
      // "speed is 5": a new name?
      if (is(C::number, 1) && tokens_.size() == at_ + 2)
        return fail(stepSay("Nothing is called “{}” yet. Is it a new variable?", t->text),
                    {"let " + nameText(t->text) + " be " + numberText(peek(1)->value)});
      return unknown();
    default:
      return levelStatement();
  }
}

// High or low for each; on and off as the part wants it.
std::optional<PhraseReader::Lines> PhraseReader::levelsOf(const Lines& pins, bool on, bool byPart) {
  Lines out;
  last_ = pins;
  for (const std::string& pin : pins) {
    const PinWords* about = words_.about(pin);
    if (onlyButton(pin)) {
      std::vector<std::string> choices;
      for (const std::string& lamp : pinsOf(Is::lamp, words_))
        choices.push_back("set " + lamp + (on ? " high" : " low"));
      return fail(
          stepSay("{} is a button: a pin that is set would work against it. Is a lamp meant?",
                  inWords({pin}).front()),
          choices);
    }
    if (byPart && about && about->part(Is::sounder)) {
      out.push_back(on ? "tone of 1000 Hz on " + pin : "silence " + pin);
      continue;
    }
    if (byPart && about && about->part(Is::arm) && about->parts.size() == 1)
      return fail(stepSay("To which angle? An arm turns from 0 to 180 °."),
                  {"turn servo on " + pin + " to 0 °", "turn servo on " + pin + " to 90 °",
                   "turn servo on " + pin + " to 180 °"});
    const bool low = byPart && about && !about->parts.empty() && about->parts.front().whenLow;
    out.push_back("set " + pin + (on != low ? " high" : " low"));
  }
  return out;
}

namespace {
// "D2 is high" as a value of its own: "D2".
std::string asValue(const std::string& test) {
  const std::size_t space = test.find(' ');
  if (space != std::string::npos && test.substr(space) == " is high") return test.substr(0, space);
  if (space != std::string::npos && test.substr(space) == " is low")
    return "not " + test.substr(0, space);
  return test;
}
}  // namespace

// "turn d4 on", "off d4", "red lamp on", "d4 = 1", "set d4 to d2", "green 50 %".
std::optional<PhraseReader::Lines> PhraseReader::levelStatement() {
  const std::size_t from = at_;
  const double said = is(C::set) ? peek()->value : 0;  // "light up", "turn off"
  const bool verb = take(C::set);
  std::optional<bool> on;
  bool byPart = said != 0;
  if (said != 0) on = said > 0;
  const auto level = [&] {
    if (is(C::on) || is(C::off) || is(C::high) || is(C::low)) {
      on = is(C::on) || is(C::high);
      byPart = is(C::on) || is(C::off);
      ++at_;
      return true;
    }
    return false;
  };
  // "write "hi" to the log".
  if (verb && tokens_[from].text == "write" && (is(C::text) || is(C::name))) {
    Token what = *peek();
    at_ = tokens_.size();
    return Lines{"log " + (what.is == C::text ? quotedText(what.name) : nameText(what.name))};
  }
  // "set level of d9 to 30 %", "set item 2 of levels to 30", "set count to 5".
  if (verb && (is(C::dim) || is(C::level))) return dimStatement();
  if (verb && (is(C::item) || is(C::nameOfList))) return listStatement();
  if (verb && (is(C::name) || is(C::variable) ||
               (is(C::unknown) && (is(C::to, 1) || is(C::equal, 1) || is(C::number, 1)))))
    return nameStatement();
  level();
  skip({C::to, C::of});
  // "turn it off": what was set last.
  const bool ends = atEnd() || is(C::then) || is(C::otherwise) || isSign(",") || is(C::andAlso);
  if (ends && on && !last_.empty()) return levelsOf(Lines(last_), *on, byPart);
  if (atEnd()) return fail(stepSay("Which pin? For example d4."));
  std::optional<Lines> pins;
  {
    // A choice of pins says what is to become of them, too.
    const std::size_t before = at_;
    pins = pinList();
    if (!pins) {
      if (question_ && !question_->choices.empty()) {
        std::size_t behind = before + 1;
        std::string tail;
        if (!on && behind < tokens_.size()) {
          at_ = behind;
          skip({C::to, C::equal});
          if (level()) tail = "";
        }
        if (on)
          for (std::string& choice : question_->choices) {
            const auto lines = levelsOf({choice}, *on, byPart);
            choice = lines && !lines->empty() ? lines->front() : choice;
          }
      }
      return std::nullopt;
    }
  }
  if (take(C::blink)) return blinkStatement(*pins);
  skip({C::to, C::equal, C::of, C::dim});
  if (!on) level();
  if (on) {
    auto lines = levelsOf(*pins, *on, byPart);
    // "on for 2 s": and then off again.
    if (!lines || !is(C::inTurn)) return lines;
    ++at_;
    const auto seconds = duration();
    if (!seconds) return unknown();
    const auto back = levelsOf(*pins, !*on, byPart);
    if (!back) return std::nullopt;
    lines->push_back("wait " + numberText(*seconds) + " s");
    lines->insert(lines->end(), back->begin(), back->end());
    return lines;
  }
  const std::string& pin = pins->front();
  const PinWords* about = words_.about(pin);
  const bool arm = about && about->part(Is::arm);
  if (arm) skip({C::turn, C::to});
  if ((is(C::open) || is(C::pressed) || is(C::released)) && arm) return levelsOf({pin}, true, true);
  if (is(C::number) || is(C::half) || is(C::name) || is(C::level)) {
    if (arm || (is(C::number) && is(C::degrees, 1))) return angle(pin);
    if (is(C::number) && is(C::hertz, 1)) {
      at_ = from;
      return toneStatement();
    }
    const double number = is(C::number) ? peek()->value : 0;
    if (is(C::number) && number > 1 && about && about->part(Is::sounder)) {
      at_ = from;
      return toneStatement();
    }
    if (is(C::number) && !is(C::percent, 1) && (number == 0 || number == 1)) {
      ++at_;
      return levelsOf(*pins, number == 1, false);
    }
    if (is(C::number) && !is(C::percent, 1) && !(about && about->part(Is::motor))) {
      // High, or so much of it?
      const std::string part = numberText(number > 100 ? std::round(number * 100 / 255)
                                          : number < 1 ? number * 100
                                                       : number);
      return fail(stepSay("High, or {} %?", part),
                  {"set " + pin + " high", "dim " + pin + " to " + part + " %"});
    }
    return shares(*pins);
  }
  if (is(C::held) || is(C::pressed) || is(C::tapped)) {
    // "button held 3 s" waits for it.
    at_ = from;
    const Beginning head(said_, "wait until ");
    const auto test = condition();
    return test ? std::optional<Lines>(Lines{"wait until " + *test}) : std::nullopt;
  }
  if (is(C::pin) && peek()->pins.size() == 1)
    if (const PinWords* read = words_.about(peek()->pins.front());
        read && read->measures && !read->part(Is::button) && about && about->dims)
      return shares(*pins);  // as bright as the reading
  if (!atEnd() && (is(C::pin) || is(C::negation) || isSign("("))) {
    const Beginning head(said_, "set " + pin + " ");
    const auto test = condition();
    return test ? std::optional<Lines>(Lines{"set " + pin + " " + asValue(*test)}) : std::nullopt;
  }
  if (!atEnd() && !is(C::then) && !isSign(",") && !is(C::andAlso)) return unknown();
  if (arm) return levelsOf({pin}, true, true);
  return fail(stepSay("High or low?"), {"set " + pin + " high", "set " + pin + " low"});
}

// The same share for each.
std::optional<PhraseReader::Lines> PhraseReader::shares(const Lines& pins) {
  Lines out;
  const std::size_t from = at_;
  for (const std::string& pin : pins) {
    at_ = from;
    auto lines = share(pin);
    if (!lines) return std::nullopt;
    out.insert(out.end(), lines->begin(), lines->end());
  }
  return out;
}

// On and off, half a second each.
std::optional<PhraseReader::Lines> PhraseReader::blinkStatement(const Lines& pins) {
  const auto on = levelsOf(pins, true, true), off = on ? levelsOf(pins, false, true) : on;
  if (!off) return std::nullopt;
  Lines out = *on;
  out.push_back("wait 0.5 s");
  out.insert(out.end(), off->begin(), off->end());
  out.push_back("wait 0.5 s");
  return out;
}

// How much of it a pin is to give: asks where it cannot, and where the number is no percent.
std::optional<PhraseReader::Lines> PhraseReader::share(const std::string& pin) {
  const PinWords* about = words_.about(pin);
  const std::size_t from = at_;
  std::string percent;
  if (take(C::half)) {
    skip({C::of, C::percent});
    percent = "50";
  } else if (is(C::number) && peek()->value > 100 && !is(C::percent, 1)) {
    const std::string part = numberText(std::round(peek()->value * 100 / 255));
    return fail(stepSay("A level goes from 0 to 100 %. {0} of 255 are {1} %.",
                        numberText(peek()->value), part),
                {"dim " + pin + " to " + part + " %"});
  } else {
    const Beginning head(said_, "dim " + pin + " to ");
    const auto read = value({C::percent});
    if (!read) return std::nullopt;
    percent = *read;
  }
  const bool written = percent.find_first_not_of("0123456789.") == std::string::npos;
  const std::string tail = " to " + percent + (written ? " %" : "");
  if (about && !about->dims) {
    std::vector<std::string> choices;
    for (const std::string& other : dimmable(pin)) choices.push_back("dim " + other + tail);
    return failAt(from, stepSay("{} cannot be dimmed; pins with a ∿ can.", inWords({pin}).front()),
                  choices);
  }
  return Lines{"dim " + pin + tail};
}

std::optional<PhraseReader::Lines> PhraseReader::dimStatement() {
  ++at_;
  skip({C::of});
  const Beginning head(said_, "dim ");
  // "dim to 50 %": the only lamp that can.
  const auto pins = pinList();
  if (!pins) return std::nullopt;
  skip({C::to, C::equal, C::by, C::inTurn});
  const std::string& pin = pins->front();
  if (atEnd()) return fail(stepSay("To how many percent?"), {pin + " to 50 %", pin + " to 10 %"});
  said_.clear();  // choices are whole phrases from here on
  return shares(*pins);
}

}  // namespace ignavo::phrases
