#pragma once
#include <QLineEdit>
#include <QWidget>

#include "parts/catalogue.h"

class QHBoxLayout;
class QButtonGroup;

namespace ignavo::app {

// One kind of part, to be taken by a click, a drag, or Return.
class CabinetCard : public QWidget {
  Q_OBJECT
 public:
  // `kind` null: the card for wires.
  CabinetCard(const PartKind* kind, QWidget* parent = nullptr);
  std::string type() const { return kind_ ? kind_->type : std::string(); }
  QSize sizeHint() const override { return {166, 118}; }

 Q_SIGNALS:
  void taken(const std::string& type);
  void dragged(const QPoint& global);
  void dropped(const QPoint& global);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void mouseMoveEvent(QMouseEvent*) override;
  void mouseReleaseEvent(QMouseEvent*) override;
  void keyPressEvent(QKeyEvent*) override;
  void focusInEvent(QFocusEvent*) override { update(); }
  void focusOutEvent(QFocusEvent*) override { update(); }
  void enterEvent(QEnterEvent*) override { update(); }
  void leaveEvent(QEvent*) override { update(); }

 private:
  const PartKind* kind_;
  QPoint pressed_;
  bool dragging_ = false;
};

// Where parts are taken from.
class Cabinet : public QWidget {
  Q_OBJECT
 public:
  explicit Cabinet(QWidget* parent = nullptr);
  CabinetCard* card(const std::string& type) const;

 Q_SIGNALS:
  void taken(const std::string& type);  // empty: a wire
  void dragged(const QPoint& global);
  void dropped(const QPoint& global);

 private:
  void refill();
  QLineEdit* find_;
  QButtonGroup* drawers_;
  QHBoxLayout* row_;
  QWidget* none_;
  QString drawer_;
};

}  // namespace ignavo::app
