#include <algorithm>
#include <cmath>

#include "program/expressions.h"
#include "program/keys.h"
#include "program/phrases/reader.h"
#include "program/pin_words.h"
#include "program/words.h"

// What is so: the words that people use for a pin's level, its part's state, and comparisons, as
// text that the strict reader takes. Pressed, lit and dark mean what the wiring makes of them.
namespace ignavo::phrases {

using C = Concept;

PhraseReader::Text PhraseReader::condition() {
  signal_ = false;
  return either();
}

// One that decides what is done: a number alone does not, the words beside it said nothing.
PhraseReader::Text PhraseReader::decides() {
  const std::size_t from = at_;
  const auto so = condition();
  if (!so || so->find_first_not_of("0123456789.-") != std::string::npos) return so;
  failAt(from, stepSay("{} is only a number. What should be so? For example d2 is high.", *so));
  question_->plain = false;
  return std::nullopt;
}

// Takes the word that it begins with; "unless" turns what is behind it round.
PhraseReader::Text PhraseReader::test(const std::string& head) {
  const bool denied = peek()->value < 0;
  ++at_;
  const std::size_t from = at_;
  std::optional<std::string> so;
  {
    const Beginning words(said_, head);
    so = decides();
  }
  if (!so) return std::nullopt;
  if (signal_)
    return failAt(from,
                  stepSay("What is held or tapped is followed from turn to turn: wait for it, or "
                          "let it start a lane."),
                  {"wait until " + *so, "Each time " + *so});
  return denied ? opposite(*so) : *so;
}

// Is the test over there?
bool PhraseReader::endsTest(std::size_t ahead) const {
  return !peek(ahead) || is(C::then, ahead) || is(C::orElse, ahead) || is(C::andAlso, ahead) ||
         is(C::otherwise, ahead) || isSign(",", ahead) || isSign(":", ahead) ||
         isSign("{", ahead) || isSign(")", ahead);
}

PhraseReader::Text PhraseReader::either() {
  auto out = both();
  while (out && take(C::orElse)) {
    const auto next = both();
    if (!next) return std::nullopt;
    *out += " or " + *next;
  }
  return out;
}

PhraseReader::Text PhraseReader::both() {
  auto out = atom();
  while (out && is(C::andAlso)) {
    // "if pressed and d4 on …" could go on with a step; a step begins with its verb.
    ++at_;
    if (startsStatement()) {
      --at_;
      break;
    }
    const auto next = atom();
    if (!next) return std::nullopt;
    *out += " and " + *next;
  }
  return out;
}

// What is so where the other is not, in as few words as can be.
std::string PhraseReader::opposite(const std::string& test) {
  const std::string high = " is high", low = " is low";
  const auto plain = [&](const std::string& tail) {
    return test.ends_with(tail) && test.find(' ') == test.size() - tail.size();
  };
  if (plain(high)) return test.substr(0, test.size() - high.size()) + low;
  if (plain(low)) return test.substr(0, test.size() - low.size()) + high;
  return "not (" + test + ")";
}

std::string PhraseReader::pressedText(const std::string& pin, bool pressed) const {
  const PinPart* button = part(pin, Is::button);
  const bool low = button && button->whenLow;
  return pin + (pressed != low ? " is high" : " is low");
}

std::string PhraseReader::litText(const std::string& pin, bool lit) const {
  const PinWords* about = words_.about(pin);
  const bool low = about && !about->parts.empty() && about->parts.front().whenLow;
  return pin + (lit != low ? " is high" : " is low");
}

// Behind "held": how long.
PhraseReader::Text PhraseReader::heldText(const std::string& pin) {
  skip({C::inTurn});
  const auto seconds = duration();
  if (!seconds) return pressedText(pin, true);
  signal_ = true;
  const PinPart* button = part(pin, Is::button);
  const std::string down = button && button->whenLow ? "(" + pin + " is low)" : pin;
  return down + " held for " + numberText(*seconds) + " s";
}

PhraseReader::Text PhraseReader::atom() {
  const Token* t = peek();
  if (!t) return fail(stepSay("What should be so is missing at the end."));
  const Deeper deeper(depth_);
  if (deeper.tooDeep()) return fail(stepSay("This is nested too deeply."));
  if (isSign("(")) {
    const std::size_t from = at_++;
    auto inner = either();
    if (inner && takeSign(")")) {
      // "(d2 == 1)" needs no brackets of its own; what goes on needs them.
      const bool whole = from == 0 || !peek() || is(C::then) || isSign(":") || isSign("{");
      const std::size_t spaces =
          static_cast<std::size_t>(std::count(inner->begin(), inner->end(), ' '));
      if (whole && depth_ == 1) return inner;
      if (is(C::held) || is(C::tapped) || is(C::steady)) return followed(*inner);
      return compared(spaces == 0 ? *inner : "(" + *inner + ")");
    }
    if (inner) return fail(stepSay("A bracket is not closed."));
    return std::nullopt;
  }
  if (take(C::negation)) {
    const auto inner = atom();
    if (!inner) return std::nullopt;
    const bool bare = inner->find(' ') == std::string::npos || inner->starts_with('(');
    return bare ? "not " + *inner : opposite(*inner);
  }
  if (take(C::key)) {
    const Token* named = peek();
    const std::string key = named ? keyOf(named->text) : std::string();
    if (key.empty())
      return fail(
          stepSay("Which key? Keys are a to z, 0 to 9, space, return, left, right, up and "
                  "down."));
    ++at_;
    skip({C::key});
    const bool released = is(C::released);
    skip({C::pressed, C::held, C::released, C::tapped, C::on});
    return (released ? "not (key " : "key ") + key + (released ? " held)" : " held");
  }
  switch (t->is) {
    case C::pressed:
    case C::released:
    case C::held:
    case C::tapped:
    case C::hold: {
      const std::size_t word = at_++;
      const bool pressed = t->is != C::released;
      // "pressed button": the pin stands behind.
      if (is(C::pin) && peek()->pins.size() == 1 && part(peek()->pins.front(), Is::button)) {
        --at_;
        std::swap(tokens_[at_], tokens_[at_ + 1]);
        return atom();
      }
      const auto pin = onlyOf(Is::button, "button",
                              [&](const std::string& p) { return pressedText(p, pressed); });
      if (!pin) return std::nullopt;
      --at_;
      Token button;
      button.is = C::pin;
      button.pins = {*pin};
      button.at = tokens_[word].at;
      button.length = 0;
      return pinAtom(button);
    }
    case C::pin: {
      const Token pin = *t;
      ++at_;
      return pinAtom(pin);
    }
    case C::set:  // "light < 50": the sensor is meant
      if (t->text == "light" && (is(C::less, 1) || is(C::more, 1) || is(C::atMost, 1) ||
                                 is(C::atLeast, 1) || is(C::level, 1))) {
        const auto pin = onlyOf(Is::sensor, "sensor",
                                [](const std::string& p) { return "level of " + p + " > 50"; });
        if (!pin) return std::nullopt;
        ++at_;
        skip({C::level});
        return compared("level of " + *pin);
      }
      return unknown();
    case C::on:
    case C::off:
      // "dark", "bright": below or above what is for the user to say.
      if (t->text == "dark" || t->text == "bright") {
        const auto pin = onlyOf(Is::sensor, "sensor",
                                [](const std::string& p) { return "level of " + p + " < 50"; });
        if (!pin) return std::nullopt;
        return fail(stepSay("From which level on? For example half of it."),
                    {"level of " + *pin + " < 50", "level of " + *pin + " > 50"});
      }
      return unknown();
    default: {
      const auto left = value();
      return left ? compared(*left) : std::nullopt;
    }
  }
}

// A pin has been read: what about it?
PhraseReader::Text PhraseReader::pinAtom(const Token& token) {
  // "light > 50", "light level below half": a sensor, not a lamp.
  if (token.sort == Is::lamp && token.text.find("ight") != std::string::npos &&
      (is(C::level) || is(C::less) || is(C::more) || is(C::atMost) || is(C::atLeast))) {
    const auto sensor = onlyOf(Is::sensor, "sensor",
                               [](const std::string& p) { return "level of " + p + " > 50"; });
    if (!sensor) return std::nullopt;
    skip({C::level});
    return compared("level of " + *sensor);
  }
  const auto one = onePin(token, [&](const std::string& p) {
    return part(p, Is::button) ? pressedText(p, true) : p + " is high";
  });
  if (!one) return std::nullopt;
  const std::string& pin = *one;
  const bool negated = take(C::negation);
  skip({C::goes, C::to});
  const bool equal = is(C::equal) || is(C::unequal);
  const bool differs = is(C::unequal);
  const auto state = [&](std::size_t ahead) -> Text {
    const Token* s = peek(ahead);
    if (!s) return std::nullopt;
    const bool turned = negated != differs;
    if (s->is == C::high || s->is == C::low)
      return pin + ((s->is == C::high) != turned ? " is high" : " is low");
    if (s->is == C::number && (s->value == 0 || s->value == 1) && equal && !isUnit(ahead + 1))
      return pin + ((s->value == 1) != turned ? " is high" : " is low");
    if (s->is == C::on || s->is == C::off) return litText(pin, (s->is == C::on) != turned);
    if (s->is == C::pressed || s->is == C::released)
      return pressedText(pin, (s->is == C::pressed) != turned);
    return std::nullopt;
  };
  if (const auto said = state(equal ? 1 : 0)) {
    at_ += equal ? 2 : 1;
    // "button pressed for 3 s", "d9 high for 3 s".
    const bool lasts = is(C::inTurn) && (is(C::number, 1) || is(C::half, 1));
    if (lasts && tokens_[at_ - 1].is == C::pressed) return heldText(pin);
    if (!lasts) return followed(*said);
    ++at_;
    const auto seconds = duration();
    if (!seconds) return unknown();
    signal_ = true;
    return "(" + *said + ") held for " + numberText(*seconds) + " s";
  }
  const auto turnedRound = [&](std::string text) { return negated ? "not (" + text + ")" : text; };
  if (is(C::held)) {
    ++at_;
    const auto held = heldText(pin);
    const auto all = held ? followed(*held) : std::nullopt;
    return all ? Text(turnedRound(*all)) : std::nullopt;
  }
  if (is(C::tapped) || is(C::steady)) {
    const PinPart* button = part(pin, Is::button);
    const auto so = followed(button && button->whenLow ? pin + " is low" : pin);
    return so ? Text(turnedRound(*so)) : std::nullopt;
  }
  skip({C::level});
  const PinWords* about = words_.about(pin);
  const bool between = is(C::from) && peek()->text == "between";
  const bool compares =
      between || equal || is(C::less) || is(C::more) || is(C::atMost) || is(C::atLeast);
  if (compares) {
    const bool measures = about ? about->measures : pin.starts_with('A');
    const auto out = compared(measures ? "level of " + pin : pin);
    return out ? Text(turnedRound(*out)) : std::nullopt;
  }
  if (about && about->part(Is::sensor) && !about->part(Is::button))
    return fail(stepSay("Above or below what? For example {} > 50 %.", pin),
                {"level of " + pin + " > 50", "level of " + pin + " < 50"});
  if (about && about->part(Is::button)) return pressedText(pin, !negated);
  return litText(pin, !negated);
}

// Behind something that is so: steady, held or tapped, and what follows that likewise.
PhraseReader::Text PhraseReader::followed(std::string so) {
  while (is(C::held) || is(C::tapped) || is(C::steady)) {
    const C what = peek()->is;
    ++at_;
    skip({C::inTurn, C::within});
    const auto seconds = duration();
    if (what == C::held && !seconds) return fail(stepSay("Held for how long? For example 3 s."));
    signal_ = true;
    const double usual = what == C::tapped ? 0.5 : 0.02;
    if (so.find(' ') != std::string::npos) so = "(" + so + ")";
    so += what == C::held ? " held for " : what == C::tapped ? " tapped within " : " steady for ";
    so += numberText(seconds.value_or(usual)) + " s";
  }
  return so;
}

// A value has been read: compared with what? Nothing is asked of one that is a truth.
PhraseReader::Text PhraseReader::compared(const std::string& left) {
  const Token* t = peek();
  const char* sign = nullptr;
  bool negated = false;
  if (is(C::negation)) ++at_, negated = true, t = peek();
  if (t) switch (t->is) {
      case C::equal:
        sign = negated ? "≠" : "=";
        break;
      case C::unequal:
        sign = "≠";
        break;
      case C::less:
        sign = "<";
        break;
      case C::atMost:
        sign = "≤";
        break;
      case C::more:
        sign = ">";
        break;
      case C::atLeast:
        sign = "≥";
        break;
      default:
        break;
    }
  if (t && t->is == C::from && t->text == "between") {
    ++at_;
    std::string measured = left;
    const auto low = compareWith(measured);
    if (!low) return std::nullopt;
    if (!take(C::andAlso) && !take(C::to) && !takeSign(",") && !takeSign("-"))
      return fail(stepSay("Between two values stands “and”."));
    const auto high = compareWith(measured);
    if (!high) return std::nullopt;
    const std::string inside = measured + " ≥ " + *low + " and " + measured + " ≤ " + *high;
    return negated ? "not (" + inside + ")" : inside;
  }
  if (!sign) {
    // "ready is false": likewise of a truth.
    const bool truth = t && (t->is == C::high || t->is == C::low) && endsTest(1);
    if (truth) {
      const bool so = (t->is == C::high) != negated;
      const bool bare = left.find(' ') == std::string::npos;
      ++at_;
      return so ? left : "not " + (bare ? left : "(" + left + ")");
    }
    // "count is 5": the "is" said nothing.
    if (t && (t->is == C::number || t->is == C::text || t->is == C::name))
      sign = "=";
    else
      return left;
  } else {
    ++at_;
  }
  skip({C::to, C::of});
  std::string measured = left;
  const auto right = compareWith(measured, sign);
  if (!right) return std::nullopt;
  const std::string out = measured + " " + sign + " " + *right;
  return negated && std::string(sign) != "≠" && std::string(sign) != "=" ? "not (" + out + ")"
                                                                         : out;
}

// What something is compared with. A level is compared with percents; volts behind the number say
// that volts are measured.
PhraseReader::Text PhraseReader::compareWith(std::string& left, const std::string& sign) {
  const std::string level = "level of ", volts = "volts at ";
  if (!left.starts_with(level)) return left.starts_with(volts) ? value({C::volts}) : value();
  if (take(C::half)) {
    skip({C::of, C::percent});
    return std::string("50");
  }
  const std::size_t at = at_;
  const auto right = value({C::percent});
  if (!right) return std::nullopt;
  if (take(C::volts)) {
    left = volts + left.substr(level.size());
    return right;
  }
  const double number = std::atof(right->c_str());
  if (number <= 100) return right;
  const std::string percent = numberText(std::round(number * 100 / 1023));
  return failAt(at,
                stepSay("A level goes from 0 to 100 %. {0} of 1,023 are {1} %.", *right, percent),
                {left + " " + sign + " " + percent});
}

}  // namespace ignavo::phrases
