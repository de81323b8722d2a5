#pragma once
#include <QPlainTextEdit>

#include "document/document.h"
#include "make/c_text.h"

namespace ignavo::app {

// The program as C: exactly what the build compiles. Selecting a step selects
// its lines, and a click into a line selects its step.
class CodeView : public QPlainTextEdit {
  Q_OBJECT
 public:
  explicit CodeView(Document& document, QWidget* parent = nullptr);

 private:
  void refresh();
  void markStep();
  Document& doc_;
  std::string board_;
  CText text_;
  bool marking_ = false;
};

}  // namespace ignavo::app
