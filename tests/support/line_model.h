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
  // How many begin after the one moment, up to the other, beside the first after a rest.
  long letters(std::int64_t from, std::int64_t until) const {
    long out = 0;
    for (std::size_t i = 1; i < leaves_.size(); ++i) {
      const std::int64_t begins = leaves_[i] - 260'000;
      if (begins == leaves_[i - 1] && begins > from && begins <= until) ++out;
    }
    return out;
  }
  // How many of them get in at once; the first goes out when it is ready.
  std::size_t say(std::size_t letters, std::int64_t now, std::int64_t ready) {
    constexpr std::size_t holds = 66;
    std::size_t atOnce = 0;
    const std::size_t first = leaves_.size();
    const bool idle = first == 0 || leaves_.back() <= now;
    for (std::size_t i = 0; i < letters; ++i) {
      const std::size_t n = leaves_.size();
      allIn_ = n >= holds ? std::max(now, leaves_[n - holds]) : now;
      atOnce += allIn_ == now ? 1 : 0;
      const std::int64_t before = n > 0 ? leaves_[n - 1] : 0;
      leaves_.push_back(std::max(n == first && idle ? ready : allIn_, before) + 260'000);
    }
    if (allIn_ == now) allIn_ = 0;  // none of it has to wait
    return atOnce;
  }

 private:
  std::int64_t allIn_ = 0;
  std::vector<std::int64_t> leaves_;
};

}  // namespace ignavo::test
