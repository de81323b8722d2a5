#pragma once
#include <map>
#include <set>
#include <string>
#include <vector>

#include "project/project.h"

namespace ignavo {

// What a copy does where the lanes of the original do more than that: right behind each step that
// sets one of these pins (`pins`: from the one to the other) stands the same for the copy's pin, so
// that both do it together. A lane that keeps such a pin at something gets one beside it. What
// holds its lane for a time is not done twice. `done`: ids of lanes that came along whole.
struct StepsBeside {
  Project project;
  std::vector<std::string> steps;  // ids of those that were added
  std::vector<std::string> lanes;
};
StepsBeside withStepsBeside(Project project, const std::string& board,
                            const std::map<std::string, std::string>& pins,
                            const std::set<std::string>& done);

}  // namespace ignavo
