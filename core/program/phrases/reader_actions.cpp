#include <algorithm>
#include <cmath>

#include "program/expressions.h"
#include "program/phrases/reader.h"
#include "program/pin_words.h"
#include "program/words.h"

// What is done to pins: levels, shares, tones, angles.
namespace ignavo::phrases {

using C = Concept;

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
    case C::asLongAs:
      return whileStatement();
    case C::until:
    case C::repeat:
      return repeatStatement();
    case C::inTurn:  // "for 5 times"
      if (!is(C::number, 1) || !is(C::times, 2)) return forStatement();
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
      return waitStatement();
    case C::after:
      return afterStatement();
    case C::hold:
      return holdStatement();
    case C::tone:
    case C::sound:
      return toneStatement();
    case C::silence:
      return silenceStatement();
    case C::turn:
      return turnStatement();
    case C::dim:
      return dimStatement();
    case C::flip:
      return flipStatement();
    case C::blink:
      return blinkStatement();
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
    case C::put:
      if (!is(C::pin, 1)) return listStatement();
      ++at_;  // "put d4 high"
      return levelStatement();
    case C::nameOfList:
    case C::item:
    case C::next:
      return listStatement();
    case C::ownStep:
    case C::run:
      return runStatement();
    case C::random:
      return randomStatement();
    case C::number:
    case C::half:
    case C::seconds:
      return numberStatement();
    case C::times:  // "x++"
    case C::unknown:
      return newNameStatement();
    default:
      return levelStatement();
  }
}

// "500ms", "half a second", "3 times", "13 on".
std::optional<PhraseReader::Lines> PhraseReader::numberStatement() {
  const Token number = *peek();
  if (is(C::times, 1) || number.text == "twice") return repeatStatement();
  const std::size_t from = at_;
  const auto seconds = duration();
  const bool unit = seconds && (number.is != C::number || at_ > from + 1);
  if (unit) return Lines{"wait " + secondsText(*seconds)};
  at_ = from;
  return levelStatement();
}

// "after 2 s turn d4 off".
std::optional<PhraseReader::Lines> PhraseReader::afterStatement() {
  ++at_;
  const auto seconds = duration();
  if (!seconds) return fail(stepSay("After how long? For example 2 s."));
  Lines out{"wait " + secondsText(*seconds)};
  while (is(C::then) || isSign(",") || isSign(":")) ++at_;
  if (atEnd()) return out;
  const auto next = statement();
  if (!next) return std::nullopt;
  out.insert(out.end(), next->begin(), next->end());
  return out;
}

std::optional<PhraseReader::Lines> PhraseReader::flipStatement() {
  ++at_;
  take(C::variable);
  if (is(C::name)) {
    const std::string name = nameText(peek()->name);
    ++at_;
    return Lines{"let " + name + " be not " + name};
  }
  const Beginning head(said_, "flip ");
  const auto pins = pinList();
  if (!pins) return std::nullopt;
  Lines out;
  for (const std::string& pin : *pins) out.push_back("flip " + pin);
  return out;
}

