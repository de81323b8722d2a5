#include "document/clock.h"

#include <QTimer>
#include <chrono>

namespace ignavo::app {

namespace {

class MachineClock final : public Clock {
 public:
  double seconds() override {
    return std::chrono::duration<double>(std::chrono::steady_clock::now().time_since_epoch())
        .count();
  }
  void sleepToFrame(std::unique_lock<std::mutex>& lock, std::condition_variable& wake) override {
    wake.wait_for(lock, std::chrono::milliseconds(frameMs));
  }
  void later(QObject* context, int milliseconds, std::function<void()> what) override {
    QTimer::singleShot(milliseconds, context, std::move(what));
  }
};

}  // namespace

Clock& machineClock() {
  static MachineClock clock;
  return clock;
}

}  // namespace ignavo::app
