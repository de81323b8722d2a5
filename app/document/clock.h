#pragma once
#include <condition_variable>
#include <functional>
#include <mutex>

class QObject;

namespace ignavo::app {

// Where the window's time comes from: the machine, or a test that moves it itself.
class Clock {
 public:
  virtual ~Clock() = default;
  // Seconds since some moment; never go back. Any thread.
  virtual double seconds() = 0;
  // Sleeps until the next frame, or until `wake` is told; `lock` is let go meanwhile. Any thread
  // but the interface's.
  virtual void sleepToFrame(std::unique_lock<std::mutex>& lock, std::condition_variable& wake) = 0;
  // Calls `what` once, so much later, in the interface's thread, if `context` is there then.
  virtual void later(QObject* context, int milliseconds, std::function<void()> what) = 0;
};

inline constexpr int frameMs = 16;

Clock& machineClock();

}  // namespace ignavo::app
