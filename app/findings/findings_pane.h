#pragma once
#include <QLabel>
#include <QWidget>
#include <set>

#include "document/document.h"

class QPushButton;
class QScrollArea;
class QVBoxLayout;

namespace ignavo::app {

// The findings of the check: cause, figures and remedy of each.
class FindingsPane : public QWidget {
  Q_OBJECT
 public:
  explicit FindingsPane(Document& document, QWidget* parent = nullptr);
  void showFinding(int index);  // scrolls to it and marks it

 Q_SIGNALS:
  void hovered(int index);  // -1: none
  void chosen(int index);
  void previewWanted(int index, int remedy);  // -1: none
  void stepWanted(const QString& step);
  void whyWanted(const QString& part);
  void emptied();  // the last finding went while the keys were here

 protected:
  void resizeEvent(QResizeEvent*) override;
  bool eventFilter(QObject* watched, QEvent* e) override;

 private:
  void rebuild();
  QPushButton* showButton(int index, QWidget* card);
  QWidget* cardOf(int index);
  int focusedCard() const;
  void addMore(std::size_t hidden);
  void addActions(int index, QWidget* card, QVBoxLayout* column);
  QPushButton* remedyButton(int index, std::size_t remedy, int room, QWidget* card);
  QPushButton* whyButton(int index, QWidget* card);
  QPushButton* meantButton(int index, QWidget* card);
  Document& doc_;
  QLabel* head_;
  QLabel* under_;
  QLabel* foot_;
  QVBoxLayout* list_;
  QScrollArea* scroll_;
  QWidget* inner_;
  QString shown_;
  int laidOutFor_ = 0;   // width, when its cards were made
  std::set<int> turns_;  // rooms for a card's rows from which on it is laid out otherwise
  bool all_ = false;     // however many there are
};

}  // namespace ignavo::app
