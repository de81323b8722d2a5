#include "electric/elimination.h"

#include <algorithm>
#include <cassert>
#include <cmath>
#include <limits>
#include <set>

namespace ignavo::electric {

namespace {
std::size_t z(int i) { return static_cast<std::size_t>(i); }
constexpr double largest = std::numeric_limits<double>::max();
}  // namespace

Elimination::Elimination(int n, Entries entries, std::vector<int> last,
                         const std::vector<std::uint8_t>& steady)
    : n_(n), last_(std::move(last)), steadyRow_(z(n), false) {
  for (int a : last_)
    for (int b : last_) entries[{a, b}] = 0;
  order(entries, steady);
  columns_.assign(z(n_) + 1, 0);
  for (auto& [key, index] : entries) {
    index = static_cast<int>(rows_.size());
    rows_.push_back(key.second);
    ++columns_[z(key.first) + 1];
  }
  for (std::size_t c = 1; c < columns_.size(); ++c) columns_[c] += columns_[c - 1];
  for (Pivot& p : pivots_) {
    p.diagonal = position(p.row, p.row);
    p.targets = static_cast<int>(targets_.size());
    for (int r = p.first; r < p.first + p.count; ++r) {
      lowers_.push_back(position(others_[z(r)], p.row));
      uppers_.push_back(position(p.row, others_[z(r)]));
      for (int c = p.first; c < p.first + p.count; ++c)
        targets_.push_back(position(others_[z(r)], others_[z(c)]));
    }
  }
  for (int a : last_)
    for (int b : last_) tail_.push_back(position(a, b));
  inverse_.resize(pivots_.size() + last_.size());
}

// Takes the row with the fewest neighbours first, the lowest of equals, and joins
// its neighbours to each other: that is where the elimination fills in. Steady rows
// come before all others where they fill in next to nothing.
void Elimination::order(Entries& entries, const std::vector<std::uint8_t>& steady) {
  constexpr std::size_t fewNeighbours = 3;
  std::vector<std::set<int>> near(z(n_));
  for (const auto& [key, index] : entries)
    if (key.first != key.second) {
      near[z(key.first)].insert(key.second);
      near[z(key.second)].insert(key.first);
    }
  std::vector<std::uint8_t> done(z(n_), false);
  for (int a : last_) done[z(a)] = true;
  for (std::size_t k = last_.size(); k < z(n_); ++k) {
    int best = -1;
    const auto look = [&](const auto& may) {
      for (int i = 0; i < n_; ++i)
        if (!done[z(i)] && may(i) && (best < 0 || near[z(i)].size() < near[z(best)].size()))
          best = i;
    };
    if (pivots_.size() == steady_)
      look([&](int i) { return steady[z(i)] && near[z(i)].size() <= fewNeighbours; });
    if (best >= 0) {
      ++steady_;
      steadyRow_[z(best)] = true;
    } else {
      look([](int) { return true; });
    }
    done[z(best)] = true;
    const std::vector<int> around(near[z(best)].begin(), near[z(best)].end());
    Pivot p{best, -1, static_cast<int>(others_.size()), static_cast<int>(around.size()), 0};
    others_.insert(others_.end(), around.begin(), around.end());
    pivots_.push_back(p);
    for (int a : around) {
      near[z(a)].erase(best);
      entries[{a, best}] = entries[{best, a}] = 0;
      for (int b : around) {
        if (a != b) near[z(a)].insert(b);
        entries[{a, b}] = 0;
      }
    }
  }
}

int Elimination::position(int row, int column) const {
  if (row < 0 || column < 0) return -1;
  const auto first = rows_.begin() + columns_[z(column)],
             last = rows_.begin() + columns_[z(column) + 1];
  const auto found = std::lower_bound(first, last, row);
  assert(found != last && *found == row);
  return static_cast<int>(found - rows_.begin());
}

bool Elimination::eliminate(double* v, std::size_t from, std::size_t to) {
  for (std::size_t k = from; k < to; ++k) {
    const Pivot& p = pivots_[k];
    const double d = v[p.diagonal];
    if (!(std::abs(d) > 0 && std::abs(d) <= largest)) return false;
    const double inverse = inverse_[k] = 1 / d;
    const int* upper = uppers_.data() + p.first;
    const int* target = targets_.data() + p.targets;
    for (int r = 0; r < p.count; ++r, target += p.count) {
      double& lower = v[lowers_[z(p.first + r)]];
      if (lower == 0) continue;
      lower *= inverse;
      for (int c = 0; c < p.count; ++c) v[target[c]] -= lower * v[upper[c]];
    }
  }
  return true;
}

bool Elimination::begin(std::vector<double>& values, std::vector<double>& rhs) {
  if (!eliminate(values.data(), 0, steady_)) return false;
  beginRhs(values, rhs);
  return true;
}

bool Elimination::factor(std::vector<double>& values, const Held& held) {
  held_ = held;
  double* v = values.data();
  if (!eliminate(v, steady_, pivots_.size())) return false;
  const std::size_t m = last_.size();
  for (std::size_t k = 0; k < m; ++k) {
    if (held_[k]) continue;
    const double d = v[tail_[k * m + k]];
    if (!(std::abs(d) > 0 && std::abs(d) <= largest)) return false;
    const double inverse = inverse_[pivots_.size() + k] = 1 / d;
    for (std::size_t r = 0; r < m; ++r) {
      if (r == k || (r < k && !held_[r])) continue;
      double& lower = v[tail_[r * m + k]];
      lower *= inverse;
      for (std::size_t c = 0; c < m; ++c)
        if (c != k && (held_[c] || c > k)) v[tail_[r * m + c]] -= lower * v[tail_[k * m + c]];
    }
  }
  return true;
}

void Elimination::forth(const std::vector<double>& values, std::vector<double>& x, std::size_t from,
                        std::size_t to) const {
  const double* v = values.data();
  double* b = x.data();
  for (std::size_t k = from; k < to; ++k) {
    const Pivot& p = pivots_[k];
    const double own = b[p.row];
    if (own == 0) continue;
    for (int r = p.first; r < p.first + p.count; ++r) b[others_[z(r)]] -= v[lowers_[z(r)]] * own;
  }
}

void Elimination::back(const std::vector<double>& values, std::vector<double>& x, std::size_t from,
                       std::size_t to) const {
  const double* v = values.data();
  double* b = x.data();
  for (std::size_t k = from; k-- > to;) {
    const Pivot& p = pivots_[k];
    double sum = b[p.row];
    for (int c = p.first; c < p.first + p.count; ++c) sum -= v[uppers_[z(c)]] * b[others_[z(c)]];
    b[p.row] = sum * inverse_[k];
  }
}

void Elimination::solve(const std::vector<double>& values, std::vector<double>& x,
                        const std::vector<double>& given, std::vector<double>& delivered) const {
  const double* v = values.data();
  double* b = x.data();
  forth(values, x, steady_, pivots_.size());
  const std::size_t m = last_.size();
  for (std::size_t k = 0; k < m; ++k) {
    if (held_[k]) continue;
    for (std::size_t r = 0; r < m; ++r)
      if (r != k && (r > k || held_[r])) b[last_[r]] -= v[tail_[r * m + k]] * b[last_[k]];
  }
  delivered.assign(m, 0.0);
  for (std::size_t k = 0; k < m; ++k)
    if (held_[k]) delivered[k] = -b[last_[k]];
  for (std::size_t k = 0; k < m; ++k)
    if (held_[k]) b[last_[k]] = given[k];
  for (std::size_t k = m; k-- > 0;) {
    if (held_[k]) continue;
    double sum = b[last_[k]];
    for (std::size_t c = 0; c < m; ++c)
      if (c != k && (held_[c] || c > k)) sum -= v[tail_[k * m + c]] * b[last_[c]];
    b[last_[k]] = sum * inverse_[pivots_.size() + k];
  }
  for (std::size_t r = 0; r < m; ++r)
    for (std::size_t c = 0; held_[r] && c < m; ++c)
      if (held_[c]) delivered[r] += v[tail_[r * m + c]] * b[last_[c]];
  back(values, x, pivots_.size(), steady_);
}

}  // namespace ignavo::electric
