#pragma once
#include <cstddef>
#include <numeric>
#include <vector>

namespace ignavo::electric {

// Things that belong together, joined two by two. A group goes by its lowest member, so
// the one that node 0 is in is the group 0.
class DisjointSet {
 public:
  explicit DisjointSet(std::size_t count) : parent_(count) { clear(); }
  // Everything stands alone again.
  void clear() { std::iota(parent_.begin(), parent_.end(), 0); }
  int of(int member) {
    while (up(member) != member) member = up(member) = up(up(member));
    return member;
  }
  void join(int a, int b) {
    a = of(a), b = of(b);
    up(a > b ? a : b) = a < b ? a : b;
  }

 private:
  int& up(int member) { return parent_[static_cast<std::size_t>(member)]; }
  std::vector<int> parent_;
};

}  // namespace ignavo::electric
