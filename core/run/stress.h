#pragma once
#include <cmath>
#include <vector>

#include "run/trace.h"

namespace ignavo {

// The moving mean of a quantity over a window, in buckets of one millisecond,
// against a limit. Only worked on while the quantity could exceed it.
class Stress {
 public:
  Stress(double windowSeconds, double limit)
      : count_(static_cast<std::size_t>(std::lround(windowSeconds * 1000))), limit_(limit) {}

  double limit() const { return limit_; }
  bool hot() const { return hot_; }
  // The quantity changes at `at`; `earlierMean` is its mean over the window before.
  void change(Nanoseconds at, double value, double earlierMean);
  // Next moment at which exceeded() must be asked; only while hot.
  Nanoseconds nextCheck() const { return next_; }
  // Closes the millisecond that ends at nextCheck(); true when the mean is above the limit.
  bool exceeded();
  void clear() { hot_ = false; }

 private:
  void gather(Nanoseconds at);
  std::size_t count_;
  std::vector<double> buckets_;  // empty until it is worked on
  double limit_;
  double sum_ = 0, value_ = 0, filling_ = 0;
  std::size_t at_ = 0;
  Nanoseconds since_ = 0, next_ = 0;
  bool hot_ = false;
};

}  // namespace ignavo
