#pragma once
#include <map>
#include <string>

#include "program/expressions.h"

namespace ignavo {

// What a program's variables and lists are called in C: "my_" and what of their name C can read,
// a number behind it where two would be called alike. Texts are numbers of a table.
class CNames {
 public:
  explicit CNames(const Program& program);

  const Types& types() const { return types_; }
  std::string variable(const std::string& name) const;  // empty: there is none
  std::string list(const std::string& name) const;      // empty: none, or it has no items
  int length(const std::string& list) const;
  // The lines that declare them.
  std::vector<std::string> declarations() const;

 private:
  const Program& program_;
  Types types_;
  std::map<std::string, std::string> variables_, lists_;
};

const char* cType(ValueType type);

}  // namespace ignavo
