#include <algorithm>
#include <utility>

#include "project/indexing.h"
#include "run/trace.h"

// What becomes of a trace's rows when the project is edited, and has other signals than before.
namespace ignavo {

std::string operatorName(const std::string& lane, const std::string& path) {
  return lane + ":" + path;
}

void Trace::restart(std::vector<Signal> signals) {
  if (signals == signals_) return;  // as when a knob is turned
  for (std::size_t row = 0; row < signals_.size(); ++row)
    if (std::find(signals.begin(), signals.end(), signals_[row]) == signals.end())
      record(static_cast<int>(row), end_, 0);
  // Old stretches are re-indexed, so that what was recorded stays to be seen.
  close();
  std::vector<Signal> all = signals_;
  all.insert(all.end(), former_.begin(), former_.end());
  std::vector<int> from;
  for (const Signal& s : signals) {
    const auto before = std::find(all.begin(), all.end(), s);
    from.push_back(before == all.end() ? -1 : static_cast<int>(before - all.begin()));
  }
  former_.clear();
  for (std::size_t row = 0; row < all.size(); ++row) {
    const int place = static_cast<int>(row);
    if (std::find(from.begin(), from.end(), place) != from.end() || isBlank(row)) continue;
    from.push_back(place);
    former_.push_back(std::move(all[row]));
  }
  std::vector<float> last;
  for (int f : from) last.push_back(f < 0 ? 0 : at(last_, f));
  const auto mapped = [&](const Segment& old) {
    Segment s;
    s.begin = old.begin;
    s.end = old.end;
    s.period = old.period;
    for (int f : from) {
      s.initial.push_back(f < 0 ? 0 : at(old.initial, f));
      s.edges.push_back(f < 0 ? std::vector<Edge>{} : at(old.edges, f));
      if (old.period > 0) s.periodIntegral.push_back(f < 0 ? 0 : at(old.periodIntegral, f));
      if (!old.sums.empty())
        s.sums.push_back(f < 0 ? std::vector<Segment::Sum>{} : at(old.sums, f));
      if (!old.whole.empty()) s.whole.push_back(f < 0 ? 0 : at(old.whole, f));
    }
    return s;
  };
  bytes_ = 0;
  totals_.assign(from.size(), {});
  for (const auto& old : std::exchange(closed_, {})) keep(mapped(*old));
  open_ = mapped(open_);
  signals_ = std::move(signals);
  last_ = std::move(last);
}

// Never anything but 0.
bool Trace::isBlank(std::size_t row) const {
  const auto blank = [&](const Segment& s) { return s.edges[row].empty() && s.initial[row] == 0; };
  return blank(open_) &&
         std::all_of(closed_.begin(), closed_.end(), [&](const auto& s) { return blank(*s); });
}

Trace Trace::withFormer() const {
  Trace out = *this;
  out.signals_.insert(out.signals_.end(), former_.begin(), former_.end());
  out.former_.clear();
  return out;
}

}  // namespace ignavo
