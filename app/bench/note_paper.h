#pragma once
#include <QLabel>
#include <QWidget>

#include "document/document.h"
#include "run/run_control.h"

namespace ignavo::app {

// The notes that programs put up, as papers on the bench: the last one of each board, as long as it
// stays.
class NotePaper : public QWidget {
  Q_OBJECT
 public:
  NotePaper(Document& document, RunControl& run, QWidget* bench);
  void refresh();
  void setBelow(int y);  // what lies over the bench above it ends there

 protected:
  void paintEvent(QPaintEvent*) override;

 private:
  Document& doc_;
  RunControl& run_;
  QLabel* text_;
  int below_ = 0;
};

}  // namespace ignavo::app
