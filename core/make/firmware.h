#pragma once
#include <functional>
#include <string>

#include "make/program_runner.h"
#include "project/project.h"
#include "text/message.h"

namespace ignavo {

struct Firmware {
  enum class Code {
    done,
    noSuchBoard,
    compilerMissing,
    compilerFailed,
    tooBig,  // for the chip: the sizes say how much; there is no HEX
    cannotWrite,
    cancelled
  };
  Code code = Code::done;
  std::string messages;  // what the compiler said, for the log
  std::string hex;       // Intel HEX
  // What names stand for, from avr-nm, and which address belongs to which line of the text: by
  // avr-addr2line for those that avr-objdump's line table names, with who called what was drawn in.
  std::string symbols, lines;
  int flashBytes = 0, flashMost = 0;
  int ramBytes = 0, ramMost = 0;
  static constexpr int stackBytes = 256;  // of the RAM that variables must leave
};
Message sentence(const Firmware& firmware);

// How a build is followed from outside; each may be left out.
struct BuildWatch {
  enum class Stage { writing, compiling, packing, done };
  std::function<void(Stage)> stage;
  std::function<void(const std::string&)> line;  // that the compiler prints, as it comes
  std::function<bool()> cancelled;               // ends it at once
};

// Compiles a board's program with avr-gcc. Takes about a second. From any thread.
Firmware buildFirmware(const Project& project, const std::string& board, ProgramRunner& runner,
                       const BuildWatch& watch = {});

}  // namespace ignavo
