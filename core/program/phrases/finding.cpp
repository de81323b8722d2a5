#include "program/phrases/finding.h"

#include <regex>

namespace ignavo {

ParsedExpr readFind(const std::string& typed, const Vocabulary& words) {
  constexpr auto loose = std::regex::icase | std::regex::ECMAScript;
  // What is said of both holds for each.
  static const std::regex both(
      "^(.+?) and (.+?) (?:are )?both (high|low|on|off|lit|dark|pressed)\\b", loose);
  static const std::regex longer("\\b(?:for )?(?:longer|more) than\\b", loose);
  static const std::regex first("^(?:when|find when|the first time(?: that)?) ", loose);
  std::string text = std::regex_replace(typed, first, "");
  text = std::regex_replace(text, both, "$1 is $3 and $2 is $3");
  text = std::regex_replace(text, longer, "held for");
  return readValue(text, true, words);
}

}  // namespace ignavo
