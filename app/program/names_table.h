#pragma once
#include <QTableWidget>

#include "document/document.h"
#include "run/run_control.h"

namespace ignavo::app {

// The variables and lists of a board's program: what they are called, what they begin with, and
// what they hold just now. Edited in place; hidden while there are none.
class NamesTable : public QTableWidget {
  Q_OBJECT
 public:
  NamesTable(Document& document, RunControl& run, QWidget* parent = nullptr);
  // A new one, with a name that is free, open to be typed over.
  void addVariable();
  void addList();

 Q_SIGNALS:
  void problem(const QString& sentence);

 protected:
  void keyPressEvent(QKeyEvent* e) override;
  void contextMenuEvent(QContextMenuEvent* e) override;
  void changeEvent(QEvent* e) override;

 private:
  enum Column { name, start, now, holds };
  const Program* program() const;
  void fill();
  void showValues();
  void edited(QTableWidgetItem* item);
  void removeCurrent();
  std::string freeName(const char* stem) const;

  Document& doc_;
  RunControl& run_;
  bool filling_ = false;
};

}  // namespace ignavo::app
