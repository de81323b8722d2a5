#pragma once
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "bench/arranging.h"

namespace ignavo {

// Parts that are copied bring along what they do: the wires that lead from their rows to pins of a
// board, and of its program the lanes that have to do with these pins and no others. Lanes that
// run own steps stay. What stands there already, as after a cut, is not added once more. Beside the
// original, what other lanes do to its pins they do to those of the copy as well.

// A fragment for pasted(), and to be kept as text: parts, wires and programs.
Project copiedWithSteps(const Project& project, const std::vector<std::string>& ids);

struct PastedSteps {
  Arranged arranged;  // as of pasted(); pins and steps are there where all else has its place
  // Pins that it hung on, and those that it hangs on now: the same where it is free, else the next
  // free one that can do as much.
  std::map<Socket, std::string> pins;
  std::vector<std::string> lanes;  // ids of those that came along
  std::vector<std::string> steps;  // … of those that were added to lanes that do more
  std::vector<std::string> left;   // pins for which there is no free one: their lanes stay out
};
// Onto the first board of the project, or the one of that id.
PastedSteps pastedWithSteps(const Project& project, const Project& fragment,
                            const std::string& board, std::optional<Point> at = std::nullopt);

}  // namespace ignavo
