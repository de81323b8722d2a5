#pragma once
#include <QLineEdit>

namespace ignavo::app {

// A line in which a value is typed in its place. Return takes what stands there, Escape does not,
// Tab takes it and goes on; without the keyboard it is left. Arrows and the wheel step it.
class FieldEditor : public QLineEdit {
  Q_OBJECT
 public:
  FieldEditor(const QString& text, const QRectF& box, QWidget* parent);

 Q_SIGNALS:
  void taken();
  void given();  // up: nothing is taken
  void left();
  void next(int direction);
  void stepped(int direction);  // up: 1

 protected:
  bool event(QEvent* e) override;
  void focusOutEvent(QFocusEvent* e) override;
  void wheelEvent(QWheelEvent* e) override;
};

}  // namespace ignavo::app
