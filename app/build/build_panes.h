#pragma once
#include <QLabel>
#include <QPlainTextEdit>
#include <QProgressBar>
#include <QPushButton>
#include <QWidget>
#include <functional>

#include "document/document.h"
#include "document/firmware_maker.h"
#include "make/firmware.h"
#include "make/sheet.h"

class QVBoxLayout;

namespace ignavo::app {

// The steps of the build, in an order that works on a table, to be ticked.
class StepsPane : public QWidget {
  Q_OBJECT
 public:
  explicit StepsPane(Document& document, QWidget* parent = nullptr);

 Q_SIGNALS:
  void focused(const QString& id);  // part or wire of the step to be done next

 private:
  void rebuild();
  Document& doc_;
  QLabel* under_;
  QProgressBar* bar_;
  QVBoxLayout* list_;
  QWidget* inner_;
};

// What to have on the table, and what a meter should read.
class NeedsPane : public QWidget {
  Q_OBJECT
 public:
  explicit NeedsPane(Document& document, QWidget* parent = nullptr);

 private:
  void rebuild();
  Document& doc_;
  QVBoxLayout* column_;
  QWidget* page_ = nullptr;
};

// Makes the firmware: stages with progress, sizes, and the file to keep.
class FirmwarePane : public QWidget {
  Q_OBJECT
 public:
  explicit FirmwarePane(Document& document, QWidget* parent = nullptr);
  // Asks where to keep the HEX file; empty to give up.
  std::function<QString(const QString& suggested)> askWhere;
  FirmwareMaker& maker() { return maker_; }
  void make();
  bool isBusy() const { return maker_.isBusy(); }
  QString result() const { return result_->text(); }

 private:
  void done(const FirmwareMaker::Made& all);
  std::string boardId() const;
  std::string textNow() const;
  void outdated();  // another program than the one that is made, or was
  void setStage(int stage, int percent, const QString& note);
  Document& doc_;
  QPushButton* button_;
  QPushButton* save_;
  QPushButton* cancel_;
  QProgressBar* bars_[2];
  QLabel* notes_[2];
  QLabel* result_;
  QPlainTextEdit* log_;
  std::string hex_;
  std::string made_;  // C text of the firmware that is there or under way
  FirmwareMaker maker_;
};

}  // namespace ignavo::app
