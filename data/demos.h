#pragma once
#include <string>
#include <vector>

namespace ignavo {

// A project that ships with the programs.
struct Demo {
  std::string name;  // "landing-beacon"
  std::string text;  // as in the file
};
const std::vector<Demo>& demos();
// By name, in any case, with spaces or hyphens; null if there is none.
const Demo* demo(const std::string& name);

}  // namespace ignavo
