#pragma once
#include <QWidget>

#include "document/document.h"
#include "run/run_control.h"

class QLabel;
class QPushButton;

namespace ignavo::app {

// Says what broke last in the run and why, and puts a new one in its place.
class DamageCard : public QWidget {
  Q_OBJECT
 public:
  DamageCard(Document& document, RunControl& run, QWidget* bench);
  // Shows itself while anything is broken, at the top of the bench.
  void refresh();
  QString text() const;

 protected:
  void paintEvent(QPaintEvent*) override;

 private:
  struct Broken {
    std::string id, pin;  // a part, or a board and its pin
    double amps = 0;
    bool any() const { return !id.empty(); }
  };
  Broken latest() const;
  QString sentence(const Broken& b) const;

  Document& doc_;
  RunControl& run_;
  QLabel* text_;
  QPushButton* replace_;
  std::string id_, pin_;
};

}  // namespace ignavo::app
