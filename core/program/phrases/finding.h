#pragma once
#include <string>

#include "program/phrases/reading.h"

namespace ignavo {

// What is looked for in a trace, as it is typed: a condition as in a step, and what one says of a
// trace besides: "D4 and D5 both high", "red lamp lit longer than 2 s".
ParsedExpr readFind(const std::string& typed, const Vocabulary& words);

}  // namespace ignavo
