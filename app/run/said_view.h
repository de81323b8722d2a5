#pragma once
#include <QLabel>
#include <QPlainTextEdit>
#include <QWidget>

#include "document/document.h"
#include "run/run_control.h"

namespace ignavo::app {

// What the boards say to the computer: the note that is up, and the log. Not there while nothing
// was said.
class SaidView : public QWidget {
  Q_OBJECT
 public:
  SaidView(Document& document, RunControl& run, QWidget* parent = nullptr);

 private:
  void show(const std::vector<SaidLine>& said, Nanoseconds now);
  void showLog(std::vector<SaidLine> lines);

  Document& doc_;
  RunControl& run_;
  QLabel* note_;
  QPlainTextEdit* log_;
  std::vector<SaidLine> shown_;  // that the log tells
};

}  // namespace ignavo::app
