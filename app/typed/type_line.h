#pragma once
#include <QFrame>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>

#include "document/document.h"
#include "format/wiring_language.h"

namespace ignavo::app {

// One line where wiring and steps can be typed: shows what the line would do
// while it is typed, how it may go on, and what is wrong in its place.
class TypeLine : public QFrame {
  Q_OBJECT
 public:
  explicit TypeLine(Document& document, QWidget* parent = nullptr);

  void open(const QString& begun = {});
  void close();
  QLineEdit* field() { return field_; }
  QString message() const { return message_->text(); }

 Q_SIGNALS:
  void previewWanted(const Project* project);  // null: none
  void opened();
  void closed();

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;
  void paintEvent(QPaintEvent*) override;

 private:
  void refresh();
  void enter();
  void acceptCompletion();
  void restyle();

  Document& doc_;
  QLineEdit* field_;
  QLabel* message_;
  QListWidget* list_;
  Typed typed_;
  QStringList history_;
  int recalled_ = -1;
};

}  // namespace ignavo::app
