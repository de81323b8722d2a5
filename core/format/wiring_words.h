#pragma once
#include <optional>
#include <string>
#include <vector>

#include "format/wiring_language.h"

namespace ignavo::wiring {

// Makes the messages of the wiring language.
inline constexpr Say say("wiring");

// A word of a typed line; text in quotation marks is one word.
struct Word {
  std::string text;
  std::string lower;
  std::size_t column = 0;
  std::size_t length = 0;  // in the line, marks included
  bool quoted = false;
  std::string lines;  // of one in quotation marks: with the line breaks that stand in it as \n
};

// Reads a line from left to right and notes what could have stood where the
// line ends, for completion.
class Words {
 public:
  // `completing`: offers are wanted. Working them out takes much longer than reading.
  explicit Words(const std::string& line, bool completing = false);
  bool completing() const { return completing_; }

  bool atEnd() const { return at_ >= words_.size(); }
  const Word* peek(std::size_t ahead = 0) const {
    return at_ + ahead < words_.size() ? &words_[at_ + ahead] : nullptr;
  }
  const Word& take() { return words_[at_++]; }
  std::size_t position() const { return at_; }
  void back(std::size_t position) { at_ = position; }
  // Takes a word, or several ("light sensor"), if they stand next; notes them else. What they mean:
  // words to be translated, or a name.
  bool accept(const std::string& phrase) { return accept(phrase, ""); }
  bool accept(const std::string& phrase, const char* means);
  bool accept(const std::string& phrase, const std::string& name);
  // Notes what could stand here.
  void offer(const std::string& phrase, const Message& means = {});
  // All that is left, as it was typed.
  std::string rest() const;
  // The same, taken; one in quotation marks without them.
  std::string takeRest();
  std::string takeRestInLines();  // that may be of several lines

  void fail(Message message);  // at the next word
  void failAt(std::size_t position, Message message);
  const std::optional<TypedProblem>& problem() const { return problem_; }
  const std::vector<Completion>& offers() const { return offers_; }

 private:
  bool take(const std::string& phrase);

  std::string line_;
  std::vector<Word> words_;
  std::size_t at_ = 0;
  bool completing_ = false;
  bool open_ = false;  // the last word may go on: no space behind it
  std::optional<TypedProblem> problem_;
  std::vector<Completion> offers_;
};

std::string lower(std::string text);

}  // namespace ignavo::wiring
