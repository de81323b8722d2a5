#include "program/phrases/reading.h"

#include <algorithm>

#include "program/facts.h"
#include "program/groups.h"
#include "program/phrases/measured.h"
#include "program/pin_words.h"
#include "program/typed.h"
#include "program/words.h"

// First it is read as the phrases that steps are written in; what those leave open is asked. Else
// its words are read for what they speak of, told in such phrases, and those are read.
namespace ignavo {

using phrases::Question;
using typed::lower, typed::trimmed;

namespace {

// Nobody types a longer line; what is longer can only be a text that stands as it is.
constexpr std::size_t longestLine = 400;

Reading asked(Question question) {
  Reading out;
  out.question = std::move(question);
  return out;
}

// The phrase is plain, but is it meant? A button's pin that is set, a lamp whose pin cannot dim.
std::optional<Question> doubtOf(const Step& step, const std::string& typed,
                                const Vocabulary& words) {
  const auto pin = pinWritten(step);
  const PinWords* about = pin ? words.about(*pin) : nullptr;
  if (!about) return std::nullopt;
  Question q;
  q.at = std::min(lower(typed).find(lower(*pin)), typed.size());
  q.length = q.at < typed.size() ? pin->size() : 0;
  // The same step on other pins.
  const auto offer = [&](const std::vector<std::string>& pins) {
    for (const std::string& other : pins) {
      Step changed = step;
      setPinOf(changed, other);
      q.choices.push_back(phraseOf(changed));
    }
  };
  if (about->onlyButtons()) {
    q.problem = stepSay("{} is a button: a pin that is set would work against it. Is a lamp meant?",
                        pinInWords(*pin, words));
    offer(pinsOf(PinPart::Is::lamp, words));
    return q;
  }
  if (stepKind(step.kind)->dims && !about->dims) {
    q.problem = stepSay("{} cannot be dimmed; pins with a ∿ can.", pinInWords(*pin, words));
    offer(dimmable(words));
    return q;
  }
  return std::nullopt;
}

// Gives it a number, whatever its names hold? 0 and 1 say low and high.
bool givesNumber(const Expr& e) {
  if (e.shape == Expr::Shape::number) return e.number != 0 && e.number != 1;
  if (e.shape == Expr::Shape::get && e.text == "var") return false;
  if (e.shape == Expr::Shape::sig && e.text == "choose")
    return std::any_of(e.args.begin() + 1, e.args.end(),
                       [](const auto& way) { return givesNumber(way.second); });
  const ValueType type = typeOf(e);
  return type == ValueType::whole || type == ValueType::real;
}

// A pin that is kept at a number: that bright, or high whenever it is not 0? A percent sign tells.
Reading keptAt(Trigger sign, const std::string& typed, const Vocabulary& words) {
  Reading out;
  const auto row =
      std::find_if(triggerKinds().begin(), triggerKinds().end(),
                   [](const TriggerKind& kind) { return kind.keeps == TriggerKind::Keeps::level; });
  const Expr* kept = keptOf(sign);
  const bool level = triggerKind(sign.on)->keeps != TriggerKind::Keeps::pin;
  if (level || !kept || !givesNumber(*kept)) {
    out.lane = std::move(sign);
    return out;
  }
  Trigger dimmed = newTrigger(*row, sign.pin);
  Expr share = *kept;
  constexpr double fullOfByte = 255;
  if (share.shape == Expr::Shape::number && share.number > 100)
    share.number = std::round(share.number * 100 / fullOfByte);
  dimmed.setField("from", share);
  if (typed.find('%') != std::string::npos) {
    out.lane = std::move(dimmed);
    return out;
  }
  Question q{stepSay("This is a number: as bright as that, or high whenever it is not 0?"),
             0,
             typed.size(),
             {}};
  const PinWords* about = words.about(sign.pin);
  if (!about || about->dims) q.choices.push_back(signOf(dimmed));
  Expr test;
  test.shape = Expr::Shape::op;
  test.text = "≠";
  test.args = {{"a", *kept}, {"b", Expr::of(0.0)}};
  sign.setField("from", std::move(test));
  q.choices.push_back(signOf(sign));
  return asked(std::move(q));
}

// The phrases that are nearest to what was typed.
std::vector<std::string> nearest(const std::string& typed, const Vocabulary& words) {
  const std::string word = lower(typed.substr(0, typed.find(' ')));
  std::vector<std::string> out = completions(word, words);
  if (out.empty() && word.size() > 2) out = completions(word.substr(0, 2), words);
  if (out.size() > 4) out.resize(4);
  return out;
}

// In the phrases that steps are written in; nothing: it is none of them.
std::optional<Reading> readStrictly(const std::string& text, const Vocabulary& words) {
  Reading out;
  if (isOtherwise(text)) {
    out.otherwise = true;
    return out;
  }
  if (auto sign = parseSign(text, words)) return keptAt(std::move(*sign), text, words);
  if (auto named = parseName(text); named && named->problem.empty()) {
    out.named = std::move(named);
    return out;
  }
  if (auto group = parseGroup(text, words)) {
    if (group->steps) {
      for (const Step& step : *group->steps)
        if (auto doubt = doubtOf(step, text, words)) return asked(std::move(*doubt));
      out.steps = std::move(*group->steps);
      return out;
    }
    return asked({group->problem, 0, text.size(), group->choices});
  }
  ParsedStep step = parseStep(text, words);
  if (!step.step) return std::nullopt;
  // A variable that is called like a list is hardly meant.
  if (const auto change = changeOf(*step.step);
      change && !change->list && words.list(change->name) && !words.variable(change->name))
    return std::nullopt;
  if (auto doubt = doubtOf(*step.step, text, words)) return asked(std::move(*doubt));
  if (auto open = phrases::takeLevels(*step.step, text, words)) return asked(std::move(*open));
  out.steps = {std::move(*step.step)};
  return out;
}

// As it is written, but for case and spaces: nothing can be meant but that.
bool isExact(const Reading& reading, const std::string& text) {
  if (reading.question || reading.otherwise || reading.named) return true;
  const auto plain = [](const std::string& s) {
    std::string out;
    for (const char c : lower(s))
      if (!std::isspace(static_cast<unsigned char>(c))) out += c;
    return out;
  };
  if (reading.lane) return plain(signOf(*reading.lane)) == plain(text);
  return reading.steps.size() != 1 || plain(phraseOf(reading.steps.front())) == plain(text);
}

std::string joined(const std::vector<std::string>& lines) {
  std::string out;
  for (const std::string& line : lines) out += line + "\n";
  return out;
}

// By what its words speak of. `whole`: with signs at the end that say nothing, but in a text.
Reading readWords(const std::string& text, const std::string& whole, const Vocabulary& words,
                  bool mends = true) {
  phrases::Tokens tokens = phrases::tokensOf(text, words, mends);
  tokens.typed = whole;
  // "blnik red" is a group, once its slip is mended.
  if (!tokens.mended.empty()) {
    std::string better = text;
    for (auto it = tokens.mended.rbegin(); it != tokens.mended.rend(); ++it)
      better.replace(it->at, it->length, it->word);
    if (auto group = parseGroup(better, words); group && group->steps) {
      Reading out;
      out.steps = std::move(*group->steps);
      out.mended = tokens.mended;
      return out;
    }
  }
  // "flip d4 each time button pressed": the other way round.
  for (std::size_t i = 1; i < tokens.all.size(); ++i)
    if (tokens.all[i].is == phrases::Concept::each &&
        tokens.all.front().is != phrases::Concept::each) {
      const std::string turned =
          text.substr(tokens.all[i].at) + ": " + text.substr(0, tokens.all[i].at);
      if (Reading read = readWords(turned, turned, words, mends); read.lane) return read;
    }
  phrases::PhraseReader signs(tokens, words);
  const auto sign = signs.sign();
  if (signs.question()) return asked(*signs.question());
  if (sign) {
    const auto inside = signs.stepsBehind();
    if (!inside) return asked(*signs.question());
    auto lane = readStrictly(*sign, words);
    if (lane && lane->question) return asked(*lane->question);
    if (!lane || !lane->lane)
      return asked({stepSay("This is not understood."), 0, text.size(), {}});
    lane->steps = parseSteps(joined(*inside), words).steps;
    lane->mended = tokens.mended;
    return std::move(*lane);
  }
  phrases::PhraseReader reader(tokens, words);
  const auto lines = reader.steps();
  if (!lines) {
    Question question = reader.question().value_or(
        Question{stepSay("This is not understood."), 0, text.size(), {}});
    if (question.choices.empty()) question.choices = nearest(text, words);
    return asked(std::move(question));
  }
  ParsedSteps steps = parseSteps(joined(*lines), words);
  if (steps.badLine != 0 || steps.steps.empty())
    return asked({steps.problem, 0, text.size(), nearest(text, words)});
  for (Step& step : steps.steps) {
    if (auto doubt = doubtOf(step, text, words)) return asked(std::move(*doubt));
    if (auto open = phrases::takeLevels(step, text, words)) return asked(std::move(*open));
  }
  Reading out;
  out.steps = std::move(steps.steps);
  out.mended = tokens.mended;
  return out;
}

// What stands behind the signs of a remark; nothing: it is none.
std::optional<std::string> remarkIn(const std::string& text) {
  for (const char* begins : {"//", "#", "/*", "note:", "todo:"}) {
    const std::size_t length = std::char_traits<char>::length(begins);
    if (lower(text).compare(0, length, begins) != 0) continue;
    std::string said = trimmed(text.substr(length));
    if (said.ends_with("*/")) said = trimmed(said.substr(0, said.size() - 2));
    return said;
  }
  return std::nullopt;
}

// Signs at the end that say nothing.
std::string withoutEnd(std::string text) {
  while (text.size() > 1 && std::string(".;!:").find(text.back()) != std::string::npos)
    text = trimmed(text.substr(0, text.size() - 1));
  return text;
}

Reading readLine(std::string text, const Vocabulary& words) {
  if (text.empty())
    return asked({stepSay("Type what should happen, for example: set d13 high"), 0, 0, {}});
  if (const auto said = remarkIn(text)) text = "remark " + *said;
  auto strict = readStrictly(text, words);
  const std::string bare = withoutEnd(text);
  if (!strict) strict = readStrictly(bare, words);
  // A group that is asked about without phrases to choose from may be something else.
  const bool open = strict && strict->question && strict->question->choices.empty();
  if (strict && !open && (strict->lane || isExact(*strict, text))) return std::move(*strict);
  if (bare.size() > longestLine)
    return strict ? std::move(*strict)
                  : asked({stepSay("This is too long for one line."), 0, text.size(), {}});
  Reading spoken = readWords(bare, text, words);
  // Nothing comes of it with its slips mended: a word may be new, and no slip.
  if (spoken.question && !spoken.question->plain)
    if (const auto slips = phrases::tokensOf(bare, words).mended; !slips.empty()) {
      Reading asTyped = readWords(bare, text, words, false);
      const bool aboutSlip =
          asTyped.question &&
          std::any_of(slips.begin(), slips.end(), [&](const phrases::Mended& m) {
            return m.at <= asTyped.question->at && asTyped.question->at < m.at + m.length;
          });
      if (!asTyped.question || aboutSlip) spoken = std::move(asTyped);
    }
  // Only what the words plainly are, or plainly leave open, counts before the strict reading.
  const bool better = !spoken.question || (spoken.question->plain && !open);
  return strict && !better ? std::move(*strict) : std::move(spoken);
}

// What is asked is which pin is meant: the choices are all that was typed, with each of them there;
// a sensor by its name, since its pin alone would be read as high or low.
void chooseAmongPins(Question& question, const std::string& text, const Vocabulary& words) {
  std::vector<std::string> choices;
  if (question.at + question.length > text.size()) return;
  for (const std::string& pin : question.pins) {
    const PinWords* about = words.about(pin);
    const PinPart* sensor = about ? about->part(PinPart::Is::sensor) : nullptr;
    std::string said = text;
    said.replace(question.at, question.length, sensor ? sensor->name : pin);
    const Reading read = readLine(said, words);
    if (read.question || read.named || read.otherwise) return;
    const bool simple =
        read.steps.size() == 1 && textOf(read.steps).find('\n') + 1 == textOf(read.steps).size();
    choices.push_back(simple                            ? phraseOf(read.steps.front())
                      : read.lane && read.steps.empty() ? signOf(*read.lane)
                                                        : said);
  }
  if (!choices.empty()) question.choices = std::move(choices);
}

}  // namespace

Reading readPhrase(const std::string& typed, const Vocabulary& words) {
  Reading out = readLine(trimmed(typed), words);
  if (out.question) chooseAmongPins(*out.question, trimmed(typed), words);
  // Places are those of what was typed.
  const std::size_t shift = std::min(typed.find_first_not_of(" \t\r"), typed.size());
  if (out.question) out.question->at += shift;
  for (phrases::Mended& m : out.mended) m.at += shift;
  return out;
}

Reading readWhen(const std::string& typed, const Vocabulary& words) {
  Reading plain = readPhrase(typed, words);
  if (plain.lane || plain.named) return plain;
  constexpr const char* when = "when ";
  const std::string line = trimmed(typed);
  const std::string test =
      lower(line).starts_with(when) ? line.substr(std::char_traits<char>::length(when)) : line;
  Reading each = readPhrase("each time " + test, words);
  return each.lane ? each : plain;
}

ParsedSteps readSteps(const std::string& text, const Vocabulary& words) {
  return parseSteps(text, words, [&](const std::string& line) {
    Reading read = readPhrase(line, words);
    const bool plain = !read.question && !read.lane && !read.named && read.mended.empty();
    return plain ? std::move(read.steps) : Steps{};
  });
}

ParsedExpr readValue(const std::string& typed, bool condition, const Vocabulary& words) {
  ParsedExpr strict = parseExpr(typed, words);
  if (strict.value || trimmed(typed).empty()) return strict;
  if (typed.size() > longestLine) return strict;
  const phrases::Tokens tokens = phrases::tokensOf(typed, words);
  phrases::PhraseReader reader(tokens, words);
  const auto text = condition ? reader.condition() : reader.value();
  if (text && reader.atEnd())
    if (ParsedExpr read = parseExpr(*text, words); read.value) return read;
  // What is open is said; what is not known, as strictly as it was typed.
  if (reader.question() && reader.question()->plain)
    return {std::nullopt, reader.question()->problem};
  return strict;
}

namespace {

// What kind of thing it is, what that does, and the pin that it is about.
struct Described {
  std::string kind, help, pin;
};
Described described(const std::string& phrase, const Vocabulary& words) {
  if (const auto group = parseGroup(phrase, words))
    return {group->kind->name, group->kind->help, {}};
  if (const auto sign = parseSign(phrase, words)) {
    const TriggerKind* kind = triggerKind(sign->on);
    return {kind->on, kind->help, sign->pin};
  }
  const ParsedStep step = parseStep(phrase, words);
  if (!step.step) return {};
  const StepKind* kind = stepKind(step.step->kind);
  std::string pin = pinWritten(*step.step).value_or("");
  for (const auto& [key, value] : step.step->fields)
    forEachPinRead(value, [&](const std::string& read) {
      if (pin.empty()) pin = read;
    });
  return {kind->kind, kind->help, pin};
}

}  // namespace

std::vector<Offer> offered(const std::vector<std::string>& phrases, const Vocabulary& words) {
  std::vector<Offer> out;
  std::vector<std::string> kinds;
  for (const std::string& phrase : phrases) {
    const Described d = described(phrase, words);
    const PinWords* about = words.about(d.pin);
    const bool seen = std::find(kinds.begin(), kinds.end(), d.kind) != kinds.end();
    kinds.push_back(d.kind);
    std::string help = about && !about->label.empty() ? about->label : seen ? "" : d.help;
    // A sentence of it is enough here.
    if (const std::size_t end = help.find(". "); end != std::string::npos) help.resize(end + 1);
    out.push_back({phrase, std::move(help)});
  }
  return out;
}

std::vector<Offer> offersFor(const std::string& typed, const Vocabulary& words, std::size_t most) {
  std::vector<std::string> out;
  const auto offer = [&](const std::string& phrase) {
    const bool there = std::find(out.begin(), out.end(), phrase) != out.end();
    if (!there && out.size() < most) out.push_back(phrase);
  };
  const std::string text = trimmed(typed);
  if (text.empty()) return {};
  const Reading read = readPhrase(text, words);
  const auto isBare = [](const Step& step) {
    return std::all_of(step.bodies.begin(), step.bodies.end(),
                       [](const auto& body) { return body.second.empty(); });
  };
  if (read.steps.size() == 1 && isBare(read.steps.front()))
    offer(phraseOf(read.steps.front()));
  else if (read.lane)
    offer(signOf(*read.lane));
  for (const std::string& phrase : completions(text, words)) offer(phrase);
  return offered(out, words);
}

}  // namespace ignavo
