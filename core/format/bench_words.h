#pragma once
#include <string>

#include "bench/nets.h"
#include "program/vocabulary.h"

namespace ignavo {

// The names that phrases about a board's program may use, with what hangs on each pin.
Vocabulary benchWords(const Project& project, const Nets& nets, const std::string& board);
// The same for whoever looks through a run (run/find_when.h): there a lamp stands for itself, not
// for a pin that it hangs on: its id is named where steps name a pin.
Vocabulary findWords(const Project& project, const Nets& nets, const std::string& board);

}  // namespace ignavo
