#pragma once
#include <algorithm>
#include <cstdint>
#include <vector>

namespace ignavo::test {

// When the letters of a line from a board to the computer get into its buffer and out of it: 64 are
// held at most, and each takes 260 microseconds. What room there is is counted from the end of the
// work that was counted, and looked for at the beginning of each turn.
class LineModel {
 public:
  // Is all of the line before in the buffer at the beginning of this turn?
  bool isFree(std::int64_t turn) const { return turn >= allIn_; }
  // How many begin after the one moment, up to the other, beside the first after a rest.
  long letters(std::int64_t from, std::int64_t until) const {
    long out = 0;
    for (std::size_t i = 1; i < leaves_.size(); ++i) {
      const std::int64_t begins = leaves_[i] - letter;
      if (begins == leaves_[i - 1] && begins > from && begins <= until) ++out;
    }
    return out;
  }
  // How many get in behind the one moment, up to the other.
  long moved(std::int64_t from, std::int64_t until) const {
    return static_cast<long>(std::count_if(
        in_.begin(), in_.end(), [&](std::int64_t in) { return in > from && in <= until; }));
  }
  // How many of them get in at once; the first goes out when it is ready.
  std::size_t say(std::size_t letters, std::int64_t turn, std::int64_t counted, std::int64_t now,
                  std::int64_t ready) {
    constexpr std::int64_t turnLength = 250'000;
    std::size_t atOnce = 0;
    const bool idle = leaves_.empty() || leaves_.back() <= now;
    std::int64_t leaves = idle ? ready : leaves_.back();
    gone_ = std::max(gone_, counted);
    allIn_ = turn;
    for (std::size_t i = 0; i < letters; ++i) {
      while (gone_ - allIn_ > 63 * letter) allIn_ += turnLength;
      gone_ += letter;
      atOnce += allIn_ == turn ? 1 : 0;
      in_.push_back(allIn_);
      leaves_.push_back(leaves += letter);
    }
    return atOnce;
  }

 private:
  static constexpr std::int64_t letter = 260'000;
  std::int64_t gone_ = 0, allIn_ = 0;  // as it is counted
  std::vector<std::int64_t> in_;
  std::vector<std::int64_t> leaves_;  // really
};

}  // namespace ignavo::test
