#pragma once
#include <optional>
#include <string>

#include "format/input_language.h"

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

// "“x” is nothing that can be pressed; these are: btn1, btn2"
std::string notPressable(const Project& p, const std::string& id);

// What happens then, as format/input_language.h has it.
std::optional<Input> inputOf(const Project& p, double seconds, const std::string& text);

}  // namespace ignavo::cli
