#pragma once
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <QWidget>

#include "document/document.h"
#include "run/run_control.h"

namespace ignavo::app {

// The past was made anew with something changed: says so, and leads back; while it is made, how far
// that is.
class TurnBar : public QWidget {
  Q_OBJECT
 public:
  TurnBar(Document& document, RunControl& run, QWidget* parent = nullptr);
  QString words() const { return words_->text(); }

 Q_SIGNALS:
  void backWanted();
  void cancelWanted();

 private:
  void refresh();
  Document& doc_;
  RunControl& run_;
  QLabel* words_;
  QProgressBar* progress_;
  QPushButton *cancel_, *back_;
};

}  // namespace ignavo::app
