#pragma once
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QSplitter>
#include <QWidget>

#include "program/code_view.h"
#include "program/program_view.h"
#include "program/shelf.h"

namespace ignavo::app {

// The program with its head: steps, text, or both beside each other, and the
// shelf of step kinds.
class NamesStrip;

class ProgramPane : public QWidget {
  Q_OBJECT
 public:
  ProgramPane(Document& document, RunControl& run, QWidget* parent = nullptr);
  ProgramView* view() const { return view_; }
  CodeView* code() const { return code_; }
  NamesStrip* names() const { return names_; }
  // What the rails are seen through.
  QWidget* rails() const { return scroll_->viewport(); }
  // Says that only a part of the program is done; empty: all of it is.
  void setTrial(const QString& what);
  // Wide enough for the shelf and both views.
  void setRoomy(bool roomy);
  // The text stands beside the steps where there is room: only once it was asked for.
  bool textBeside() const { return beside_; }
  void setTextBeside(bool beside);

 Q_SIGNALS:
  void wholeWanted();  // instead of the part that is tried

 protected:
  void resizeEvent(QResizeEvent*) override;

 private:
  QLayout* makeHead();
  QWidget* makeStrip(RunControl& run);
  QWidget* makeTrialBar();
  QWidget* makeRails(RunControl& run);
  QLayout* makeWays(QWidget* held);
  QWidget* makeText();
  void connectParts();
  void tellPace();
  void show(int which);
  void tellHeads();
  Document& doc_;
  ProgramView* view_;
  CodeView* code_;
  QScrollArea* scroll_;
  QWidget* text_;
  Shelf* shelf_;
  QLabel *problem_, *pace_, *heads_;
  NamesStrip* names_;
  QFrame* trial_;
  QLabel* trialWords_;
  QPushButton* tabs_[3];
  int which_ = 0;
  bool roomy_ = false, beside_ = false;
};

}  // namespace ignavo::app
