#pragma once
#include <QWidget>
#include <memory>

#include "check/what_if.h"
#include "document/document.h"
#include "inspector/curve_plot.h"

class QLabel;
class QPushButton;
class QSlider;

namespace ignavo::app {

// "What if": a value is turned, and what the part would get follows, with a small plot of
// its current against that value. Nothing changes until it is kept.
class WhatIfView : public QWidget {
  Q_OBJECT
 public:
  // Hidden where there is nothing to be turned for this part.
  WhatIfView(Document& document, const std::string& part, QWidget* parent);

 protected:
  void changeEvent(QEvent*) override;

 private:
  void choose(int which);
  void turned();
  void keep();
  void plotCurve();
  double valueAt(int step) const;
  int stepOf(double value) const;
  QString valueText(double value) const;
  QString resultText(const Predicted& p) const;

  Document& doc_;
  std::string part_;
  std::vector<WhatIf> all_;
  std::unique_ptr<Prediction> prediction_;
  QSlider* slider_;
  QLabel *value_, *result_;
  CurvePlot* plot_;
  double inUnits_ = 1;  // that a milliampere has in the plot
  QPushButton* keep_;
};

}  // namespace ignavo::app
