#pragma once
#include <vector>

#include "run/device.h"
#include "run/stress.h"

namespace ignavo {

// What a part bears for a while only: it breaks where the mean over a window is above a limit.
class PartHeat final : public DeviceOf<PartHeat> {
 public:
  explicit PartHeat(int part) : part_(part) {}

  // One of its limits is at `value` from now on.
  void change(const Run& run, std::size_t limit, double value);
  bool hot(std::size_t limit) const { return !stress_.empty() && stress_[limit].hot(); }
  void reset();                    // nothing was too much so far
  void replaced(Nanoseconds now);  // by a new one

  Nanoseconds due() const override;
  Done act(Run& run) override;
  bool repeats(const PartHeat& then, Nanoseconds) const;
  void skip(const PartHeat&, Nanoseconds, std::int64_t) {}

 private:
  int part_;
  // Per limit of its row in the model; empty until one was exceeded: of most parts none ever is.
  std::vector<Stress> stress_;
  Nanoseconds newAt_ = 0;  // what was before did not touch it
};

// The same of a board's pins: one that gives too much for too long gives nothing any more.
class PinHeat final : public DeviceOf<PinHeat> {
 public:
  explicit PinHeat(int board) : board_(board) {}

  // A pin gives so many amps from now on; before that, `ampsBefore` for long.
  void change(const Run& run, std::size_t index, double amps, double ampsBefore);
  bool hot(std::size_t index) const { return !stress_.empty() && stress_[index].hot(); }
  void reset();

  Nanoseconds due() const override;
  Done act(Run& run) override;
  bool repeats(const PinHeat& then, Nanoseconds) const;
  void skip(const PinHeat&, Nanoseconds, std::int64_t) {}

 private:
  int board_;
  std::vector<Stress> stress_;  // per pin of the board, as RunModel::pinsOfBoard; or empty
};

}  // namespace ignavo
