#pragma once
#include <QWidget>

#include "document/document.h"

namespace ignavo::app {

// The worst reading of each part and used pin, as a table with bars. A row that is pointed at,
// or gone to with the arrow keys, is shown on the bench as it stands then.
class ReadingsPane : public QWidget {
  Q_OBJECT
 public:
  explicit ReadingsPane(Document& document, QWidget* parent = nullptr);
  QRect rowRect(int index) const;

 Q_SIGNALS:
  void pointed(int index);  // of CheckResult::readings; -1: none
  void chosen(int index);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void mouseMoveEvent(QMouseEvent*) override;
  void leaveEvent(QEvent*) override;
  void keyPressEvent(QKeyEvent*) override;
  void focusInEvent(QFocusEvent*) override;
  void focusOutEvent(QFocusEvent*) override;

 private:
  int count() const;
  int rowAt(QPointF at) const;
  void goTo(int index, bool byKeys);
  QString whenOf(const WorstReading& reading) const;
  void paintRow(QPainter& p, int index) const;

  Document& doc_;
  int at_ = -1;         // the row that is pointed at
  bool keyed_ = false;  // it was gone to with the keys
};

}  // namespace ignavo::app
