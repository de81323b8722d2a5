#pragma once
#include "run/run_control.h"

namespace ignavo::app {

// The run's kernel, as long as this lives: the worker sees who waits, and lets go. Whatever was
// left with it has been done then. The interface's thread.
class RunControl::Held {
 public:
  explicit Held(RunControl& run) : run_(run) {
    ++run_.waiting_;
    lock_ = std::unique_lock(run_.mutex_);
    --run_.waiting_;
    run_.doGiven();
  }

 private:
  RunControl& run_;
  std::unique_lock<std::mutex> lock_;
};

}  // namespace ignavo::app
