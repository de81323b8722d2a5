#include "check/causes.h"

#include <algorithm>
#include <set>
#include <tuple>

#include "check/proposals.h"

namespace ignavo {

namespace {

std::string keyOf(const Finding& f) {
  const Suppression identity = identityOf(f);
  std::string key = identity.rule;
  for (const std::string& id : identity.culprits) key += " " + id;
  return key;
}

bool counts(const Finding& f) { return f.severity != Severity::note; }

// What was found at first, by keys: telling findings together changes whom they name.
struct Known {
  std::set<std::string> all;
  std::vector<std::string> left;  // of those that are still told, in their order
};

// Which of the findings a mend takes away with the first one; nothing where it does not take
// that away, or brings up others.
std::optional<std::vector<std::size_t>> takenAway(
    const Known& known, std::size_t cause, const std::optional<std::vector<Finding>>& after) {
  if (!after) return std::nullopt;
  std::set<std::string> stays;
  for (const Finding& f : *after) {
    stays.insert(keyOf(f));
    if (counts(f) && !known.all.contains(keyOf(f))) return std::nullopt;
  }
  if (stays.contains(known.left[cause])) return std::nullopt;
  std::vector<std::size_t> gone;
  for (std::size_t i = 0; i < known.left.size(); ++i)
    if (i != cause && !stays.contains(known.left[i])) gone.push_back(i);
  return gone;
}

// The gravest of them says why it matters; the cause and its mend are told with it.
std::size_t adopt(std::vector<Finding>& all, std::size_t cause, Proposal& p,
                  const std::vector<std::size_t>& gone) {
  std::size_t told = cause;
  for (const std::size_t i : gone)
    if (all[i].severity > all[told].severity) told = i;
  Finding& f = all[told];
  if (told == cause) {
    f.remedies.clear();
    f.advice = p.words;
  } else {
    f.advice = Sentences(say("{}.", all[cause].title)).add(p.words);
  }
  f.remedies.insert(f.remedies.begin(), std::move(p.remedy));
  // What it is about stays where its mark is.
  if (f.parts.empty() && !f.mark && !f.sockets.empty()) f.mark = f.sockets.front();
  if (p.place) f.sockets.push_back(*p.place);
  const auto include = [&](const Finding& other) {
    for (const auto& [from, to] : {std::pair{&other.parts, &f.parts}, {&other.pins, &f.pins}})
      for (const std::string& id : *from)
        if (std::find(to->begin(), to->end(), id) == to->end()) to->push_back(id);
  };
  include(all[cause]);
  for (const std::size_t i : gone) include(all[i]);
  return told;
}

// Of a mend that is a finding's own already: what is graver stays beside it.
void keepGraver(const std::vector<Finding>& all, std::size_t cause,
                std::vector<std::size_t>& gone) {
  std::erase_if(gone, [&](std::size_t i) { return all[i].severity > all[cause].severity; });
}

}  // namespace

void keepCauses(const CheckContext& c, const Judge& judge) {
  constexpr double mostSolved = 40e3;  // parts, in all combinations of all trials together
  constexpr double mostTrials = 24;
  constexpr int mostFindings = 4;  // where much is open, nothing can be told from one mend
  std::vector<Finding>& all = c.findings;
  if (std::count_if(all.begin(), all.end(), counts) > mostFindings) return;
  int trials = static_cast<int>(
      std::min(mostTrials, mostSolved / std::max(1.0, c.sweep.poses() * c.partCount())));
  Known known;
  for (const Finding& f : all) known.left.push_back(keyOf(f));
  known.all.insert(known.left.begin(), known.left.end());
  const auto weight = [&](const std::vector<std::size_t>& list) {
    return std::count_if(list.begin(), list.end(), [&](std::size_t i) { return counts(all[i]); });
  };
  for (std::size_t cause = 0; cause < all.size(); ++cause) {
    if (!counts(all[cause]) || all[cause].meant) continue;
    const bool alone = std::count_if(all.begin(), all.end(), counts) < 2;
    std::vector<Proposal> proposals = proposalsFor(c, all[cause]);
    Proposal* best = nullptr;
    std::vector<std::size_t> most;
    int asGood = 0;  // mends that do as much and are as likely
    const auto worth = [&](const Proposal& p, const std::vector<std::size_t>& gone) {
      // A leg that misses its row by one is the commonest of all.
      return std::tuple(p.likely == Proposal::oneRowOff, weight(gone), p.likely);
    };
    for (Proposal& p : proposals) {
      if (alone && p.words.empty()) continue;
      if (trials-- <= 0 || c.cancelled()) return;
      auto gone = takenAway(known, cause, judge(p.remedy.after));
      if (!gone) continue;
      if (p.words.empty()) keepGraver(all, cause, *gone);
      // Two loose ends that are joined are no longer loose; that alone is no mend.
      const auto tells = [&](std::size_t i) {
        return counts(all[i]) && ruleOf(all[i].rule)->seeks != Seeks::lostLeg;
      };
      if (p.likely == Proposal::toWhatWaits && std::none_of(gone->begin(), gone->end(), tells))
        continue;
      if (best && worth(p, *gone) == worth(*best, most)) ++asGood;
      if (best && worth(p, *gone) <= worth(*best, most)) continue;
      best = &p, most = std::move(*gone), asGood = 1;
    }
    // By itself it tells what was meant only where nothing else could have been.
    if (!best || (weight(most) == 0 && (asGood > 1 || best->words.empty()))) continue;
    const std::size_t told = best->words.empty() ? cause : adopt(all, cause, *best, most);
    // What would break is told in any case.
    std::erase_if(most, [&](std::size_t i) { return all[i].severity == Severity::danger; });
    most.push_back(cause);
    std::sort(most.begin(), most.end());
    std::size_t at = cause;
    for (std::size_t k = most.size(); k-- > 0;) {
      if (most[k] == told) continue;
      all.erase(all.begin() + static_cast<std::ptrdiff_t>(most[k]));
      known.left.erase(known.left.begin() + static_cast<std::ptrdiff_t>(most[k]));
      if (most[k] <= at) --at;
    }
    cause = at;
  }
}

}  // namespace ignavo
