#pragma once
#include <QLineEdit>
#include <QPointer>
#include <QWidget>
#include <vector>

namespace ignavo::app {

// Lies under a box in which a step is typed: what could be meant, each with what it would do; and
// what is asked, with a notch that points at the word. The box keeps the keyboard: whoever owns it
// hands on its arrow keys.
class TypingCard : public QWidget {
  Q_OBJECT
 public:
  struct Row {
    QString phrase, help;
  };
  explicit TypingCard(QWidget* parent);

  // Under that box. Nothing to show: it goes. `word`: where in the box the asked word begins and
  // how long it is, in letters.
  void show(QLineEdit* box, const QString& question, std::pair<int, int> word,
            std::vector<Row> rows);
  QString question() const { return isVisible() ? question_ : QString(); }
  const std::vector<Row>& rows() const { return rows_; }
  // Up or down; behind the ends nothing is chosen.
  void move(int by);
  QString chosen() const;  // empty: none
  // Its box has moved.
  void follow();

 Q_SIGNALS:
  void picked(QLineEdit* box, const QString& phrase);  // under that box

 protected:
  void paintEvent(QPaintEvent*) override;
  void mouseMoveEvent(QMouseEvent*) override;
  void mousePressEvent(QMouseEvent*) override;

 private:
  int rowAt(double y) const;
  double questionHeight() const;
  void place();

  QPointer<QLineEdit> box_;  // lanes go, and their boxes with them
  QString question_;
  std::pair<int, int> word_{0, 0};
  std::vector<Row> rows_;
  int at_ = -1;
  bool above_ = false;  // its box
};

}  // namespace ignavo::app
