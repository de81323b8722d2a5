#include "run/stress.h"

#include <algorithm>

namespace ignavo {

namespace {
constexpr Nanoseconds bucket = 1'000'000;
// Exactly the limit is not more, whatever its last digits.
double justAbove(double limit) { return limit * (1 + 1e-6); }
}  // namespace

void Stress::gather(Nanoseconds at) {
  filling_ += value_ * static_cast<double>(at - since_) / static_cast<double>(bucket);
  since_ = at;
}

void Stress::change(Nanoseconds at, double value, double earlierMean) {
  if (hot_) {
    gather(at);
    value_ = value;
    return;
  }
  value_ = value;
  since_ = at;
  if (value <= justAbove(limit_)) return;
  hot_ = true;
  buckets_.assign(count_, earlierMean);
  at_ = 0;
  sum_ = earlierMean * static_cast<double>(buckets_.size());
  filling_ = 0;
  next_ = at + bucket;
}

bool Stress::exceeded() {
  gather(next_);
  next_ += bucket;
  sum_ += filling_ - buckets_[at_];
  buckets_[at_] = filling_;
  at_ = (at_ + 1) % buckets_.size();
  filling_ = 0;
  if (sum_ / static_cast<double>(buckets_.size()) > justAbove(limit_)) return true;
  if (value_ <= justAbove(limit_) && std::all_of(buckets_.begin(), buckets_.end(),
                                                 [&](double b) { return b <= justAbove(limit_); }))
    hot_ = false;
  return false;
}

}  // namespace ignavo
