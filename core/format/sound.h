#pragma once
#include <optional>

#include "format/project_file.h"

namespace ignavo {

// What a reader would refuse of `now` if it were saved; nothing when it reads back whole. Looks
// only at what `now` does not share with `before`, a project that is sound: an edit costs what it
// changed. Any thread.
std::optional<FileProblem> unsound(const Project& now, const Project& before);

}  // namespace ignavo
