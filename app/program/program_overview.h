#pragma once
#include <QScrollArea>
#include <QWidget>

#include "program/program_view.h"

namespace ignavo::app {

// A long program as a whole, beside it: a bar for each step, the part in sight framed. A click or
// drag goes there. Hidden while the program is not much longer than what is in sight.
class ProgramOverview : public QWidget {
  Q_OBJECT
 public:
  ProgramOverview(ProgramView* view, QScrollArea* scroll, Document& document, RunControl& run,
                  QWidget* parent);
  static constexpr double longerThan = 2.5;  // what is in sight

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent* e) override;
  void mouseMoveEvent(QMouseEvent* e) override { mousePressEvent(e); }

 private:
  void look();
  double scale() const;  // pixels here for one of the picture

  ProgramView* view_;
  QScrollArea* scroll_;
  Document& doc_;
};

}  // namespace ignavo::app
