#include "bench/move_run.h"

namespace ignavo {

Arranged MoveRun::next(const Project& project, const Shapes& shapes,
                       const std::vector<std::string>& ids, Point offset) const {
  if (goesOn(project, ids)) {
    const Point total = run_->total + offset;
    if (total == Point{}) return {run_->before, {}, ids};
    Arranged whole = moved(run_->before, shapes, ids, total);
    if (whole.clear()) return whole;
  }
  return moved(project, shapes, ids, offset);
}

void MoveRun::made(const Project& project, const Arranged& move,
                   const std::vector<std::string>& ids, Point offset) {
  if (goesOn(project, ids)) {
    run_->after = move.project;
    run_->total = run_->total + offset;
  } else {
    run_ = Run{ids, project, move.project, offset};
  }
}

}  // namespace ignavo
