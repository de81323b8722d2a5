#include "project/history.h"

namespace ignavo {

void History::reset(Project start) {
  entries_.clear();
  entries_.push_back({{}, std::move(start), {}});
  at_ = 0;
  saved_ = 0;
}

bool History::push(std::string name, Project next, const std::string& mergeKey) {
  if (next == now()) return false;
  if (saved_ > static_cast<std::ptrdiff_t>(at_)) saved_ = -1;
  entries_.erase(entries_.begin() + static_cast<std::ptrdiff_t>(at_) + 1, entries_.end());
  const bool merge = !mergeKey.empty() && at_ > 0 && entries_[at_].mergeKey == mergeKey;
  if (merge) {
    if (isSaved()) saved_ = -1;
    entries_[at_].project = std::move(next);
    entries_[at_].name = std::move(name);  // what it came to in the end
  } else {
    entries_.push_back({std::move(name), std::move(next), mergeKey});
    ++at_;
  }
  return true;
}

bool History::undo() {
  if (!canUndo()) return false;
  sealMerge();
  --at_;
  return true;
}

bool History::redo() {
  if (!canRedo()) return false;
  ++at_;
  return true;
}

}  // namespace ignavo
