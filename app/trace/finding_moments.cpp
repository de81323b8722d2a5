#include "trace/finding_moments.h"

#include <algorithm>
#include <utility>

#include "check/rule.h"
#include "check/shown_in_run.h"
#include "theme/text.h"

namespace ignavo::app {

namespace {

// Just before the last edit of what stands on the bench; -1: there was none.
Nanoseconds lastEdited(const std::vector<Event>& events) {
  Nanoseconds at = -1;
  for (const Event& event : events)
    if (event.what == Event::What::changed) at = event.at - 1;
  return at;
}

}  // namespace

// What is good to know, and what is about steps, has no moment of its own. What the check before
// found as well is as old as it was.
void FindingMoments::begin() {
  constexpr std::size_t most = 20;
  begun_ = true;
  const std::vector<Looked> before = std::exchange(looked_, {});
  for (const Finding& f : doc_.check().findings) {
    const Rule* rule = ruleOf(f.rule);
    if (f.meant || f.severity == Severity::note || !rule || rule->needsProgram) continue;
    if (looked_.size() == most) break;
    const auto known = std::find_if(before.begin(), before.end(), [&](const Looked& l) {
      return identityOf(l.finding) == identityOf(f);
    });
    const bool isNew = known == before.end();
    looked_.push_back({f, isNew ? -1 : known->since, isNew});
  }
}

// The edit that brought it may be told of by the run a little later than by the check. In a run
// that was not edited all is so from the beginning.
void FindingMoments::look(Looked& one, Nanoseconds edited) const {
  const Nanoseconds since =
      one.isNew && doc_.checkIsCurrent() ? edited : std::min(one.since, edited);
  if (since != one.since) one = {one.finding, since, one.isNew};
  if (one.at >= 0 || one.searched >= end_) return;
  if (const auto at = firstShown(one.finding, doc_.project(), *run_.trace(), run_.events(),
                                 std::max(one.since, one.searched), end_))
    one.at = *at;
  one.searched = end_;
}

std::vector<FindingMoments::Moment> FindingMoments::all() {
  std::vector<Moment> out;
  const auto trace = run_.trace();
  if (!trace) return out;
  if (trace->end() < end_) begun_ = false;  // it began anew
  end_ = trace->end();
  if (!begun_ && doc_.checkIsCurrent()) begin();
  const Nanoseconds edited = lastEdited(run_.events());
  for (Looked& one : looked_) {
    look(one, edited);
    if (one.at >= 0) out.push_back({one.at, one.finding.severity, str(one.finding.title)});
  }
  return out;
}

}  // namespace ignavo::app
