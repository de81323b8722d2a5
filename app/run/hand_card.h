#pragma once
#include <QLabel>
#include <QPushButton>
#include <QSlider>
#include <QWidget>

#include "document/document.h"
#include "run/run_control.h"

namespace ignavo::app {

// A pin in the hand: low, high, or anything between, whatever the program does to it, until it is
// let go. Opened at a pin's name on the bench, at its line in the trace, at its chip in a step.
class HandCard : public QWidget {
  Q_OBJECT
 public:
  HandCard(Document& document, RunControl& run, QWidget* parent);
  // Beside a place of the parent; nothing without power.
  void open(const std::string& board, const std::string& pin, QPoint beside);
  const std::string& pin() const { return pin_; }
  QString note() const { return note_->text(); }

 protected:
  void paintEvent(QPaintEvent*) override;
  void keyPressEvent(QKeyEvent*) override;

 private:
  void refresh();
  void hold(double percent);
  void letGo();
  QString sentence(std::optional<double> held) const;

  Document& doc_;
  RunControl& run_;
  std::string board_, pin_;
  QLabel *title_, *figure_, *note_;
  QPushButton *low_, *high_, *free_, *close_;
  QSlider* level_;
};

}  // namespace ignavo::app
