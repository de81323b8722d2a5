#pragma once
#include <QPlainTextEdit>
#include <set>

#include "document/document.h"
#include "make/c_text.h"

namespace ignavo::app {

// The program as C: exactly what the build compiles. The program's own part is what one sees; what
// only knows the chip is folded into a line each until that is clicked. Selecting a step selects
// its lines, and a click into a line selects its step.
class CodeView : public QPlainTextEdit {
  Q_OBJECT
 public:
  explicit CodeView(Document& document, QWidget* parent = nullptr);
  // All of it, whatever is folded.
  QString wholeText() const { return QString::fromStdString(text_.text); }

 protected:
  void mouseReleaseEvent(QMouseEvent* e) override;
  void keyPressEvent(QKeyEvent* e) override;

 private:
  void refresh();
  void write();
  void markStep();
  // The fold in whose place that line stands; -1: none.
  int foldAt(int block) const;
  void toggle(int fold);
  int blockOf(int line) const;  // of the text; -1: it is folded away
  void selectStepAt(int block);

  Document& doc_;
  std::string board_;
  CText text_;
  std::set<int> open_;      // folds that were opened, by their number
  std::vector<int> lines_;  // of each block: the line of the text; below 0: fold -1, -2, …
  bool marking_ = false;
};

}  // namespace ignavo::app
