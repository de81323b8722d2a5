#pragma once
#include <optional>
#include <string>

#include "project/project.h"
#include "run/input.h"

// What stands on the command line, read and checked against a project.
namespace ignavo::cli {

// Messages for people go to standard error.
void say(const std::string& text);
int bad(const std::string& sentence);  // said; the exit status of wrong use

std::optional<Project> open(const std::string& file);
bool writeFile(const std::string& path, const std::string& text);
std::optional<double> number(const std::string& text);
// The board that was named, or the first.
std::string boardOr(const Project& p, const std::string& wanted);

// "D4=high" or "b1.D4=high" -> board, pin, level.
struct PinLevel {
  std::string board, pin;
  bool high = false;
};
std::optional<PinLevel> pinLevel(const Project& p, const std::string& text);

// "r1.ohms=330" -> part, property, value; checked against the catalogue.
struct PropChange {
  std::string part, key;
  PropValue value;
};
std::optional<PropChange> propChange(const Project& p, const std::string& text);

bool isPressable(const Project& p, const std::string& id);
// "“x” is nothing that can be pressed; these are: btn1, btn2"
std::string notPressable(const Project& p, const std::string& id);

// "press btn1", "set r1.ohms=330", "power off", "pin D4=high", "reset", "key-down space".
std::optional<Input> inputOf(const Project& p, double seconds, const std::string& text);

}  // namespace ignavo::cli
