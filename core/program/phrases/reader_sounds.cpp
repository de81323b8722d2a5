#include <algorithm>
#include <array>
#include <cmath>

#include "program/expressions.h"
#include "program/phrases/reader.h"
#include "program/pin_words.h"
#include "program/words.h"

// Tones, notes and the angles of arms.
namespace ignavo::phrases {

using C = Concept;

namespace {

// "a4", "c#5", "bb3": hertz, with A4 at 440; nothing where it is no note.
std::optional<double> noteOf(const std::string& word) {
  static constexpr std::array<int, 7> steps = {9, 11, 0, 2, 4, 5, 7};  // of a … g, above c
  if (word.size() < 2 || word.size() > 3) return std::nullopt;
  const char letter = static_cast<char>(std::tolower(static_cast<unsigned char>(word[0])));
  if (letter < 'a' || letter > 'g') return std::nullopt;
  int step = steps[static_cast<std::size_t>(letter - 'a')];
  if (word.size() == 3) {
    if (word[1] != '#' && word[1] != 'b') return std::nullopt;
    step += word[1] == '#' ? 1 : -1;
  }
  const char octave = word.back();
  if (octave < '2' || octave > '8') return std::nullopt;
  return std::round(440 * std::pow(2.0, (step - 9) / 12.0 + (octave - '4')) * 10) / 10;
}

}  // namespace

// "beep", "tone 440", "play a4 for 1 s", "ring the bell twice".
std::optional<PhraseReader::Lines> PhraseReader::toneStatement() {
  // "note "done"": one to read.
  if (peek() && peek()->text == "note" && is(C::text, 1)) return sayStatement("post");
  const bool beeps = peek() && peek()->is == C::tone &&
                     (peek()->text.find("eep") != std::string::npos || peek()->text == "chirp" ||
                      peek()->text == "honk");
  take(C::set);
  take(C::tone);
  while (is(C::tone)) ++at_;  // "beep beep"
  std::optional<std::string> hertz, pin, seconds;
  std::vector<std::size_t> notes;
  double times = 0;
  while (!atEnd()) {
    // "for 0.1": a time, though no unit says so.
    if (isSign("for") && is(C::number, 1) && !isUnit(2) && !seconds) {
      seconds = numberText(peek(1)->value);
      at_ += 2;
      continue;
    }
    const bool there = is(C::on);  // "on d4": a pin, not a note
    skip({C::of, C::to, C::on, C::inTurn, C::sound, C::into});
    if (atEnd() || is(C::then) || isSign(",")) break;
    const Token* t = peek();
    const bool sounds = t->is == C::pin && t->pins.size() == 1 &&
                        (part(t->pins.front(), Is::sounder) || part(t->pins.front(), Is::buzzer));
    if (const auto note = noteOf(t->text); note && !hertz && !sounds && !there) {
      // "a4" is a pin as well.
      if (t->is == C::pin) notes.push_back(at_);
      hertz = numberText(*note);
      ++at_;
    } else if (t->is == C::pin) {
      const auto one = onePin(*t, [](const std::string& p) { return "tone of 440 Hz on " + p; });
      if (!one) return std::nullopt;
      pin = one;
      ++at_;
    } else if (t->is == C::number && is(C::times, 1) && times == 0) {
      times = t->value;
      at_ += 2;
    } else if (t->is == C::number && t->text == "twice") {
      times = 2;
      ++at_;
    } else if (t->is == C::number &&
               (is(C::seconds, 1) || is(C::milliseconds, 1) || is(C::minutes, 1))) {
      const auto time = duration();
      seconds = numberText(time.value_or(0));
    } else if ((t->is == C::half || t->is == C::seconds) && !seconds) {
      const auto time = duration();
      if (!time) return unknown();
      seconds = numberText(*time);
    } else if (!hertz) {
      const Beginning head(said_, "tone of ");
      hertz = value({C::hertz, C::kilohertz});
      if (!hertz) return std::nullopt;
    } else if (!seconds) {
      seconds = value({C::seconds, C::milliseconds, C::minutes});
      if (!seconds) return std::nullopt;
    } else {
      return unknown();
    }
  }
  if (!pin) {
    const std::string tone = "tone of " + hertz.value_or("440") + " Hz on ";
    pin = onlyOf(Is::sounder, "sounder", [&](const std::string& p) { return tone + p; });
    if (!pin) return std::nullopt;
  }
  const std::string tail = seconds ? " for " + *seconds + " s" : "";
  if (!notes.empty())
    return failAt(notes.front(), stepSay("The note, or the pin?"),
                  {"tone of " + *hertz + " Hz on " + *pin + tail,
                   "tone of 1000 Hz on " + tokens_[notes.front()].pins.front() + tail});
  if (const PinPart* buzzer = part(*pin, Is::buzzer); buzzer && !hertz) {
    // It has a pitch of its own: it is switched on, and off again.
    Lines out{"set " + *pin + (buzzer->whenLow ? " low" : " high")};
    out.push_back("wait " + seconds.value_or("0.2") + " s");
    out.push_back("set " + *pin + (buzzer->whenLow ? " high" : " low"));
    return out;
  }
  if (!seconds && (beeps || !hertz)) seconds = "0.2";  // a beep is short
  Lines out{"tone of " + hertz.value_or("1000") + " Hz on " + *pin +
            (seconds ? " for " + *seconds + " s" : "")};
  if (times > 0) {
    out[0] = "  " + out[0];
    out.insert(out.begin(), "repeat " + numberText(times) + " times");
    out.push_back("  wait 0.2 s");
  }
  return out;
}

std::optional<PhraseReader::Lines> PhraseReader::silenceStatement() {
  ++at_;
  skip({C::of, C::on, C::into, C::sound});
  if (is(C::pin)) {
    const Beginning head(said_, "silence ");
    const auto pins = pinList();
    if (!pins) return std::nullopt;
    Lines out;
    for (const std::string& pin : *pins) out.push_back("silence " + pin);
    return out;
  }
  const auto pin =
      onlyOf(Is::sounder, "sounder", [](const std::string& p) { return "silence " + p; });
  return pin ? std::optional<Lines>(Lines{"silence " + *pin}) : std::nullopt;
}

std::optional<PhraseReader::Lines> PhraseReader::turnStatement() {
  ++at_;
  skip({C::to, C::of, C::on});
  std::optional<std::string> pin;
  if (is(C::pin)) {
    pin = onePin(*peek(), [](const std::string& p) { return "turn servo on " + p + " to 90 °"; });
    if (!pin) return std::nullopt;
    ++at_;
  }
  if (!pin) {
    pin = onlyOf(Is::arm, "arm",
                 [](const std::string& p) { return "turn servo on " + p + " to 90 °"; });
    if (!pin) return std::nullopt;
  }
  return angle(*pin);
}

std::optional<PhraseReader::Lines> PhraseReader::angle(const std::string& pin) {
  skip({C::to, C::of, C::equal, C::by});
  const std::string head = "turn servo on " + pin + " to ";
  if (atEnd() || is(C::open))
    return fail(stepSay("To which angle? An arm turns from 0 to 180 °."),
                {head + "0 °", head + "90 °", head + "180 °"});
  const std::size_t from = at_;
  const double number = is(C::number) ? peek()->value : 0;
  if (take(C::half)) return Lines{head + "90 °"};
  std::optional<std::string> degrees;
  {
    const Beginning words(said_, head);
    degrees = value({C::degrees});
  }
  if (!degrees) return std::nullopt;
  if (number > 180)
    return failAt(from, stepSay("An arm turns from 0 to 180 °."), {head + "180 °", head + "90 °"});
  const bool written = degrees->find_first_not_of("0123456789.") == std::string::npos;
  return Lines{head + *degrees + (written ? " °" : "")};
}

}  // namespace ignavo::phrases