// High or low for each; on and off as the part wants it.
std::optional<PhraseReader::Lines> PhraseReader::levelsOf(const Lines& pins, bool on, bool byPart) {
  Lines out;
  last_ = pins;
  for (const std::string& pin : pins) {
    const PinWords* about = words_.about(pin);
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
  // "write "hi" to the log", "set level of d9 to 30 %", "set item 2 of levels to 30", "set count
  // 5".
  if (verb && tokens_[from].text == "write" && (is(C::text) || is(C::name))) {
    const Token what = *peek();
    at_ = tokens_.size();
    return Lines{"log " + (what.is == C::text ? quotedText(what.name) : nameText(what.name))};
  }
  if (verb && (is(C::dim) || is(C::level))) return dimStatement();
  if (verb && (is(C::item) || is(C::nameOfList))) return listStatement();
  const bool fresh = is(C::unknown) && (is(C::to, 1) || is(C::equal, 1) || is(C::number, 1));
  if (verb && (is(C::name) || is(C::variable) || fresh)) return nameStatement();

  Level level{said > 0, said != 0, said != 0};
  takeLevel(level);
  skip({C::to, C::of});
  // "turn it off": what was set last.
  const bool ends = atEnd() || is(C::then) || is(C::otherwise) || isSign(",") || is(C::andAlso);
  if (ends && level.said && !last_.empty()) return levelsOf(Lines(last_), level.on, level.byPart);
  if (atEnd()) return fail(stepSay("Which pin? For example d4."));
  const std::size_t before = at_;
  const auto pins = pinList();
  if (!pins) {
    // Phrases to choose from say what is to become of the pin, too.
    at_ = before + 1;
    skip({C::to, C::equal});
    takeLevel(level);
    if (question_ && level.said)
      for (std::string& choice : question_->choices)
        if (const auto lines = levelsOf({choice}, level.on, level.byPart)) choice = lines->front();
    return std::nullopt;
  }
  if (take(C::blink)) return blinking(*pins);
  skip({C::to, C::equal, C::of, C::dim});
  takeLevel(level);
  return level.said ? onFor(*pins, level.on, level.byPart) : levelOf(*pins, from);
}

// Where no level was said yet: on, off, high or low.
void PhraseReader::takeLevel(Level& level) {
  if (level.said || (!is(C::on) && !is(C::off) && !is(C::high) && !is(C::low))) return;
  level = {is(C::on) || is(C::high), is(C::on) || is(C::off), true};
  ++at_;
}

// "for 2 s red lamp on": the time may stand first; it is for what follows up to the next "then".
std::optional<PhraseReader::Lines> PhraseReader::forStatement() {
  const std::size_t from = at_++;
  if (!duration() || atEnd() || is(C::inTurn)) {
    at_ = from;
    return unknown();
  }
  const auto place = [&](std::size_t i) {
    return tokens_.begin() + static_cast<std::ptrdiff_t>(i);
  };
  if (isSign(",")) tokens_.erase(place(at_));
  const auto end = std::find_if(place(at_), tokens_.end(),
                                [](const Token& token) { return token.is == C::then; });
  std::rotate(place(from), place(at_), end);
  at_ = from;
  return statement();
}

// "on for 2 s": and then off again.
std::optional<PhraseReader::Lines> PhraseReader::onFor(const Lines& pins, bool on, bool byPart) {
  auto lines = levelsOf(pins, on, byPart);
  // "on 2 s": its unit says so.
  const bool time = (is(C::number) || is(C::half)) &&
                    (is(C::seconds, 1) || is(C::milliseconds, 1) || is(C::minutes, 1));
  if (!lines || (!take(C::inTurn) && !time)) return lines;
  const auto seconds = duration();
  if (!seconds) return unknown();
  const auto back = levelsOf(pins, !on, byPart);
  if (!back) return std::nullopt;
  lines->push_back("wait " + secondsText(*seconds));
  lines->insert(lines->end(), back->begin(), back->end());
  return lines;
}

// Pins were named, but neither on nor off: a number, another pin, or something to ask. `from`:
// where all of it began.
std::optional<PhraseReader::Lines> PhraseReader::levelOf(const Lines& pins, std::size_t from) {
  const std::string& pin = pins.front();
  const PinWords* about = words_.about(pin);
  const bool arm = part(pin, Is::arm);
  if (arm) skip({C::turn, C::to});
  if (arm && (atEnd() || is(C::open) || is(C::pressed) || is(C::released)))
    return levelsOf({pin}, true, true);
  if (arm && (is(C::number) || is(C::half) || is(C::name) || is(C::level))) return angle(pin);
  if (is(C::number) || is(C::half) || is(C::name) || is(C::level)) return numberOf(pins, from);
  if (is(C::held) || is(C::pressed) || is(C::tapped)) {
    // "button held 3 s" waits for it.
    at_ = from;
    const Beginning head(said_, "wait until ");
    const auto so = condition();
    return so ? std::optional<Lines>(Lines{"wait until " + *so}) : std::nullopt;
  }
  const PinWords* read =
      is(C::pin) && peek()->pins.size() == 1 ? words_.about(peek()->pins.front()) : nullptr;
  // As bright as the reading.
  if (read && read->measures && !read->part(Is::button) && about && about->dims)
    return shares(pins);
  if (is(C::pin) || is(C::negation) || isSign("(")) {
    const Beginning head(said_, "set " + pin + " ");
    const auto so = condition();
    return so ? std::optional<Lines>(Lines{"set " + pin + " " + asValue(*so)}) : std::nullopt;
  }
  if (!atEnd() && !is(C::then) && !isSign(",") && !is(C::andAlso)) return unknown();
  return fail(stepSay("High or low?"), {"set " + pin + " high", "set " + pin + " low"});
}

// A number behind pins: hertz, an angle, 0 or 1, percents; asked where it could be either.
std::optional<PhraseReader::Lines> PhraseReader::numberOf(const Lines& pins, std::size_t from) {
  const std::string& pin = pins.front();
  const bool written = is(C::number);
  const double number = written ? peek()->value : 0;
  if (written && is(C::degrees, 1)) return angle(pin);
  if (written && (is(C::hertz, 1) || (number > 1 && part(pin, Is::sounder)))) {
    at_ = from;
    return toneStatement();
  }
  if (!written || is(C::percent, 1)) return shares(pins);
  if (number == 0 || number == 1) {
    ++at_;
    return levelsOf(pins, number == 1, false);
  }
  if (part(pin, Is::motor)) return shares(pins);
  const std::string percent = numberText(number > 100 ? std::round(number * 100 / 255)
                                         : number < 1 ? number * 100
                                                      : number);
  return fail(stepSay("High, or {} %?", percent),
              {"set " + pin + " high", "dim " + pin + " to " + percent + " %"});
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

std::optional<PhraseReader::Lines> PhraseReader::blinkStatement() {
  ++at_;
  const Beginning head(said_, "blink ");
  const auto pins = pinList();
  return pins ? blinking(*pins) : std::nullopt;
}

// On and off, half a second each.
std::optional<PhraseReader::Lines> PhraseReader::blinking(const Lines& pins) {
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
  return Lines{"dim " + pin + " to " + percent + (written ? " %" : "")};
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
