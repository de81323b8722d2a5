#pragma once
#include <set>
#include <string>
#include <vector>

#include "run/snapshot.h"

namespace ignavo {

// Are parts, wires and boards the same, in the same places? Values and names may differ. Where
// nothing was changed it takes as long as there are parts, and less where those are shared.
bool standsAlike(const Project& a, const Project& b);

// Tells moments of one project in the places of another, as it was edited since: parts, boards and
// pins by their ids and names, nets by the holes that they join. What was not there at the moment
// is dark, still and without current; a net that joins what was apart then has no voltage. Its own
// `project` and whatever goes by ids (lanes, values) stay as they are.
class SnapshotMapping {
 public:
  // Takes some milliseconds where they differ in more than values.
  SnapshotMapping(const Project& from, const Project& to);

  // They stand alike: nothing has to be moved.
  bool isIdentity() const { return identity_; }
  // Ids of the boards, breadboards, parts and wires of `to` that did not stand like that at the
  // moment, and of those of `from` that do not stand like that any more. What was moved to other
  // holes is among both.
  const std::set<std::string>& notThen() const { return notThen_; }
  const std::set<std::string>& notNow() const { return notNow_; }
  // A moment of `from`.
  Snapshot mapped(const Snapshot& moment) const;

 private:
  bool identity_ = false;
  // Per place in `to` that in `from`; -1: it was not there.
  std::vector<int> parts_, boards_, pins_, nets_;
  std::set<std::string> notThen_, notNow_;
};

}  // namespace ignavo
