#pragma once
#include <string>

#include "bench/nets.h"
#include "program/vocabulary.h"

namespace ignavo {

// The names that phrases about a board's program may use, with what hangs on each pin.
Vocabulary benchWords(const Project& project, const Nets& nets, const std::string& board);

}  // namespace ignavo
