#include "format/wiring_words.h"

#include <algorithm>
#include <cctype>

#include "text/plain.h"

namespace ignavo::wiring {

std::string lower(std::string text) {
  std::transform(text.begin(), text.end(), text.begin(),
                 [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
  return text;
}

Words::Words(const std::string& line, bool completing) : line_(line), completing_(completing) {
  const auto space = [](char c) { return c == ' ' || c == '\t' || c == '\r' || c == ','; };
  std::size_t i = 0;
  while (i < line.size()) {
    if (space(line[i])) {
      ++i;
      continue;
    }
    Word word;
    word.column = i;
    if (line[i] == '"') {
      word.quoted = true;
      std::string inside;
      for (++i; i < line.size() && line[i] != '"'; ++i) {
        const char next = line[i] == '\\' && i + 1 < line.size() ? line[i + 1] : 0;
        if (next == '"' || next == '\\' || next == 'n') ++i;
        inside += next == 'n' ? '\n' : line[i];
      }
      if (i < line.size()) ++i;
      word.text = plainLine(inside);
      word.lines = plainText(inside);
    } else {
      while (i < line.size() && !space(line[i])) ++i;
      word.text = line.substr(word.column, i - word.column);
    }
    word.length = i - word.column;
    word.lower = lower(word.text);
    words_.push_back(std::move(word));
  }
  open_ = !line.empty() && !space(line.back());
}

bool Words::accept(const std::string& phrase, const char* means) {
  if (completing_) offer(phrase, say(means));
  return take(phrase);
}

bool Words::accept(const std::string& phrase, const std::string& name) {
  if (completing_) offer(phrase, name);
  return take(phrase);
}

bool Words::take(const std::string& phrase) {
  const Words wanted(phrase);
  for (std::size_t k = 0; k < wanted.words_.size(); ++k) {
    const Word* word = peek(k);
    if (!word || word->quoted || word->lower != lower(wanted.words_[k].text)) return false;
  }
  at_ += wanted.words_.size();
  return true;
}

void Words::offer(const std::string& phrase, const Message& means) {
  if (!completing_) return;
  // Possible when the line ends here, or in the middle of such a phrase.
  const std::size_t from = at_ < words_.size() ? words_[at_].column : line_.size();
  const std::string begun = lower(line_.substr(std::min(from, line_.size())));
  if (at_ >= words_.size() && open_) return;  // a space is missing first
  if (!lower(phrase).starts_with(begun) || begun.size() == phrase.size()) return;
  const std::string whole = line_.substr(0, std::min(from, line_.size())) + phrase;
  if (std::none_of(offers_.begin(), offers_.end(), [&](auto& c) { return c.line == whole; }))
    offers_.push_back({whole, means});
}

std::string Words::rest() const {
  return atEnd() ? std::string() : line_.substr(words_[at_].column);
}

std::string Words::takeRest() {
  if (atEnd()) return {};
  std::string text = peek()->quoted ? peek()->text : rest();
  at_ = words_.size();
  return plainLine(text);
}

std::string Words::takeRestInLines() {
  const bool quoted = !atEnd() && peek()->quoted;
  std::string lines = quoted ? peek()->lines : std::string();
  std::string text = takeRest();
  return quoted ? lines : text;
}

void Words::fail(Message message) { failAt(at_, std::move(message)); }

void Words::failAt(std::size_t position, Message message) {
  if (problem_) return;
  if (position < words_.size())
    problem_ = TypedProblem{words_[position].column, words_[position].length, std::move(message)};
  else
    problem_ = TypedProblem{line_.size(), 0, std::move(message)};
}

}  // namespace ignavo::wiring
