#pragma once
#include <string>
#include <vector>

#include "program/phrase.h"
#include "program/steps.h"

// Fields along a phrase: of steps and of lane signs.
namespace ignavo {

// Takes several words off the beginning, in any case; nothing is taken where they do not stand
// there.
bool takeWords(std::string& rest, std::string words);
std::string takeWord(std::string& rest);
// Takes the first word off where it is one of these.
bool dropWord(std::string& rest, std::initializer_list<const char*> words);
// Where those words stand in a text, outside of quotes; behind `from`.
std::size_t findWords(const std::string& text, const std::string& words, std::size_t from);

// What stands in one field, as text. `inputs`: of the own step that is given them.
ParsedExpr parseSlotText(const SlotKind& slot, const std::string& typed, const Vocabulary& words,
                         const std::vector<std::string>& inputs = {});

// The fields along the pieces of a phrase from `at` on; what is wrong, or an empty message.
Message readFields(const std::vector<SlotKind>& slots, const std::vector<PhrasePiece>& pieces,
                   std::size_t at, std::string rest, const Vocabulary& words, Fields& fields);

}  // namespace ignavo
