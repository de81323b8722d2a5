#pragma once
#include <optional>
#include <string>

#include "make/firmware.h"
#include "parts/catalogue.h"
#include "run/chip_program.h"
#include "text/message.h"

namespace ignavo {

// A firmware that was made of a board's program, as that board runs it: with what is known of where
// its steps and variables are.
ChipProgram chipProgramOf(const Project& project, const std::string& board,
                          const Firmware& firmware);

// HEX from elsewhere: only its pins can be seen. What is wrong with it is said.
struct ForeignProgram {
  std::optional<ChipProgram> program;
  Message problem;
};
ForeignProgram foreignProgram(const BoardKind& board, const std::string& hex);

}  // namespace ignavo
