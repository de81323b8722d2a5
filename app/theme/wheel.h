#pragma once
#include <QEvent>
#include <QWidget>

namespace ignavo::app {

// In a pane that scrolls the wheel scrolls; it turns a field's value only when that field has
// the focus, never because it came under the pointer.
class WheelPasses : public QObject {
 public:
  explicit WheelPasses(QWidget* field) : QObject(field), field_(field) {
    field->setFocusPolicy(Qt::StrongFocus);
    field->installEventFilter(this);
  }

 protected:
  bool eventFilter(QObject*, QEvent* e) override {
    if (e->type() != QEvent::Wheel || field_->hasFocus()) return false;
    e->ignore();  // so that the pane gets it
    return true;
  }

 private:
  QWidget* field_;
};

}  // namespace ignavo::app
