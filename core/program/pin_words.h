#pragma once
#include <optional>
#include <string>
#include <vector>

#include "program/vocabulary.h"

// Which pin words speak of: "d4", "pin 4", "d 4", the name of what hangs on it ("red lamp"), a
// part of that name ("red"), or only its sort ("the lamp").
namespace ignavo {

struct PinsMeant {
  std::string said;               // the words that were taken
  std::vector<std::string> pins;  // several: it could be any of these; none: nothing such is wired
  std::optional<PinPart::Is> is;  // the sort, where only that was said
  bool several = false;           // "lamps": all of them
  bool partly = false;            // only a part of a name was said
};
struct PinWording {
  bool bareNumbers = true;  // "4" alone can be a pin
  bool articles = true;     // "the" before it is left out
};
// Takes such words off the beginning of what was typed; nothing is taken where there are none. A
// sort of part takes in the board's own lamp only where no other is wired.
std::optional<PinsMeant> takePin(std::string& rest, const Vocabulary& words,
                                 PinWording wording = {});
// The words that say a sort of part.
std::vector<std::string> sortWords();
// The pins that parts of that sort hang on.
std::vector<std::string> pinsOf(PinPart::Is is, const Vocabulary& words);
// Pins that can be dimmed, those with a lamp or motor first; a few of them.
std::vector<std::string> dimmable(const Vocabulary& words);
// "D4 · Red lamp", or "D4".
std::string pinInWords(const std::string& pin, const Vocabulary& words);

}  // namespace ignavo
