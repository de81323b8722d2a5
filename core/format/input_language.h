#pragma once
#include <optional>
#include <string>

#include "project/project.h"
#include "run/input.h"

// What comes from outside a run, as it is written: on the command line, and in a recording that a
// project keeps.
namespace ignavo {

// "D4=high", "b1.D4=30%", "D4=free": of the first board where none is named.
struct PinChange {
  std::string board, pin;
  std::optional<double> percent;  // 0 low, 100 high; nothing: it is let go
};
std::optional<PinChange> pinChange(const Project& project, const std::string& text);

// "r1.ohms=330": checked against the catalogue.
struct PropChange {
  std::string part, key;
  PropValue value;
};
std::optional<PropChange> propChange(const Project& project, const std::string& text);

bool isPressable(const Project& project, const std::string& part);

// "press btn1", "release btn1", "set ldr1.light=20", "key-down space", "key-up space",
// "pin D4=30%", "reset", "reset b1", "power off b1", "power on". Of a project in which it can
// happen; its time is 0.
std::optional<Input> readInput(const Project& project, const std::string& text);
// The same back, with ids written out; empty for what is none of these: an edit, a new part.
std::string inputText(const Input& input);

}  // namespace ignavo
