#pragma once
#include <optional>
#include <string>
#include <vector>

#include "program/names.h"
#include "program/phrases/reader.h"
#include "program/steps.h"

// What people type for a program, forgivingly: steps, ready-made groups, signs of lanes, variables
// and lists. What can be read one way is read; what can be read two ways is asked.
namespace ignavo {

struct Reading {
  Steps steps;                      // one or several
  std::optional<Trigger> lane;      // with `steps` in it, where any were said
  std::optional<ParsedName> named;  // a variable or list
  bool otherwise = false;           // the word between the two ways of a fork
  std::optional<phrases::Question> question;
  std::vector<phrases::Mended> mended;  // slips that were taken as what they are near to

  bool isQuestion() const { return question.has_value(); }
};
Reading readPhrase(const std::string& typed, const Vocabulary& words);
// Typed where only the sign of a lane can stand: what is a test alone, or says "when", is each
// time.
Reading readWhen(const std::string& typed, const Vocabulary& words);

// Steps as people write them down, a line each, indented as in parseSteps. A line that is no
// canonical phrase is read as one that is typed, where it says steps and no slip had to be mended.
ParsedSteps readSteps(const std::string& text, const Vocabulary& words);

// A value, or what is so, as it is typed into a field.
ParsedExpr readValue(const std::string& typed, bool condition, const Vocabulary& words);

// What is done to a value that is there already, as it is typed behind it on a thread: "flips",
// "held for 3 s", "> 50"; "choose 70 if so else 0", where "so" is that value.
ParsedExpr readOperator(const std::string& typed, const Expr& onto, bool condition,
                        const Vocabulary& words);

// What stands under the box while something is typed: a phrase, and what it would do.
struct Offer {
  std::string phrase;
  std::string help;
};
// First what was typed, as it is read; then phrases that begin so. At most `most`.
std::vector<Offer> offersFor(const std::string& typed, const Vocabulary& words, std::size_t most);
// Phrases with what they would do: what hangs on their pin, or for the first of its kind what such
// a step does.
std::vector<Offer> offered(const std::vector<std::string>& phrases, const Vocabulary& words);

}  // namespace ignavo
