#include "program/phrases/reading.h"
#include "text/plain.h"

// An operator that is typed without what it is done to is read as the phrase that it makes with it:
// before it, behind it, after its first word, or where it says "so".
namespace ignavo {

namespace {

constexpr Say operatorSay("program");

std::vector<std::string> phrasesOf(const std::string& typed, const std::string& onto) {
  std::vector<std::string> out;
  if (const std::size_t so = typed.find(" so "); so != std::string::npos)
    out.push_back(typed.substr(0, so + 1) + onto + typed.substr(so + 3));
  out.push_back(typed + " " + onto);
  out.push_back(onto + " " + typed);
  out.push_back(typed + " on " + onto);
  out.push_back(typed + " of " + onto);
  if (const std::size_t space = typed.find(' '); space != std::string::npos)
    out.push_back(typed.substr(0, space) + " " + onto + typed.substr(space));
  return out;
}

}  // namespace

ParsedExpr readOperator(const std::string& typed, const Expr& onto, bool condition,
                        const Vocabulary& words) {
  const std::string plain = plainLine(typed);
  ParsedExpr out;
  if (!plain.empty())
    for (const std::string& phrase : phrasesOf(plain, "(" + phraseOf(onto) + ")")) {
      out = readValue(phrase, condition, words);
      if (out.value) return out;
    }
  out.problem = operatorSay("“{}” is nothing that can be done to it.", plain);
  return out;
}

}  // namespace ignavo
