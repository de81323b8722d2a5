#pragma once
#include <QCoreApplication>
#include <QPointer>
#include <atomic>
#include <thread>
#include <vector>

#include "document/clock.h"

namespace ignavo::test {

// A window's clock that stands until the test moves it, frame by frame. When advance() returns,
// whoever sleeps to the next frame has done what was due in each.
class HandClock final : public app::Clock {
 public:
  double seconds() override { return milliseconds_ * 1e-3; }
  void sleepToFrame(std::unique_lock<std::mutex>& lock, std::condition_variable& wake) override {
    mutex_ = lock.mutex();
    wake_ = &wake;
    asleep_ = true;
    wake.wait(lock);
    asleep_ = false;
  }
  void later(QObject* context, int milliseconds, std::function<void()> what) override {
    calls_.push_back({milliseconds_ + milliseconds, context, std::move(what)});
  }

  void advance(int milliseconds) {
    for (int left = milliseconds; left > 0; left -= app::frameMs) {
      waitForSleeper();
      {
        const std::lock_guard lock(*mutex_.load());
        milliseconds_ += std::min(left, app::frameMs);
        asleep_ = false;
        wake_.load()->notify_all();
      }
      waitForSleeper();
      callWhatIsDue();
      QCoreApplication::processEvents();
    }
  }

 private:
  struct Call {
    int at;
    QPointer<QObject> context;
    std::function<void()> what;
  };
  void waitForSleeper() {
    while (!asleep_) std::this_thread::yield();
  }
  void callWhatIsDue() {
    const int now = milliseconds_;
    std::vector<Call> due;
    std::erase_if(calls_, [&](const Call& call) {
      if (call.at <= now) due.push_back(call);
      return call.at <= now;
    });
    for (const Call& call : due)
      if (call.context) call.what();
  }

  std::atomic<int> milliseconds_{0};
  std::atomic<bool> asleep_{false};
  std::atomic<std::mutex*> mutex_{nullptr};
  std::atomic<std::condition_variable*> wake_{nullptr};
  std::vector<Call> calls_;
};

}  // namespace ignavo::test
