#pragma once
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <QWidget>

#include "document/document.h"
#include "run/run_control.h"

namespace ignavo::app {

// What stands above the trace while one is not in the present: that a moment of the past is looked
// at; that the past was made anew with something changed, and while it is made, how far that is.
class TurnBar : public QWidget {
  Q_OBJECT
 public:
  TurnBar(Document& document, RunControl& run, QWidget* parent = nullptr);
  QString words() const { return words_->text(); }

 Q_SIGNALS:
  void backWanted();
  void branchWanted();  // on from the moment that is looked at
  void cancelWanted();
  void differencesWanted(QPoint global);  // a list of them there

 protected:
  bool eventFilter(QObject*, QEvent* e) override;

 private:
  void refresh();
  void place();
  Document& doc_;
  RunControl& run_;
  QLabel* words_;
  QProgressBar* progress_;
  QPushButton *cancel_, *differences_, *back_, *now_, *branch_;
};

}  // namespace ignavo::app
