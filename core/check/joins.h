#pragma once
#include <optional>
#include <string>
#include <vector>

#include "check/finding.h"

// Things that metal alone joins (holes of a strip, wires, legs that are always joined), and
// the wires that do it.
namespace ignavo {

// The wires on the shortest way from any of some sockets to any of others, as indices of
// Project::wires. Empty when there is no such way, and when no wire is needed for it.
std::vector<int> joiningWires(const Project& project, const std::vector<Socket>& from,
                              const std::vector<Socket>& to);

namespace remedies {

// Takes wires out, three at most, until the two are not joined any more. Of the wires on the
// way it takes the one that leaves the rails to their sign and the fewest legs without a
// pin; of equals the one that was laid last. Nothing: no wires would do.
std::optional<Remedy> takeOut(const Project& project, const std::vector<Socket>& from,
                              const std::vector<Socket>& to);

}  // namespace remedies
}  // namespace ignavo
