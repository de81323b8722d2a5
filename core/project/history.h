#pragma once
#include <string>
#include <vector>

#include "project/project.h"

namespace ignavo {

// Unlimited undo: the list of earlier projects. They share what did not change.
class History {
 public:
  explicit History(Project start = {}) { reset(std::move(start)); }

  void reset(Project start);
  const Project& now() const { return entries_[at_].project; }
  // Adds an edit named as people say it ("turn Red lamp"). An edit that changes
  // nothing is not recorded. Edits with the same non-empty `mergeKey` that
  // follow each other become one (a number typed digit by digit).
  bool push(std::string name, Project next, const std::string& mergeKey = {});
  void sealMerge() { entries_[at_].mergeKey.clear(); }

  bool canUndo() const { return at_ > 0; }
  bool canRedo() const { return at_ + 1 < entries_.size(); }
  // Name of the edit that undo would take back / redo would do again.
  std::string undoName() const { return canUndo() ? entries_[at_].name : std::string(); }
  std::string redoName() const { return canRedo() ? entries_[at_ + 1].name : std::string(); }
  bool undo();
  bool redo();

  void markSaved() { saved_ = static_cast<std::ptrdiff_t>(at_); }
  bool isSaved() const { return saved_ == static_cast<std::ptrdiff_t>(at_); }

 private:
  struct Entry {
    std::string name;
    Project project;
    std::string mergeKey;
  };
  std::vector<Entry> entries_;
  std::size_t at_ = 0;
  std::ptrdiff_t saved_ = 0;  // -1: the saved state can no longer be reached
};

}  // namespace ignavo
