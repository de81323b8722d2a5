#pragma once
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <QWidget>

#include "run/chip_run.h"

namespace ignavo::app {

// What the chip's own code does, in a line below the top bar: compiling, running, and how it
// compares with the steps. There while the boards run, or are to run, something else than steps.
class CodeBar : public QWidget {
  Q_OBJECT
 public:
  CodeBar(ChipRun& chip, RunControl& run, QWidget* parent = nullptr);
  QString words() const { return words_->text(); }
  QString verdict() const { return verdict_->text(); }

 Q_SIGNALS:
  void differenceWanted();
  void againWanted();  // compile what the program is now, and begin anew
  void stepsWanted();

 private:
  void refresh();
  QString state() const;
  ChipRun& chip_;
  RunControl& run_;
  QLabel *words_, *verdict_;
  QProgressBar* progress_;
  QPushButton *cancel_, *show_, *again_, *steps_;
};

}  // namespace ignavo::app
