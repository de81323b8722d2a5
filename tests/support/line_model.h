#pragma once
#include <algorithm>
#include <cstdint>
#include <vector>

namespace ignavo::test {

// When the letters of a line from a board to the computer get into its buffer and out of it: 66 are
// held at most, and each takes 260 microseconds.
class LineModel {
 public:
  // Is all of the line before in the buffer?
  bool isFree(std::int64_t now) const { return now >= allIn_; }
  void say(std::size_t letters, std::int64_t now) {
    constexpr std::size_t holds = 66;
    for (std::size_t i = 0; i < letters; ++i) {
      const std::size_t n = leaves_.size();
      allIn_ = n >= holds ? std::max(now, leaves_[n - holds]) : now;
      leaves_.push_back(std::max(allIn_, n > 0 ? leaves_[n - 1] : 0) + 260'000);
    }
    if (allIn_ == now) allIn_ = 0;  // none of it has to wait
  }

 private:
  std::int64_t allIn_ = 0;
  std::vector<std::int64_t> leaves_;
};

}  // namespace ignavo::test
