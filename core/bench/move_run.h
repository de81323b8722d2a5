#pragma once
#include <optional>
#include <string>
#include <vector>

#include "bench/arranging.h"

namespace ignavo {

// Moves of one selection, one after the other. Each is worked out from where the
// first began, so that there and back is nothing, even where a wire end had to
// take another hole on the way. Anything else in between begins a new run.
class MoveRun {
 public:
  // The selection moved on by `offset`.
  Arranged next(const Project& project, const Shapes& shapes, const std::vector<std::string>& ids,
                Point offset) const;
  // That move was made; `project` is what it was before.
  void made(const Project& project, const Arranged& move, const std::vector<std::string>& ids,
            Point offset);

 private:
  bool goesOn(const Project& project, const std::vector<std::string>& ids) const {
    return run_ && run_->ids == ids && run_->after == project;
  }
  struct Run {
    std::vector<std::string> ids;
    Project before, after;
    Point total;
  };
  std::optional<Run> run_;
};

}  // namespace ignavo
