#include <algorithm>
#include <cassert>
#include <cmath>
#include <utility>

#include "project/indexing.h"
#include "run/trace.h"

// What repeats itself is written down once. Four ways, the first that does:
//
// What was written since the last periodic stretch is what that would have gone on with: it simply
// becomes longer. So something quick that goes on through rounds of something slow, which changes
// nothing, takes no more for each of those.
//
// There is so little of it that a stretch of its own would take about as much: it is written out.
//
// The last period is all in the stretch being written: it is cut out of it.
//
// It is not: it becomes part of that once more, where it is not too much.
namespace ignavo {

namespace {
constexpr std::size_t longestPattern = 20'000;  // edges of a period worth comparing
constexpr std::size_t bytesOfRow = 64;          // that one takes in a stretch, without edges
constexpr std::size_t worthIt = 4;              // so many times less is worth a stretch

// Calls visit(edge) for those that a periodic row has after the end of a whole period, up to
// `length` later, until it returns false.
template <typename Visit>
void unroll(const std::vector<Edge>& row, Nanoseconds period, Nanoseconds length, Visit&& visit) {
  if (row.empty()) return;
  for (Nanoseconds base = 0; base < length; base += period)
    for (const Edge& e : row)
      if (base + e.at > length || !visit(Edge{base + e.at, e.value})) return;
}

// No number, no voltage, is like another.
bool alike(float a, float b) { return a == b || (std::isnan(a) && std::isnan(b)); }
}  // namespace

bool Trace::goesOnAsBefore(Nanoseconds period, Nanoseconds until) {
  if (closed_.empty()) return false;
  const Segment& last = *closed_.back();
  if (last.period <= 0 || period % last.period != 0 || end_ - period < last.begin ||
      !std::equal(open_.initial.begin(), open_.initial.end(), last.initial.begin(), alike))
    return false;
  const Nanoseconds written = end_ - open_.begin;
  for (std::size_t r = 0; r < rows(); ++r) {
    auto next = open_.edges[r].begin();
    const auto end = open_.edges[r].end();
    bool same = true;
    unroll(last.edges[r], last.period, written, [&](const Edge& e) {
      same = next != end && next->at == e.at && alike(next->value, e.value);
      if (same) ++next;
      return same;
    });
    if (!same || next != end) return false;
  }
  Segment longer = last;
  const Nanoseconds rest = (until - last.begin) % last.period;
  longer.end = until - rest;
  Segment open = open_;
  open.begin = longer.end;
  openEdges_ = 0;
  for (std::size_t r = 0; r < rows(); ++r) {
    open.edges[r].clear();
    unroll(last.edges[r], last.period, rest, [&](const Edge& e) {
      open.edges[r].push_back(e);
      ++openEdges_;
      return true;
    });
  }
  open_ = std::move(open);
  for (std::size_t r = 0; r < rows(); ++r) totals_[r] = longer.totalWith(r);
  closed_.replaceBack(std::make_shared<const Segment>(std::move(longer)));
  end_ = open_.end = until;
  return true;
}

std::size_t Trace::edgesSince(Nanoseconds from) const {
  std::int64_t edges = 0;
  for (std::size_t r = 0; r < rows(); ++r) edges += countEdges(static_cast<int>(r), from, end_);
  return static_cast<std::size_t>(edges);
}

void Trace::writeOut(Nanoseconds period, std::int64_t times) {
  for (std::size_t r = 0; r < rows(); ++r) {
    std::vector<Edge> pattern;
    forEachEdge(static_cast<int>(r), end_ - period, end_, [&](const Edge& e) {
      pattern.push_back({e.at - open_.begin, e.value});
      return true;
    });
    for (std::int64_t k = 1; k <= times; ++k)
      for (const Edge& e : pattern) open_.edges[r].push_back({e.at + k * period, e.value});
    openEdges_ += pattern.size() * static_cast<std::size_t>(times);
  }
  extendTo(end_ + period * times);
  if (openEdges_ >= closeAfter) close();
}

// What is after `from` becomes part of the stretch being written.
void Trace::reopen(Nanoseconds from) {
  Trace back = upTo(from);
  for (std::size_t r = 0; r < rows(); ++r)
    forEachEdge(static_cast<int>(r), from, end_, [&](const Edge& e) {
      back.open_.edges[r].push_back({e.at - back.open_.begin, e.value});
      ++back.openEdges_;
      return true;
    });
  back.open_.end = end_;
  closed_ = std::move(back.closed_);
  bytes_ = back.bytes_;
  totals_ = std::move(back.totals_);
  open_ = std::move(back.open_);
  openEdges_ = back.openEdges_;
}

bool Trace::repeatLast(Nanoseconds period, std::int64_t times) {
  assert(times > 0);
  const Nanoseconds from = end_ - period, grown = end_ + period * times;
  if (period <= 0 || from < begin()) return false;
  if (goesOnAsBefore(period, grown)) return true;
  const std::size_t edges = edgesSince(from);
  if (edges > longestPattern) return false;
  const std::size_t apart = 2 * (sizeof(Segment) + rows() * bytesOfRow);  // it and what is before
  if (edges * sizeof(Edge) * static_cast<std::size_t>(times) <= worthIt * apart) {
    writeOut(period, times);
    return true;
  }
  if (from < open_.begin) reopen(from);
  // An edge at the very start of the period repeats at the start of each period; one at its very
  // end is the start of the next.
  const Nanoseconds cut = from - open_.begin;
  std::vector<std::size_t> before;  // edges of each row that come before it
  std::size_t earlier = 0;
  for (const auto& row : open_.edges) {
    const auto split = std::upper_bound(row.begin(), row.end(), cut,
                                        [](Nanoseconds t, const Edge& e) { return t < e.at; });
    before.push_back(static_cast<std::size_t>(split - row.begin()));
    earlier += before.back();
  }
  if (cut == 0 && earlier > 0) return false;  // something happened at that very moment
  Segment pattern;
  pattern.begin = from;
  pattern.end = grown;
  pattern.period = period;
  pattern.edges.resize(rows());
  for (std::size_t r = 0; r < rows(); ++r) {
    auto& row = open_.edges[r];
    pattern.periodIntegral.push_back(integral(static_cast<int>(r), from, end_));
    pattern.initial.push_back(before[r] == 0 ? open_.initial[r] : row[before[r] - 1].value);
    for (std::size_t i = before[r]; i < row.size(); ++i)
      pattern.edges[r].push_back({row[i].at - cut, row[i].value});
    row.resize(before[r]);
    row.shrink_to_fit();
  }
  open_.end = from;
  if (earlier >= 2 * Segment::summed) open_.sumUp();
  if (cut > 0) keep(std::move(open_));
  keep(std::move(pattern));
  end_ = grown;
  open_ = fresh(grown);
  openEdges_ = 0;
  return true;
}

}  // namespace ignavo
