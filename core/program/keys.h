#pragma once
#include <string>
#include <vector>

namespace ignavo {

// The keys of the computer that a program can listen to, by name: "space", "left", "a", "7".
const std::vector<std::string>& keyNames();
// The name as it stands there; empty: there is no such key.
std::string keyOf(const std::string& typed);

}  // namespace ignavo
