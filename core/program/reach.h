#pragma once
#include <cstdint>
#include <string>
#include <vector>

#include "program/compiled.h"

namespace ignavo {

// Ways in which a few output pins can stand together. Bit k of a way is pin k, set: high.
struct OutputGroup {
  std::vector<std::string> pins;
  bool any = false;                  // nothing could be proved: every way may occur
  std::vector<std::uint32_t> ways;   // that the program can produce, however briefly; sorted
  std::vector<std::uint32_t> lasts;  // those of them that can last for a millisecond or more
};

// Which levels a program can give its outputs. Pins that different lanes set are
// in different groups, and all combinations of their ways may occur. Never
// leaves out a way that can occur: every condition may go either way at any time
// (a collecting semantics over program place and output levels).
std::vector<OutputGroup> outputGroups(const CompiledProgram& program);

}  // namespace ignavo
