#pragma once
#include <QLabel>
#include <QWidget>

#include "document/document.h"

class QVBoxLayout;

namespace ignavo::app {

// The findings of the check: cause, figures and remedy of each.
class FindingsPane : public QWidget {
  Q_OBJECT
 public:
  explicit FindingsPane(Document& document, QWidget* parent = nullptr);
  void showFinding(int index);  // scrolls to it and marks it

 Q_SIGNALS:
  void hovered(int index);  // -1: none
  void chosen(int index);
  void previewWanted(int index, int remedy);  // -1: none

 protected:
  void resizeEvent(QResizeEvent*) override;

 private:
  void rebuild();
  Document& doc_;
  QLabel* head_;
  QLabel* under_;
  QLabel* foot_;
  QVBoxLayout* list_;
  QWidget* inner_;
  QString shown_;
  bool narrow_ = false;
};

// The worst reading of each part and used pin, as a table with bars.
class ReadingsPane : public QWidget {
  Q_OBJECT
 public:
  explicit ReadingsPane(Document& document, QWidget* parent = nullptr);

 Q_SIGNALS:
  void hovered(const QString& part);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent*) override;

 private:
  Document& doc_;
};

}  // namespace ignavo::app
