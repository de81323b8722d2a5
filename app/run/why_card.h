#pragma once
#include <QLabel>
#include <QPointer>
#include <QPushButton>
#include <QTimer>
#include <QWidget>

#include "document/document.h"
#include "explain/why.h"
#include "run/run_control.h"

class QGridLayout;

namespace ignavo::app {

// Why a lamp is dark, a sounder silent, a motor still, or why it is not; and why a pin is as it
// is: three verdicts beside the part, at the moment that is shown, and the way to what they speak
// of. What takes longer than a moment is worked out in another thread.
class WhyCard : public QWidget {
  Q_OBJECT
 public:
  WhyCard(Document& document, RunControl& run, QWidget* parent);
  // Of a part or a board (explain/output.h), beside a place of the parent, which stays in sight;
  // within a part of it if there is room. Of a part with several lamps each can be chosen.
  void open(const std::string& about, QRect beside, QRect within = {});
  void openPin(const std::string& board, const std::string& pin, QRect beside, QRect within = {});
  // What stands on it, line by line, as a screen reader says it.
  QString words() const;
  bool isAsking() const { return asking_; }
  const std::string& about() const { return about_; }

 Q_SIGNALS:
  void stepWanted(const QString& step);  // or a lane
  void momentWanted(Nanoseconds at);
  void placesWanted(const std::vector<std::string>& parts, const std::vector<Socket>& sockets);
  void powerWanted();

 protected:
  void paintEvent(QPaintEvent*) override;
  void keyPressEvent(QKeyEvent*) override;
  bool eventFilter(QObject* watched, QEvent* e) override;

 private:
  // What is told: of a part, or of a pin.
  struct Told {
    QString headline, circuit, program, board, sentence;
    bool circuitFine = true, programFine = true, threeLines = true, power = true;
    std::vector<std::string> parts;
    std::vector<Socket> sockets;
    std::string step;
    Nanoseconds moment = -1;
  };
  struct Line {
    QLabel *mark, *name, *words;
  };
  Line addLine(QGridLayout* grid, const char* id, const QString& name);
  static void fill(const Line& line, bool shown, bool fine, bool known, const QString& words);
  static Told toldOf(const Why& why);
  static Told toldOf(const WhyPin& why);
  void ask();
  void show(const Told& told);
  void showOff();
  void leave();
  void place();
  void openAt(QRect beside, QRect within);
  void offerLamps(const std::string& part);

  Document& doc_;
  RunControl& run_;
  std::string about_;  // asked for; empty: a pin is
  std::string board_, pin_;
  QRect beside_, within_;
  QLabel* headline_;
  QWidget* lamps_;  // of a part with several: one of them, or all
  Line circuit_, program_, onBoard_;
  QPushButton *close_, *step_, *moment_, *places_, *power_;
  Told told_;
  bool asking_ = false, again_ = false;
  // What the check knows of the project that it was asked about last.
  struct Known;
  std::shared_ptr<Known> known_;
  QTimer soon_;
  QPointer<QWidget> before_;  // had the keys when it was asked
};

}  // namespace ignavo::app
