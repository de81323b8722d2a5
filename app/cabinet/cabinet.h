#pragma once
#include <QLineEdit>
#include <QWidget>
#include <functional>

#include "parts/small_circuits.h"

class QHBoxLayout;
class QButtonGroup;
class QScrollArea;

namespace ignavo::app {

// Something that the cabinet holds.
struct CabinetItem {
  enum class What { wire, part, circuit, table } what = What::part;
  std::string id;  // type of part, board or breadboard; id of a small circuit; empty for a wire
  QString label, brief, help, description;
  QString drawer;
  bool first = false;              // lies in the drawer of first things
  std::vector<std::string> words;  // what people may search for, in small letters
  std::function<void(QPainter&, const QRectF&)> picture;

  // A word of a search, in small letters, that may be meant for it.
  bool answersTo(const QString& word) const;
};
const std::vector<CabinetItem>& cabinetItems();

// One thing, to be taken by a click, a drag, or Return.
class CabinetCard : public QWidget {
  Q_OBJECT
 public:
  CabinetCard(const CabinetItem& item, QWidget* parent = nullptr);
  const CabinetItem& item() const { return item_; }
  std::string type() const { return item_.id; }
  QSize sizeHint() const override { return {166, 118}; }

 Q_SIGNALS:
  void taken(const std::string& type);
  void circuitWanted(const std::string& id);
  void dragged(const QPoint& global);
  void dropped(const QPoint& global);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void mouseMoveEvent(QMouseEvent*) override;
  void mouseReleaseEvent(QMouseEvent*) override;
  void keyPressEvent(QKeyEvent*) override;
  void focusInEvent(QFocusEvent*) override;
  void focusOutEvent(QFocusEvent*) override { update(); }
  void enterEvent(QEnterEvent*) override { update(); }
  void leaveEvent(QEvent*) override { update(); }

 private:
  void take();
  const CabinetItem& item_;
  QPoint pressed_;
  bool dragging_ = false;
};

// Where parts are taken from.
class Cabinet : public QWidget {
  Q_OBJECT
 public:
  explicit Cabinet(QWidget* parent = nullptr);
  CabinetCard* card(const std::string& type) const;
  void find(const QString& words);

 Q_SIGNALS:
  void taken(const std::string& type);  // empty: a wire
  void circuitWanted(const std::string& id);
  void dragged(const QPoint& global);
  void dropped(const QPoint& global);

 protected:
  void resizeEvent(QResizeEvent*) override;

 private:
  void refill();
  QLineEdit* find_;
  QButtonGroup* drawers_;
  QHBoxLayout* row_;
  QScrollArea* scroll_;
  QWidget* none_;
  QString drawer_;
};

}  // namespace ignavo::app
