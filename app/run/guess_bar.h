#pragma once
#include <QLabel>
#include <QPushButton>
#include <QWidget>
#include <vector>

#include "document/document.h"
#include "run/run_control.h"

class QHBoxLayout;

namespace ignavo::app {

// Guess first: while the power is off, what each lamp will do, one after the other; afterwards what
// was guessed beside what came, with the first moment that was otherwise. No score.
class GuessBar : public QWidget {
  Q_OBJECT
 public:
  GuessBar(Document& document, RunControl& run, QWidget* parent = nullptr);
  // It is asked for, or no longer.
  void setWanted(bool wanted);
  bool isWanted() const { return wanted_; }
  QString words() const { return words_->text(); }

 Q_SIGNALS:
  void momentWanted(Nanoseconds at);
  void powerWanted();
  void wantedChanged(bool wanted);

 protected:
  void keyPressEvent(QKeyEvent*) override;
  void resizeEvent(QResizeEvent*) override;

 private:
  void refresh();
  void tell(const QString& words);
  void askNext();
  void tellOutcome();
  void guess(const char* looks);
  QString nameOf(const std::string& lamp) const;
  const Guess* guessOf(const std::string& part) const;
  void go(int by);

  Document& doc_;
  RunControl& run_;
  bool wanted_ = false;
  std::string lamp_;  // that is asked about, or told of
  QLabel* words_;
  std::vector<QPushButton*> choices_;
  QPushButton *before_, *next_, *show_, *power_, *close_;
  Nanoseconds showAt_ = -1;
};

}  // namespace ignavo::app
