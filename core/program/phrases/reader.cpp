#include "program/phrases/reader.h"

#include <algorithm>
#include <cmath>

#include "program/expressions.h"
#include "program/keys.h"
#include "program/pin_words.h"
#include "program/words.h"

namespace ignavo::phrases {

std::string numberText(double value) { return phraseOf(Expr::of(value)); }
std::string secondsText(double seconds) {
  return numberText(std::round(seconds * 1e6) / 1e6) + " s";
}

namespace {
// A sign that gives something a value.
bool changes(const Token& t) {
  if (t.is == Concept::text) return false;
  for (const char* sign : {"=", ":=", "++", "--", "+=", "-="})
    if (t.text == sign) return true;
  return false;
}
// "first" is 1; 0: it is no such word. "last" is −1.
int ordinalOf(const std::string& word) {
  static constexpr const char* words[] = {"first", "second",  "third",  "fourth", "fifth",
                                          "sixth", "seventh", "eighth", "ninth",  "tenth"};
  for (int n = 0; n < static_cast<int>(std::size(words)); ++n)
    if (word == words[n]) return n + 1;
  return word == "last" ? -1 : 0;
}
}  // namespace

// "second item of levels" is item 2 of it, "last item of levels" the one whose number is its
// length.
void PhraseReader::readOrdinals() {
  for (std::size_t i = 0; i + 1 < tokens_.size(); ++i) {
    if (tokens_[i + 1].is != Concept::item) continue;
    const int n = ordinalOf(tokens_[i].text);
    if (n == 0) continue;
    std::swap(tokens_[i], tokens_[i + 1]);
    Token& place = tokens_[i + 1];
    if (n > 0) {
      place.is = Concept::number;
      place.value = n;
      continue;
    }
    const auto list = std::find_if(tokens_.begin() + static_cast<std::ptrdiff_t>(i), tokens_.end(),
                                   [](const Token& t) { return t.is == Concept::nameOfList; });
    if (list == tokens_.end()) continue;
    place.is = Concept::length;
    tokens_.insert(tokens_.begin() + static_cast<std::ptrdiff_t>(i) + 2, Token(*list));
  }
}

PhraseReader::PhraseReader(const Tokens& tokens, const Vocabulary& words)
    : typed_(tokens.typed), words_(words) {
  for (std::size_t i = 0; i < tokens.all.size(); ++i) {
    const Token& t = tokens.all[i];
    const bool namesKey = !tokens_.empty() && tokens_.back().is == Concept::key;
    if (t.is != Concept::filler || (namesKey && !keyOf(t.text).empty())) tokens_.push_back(t);
    // "i = 5", "i++": here it is a name.
    if (t.is == Concept::filler && i + 1 < tokens.all.size() && changes(tokens.all[i + 1])) {
      tokens_.push_back(t);
      tokens_.back().is = Concept::unknown;
    } else if (t.is == Concept::filler && !tokens_.empty() &&
               tokens_.front().is == Concept::unknown && tokens_.front().text == t.text) {
      tokens_.push_back(t);
      tokens_.back().is = Concept::unknown;
    }
  }
  readOrdinals();
  // "space key" is "key space".
  for (std::size_t i = 0; i + 1 < tokens_.size(); ++i)
    if (tokens_[i + 1].is == Concept::key && !keyOf(tokens_[i].text).empty() &&
        (i + 2 >= tokens_.size() || keyOf(tokens_[i + 2].text).empty()))
      std::swap(tokens_[i], tokens_[i + 1]);
  // "delay(500)": the brackets of a call hold no value of their own.
  if (tokens_.size() > 3 && tokens_[1].text == "(" && tokens_.back().text == ")" &&
      std::count_if(tokens_.begin(), tokens_.end(), [](const Token& t) { return t.text == "("; }) ==
          1) {
    tokens_.pop_back();
    tokens_.erase(tokens_.begin() + 1);
    called_ = true;
  }
}

const Token* PhraseReader::peek(std::size_t ahead) const {
  return at_ + ahead < tokens_.size() ? &tokens_[at_ + ahead] : nullptr;
}
bool PhraseReader::is(Concept c, std::size_t ahead) const {
  const Token* t = peek(ahead);
  return t && t->is == c;
}
bool PhraseReader::isSign(const char* sign, std::size_t ahead) const {
  const Token* t = peek(ahead);
  return t && t->text == sign && t->is != Concept::text;
}
bool PhraseReader::take(Concept c) {
  if (!is(c)) return false;
  ++at_;
  return true;
}
bool PhraseReader::takeSign(const char* sign) {
  if (!isSign(sign)) return false;
  ++at_;
  return true;
}
void PhraseReader::skip(std::initializer_list<Concept> some) {
  while (peek() && std::find(some.begin(), some.end(), peek()->is) != some.end()) ++at_;
}

std::string PhraseReader::rest() const {
  if (!peek()) return {};
  const Token& last = tokens_.back();
  return typed_.substr(peek()->at, last.at + last.length - peek()->at);
}

std::nullopt_t PhraseReader::failAt(std::size_t token, Message problem,
                                    std::vector<std::string> choices) {
  if (question_) return std::nullopt;
  Question q;
  q.plain = true;
  q.problem = std::move(problem);
  for (const std::string& choice : choices) q.choices.push_back(said_ + choice);
  if (token < tokens_.size()) {
    q.at = tokens_[token].at;
    q.length = tokens_[token].length;
  } else {
    q.at = typed_.size();
  }
  question_ = std::move(q);
  return std::nullopt;
}
std::nullopt_t PhraseReader::fail(Message problem, std::vector<std::string> choices) {
  return failAt(at_, std::move(problem), std::move(choices));
}
std::nullopt_t PhraseReader::unknown() {
  const bool first = !question_;
  if (!peek())
    fail(stepSay("Something is missing at the end."));
  else
    fail(peek()->is == Concept::unknown
             ? stepSay("“{}” is not known here: no pin, part or variable is called so.",
                       peek()->text)
             : stepSay("“{}” is not expected here.", peek()->text));
  if (first && question_) question_->plain = false;
  return std::nullopt;
}

// ---- pins

std::vector<std::string> PhraseReader::inWords(const std::vector<std::string>& pins) const {
  std::vector<std::string> out;
  for (const std::string& pin : pins) out.push_back(pinInWords(pin, words_));
  return out;
}

const PinPart* PhraseReader::part(const std::string& pin, Is is) const {
  const PinWords* about = words_.about(pin);
  return about ? about->part(is) : nullptr;
}

std::optional<std::string> PhraseReader::onePin(const Token& token, const Phrase& phrase) {
  if (token.pins.size() == 1) return token.pins.front();
  std::vector<std::string> choices;
  for (const std::string& pin : token.pins) choices.push_back(phrase(pin));
  const auto place =
      static_cast<std::size_t>(std::find_if(tokens_.begin(), tokens_.end(),
                                            [&](const Token& t) { return t.at == token.at; }) -
                               tokens_.begin());
  if (token.pins.empty())
    return failAt(place, stepSay("No such part is wired to a pin: “{}”.", token.text));
  return askWhich(place, token.pins, std::move(choices));
}

std::nullopt_t PhraseReader::askWhich(std::size_t token, const std::vector<std::string>& pins,
                                      std::vector<std::string> choices) {
  const bool first = !question_;
  failAt(token, stepSay("Which one: {}?", inWords(pins)), std::move(choices));
  if (first) question_->pins = pins;
  return std::nullopt;
}

// The only pin that such a part hangs on; asks which, or says that there is none.
std::optional<std::string> PhraseReader::onlyOf(Is is, const char* what, const Phrase& phrase) {
  const std::vector<std::string> pins = pinsOf(is, words_);
  if (pins.size() == 1) return pins.front();
  std::vector<std::string> choices;
  for (const std::string& pin : pins) choices.push_back(phrase(pin));
  if (pins.empty()) return fail(stepSay("No {} is wired to a pin yet.", what));
  return fail(stepSay("Which {}: {}?", what, inWords(pins)), std::move(choices));
}

// "d4", "d3 and d4", "all lamps", "4": asks where a word could mean several.
std::optional<PhraseReader::Lines> PhraseReader::pinList() {
  Lines out;
  const bool all = take(Concept::all);
  while (true) {
    if (const Token* t = peek(); t && t->is == Concept::pin) {
      // "the lamp on pin 4": the pin says which.
      if (t->sort && (is(Concept::on, 1) || is(Concept::to, 1)) && is(Concept::pin, 2) &&
          !peek(2)->sort) {
        at_ += 2;
        continue;
      }
      // "lamp d4": the same.
      if (t->sort && is(Concept::pin, 1) && !peek(1)->sort && peek(1)->pins.size() == 1 &&
          std::find(t->pins.begin(), t->pins.end(), peek(1)->pins.front()) != t->pins.end()) {
        ++at_;
        continue;
      }
      if (t->pins.empty()) return fail(stepSay("No such part is wired to a pin: “{}”.", t->text));
      if (t->pins.size() > 1 && !all && !t->several) {
        std::vector<std::string> choices;
        for (const std::string& pin : t->pins) choices.push_back(pin);
        return askWhich(at_, t->pins, choices);
      }
      out.insert(out.end(), t->pins.begin(), t->pins.end());
      ++at_;
    } else if (t && t->is == Concept::number && t->exact && out.empty() && !isUnit(1)) {
      const auto pin = words_.pin("D" + numberText(t->value));
      if (!pin) return fail(stepSay("This board has no pin {}.", numberText(t->value)));
      out.push_back(*pin);
      ++at_;
    } else if (all && out.empty()) {
      out = pinsOf(Is::lamp, words_);
      if (out.empty()) return fail(stepSay("No lamp is wired to a pin."));
    } else {
      break;
    }
    // "d3 and d4", "red and green lamp": more of them.
    const std::size_t joint = is(Concept::andAlso) || isSign(",") ? 1 : 0;
    const Token* next = peek(joint);
    if (!next || next->is != Concept::pin) break;
    // "d3 on and d4 off" comes later; here no level stood between them.
    at_ += joint;
  }
  if (out.empty()) return unknown();
  return out;
}

bool PhraseReader::isUnit(std::size_t ahead) const {
  for (const Concept c :
       {Concept::seconds, Concept::milliseconds, Concept::minutes, Concept::percent, Concept::hertz,
        Concept::kilohertz, Concept::degrees, Concept::times, Concept::volts})
    if (is(c, ahead)) return true;
  return false;
}

// ---- several steps

std::optional<std::vector<std::string>> PhraseReader::steps() {
  auto out = sequence();
  if (out && !atEnd()) return unknown();
  return out;
}

std::optional<std::vector<std::string>> PhraseReader::stepsBehind() {
  skip({Concept::then});
  takeSign(",");
  skip({Concept::then});
  return atEnd() ? std::optional<Lines>(Lines{}) : steps();
}

// Steps one after the other: "d4 on, wait 1 s, then d4 off".
std::optional<PhraseReader::Lines> PhraseReader::sequence() {
  Lines out;
  while (true) {
    const std::size_t began = at_;
    auto lines = statement();
    if (lines) lines = under(began, std::move(*lines));
    if (!lines) return std::nullopt;
    out.insert(out.end(), lines->begin(), lines->end());
    const std::size_t before = at_;
    while (is(Concept::then) || is(Concept::andAlso) || isSign(",") || isSign(".")) ++at_;
    if (atEnd() || is(Concept::otherwise)) return out;
    if (at_ == before) return out;
  }
}

// What stands behind a step and says when or how often: "flip d4 3 times", "d4 on if pressed".
std::optional<PhraseReader::Lines> PhraseReader::under(std::size_t began, Lines lines) {
  std::string head;
  if ((is(Concept::number) && is(Concept::times, 1)) ||
      (is(Concept::number) && peek()->text == "twice")) {
    head = "repeat " + numberText(peek()->value) + " times";
    at_ += peek()->text == "twice" ? 1 : 2;
  } else if (is(Concept::ifSo) || is(Concept::asLongAs)) {
    head = is(Concept::asLongAs) ? "as long as " : "if ";
    const auto so = test(head);
    if (!so) return std::nullopt;
    head += *so;
  } else if (is(Concept::after)) {
    // "d4 off after 2 s".
    ++at_;
    const auto seconds = duration();
    if (!seconds) return fail(stepSay("After how long? For example 2 s."));
    lines.insert(lines.begin(), "wait " + secondsText(*seconds));
    return lines;
  } else if (is(Concept::when) && began < tokens_.size()) {
    const std::string what = typed_.substr(tokens_[began].at, peek()->at - tokens_[began].at);
    const std::size_t from = at_++;
    const auto event = each();
    if (!event) return std::nullopt;
    return failAt(from, stepSay("Once now, or each time?"),
                  {"if " + plainTest_ + " then " + what, *event + ": " + what});
  } else {
    return lines;
  }
  for (std::string& line : lines) line = "  " + line;
  lines.insert(lines.begin(), head);
  return lines;
}

bool PhraseReader::startsStatement() const {
  using C = Concept;
  for (const C c :
       {C::set,  C::flip,    C::dim,   C::wait, C::repeat,   C::ifSo,   C::asLongAs, C::tone,
        C::turn, C::silence, C::let,   C::add,  C::takeAway, C::reset,  C::put,      C::log,
        C::post, C::run,     C::leave, C::end,  C::stop,     C::forever})
    if (is(c)) return true;
  return is(C::ownStep);
}

// What stands inside a fork or loop, indented; none where nothing is said.
std::optional<PhraseReader::Lines> PhraseReader::body() {
  skip({Concept::then});
  takeSign(",");
  skip({Concept::then});
  if (atEnd() || is(Concept::otherwise)) return Lines{};
  const Deeper deeper(depth_);
  if (deeper.tooDeep()) return fail(stepSay("This is nested too deeply."));
  auto lines = sequence();
  if (!lines) return std::nullopt;
  for (std::string& line : *lines) line = "  " + line;
  return lines;
}

}  // namespace ignavo::phrases
