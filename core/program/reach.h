#pragma once
#include <cstdint>
#include <string>
#include <vector>

#include "program/compiled.h"

namespace ignavo {

// Output vectors: how a few output pins can stand together. Bit k is pin k, set: high.
struct OutputGroup {
  std::vector<std::string> pins;
  bool any = false;  // nothing could be proved: every vector may occur
  // Vectors that can last for a millisecond or more, or that come again and again
  // without such a rest; what is only passed through is none. Sorted.
  std::vector<std::uint32_t> vectors;
  std::vector<std::uint32_t> lasting;  // those of them that last
};

// Which levels a program can give its outputs. Pins that different lanes set are
// in different groups, and all combinations of their ways may occur. Never
// leaves out such a way: every condition may go either way at any time
// (a collecting semantics over program place and output levels).
std::vector<OutputGroup> outputGroups(const CompiledProgram& program);

}  // namespace ignavo
