#pragma once
#include <string>

#include "project/project.h"

// One step on its own: tried at once, whatever else the program says.
namespace ignavo {

// What is tried: a step with all that is inside it, or one of its bodies.
struct Trial {
  std::string step;  // id
  std::string body;  // key; empty: the whole step
  // Of the only lane that runs. A new one begins at once in a run that goes on; the same goes on.
  std::string lane;
  bool operator==(const Trial&) const = default;
};

// The same project with a program that does only that, once. All its pins stay what they were, and
// variables, lists and own steps are there: the other lanes stand by as own steps that nothing
// runs. Without such a step the project stays as it is.
Project onlyTrial(Project project, const Trial& trial);

}  // namespace ignavo
