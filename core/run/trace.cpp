#include "run/trace.h"

#include "project/indexing.h"

#include <algorithm>
#include <cmath>
#include <span>
#include <utility>

namespace ignavo {

namespace {
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

std::size_t Trace::Segment::edgeCount() const {
  std::size_t n = 0;
  for (const auto& row : edges) n += row.size();
  return n;
}

std::size_t Trace::Segment::bytes() const {
  constexpr std::size_t block = 16;  // that the heap takes for each
  const auto of = [](const auto& row) {
    return row.capacity() * sizeof(row[0]) + (row.capacity() > 0 ? block : 0);
  };
  std::size_t all = sizeof(Segment) + 2 * block + of(initial) + of(edges) + of(periodIntegral) +
                    of(sums) + of(whole);
  for (const auto& row : edges) all += of(row);
  for (const auto& row : sums) all += of(row);
  return all;
}

Trace::Trace(std::vector<Signal> signals, Nanoseconds start) : end_(start) {
  signals_ = std::move(signals);
  last_.assign(signals_.size(), 0);
  open_ = fresh(start);
}

int Trace::find(Signal::What what, const std::string& owner, const std::string& name) const {
  for (std::size_t i = 0; i < signals_.size(); ++i)
    if (signals_[i].what == what && signals_[i].owner == owner && signals_[i].name == name)
      return static_cast<int>(i);
  return -1;
}

Nanoseconds Trace::begin() const { return closed_.empty() ? open_.begin : closed_.front()->begin; }

Trace::Segment Trace::fresh(Nanoseconds at) const {
  Segment s;
  s.begin = s.end = at;
  s.initial = last_;
  s.edges.resize(rows());
  return s;
}

void Trace::record(int signal, Nanoseconds at_, float value) {
  end_ = std::max(end_, at_);
  const float before = at(last_, signal);
  if (before == value || (std::isnan(before) && std::isnan(value))) return;
  at(last_, signal) = value;
  auto& row = at(open_.edges, signal);
  const Nanoseconds local = at_ - open_.begin;
  if (local == 0 && closed_.empty() && !begun_) {  // how things stand when the recording begins
    at(open_.initial, signal) = value;
    return;
  }
  if (!row.empty() && row.back().at == local) {
    row.back().value = value;
    const float earlier = row.size() > 1 ? row[row.size() - 2].value : at(open_.initial, signal);
    if (earlier == value) {
      row.pop_back();
      --openEdges_;
    }
    return;
  }
  row.push_back({local, value});
  if (++openEdges_ >= closeAfter && end_ > open_.begin) close();
}

void Trace::extendTo(Nanoseconds at_) {
  end_ = std::max(end_, at_);
  open_.end = end_;
}

// Closes the open stretch at the present end. Edges at that very moment move on.
void Trace::close() {
  open_.end = end_;
  if (open_.length() == 0) return;
  Segment next = fresh(end_);
  openEdges_ = 0;
  for (std::size_t s = 0; s < open_.edges.size(); ++s) {
    auto& row = open_.edges[s];
    if (row.empty() || row.back().at != open_.length()) continue;
    next.edges[s].push_back({0, row.back().value});
    row.pop_back();
    next.initial[s] = row.empty() ? open_.initial[s] : row.back().value;
    ++openEdges_;
  }
  for (auto& row : open_.edges) row.shrink_to_fit();
  open_.sumUp();
  keep(std::move(open_));
  open_ = std::move(next);
}

void Trace::keep(Segment&& segment) {
  closedBytes_ += segment.bytes();
  closed_.push_back(std::make_shared<const Segment>(std::move(segment)));
}

void Trace::weigh() {
  closedBytes_ = 0;
  for (const auto& s : closed_) closedBytes_ += s->bytes();
}

Trace Trace::upTo(Nanoseconds moment) const {
  Trace out;
  out.signals_ = signals_;
  out.former_ = former_;
  out.end_ = moment;
  if (moment < begin()) {  // what was then is forgotten
    out.last_.assign(rows(), 0);
    out.open_ = out.fresh(moment);
    return out;
  }
  // Stretches that end before it as they are; of the one that it lies in, whole periods as well.
  const Segment* cut = &open_;
  for (const auto& stretch : closed_) {
    if (stretch->end >= moment) {
      cut = stretch.get();
      break;
    }
    out.closed_.push_back(stretch);
  }
  out.weigh();
  Nanoseconds from = cut->begin;
  out.last_ = cut->initial;
  out.begun_ = begun_;
  if (cut->period > 0 && moment - from > cut->period) {
    Segment whole = *cut;
    whole.end = from += (moment - from - 1) / cut->period * cut->period;
    out.keep(std::move(whole));
  }
  out.open_ = out.fresh(from);
  for (std::size_t s = 0; s < rows(); ++s)
    for (const Edge& e : cut->edges[s]) {
      if (e.at > moment - from) break;
      out.open_.edges[s].push_back(e);
      out.last_[s] = e.value;
      ++out.openEdges_;
    }
  out.open_.end = moment;
  return out;
}

void Trace::forgetBefore(Nanoseconds moment) {
  const auto kept =
      std::find_if(closed_.begin(), closed_.end(), [&](const auto& s) { return s->end >= moment; });
  closed_.erase(closed_.begin(), kept);
  weigh();
}

void Trace::limitBytes(std::size_t most) {
  if (closedBytes_ <= most) return;
  // A little more than must be, so that it is seldom.
  const std::size_t wanted = most - most / 16;
  std::size_t drop = 0;
  while (closedBytes_ > wanted && drop < closed_.size()) closedBytes_ -= closed_[drop++]->bytes();
  closed_.erase(closed_.begin(), closed_.begin() + static_cast<std::ptrdiff_t>(drop));
}

std::size_t Trace::storedEdges() const {
  std::size_t n = open_.edgeCount();
  for (const auto& s : closed_) n += s->edgeCount();
  return n;
}

std::vector<std::shared_ptr<const Trace::Segment>> Trace::segments() const {
  auto all = closed_;
  Segment now = open_;
  now.end = end_;
  all.push_back(std::make_shared<const Segment>(std::move(now)));
  return all;
}

const Trace::Segment& Trace::segmentAt(Nanoseconds t) const {
  if (t >= open_.begin || closed_.empty()) return open_;
  const auto it = std::upper_bound(closed_.begin(), closed_.end(), t,
                                   [](Nanoseconds x, const auto& s) { return x < s->end; });
  return it == closed_.end() ? open_ : **it;
}

float Trace::valueAt(int signal, Nanoseconds t) const {
  const Segment& s = segmentAt(t);
  Nanoseconds local = t - s.begin;
  if (s.period > 0) local %= s.period;
  const auto& row = at(s.edges, signal);
  const auto it = std::upper_bound(row.begin(), row.end(), local,
                                   [](Nanoseconds x, const Edge& e) { return x < e.at; });
  return it == row.begin() ? at(s.initial, signal) : std::prev(it)->value;
}

void Trace::forEachEdge(int signal, Nanoseconds from, Nanoseconds to,
                        const std::function<bool(const Edge&)>& visit) const {
  const auto walk = [&](const Segment& s, Nanoseconds end) {
    if (end < from || s.begin > to) return true;
    const auto& row = at(s.edges, signal);
    if (row.empty()) return true;
    std::int64_t turn = 0;
    if (s.period > 0 && from > s.begin) turn = (from - s.begin) / s.period;
    for (;; ++turn) {
      const Nanoseconds base = s.begin + turn * s.period;
      if (base > to || (s.period > 0 && base >= end)) return true;
      auto it = std::upper_bound(row.begin(), row.end(), from - base,
                                 [](Nanoseconds x, const Edge& e) { return x < e.at; });
      for (; it != row.end(); ++it) {
        if (base + it->at > to) return true;
        if (!visit({base + it->at, it->value})) return false;
      }
      if (s.period == 0) return true;
    }
  };
  auto it = std::lower_bound(closed_.begin(), closed_.end(), from,
                             [](const auto& s, Nanoseconds x) { return s->end < x; });
  for (; it != closed_.end() && (*it)->begin <= to; ++it)
    if (!walk(**it, (*it)->end)) return;
  walk(open_, end_);
}

std::int64_t Trace::countEdges(int signal, Nanoseconds from, Nanoseconds to) const {
  std::int64_t n = 0;
  const auto add = [&](const Segment& s, Nanoseconds end) {
    const Nanoseconds a = std::max(from, s.begin), b = std::min(to, end);
    if (a > b) return;
    const auto& row = at(s.edges, signal);
    const auto upTo = [&](Nanoseconds t) {  // edges at or before t
      const Nanoseconds local = t - s.begin;
      std::int64_t turns = s.period > 0 ? local / s.period : 0;
      const Nanoseconds rest = s.period > 0 ? local % s.period : local;
      const auto it = std::upper_bound(row.begin(), row.end(), rest,
                                       [](Nanoseconds x, const Edge& e) { return x < e.at; });
      return turns * static_cast<std::int64_t>(row.size()) + (it - row.begin());
    };
    n += upTo(b) - (from < s.begin ? 0 : upTo(a));
  };
  auto it = std::lower_bound(closed_.begin(), closed_.end(), from,
                             [](const auto& s, Nanoseconds x) { return s->end < x; });
  for (; it != closed_.end() && (*it)->begin <= to; ++it) add(**it, (*it)->end);
  add(open_, end_);
  return n;
}

double Trace::integral(int signal, Nanoseconds from, Nanoseconds to) const {
  double sum = 0;
  const auto add = [&](const Segment& s, Nanoseconds end) {
    const Nanoseconds a = std::max(from, s.begin) - s.begin;
    const Nanoseconds b = std::min(to, end) - s.begin;
    if (a >= b) return;
    const auto row = static_cast<std::size_t>(signal);
    if (s.period == 0) {
      sum += rowIntegral(s, row, a, b);
      return;
    }
    const std::int64_t turnA = a / s.period, turnB = b / s.period;
    const Nanoseconds restA = a % s.period, restB = b % s.period;
    if (turnA == turnB) {
      sum += rowIntegral(s, row, restA, restB);
      return;
    }
    sum += rowIntegral(s, row, restA, s.period) + rowIntegral(s, row, 0, restB) +
           static_cast<double>(turnB - turnA - 1) * at(s.periodIntegral, signal);
  };
  auto it = std::upper_bound(closed_.begin(), closed_.end(), from,
                             [](Nanoseconds x, const auto& s) { return x < s->end; });
  for (; it != closed_.end() && (*it)->begin < to; ++it) add(**it, (*it)->end);
  add(open_, std::max(end_, open_.end));
  return sum;
}

const Trace::Segment& Trace::Sums::segment() const {
  return place_ < trace_.closed_.size() ? *trace_.closed_[place_] : trace_.open_;
}

// From the beginning of the segment. What was summed up before is looked for near where it was
// found last, in strides that double.
double Trace::Sums::sumAt(Nanoseconds local) {
  const Segment& s = segment();
  const auto row = static_cast<std::size_t>(signal_);
  const std::span<const Edge> edges = s.edges[row];
  if (s.sums.empty() || s.sums[row].empty()) return stepIntegral(edges, s.initial[row], 0, local);
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

double Trace::Sums::upTo(Nanoseconds moment) {
  double out = 0;
  while (at_ < moment) {
    while (place_ < trace_.closed_.size() && segment().end <= at_) ++place_, of_ = nullptr;
    const Segment& s = segment();
    const bool last = place_ == trace_.closed_.size();
    const Nanoseconds until = last ? moment : std::min(moment, s.end);
    if (s.period != 0 || at_ < s.begin) {
      out += trace_.integral(signal_, at_, until);
      of_ = nullptr;
    } else {
      const auto row = static_cast<std::size_t>(signal_);
      const auto sum = [&](Nanoseconds to) {
        if (to == s.begin) return 0.0;
        return to == s.end && row < s.whole.size() ? s.whole[row] : sumAt(to - s.begin);
      };
      if (of_ != &s) summed_ = 0, sum_ = sum(at_), of_ = &s;
      const double before = std::exchange(sum_, sum(until));
      out += sum_ - before;
    }
    at_ = until;
  }
  return out;
}

double Trace::highest(int signal) const {
  double most = 0;
  const auto look = [&](const Segment& s) {
    most = std::max(most, static_cast<double>(at(s.initial, signal)));
    for (const Edge& e : at(s.edges, signal)) most = std::max(most, static_cast<double>(e.value));
  };
  for (const auto& s : closed_) look(*s);
  look(open_);
  return most;
}

Nanoseconds Trace::nextEdge(int signal, Nanoseconds after) const {
  Nanoseconds found = -1;
  forEachEdge(signal, after, end_, [&](const Edge& e) {
    found = e.at;
    return false;
  });
  return found;
}

Nanoseconds Trace::lastEdge(int signal, Nanoseconds before) const {
  const auto lastOf = [&](const Segment& s, Nanoseconds end) -> Nanoseconds {
    const auto& row = at(s.edges, signal);
    if (s.begin >= before || row.empty()) return -1;
    std::int64_t turn = 0;
    if (s.period > 0) turn = (std::min(before, end) - 1 - s.begin) / s.period;
    for (; turn >= 0; --turn) {
      const Nanoseconds base = s.begin + turn * s.period;
      const auto e = std::lower_bound(row.begin(), row.end(), before - base,
                                      [](const Edge& edge, Nanoseconds x) { return edge.at < x; });
      if (e != row.begin()) return base + std::prev(e)->at;
    }
    return -1;
  };
  Nanoseconds found = lastOf(open_, end_);
  for (auto it = closed_.rbegin(); it != closed_.rend() && found < 0; ++it)
    found = lastOf(**it, (*it)->end);
  return found;
}

}  // namespace ignavo
