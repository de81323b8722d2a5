#pragma once
#include <functional>
#include <map>
#include <string>
#include <utility>
#include <vector>

#include "program/expressions.h"

namespace ignavo {

// What a program's variables and lists are called in C: "my_" and what of their name C can read,
// a number behind it where two would be called alike. Texts are numbers of a table.
class CNames {
 public:
  // `text`: the place of a text in the table.
  explicit CNames(const Program& program, std::function<int(const std::string&)> text = nullptr);

  // In the steps of that own step from now on; null: in lanes.
  void within(const Lane* own);
  // An input of an own step.
  std::string input(const Lane& own, const std::string& name) const;
  int text(const std::string& text) const { return text_ ? text_(text) : 0; }
  // The keys that the program knows, in the order of their table.
  void listenTo(std::vector<std::string> keys) { keys_ = std::move(keys); }
  int key(const std::string& name) const;  // −1: none of them

  const Types& types() const { return types_; }
  std::string variable(const std::string& name) const;  // empty: there is none
  std::string list(const std::string& name) const;      // empty: none, or it has no items
  int length(const std::string& list) const;
  // The lines that declare them.
  std::vector<std::string> declarations() const;

 private:
  const Program& program_;
  std::function<int(const std::string&)> text_;
  std::vector<std::string> keys_;
  Types all_, types_;  // types_: as they are where one writes
  const Lane* within_ = nullptr;
  std::map<std::string, std::string> variables_, lists_;
  std::map<std::pair<const Lane*, std::string>, std::string> inputs_;
};

const char* cType(ValueType type);

}  // namespace ignavo
