#pragma once
#include <set>
#include <string>
#include <vector>

#include "make/c_lines.h"
#include "make/chips.h"

namespace ignavo {

// The serial line to the computer: what is said goes out, keys come in (docs/serial.md). `used`:
// the functions that lanes call; `texts`: what variables and lines hold.
void writeLine(CLines& out, const Chip& chip, const std::vector<std::string>& keys,
               const std::set<std::string>& used, const std::vector<std::string>& texts);
// A text as C writes it, in quotes: nothing of it can end the string or start something else.
std::string cString(const std::string& text);

}  // namespace ignavo
