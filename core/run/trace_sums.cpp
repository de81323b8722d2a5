#include <algorithm>
#include <cmath>
#include <span>
#include <utility>

#include "project/indexing.h"
#include "run/trace.h"

// What signals come to over time: edges, and value-seconds. Of a stretch that repeats itself in
// closed form; of long rows from sums of every so many-th edge; and each stretch knows what all
// before it came to, so that it does not matter how many there are.
namespace ignavo {

namespace {
// Of so many stretches the sums before them are taken, which cost the last digits.
constexpr std::ptrdiff_t longWay = 16;

// Integral over local times a … b, edge by edge, of edges that all come behind `a`; it is at
// `value` there.
double integralAhead(std::span<const Edge> edges, float value, Nanoseconds a, Nanoseconds b) {
  double sum = 0;
  for (const Edge& e : edges) {
    if (e.at >= b) break;
    sum += static_cast<double>(value) * inSeconds(e.at - a);
    a = e.at;
    value = e.value;
  }
  return sum + static_cast<double>(value) * inSeconds(b - a);
}

// The same of a written-out row of edges; what is before the first of them is `initial`.
double stepIntegral(std::span<const Edge> edges, float initial, Nanoseconds a, Nanoseconds b) {
  const auto it = std::upper_bound(edges.begin(), edges.end(), a,
                                   [](Nanoseconds t, const Edge& e) { return t < e.at; });
  const float value = it == edges.begin() ? initial : std::prev(it)->value;
  return integralAhead(edges.subspan(static_cast<std::size_t>(it - edges.begin())), value, a, b);
}

// The same; of what is long by what was summed up before.
double rowIntegral(const Trace::Segment& s, std::size_t row, Nanoseconds a, Nanoseconds b) {
  const std::span<const Edge> edges = s.edges[row];
  const float initial = s.initial[row];
  if (s.sums.empty() || s.sums[row].empty()) return stepIntegral(edges, initial, a, b);
  const std::vector<Trace::Segment::Sum>& sums = s.sums[row];
  const auto first = std::lower_bound(sums.begin(), sums.end(), a,
                                      [](const auto& sum, Nanoseconds x) { return sum.at < x; });
  const auto last = std::upper_bound(first, sums.end(), b,
                                     [](Nanoseconds x, const auto& sum) { return x < sum.at; });
  constexpr std::size_t each = Trace::Segment::summed;
  const auto edgeOf = [&](auto sum) {
    return (static_cast<std::size_t>(sum - sums.begin()) + 1) * each;
  };
  // From the last that is summed up before `a` on.
  const std::size_t from = first == sums.begin() ? 0 : edgeOf(std::prev(first));
  const float before = from == 0 ? initial : edges[from - 1].value;
  if (last == first)
    return stepIntegral(edges.subspan(from, std::min(each + 1, edges.size() - from)), before, a, b);
  const auto end = std::prev(last);
  const std::size_t behind = edgeOf(end);
  return stepIntegral(edges.subspan(from, edgeOf(first) - from), before, a, first->at) + end->sum -
         first->sum +
         stepIntegral(edges.subspan(behind, std::min(each + 1, edges.size() - behind)),
                      edges[behind - 1].value, end->at, b);
}
}  // namespace

void Trace::Segment::sumUp() {
  sums.resize(edges.size());
  whole.clear();
  for (std::size_t r = 0; r < edges.size(); ++r) {
    const std::vector<Edge>& row = edges[r];
    if (row.size() < 2 * summed) continue;
    double sum = 0;
    float value = initial[r];
    Nanoseconds from = 0;
    for (std::size_t i = 0; i < row.size(); ++i) {
      sum += static_cast<double>(value) * inSeconds(row[i].at - from);
      from = row[i].at;
      value = row[i].value;
      if (i > 0 && i % summed == 0) sums[r].push_back({from, sum});
    }
  }
  for (std::size_t r = 0; r < edges.size(); ++r)
    whole.push_back(rowIntegral(*this, r, 0, length()));
}

double Trace::Segment::sumOf(std::size_t row, Nanoseconds from, Nanoseconds to) const {
  if (period == 0) return rowIntegral(*this, row, from, to);
  const std::int64_t first = from / period, last = to / period;
  if (first == last) return rowIntegral(*this, row, from % period, to % period);
  return rowIntegral(*this, row, from % period, period) + rowIntegral(*this, row, 0, to % period) +
         static_cast<double>(last - first - 1) * periodIntegral[row];
}

double Trace::Segment::sumOf(std::size_t row) const {
  return row < whole.size() ? whole[row] : sumOf(row, 0, length());
}

std::int64_t Trace::Segment::edgesOf(std::size_t row, Nanoseconds upTo) const {
  const std::vector<Edge>& of = edges[row];
  const std::int64_t turns = period > 0 ? upTo / period : 0;
  const auto it = std::upper_bound(of.begin(), of.end(), upTo - turns * period,
                                   [](Nanoseconds x, const Edge& e) { return x < e.at; });
  return turns * static_cast<std::int64_t>(of.size()) + (it - of.begin());
}

Trace::Segment::Total Trace::Segment::totalWith(std::size_t row) const {
  return {before[row].sum + sumOf(row), before[row].edges + edgesOf(row, length())};
}

std::int64_t Trace::edgesUpTo(int signal, Nanoseconds moment) const {
  const auto row = static_cast<std::size_t>(signal);
  if (moment >= open_.begin || closed_.empty())
    return totals_[row].edges + open_.edgesOf(row, moment - open_.begin);
  const auto behind = std::upper_bound(closed_.begin(), closed_.end(), moment,
                                       [](Nanoseconds t, const auto& s) { return t < s->begin; });
  if (behind == closed_.begin()) return closed_.front()->before[row].edges;
  const Segment& s = **(behind - 1);
  return s.before[row].edges + s.edgesOf(row, moment - s.begin);
}

std::int64_t Trace::countEdges(int signal, Nanoseconds from, Nanoseconds to) const {
  return from < to ? edgesUpTo(signal, to) - edgesUpTo(signal, from) : 0;
}

double Trace::integral(int signal, Nanoseconds from, Nanoseconds to) const {
  double sum = 0;
  const auto add = [&](const Segment& s, Nanoseconds end) {
    const Nanoseconds a = std::max(from, s.begin), b = std::min(to, end);
    if (a < b) sum += s.sumOf(static_cast<std::size_t>(signal), a - s.begin, b - s.begin);
  };
  auto it = std::upper_bound(closed_.begin(), closed_.end(), from,
                             [](Nanoseconds x, const auto& s) { return x < s->end; });
  const auto end =
      std::partition_point(it, closed_.end(), [&](const auto& s) { return s->begin < to; });
  if (end - it > longWay) {
    add(**it, (*it)->end);
    const Segment &next = **(it + 1), &last = **(end - 1);
    const auto row = static_cast<std::size_t>(signal);
    sum += last.before[row].sum - next.before[row].sum;
    it = end - 1;
  }
  for (; it != end; ++it) add(**it, (*it)->end);
  add(open_, std::max(end_, open_.end));
  return sum;
}

Trace::Sums::Sums(const Trace& trace, int signal, Nanoseconds from)
    : trace_(trace), signal_(signal), at_(std::max(from, trace.begin())) {
  const auto first = std::upper_bound(trace.closed_.begin(), trace.closed_.end(), at_,
                                      [](Nanoseconds t, const auto& s) { return t < s->end; });
  place_ = static_cast<std::size_t>(first - trace.closed_.begin());
  sum_ = sumAt(at_ - segment().begin);
}

const Trace::Segment& Trace::Sums::segment() const {
  return place_ < trace_.closed_.size() ? *trace_.closed_[place_] : trace_.open_;
}

// From the beginning of the segment, of what does not repeat. What was summed up before is looked
// for near where it was found last, in strides that double.
double Trace::Sums::sumAt(Nanoseconds local) {
  const Segment& s = segment();
  const auto row = static_cast<std::size_t>(signal_);
  const std::span<const Edge> edges = s.edges[row];
  if (s.period > 0) return 0;
  if (s.sums.empty() || s.sums[row].empty()) return s.sumOf(row, 0, local);
  const std::vector<Segment::Sum>& sums = s.sums[row];
  // The next few one after the other, as memory is read best; then by leaps.
  constexpr int few = 40;
  int looked = 0;
  while (looked < few && summed_ < sums.size() && sums[summed_].at <= local) ++summed_, ++looked;
  std::size_t stride = 1;
  while (looked == few && summed_ + stride <= sums.size() &&
         sums[summed_ + stride - 1].at <= local) {
    summed_ += stride;
    stride *= 2;
  }
  if (stride > 1) {
    const auto end =
        sums.begin() + static_cast<std::ptrdiff_t>(std::min(sums.size(), summed_ + stride - 1));
    summed_ = static_cast<std::size_t>(
        std::upper_bound(sums.begin() + static_cast<std::ptrdiff_t>(summed_), end, local,
                         [](Nanoseconds x, const Segment::Sum& sum) { return x < sum.at; }) -
        sums.begin());
  }
  if (summed_ == 0)
    return stepIntegral(edges.first(std::min(Segment::summed + 1, edges.size())), s.initial[row], 0,
                        local);
  const std::size_t behind = summed_ * Segment::summed;
  return sums[summed_ - 1].sum +
         integralAhead(edges.subspan(behind, std::min(Segment::summed + 1, edges.size() - behind)),
                       edges[behind - 1].value, sums[summed_ - 1].at, local);
}

// The segment of a moment, likewise.
std::size_t Trace::Sums::placeOf(Nanoseconds moment) const {
  const auto& closed = trace_.closed_;
  const auto over = [&](const auto& s) { return s->end < moment; };
  std::size_t place = place_, stride = 1;
  while (place + stride <= closed.size() && over(closed[place + stride - 1])) {
    place += stride;
    stride *= 2;
  }
  const auto end = static_cast<std::ptrdiff_t>(std::min(closed.size(), place + stride - 1));
  const auto first = closed.begin() + static_cast<std::ptrdiff_t>(place);
  return static_cast<std::size_t>(std::partition_point(first, closed.begin() + end, over) -
                                  closed.begin());
}

// From where it stands to a moment of its segment.
double Trace::Sums::within(Nanoseconds moment) {
  const Segment& s = segment();
  const auto row = static_cast<std::size_t>(signal_);
  const Nanoseconds from = std::exchange(at_, moment) - s.begin, to = moment - s.begin;
  if (s.period > 0) return s.sumOf(row, from, to);
  const bool whole = to == s.end - s.begin && row < s.whole.size();
  const double before = std::exchange(sum_, whole ? s.whole[row] : sumAt(to));
  return sum_ - before;
}

void Trace::Sums::enter(std::size_t place) {
  place_ = place;
  at_ = segment().begin;
  summed_ = 0;
  sum_ = 0;
}

double Trace::Sums::upTo(Nanoseconds moment) {
  if (moment <= at_) return 0;
  const auto& closed = trace_.closed_;
  const std::size_t last = placeOf(moment), first = place_;
  if (last == first) return within(moment);
  double sum = within(closed[first]->end);
  const auto row = static_cast<std::size_t>(signal_);
  if (last - first > static_cast<std::size_t>(longWay)) {
    const Segment::Total upTo =
        last < closed.size() ? closed[last]->before[row] : trace_.totals_[row];
    sum += upTo.sum - closed[first + 1]->before[row].sum;
  } else {
    for (std::size_t place = first + 1; place < last; ++place) sum += closed[place]->sumOf(row);
  }
  enter(last);
  return sum + within(moment);
}

}  // namespace ignavo
