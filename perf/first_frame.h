#pragma once
#include <QApplication>
#include <QEvent>
#include <QWidget>

namespace perf {

// Shows a window until it was painted for the first time, with all that is in it: on a desktop that
// is when it has its place there.
inline void showPainted(QWidget& window) {
  class Painted : public QObject {
   public:
    bool yes = false;

   private:
    bool eventFilter(QObject*, QEvent* e) override {
      yes = yes || e->type() == QEvent::Paint;
      return false;
    }
  } painted;
  window.installEventFilter(&painted);
  window.show();
  while (!painted.yes) QApplication::processEvents(QEventLoop::WaitForMoreEvents);
}

}  // namespace perf
