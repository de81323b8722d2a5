#pragma once
#include <memory>
#include <string>
#include <vector>

#include "project/project.h"
#include "text/message.h"

namespace ignavo {

// What is known to be amiss with a project, from whoever looked for it (the check): who it is about
// by ids, and where the mend of it is known, the project as it would then be.
struct Fault {
  std::string rule;
  bool isNote = false;             // good to know, no more
  bool ofProgram = false;          // it can be in the steps
  bool darkens = false;            // it can be why something is dark, silent or still
  bool takesPower = false;         // or why a supply gave up
  bool ofInputs = false;           // it is about what is read of a pin
  Message title;                   // no full stop
  Sentences reason;                // whole sentences
  std::vector<std::string> parts;  // ids, the main one first
  std::vector<std::string> pins;   // "D4", or "b2.D4" with several boards
  std::vector<std::string> steps;  // ids of steps and lanes
  std::vector<Socket> sockets;
  std::vector<std::shared_ptr<const Project>> mended;  // by each of its remedies
};

}  // namespace ignavo
