#pragma once
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QWidget>
#include <atomic>
#include <memory>

#include "document/document.h"
#include "run/run_control.h"

namespace ignavo::app {

// "Find when": a condition is typed, and the moment at which it comes to be so is looked at; once
// more, the next one.
class FindBar : public QWidget {
  Q_OBJECT
 public:
  FindBar(Document& document, RunControl& run, QWidget* parent = nullptr);
  ~FindBar() override;
  void open();
  QString answer() const { return answer_->text(); }

 Q_SIGNALS:
  void found(Nanoseconds at);
  void closed();

 protected:
  void keyPressEvent(QKeyEvent*) override;

 private:
  void find();
  void record(const std::vector<Signal>& missing);
  void tell(const QString& words, bool wrong);

  Document& doc_;
  RunControl& run_;
  QLineEdit* box_;
  QLabel* answer_;
  QPushButton *next_, *close_;
  std::shared_ptr<std::atomic<bool>> looking_;  // set: it is cancelled
  QString asked_;
  bool waits_ = false;  // for the past to be recorded anew
  Nanoseconds foundAt_ = -1;
};

}  // namespace ignavo::app
