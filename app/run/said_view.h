#pragma once
#include <QPlainTextEdit>
#include <QWidget>

#include "document/document.h"
#include "run/run_control.h"

namespace ignavo::app {

// What the boards wrote to the log; it can be kept as a text. Not there while nothing was written.
class SaidView : public QWidget {
  Q_OBJECT
 public:
  SaidView(Document& document, RunControl& run, QWidget* parent = nullptr);
  // All of it as text, a line each: when, of several boards which one, what.
  QString text() const;

 Q_SIGNALS:
  void keepWanted();

 private:
  void show(const std::vector<SaidLine>& said);
  QString told(const SaidLine& line) const;
  void showLog(std::vector<SaidLine> lines);

  Document& doc_;
  RunControl& run_;
  QPlainTextEdit* log_;
  std::vector<SaidLine> shown_;  // that the log tells
};

}  // namespace ignavo::app
