#include "program/keys.h"

#include "program/typed.h"

namespace ignavo {

const std::vector<std::string>& keyNames() {
  static const std::vector<std::string> names = [] {
    std::vector<std::string> out = {"space", "return", "left", "right", "up", "down"};
    for (char c = 'a'; c <= 'z'; ++c) out.emplace_back(1, c);
    for (char c = '0'; c <= '9'; ++c) out.emplace_back(1, c);
    return out;
  }();
  return names;
}

std::string keyOf(const std::string& typed) {
  for (const std::string& name : keyNames())
    if (name == typed::lower(typed)) return name;
  if (typed == "␣" || typed == " ") return "space";
  return typed::lower(typed) == "enter" ? "return" : std::string();
}

}  // namespace ignavo
