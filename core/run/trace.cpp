#include "run/trace.h"

#include "project/indexing.h"

#include <algorithm>
#include <cmath>
#include <span>
#include <utility>

namespace ignavo {

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
                    of(sums) + of(whole) + of(before);
  for (const auto& row : edges) all += of(row);
  for (const auto& row : sums) all += of(row);
  return all;
}

Trace::Trace(std::vector<Signal> signals, Nanoseconds start) : end_(start) {
  signals_ = std::move(signals);
  last_.assign(signals_.size(), 0);
  totals_.assign(rows(), {});
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
  segment.before = totals_;
  for (std::size_t r = 0; r < totals_.size(); ++r) totals_[r] = segment.totalWith(r);
  segment.bytesBefore = std::exchange(bytes_, bytes_ + segment.bytes());
  closed_.push(std::make_shared<const Segment>(std::move(segment)));
}

Trace Trace::upTo(Nanoseconds moment) const {
  Trace out;
  out.signals_ = signals_;
  out.former_ = former_;
  out.end_ = moment;
  if (moment < begin()) {  // what was then is forgotten
    out.last_.assign(rows(), 0);
    out.totals_.assign(rows(), {});
    out.open_ = out.fresh(moment);
    return out;
  }
  // Stretches that end before it as they are; of the one that it lies in, whole periods as well.
  const auto cutAt = std::lower_bound(closed_.begin(), closed_.end(), moment,
                                      [](const auto& s, Nanoseconds t) { return s->end < t; });
  const Segment* cut = cutAt == closed_.end() ? &open_ : cutAt->get();
  out.closed_ = closed_;
  out.closed_.keepFirst(static_cast<std::size_t>(cutAt - closed_.begin()));
  out.bytes_ = cut == &open_ ? bytes_ : cut->bytesBefore;
  out.totals_ = cut == &open_ ? totals_ : cut->before;
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
  const auto kept = std::lower_bound(closed_.begin(), closed_.end(), moment,
                                     [](const auto& s, Nanoseconds t) { return s->end < t; });
  closed_.dropFirst(static_cast<std::size_t>(kept - closed_.begin()));
}

void Trace::limitBytes(std::size_t most) {
  if (closed_.empty() || bytes_ - closed_.front()->bytesBefore <= most) return;
  // A little more than must be, so that it is seldom.
  const std::size_t wanted = most - most / 16;
  const auto kept = std::partition_point(closed_.begin(), closed_.end(), [&](const auto& s) {
    return bytes_ - s->bytesBefore > wanted;
  });
  closed_.dropFirst(static_cast<std::size_t>(kept - closed_.begin()));
}

std::size_t Trace::storedEdges() const {
  std::size_t n = open_.edgeCount();
  for (const auto& s : closed_) n += s->edgeCount();
  return n;
}

std::vector<std::shared_ptr<const Trace::Segment>> Trace::segments() const {
  std::vector<std::shared_ptr<const Segment>> all(closed_.begin(), closed_.end());
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
  for (std::size_t i = closed_.size(); i-- > 0 && found < 0;)
    found = lastOf(*closed_[i], closed_[i]->end);
  return found;
}

}  // namespace ignavo
