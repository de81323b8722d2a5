#pragma once
#include <QEvent>
#include <QWidget>
#include <functional>

namespace ignavo::app {

// Work that only a visible pane needs: done at once while it is shown, else
// once when it is shown next.
class WhenShown : public QObject {
 public:
  WhenShown(QWidget* pane, std::function<void()> work)
      : QObject(pane), pane_(pane), work_(std::move(work)) {
    pane->installEventFilter(this);
  }
  void ask() {
    stale_ = !pane_->isVisible();
    if (!stale_) work_();
  }

 private:
  bool eventFilter(QObject*, QEvent* e) override {
    if (e->type() == QEvent::Show && stale_) {
      stale_ = false;
      work_();
    }
    return false;
  }
  QWidget* pane_;
  std::function<void()> work_;
  bool stale_ = false;
};

}  // namespace ignavo::app
