#pragma once
#include <functional>
#include <string>

#include "project/project.h"

namespace ignavo {

struct Firmware {
  enum class Code { done, noSuchBoard, compilerMissing, compilerFailed, cannotWrite, cancelled };
  Code code = Code::done;
  std::string messages;  // what the compiler said, for the log
  std::string hex;       // Intel HEX
  int flashBytes = 0, flashMost = 0;
  int ramBytes = 0, ramMost = 0;
};
std::string sentence(const Firmware& firmware);

// Compiles a board's program with avr-gcc in a temporary folder. Takes about a
// second; `cancelled` is asked between the stages. Safe to call from any thread.
Firmware buildFirmware(const Project& project, const std::string& board,
                       const std::function<bool()>& cancelled = {});

}  // namespace ignavo
