#include "trace/finding_moments.h"

#include "check/rule.h"
#include "check/shown_in_run.h"
#include "theme/text.h"

namespace ignavo::app {

void FindingMoments::forget() {
  begun_ = false;
  looked_.clear();
}

// What is good to know, and what is about steps, has no moment of its own.
void FindingMoments::begin() {
  constexpr std::size_t most = 20;
  begun_ = true;
  looked_.clear();
  for (const Finding& f : doc_.check().findings) {
    const Rule* rule = ruleOf(f.rule);
    if (f.meant || f.severity == Severity::note || !rule || rule->needsProgram) continue;
    if (looked_.size() < most) looked_.push_back({f});
  }
}

std::vector<FindingMoments::Moment> FindingMoments::all() {
  std::vector<Moment> out;
  const auto trace = run_.trace();
  if (!trace) return out;
  if (trace->end() < end_) forget();  // it began anew
  end_ = trace->end();
  if (!begun_ && doc_.checkIsCurrent()) begin();
  for (Looked& one : looked_) {
    if (one.at < 0 && one.searched < end_) {
      if (const auto at =
              firstShown(one.finding, doc_.project(), *trace, run_.events(), one.searched, end_))
        one.at = *at;
      one.searched = end_;
    }
    if (one.at >= 0) out.push_back({one.at, one.finding.severity, str(one.finding.title)});
  }
  return out;
}

}  // namespace ignavo::app
