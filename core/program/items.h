#pragma once
#include <string>
#include <vector>

#include "program/vocabulary.h"

// What is typed as a row of things: at the commas, and what people leave out between them.
namespace ignavo {

// At the commas that stand in no quotes and no brackets.
std::vector<std::string> partsOf(const std::string& text);

// The items of a line of the log. Besides commas, the quotes of a text part it from its neighbours,
// with or without "+" or "and" between them, but not where it is compared with something; and
// variables may stand beside each other: "calls" calls berth.
std::vector<std::string> itemsIn(const std::string& typed, const Vocabulary& words);

}  // namespace ignavo
