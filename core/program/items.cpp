#include "program/items.h"

#include <initializer_list>
#include <utility>

#include "program/read_fields.h"
#include "program/typed.h"

namespace ignavo {

using typed::lower, typed::trimmed, typed::unquoted;

std::vector<std::string> partsOf(const std::string& text) {
  std::vector<std::string> out{{}};
  bool quoted = false;
  int brackets = 0;
  for (std::size_t i = 0; i < text.size(); ++i) {
    const char c = text[i];
    if (c == '"' && (i == 0 || text[i - 1] != '\\')) quoted = !quoted;
    if (!quoted) brackets += c == '(' ? 1 : c == ')' ? -1 : 0;
    if (c == ',' && !quoted && brackets <= 0)
      out.emplace_back();
    else
      out.back() += c;
  }
  for (std::string& part : out) part = trimmed(part);
  return out;
}

namespace {

// What stands in quotes, and what does not, outside of brackets. A name in quotes is as one
// without.
struct Piece {
  std::string text;
  bool quoted;
};
std::vector<Piece> piecesOf(const std::string& text, const Vocabulary& words) {
  std::vector<Piece> out{{{}, false}};
  int brackets = 0;
  for (std::size_t i = 0; i < text.size(); ++i) {
    std::size_t end = text[i] == '"' ? i + 1 : std::string::npos;
    while (end < text.size() && text[end] != '"') end += text[end] == '\\' ? 2 : 1;
    if (end >= text.size()) {
      brackets += text[i] == '(' ? 1 : text[i] == ')' ? -1 : 0;
      out.back().text += text[i];
      continue;
    }
    const std::string quoted = text.substr(i, end - i + 1);
    const std::string name = unquoted(quoted);
    if (brackets > 0 || words.variable(name) || words.list(name))
      out.back().text += quoted;
    else
      out.push_back({quoted, true}), out.push_back({{}, false});
    i = end;
  }
  return out;
}

// Takes one of these from the beginning or end of a text.
bool takeFirst(std::string& text, std::initializer_list<const char*> words) {
  for (const std::string word : words)
    if (lower(text + " ").starts_with(word)) {
      text = trimmed(text.substr(std::min(word.size(), text.size())));
      return true;
    }
  return false;
}
bool takeLast(std::string& text, std::initializer_list<const char*> words) {
  for (const std::string word : words)
    if (lower(" " + text).ends_with(word)) {
      text = trimmed((" " + text).substr(0, text.size() + 1 - word.size()));
      return true;
    }
  return false;
}

// "berth calls": variables beside each other.
std::vector<std::string> namesIn(const std::string& item, const Vocabulary& words) {
  std::vector<std::string> out;
  std::string rest = item;
  while (!trimmed(rest).empty()) {
    out.push_back(takeWord(rest));
    if (!words.variable(out.back())) return {item};
  }
  return out;
}

}  // namespace

std::vector<std::string> itemsIn(const std::string& typed, const Vocabulary& words) {
  std::vector<std::string> out;
  for (const std::string& part : partsOf(typed)) {
    std::string current;
    bool behindText = false;
    for (const Piece& piece : piecesOf(part, words)) {
      std::string text = trimmed(piece.text);
      if (!piece.quoted) {
        std::string rest = text;
        if (behindText && takeFirst(rest, {"=", "≠", "!=", "<", ">", "≤", "≥", "is "}))
          current = out.back() + " " + text, out.pop_back();
        else if (behindText && takeFirst(text, {"+", "and "}))
          current = text;
        else
          current += (current.empty() ? "" : " ") + text;
        behindText = false;
        continue;
      }
      std::string before = current;
      if (takeLast(before, {"=", "≠", "<", ">", "≤", "≥", " is", " not"})) {
        current += " " + text;
        continue;
      }
      takeLast(current, {"+", " and"});
      if (!current.empty()) out.push_back(std::exchange(current, {}));
      out.push_back(text);
      behindText = true;
    }
    if (!current.empty()) out.push_back(current);
  }
  std::vector<std::string> all;
  for (const std::string& item : out)
    for (const std::string& name : namesIn(item, words)) all.push_back(name);
  return all;
}

}  // namespace ignavo
