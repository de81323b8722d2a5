#include "bench/bench_then.h"

namespace ignavo::app {

namespace {

Project onTablesOf(const Project& now, Project then) {
  const auto put = [](std::vector<BoardItem>& items, const std::vector<BoardItem>& where) {
    for (BoardItem& item : items)
      for (const BoardItem& lies : where)
        if (lies.id == item.id) item.at = lies.at;
  };
  put(then.boards, now.boards);
  put(then.breadboards, now.breadboards);
  return then;
}

}  // namespace

BenchThen::BenchThen(const Project& then, const Project& now, std::set<std::string> notNow)
    : project_(onTablesOf(now, then)),
      circuit_(project_),
      identities_(project_, circuit_.nets(), catalogue()),
      metal_(project_, circuit_),
      notNow_(std::move(notNow)) {}

Scene BenchThen::scene() const {
  Scene out(project_, circuit_.nets(), identities_);
  out.only = &notNow_;
  return out;
}

}  // namespace ignavo::app
