#pragma once
#include <string>
#include <vector>

#include "program/expressions.h"
#include "project/edits.h"

// What a program has by name: variables and lists.
namespace ignavo {

// Can a variable or list be called so? Letters of any kind, no control characters, not empty.
bool isName(const std::string& name);

// Variables that steps give a value but that nothing declares are declared, beginning with 0.
Project declareNames(Project project, const std::string& board);

// "variable berth is 0", "list levels is 90, 70, 50": how they are written as text, and read.
std::string textOf(const Variable& variable);
std::string textOf(const NumberList& list);
struct ParsedName {
  std::optional<Variable> variable;
  std::optional<NumberList> list;
  Message problem;  // where neither could be read
};
// Nothing where the line begins otherwise. "levels = 90, 70, 50" is a list as well.
std::optional<ParsedName> parseName(const std::string& line);
// Declared, or given what it begins with anew.
Project withName(Project project, const std::string& board, const ParsedName& name);

// Another name for a variable or list, wherever it is used.
Project renameVariable(Project project, const std::string& board, const std::string& from,
                       const std::string& to);
Project renameList(Project project, const std::string& board, const std::string& from,
                   const std::string& to);
// Is it read, and is it changed, anywhere in the program?
struct NameUse {
  bool read = false, changed = false;
};
NameUse useOfVariable(const Program& program, const std::string& name);
NameUse useOfList(const Program& program, const std::string& name);

}  // namespace ignavo
