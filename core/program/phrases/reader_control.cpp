#include <algorithm>

#include "program/expressions.h"
#include "program/keys.h"
#include "program/phrases/reader.h"
#include "program/pin_words.h"
#include "program/words.h"

// When something is done, and how often: forks, loops, waits, what ends them, and the signs of
// lanes.
namespace ignavo::phrases {

using C = Concept;

std::optional<PhraseReader::Lines> PhraseReader::forEver() {
  return fail(stepSay("A lane that goes round does so for ever by itself. Only for steps that are "
                      "to go on for ever in another lane:"),
              {"keep going round"});
}

// "while pressed", "as long as a0 > half".
std::optional<PhraseReader::Lines> PhraseReader::whileStatement() {
  const auto so = test("as long as ");
  if (so && *so == "true") return forEver();
  return so ? loopStatement("as long as " + *so) : std::nullopt;
}

// "run ring with 3", "ring 3".
std::optional<PhraseReader::Lines> PhraseReader::runStatement() {
  take(C::run);
  if (!is(C::ownStep)) return fail(stepSay("Which own step?"));
  const std::string name = nameText(peek()->name);
  ++at_;
  skip({C::inTurn});
  const std::string with = atEnd() ? "" : " with " + rest();
  at_ = tokens_.size();
  return Lines{"run " + name + with};
}

// "if button then d4 on, else d4 off": what stands behind the test goes inside.
std::optional<PhraseReader::Lines> PhraseReader::ifStatement() {
  const auto so = test("if ");
  if (!so) return std::nullopt;
  auto inside = body();
  if (!inside) return std::nullopt;
  Lines out{"if " + *so};
  out.insert(out.end(), inside->begin(), inside->end());
  if (take(C::otherwise)) {
    auto other = body();
    if (!other) return std::nullopt;
    if (!other->empty()) {
      out.push_back("otherwise");
      out.insert(out.end(), other->begin(), other->end());
    }
  }
  return out;
}

std::optional<PhraseReader::Lines> PhraseReader::loopStatement(const std::string& head) {
  auto inside = body();
  if (!inside) return std::nullopt;
  Lines out{head};
  out.insert(out.end(), inside->begin(), inside->end());
  return out;
}

// "repeat 3 times", "3 times", "repeat until pressed", "do twice".
std::optional<PhraseReader::Lines> PhraseReader::repeatStatement() {
  take(C::repeat);
  if (is(C::until)) {
    const auto so = test("as long as ");
    return so ? loopStatement("as long as " + opposite(*so)) : std::nullopt;
  }
  if (atEnd())
    return fail(stepSay("How often?"), {"repeat 3 times", "repeat 5 times", "keep going round"});
  std::optional<std::string> times;
  {
    const Beginning head(said_, "repeat ");
    times = value({});
  }
  if (!times) return std::nullopt;
  skip({C::times, C::loop});
  // "repeat 3 times: d4 on" or "flip d4 3 times" (behind).
  return loopStatement("repeat " + *times + " times");
}

// "hold 3s", "hold button for 3 s": until it was held so long.
std::optional<PhraseReader::Lines> PhraseReader::holdStatement() {
  ++at_;
  const auto phrase = [](const std::string& pin) { return "wait until " + pin + " held for 1 s"; };
  const bool named = is(C::pin);
  const auto pin = named ? onePin(*peek(), phrase) : onlyOf(Is::button, "button", phrase);
  if (!pin) return std::nullopt;
  if (named) ++at_;
  skip({C::inTurn});
  if (atEnd() || (!is(C::number) && !is(C::half) && !is(C::seconds)))
    return fail(stepSay("Held for how long?"),
                {"wait until " + *pin + " held for 1 s", "wait until " + *pin + " held for 3 s"});
  const auto held = heldText(*pin);
  return held ? std::optional<Lines>(Lines{"wait until " + *held}) : std::nullopt;
}

std::optional<PhraseReader::Lines> PhraseReader::waitStatement() {
  ++at_;
  skip({C::inTurn});
  if (is(C::aBit) || atEnd())
    return fail(stepSay("How long?"), {"wait 0.1 s", "wait 0.5 s", "wait 1 s"});
  const bool until = take(C::until) || take(C::when) || take(C::ifSo);
  const bool condition = until || is(C::pin) || is(C::pressed) || is(C::released) ||
                         is(C::tapped) || is(C::held) || is(C::key) || is(C::negation);
  if (condition && !(is(C::pin) && !until && peek()->pins.size() == 1 && isUnit(1))) {
    const Beginning head(said_, "wait until ");
    const auto test = decides();
    return test ? std::optional<Lines>(Lines{"wait until " + *test}) : std::nullopt;
  }
  const Beginning head(said_, "wait ");
  const auto seconds = durationText();
  if (!seconds) return std::nullopt;
  // A value that is worked out is in seconds unless it says otherwise.
  if (take(C::milliseconds)) return Lines{"wait (" + *seconds + ") ÷ 1000 s"};
  skip({C::seconds});
  return Lines{"wait " + *seconds + " s"};
}

// "stop": the loop, the lane, the sound? "stop motor": off.
std::optional<PhraseReader::Lines> PhraseReader::stopStatement() {
  ++at_;
  if (is(C::pin)) {
    const Token pin = *peek();
    const auto one = onePin(pin, [](const std::string& p) { return "set " + p + " low"; });
    if (!one) return std::nullopt;
    ++at_;
    if (part(*one, Is::sounder)) return Lines{"silence " + *one};
    return levelsOf({*one}, false, true);
  }
  if (is(C::sound) || is(C::tone)) {
    ++at_;
    const auto pin =
        onlyOf(Is::sounder, "sounder", [](const std::string& p) { return "silence " + p; });
    return pin ? std::optional<Lines>(Lines{"silence " + *pin}) : std::nullopt;
  }
  if (take(C::loop)) return Lines{"leave the loop"};
  if (take(C::lane)) return Lines{"end this lane"};
  std::vector<std::string> choices{"leave the loop", "end this lane"};
  for (const std::string& pin : pinsOf(Is::sounder, words_)) choices.push_back("silence " + pin);
  --at_;
  return fail(stepSay("Stop what: the loop, the lane, or a sound?"), std::move(choices));
}

// ---- signs of lanes

std::optional<std::string> PhraseReader::sign() {
  const std::size_t from = at_;
  // "every 2 s", "each second".
  if (is(C::every) || is(C::each)) {
    ++at_;
    const bool time = is(C::number)
                          ? (is(C::seconds, 1) || is(C::milliseconds, 1) || is(C::minutes, 1))
                          : (is(C::half) || is(C::seconds) || is(C::minutes));
    if (time) {
      const auto seconds = duration();
      if (seconds) return "Every " + numberText(*seconds) + " s";
    }
    if (is(C::times)) ++at_;
    if (const auto key = keySign()) return key;
    const Beginning head(said_, "Each time ");
    return each();
  }
  if (take(C::keep)) {
    bool level = take(C::level) || take(C::dim);
    if (level) skip({C::of});
    const auto pin = pinList();
    if (!pin) return std::nullopt;
    level = take(C::level) || take(C::dim) || level;
    skip({C::to, C::equal, C::by});
    const std::string what = (level ? "Keep the level of " : "Keep ") + pin->front() + " at ";
    const Beginning head(said_, what);
    const auto so = level ? value() : condition();
    return so ? Text(what + *so) : std::nullopt;
  }
  if (is(C::when) || is(C::on)) {
    const bool on = is(C::on);
    // "on d4" switches it on.
    if (on && is(C::pin, 1) &&
        (peek(1)->pins.size() != 1 || !part(peek(1)->pins.front(), Is::button)))
      return std::nullopt;
    ++at_;
    if (take(C::power)) return std::string("When power comes on");
    if (const auto key = keySign()) return key;
    // "on button click": an event. "when pressed": once now, or each time?
    std::string test;
    {
      const Beginning head(said_, "Each time ");
      const auto sign = each();
      if (!sign) return std::nullopt;
      test = *sign;
    }
    if (on) return test;
    const std::string so = plainTest_;
    std::string then;
    if (!atEnd()) {
      then = typed_.substr(peek()->at);
      if (isSign(",") || is(C::then)) then = peek(1) ? typed_.substr(peek(1)->at) : std::string();
    }
    std::vector<std::string> choices{"if " + so + (then.empty() ? "" : " then " + then)};
    if (then.empty()) choices.push_back("wait until " + so);
    choices.push_back(test + (then.empty() ? "" : ": " + then));
    return failAt(from, stepSay("Once now, or each time?"), std::move(choices));
  }
  if (is(C::forever) && tokens_.size() == 1 &&
      (peek()->text == "always" || peek()->text == "round and round")) {
    ++at_;
    return std::string("Round and round");
  }
  if (is(C::power) && tokens_.size() == 1) {
    ++at_;
    return std::string("When power comes on");
  }
  return std::nullopt;
}

// "key space is struck"; nothing where no key is named.
PhraseReader::Text PhraseReader::keySign() {
  const std::string key = is(C::key) && peek(1) ? keyOf(peek(1)->text) : std::string();
  if (key.empty()) return std::nullopt;
  at_ += 2;
  skip({C::pressed, C::tapped, C::held});
  return "When key " + key + " is struck";
}

// Behind "each time": what happens.
PhraseReader::Text PhraseReader::each() {
  // "press of the button".
  if ((is(C::pressed) || is(C::released) || is(C::tapped)) && is(C::of, 1))
    tokens_.erase(tokens_.begin() + static_cast<std::ptrdiff_t>(at_) + 1);
  const auto test = decides();
  if (!test) return std::nullopt;
  plainTest_ = *test;
  const std::string high = " is high", low = " is low";
  const bool simple = test->find(' ') != std::string::npos &&
                      words_.pin(test->substr(0, test->find(' '))).has_value();
  if (simple && test->ends_with(high) && test->find(' ') == test->size() - high.size())
    return "Each time " + test->substr(0, test->find(' ')) + " goes high";
  if (simple && test->ends_with(low) && test->find(' ') == test->size() - low.size())
    return "Each time " + test->substr(0, test->find(' ')) + " goes low";
  return "Each time " + *test;
}

}  // namespace ignavo::phrases
