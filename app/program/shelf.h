#pragma once
#include <QFrame>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>
#include <vector>

namespace ignavo::app {

// Of widgets that take the keyboard for a while: a box that is open among the steps waits.
inline constexpr const char* keepsBoxOpen = "keepsBoxOpen";

// One kind of step on the shelf: its picture and name; with all there is room for, also what it
// does and how it is typed.
class ShelfButton : public QPushButton {
  Q_OBJECT
 public:
  struct Text {
    QString kind, label, help, example;
    QString found;  // further words by which it is found
  };
  ShelfButton(Text text, bool whole, QWidget* parent);
  const Text& text() const { return text_; }
  bool isFoundBy(const QString& typed) const;
  QSize sizeHint() const override;

 protected:
  void paintEvent(QPaintEvent*) override;

 private:
  Text text_;
  bool whole_;
};

// The kinds of steps: the five that one begins with, and behind "More steps" all of them and the
// ready-made groups, to be searched.
class Shelf : public QWidget {
  Q_OBJECT
 public:
  explicit Shelf(QWidget* parent);
  QFrame* all() const { return all_; }
  void openAll();
  void closeAll();

 Q_SIGNALS:
  void kindPicked(const std::string& kind);
  void groupPicked(const QString& phrase);

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;
  void resizeEvent(QResizeEvent*) override;

 private:
  void search(const QString& typed);
  void goTo(int step);
  void pick(const ShelfButton& button, bool group);
  void arrange();

  QPushButton* more_ = nullptr;
  QFrame* all_ = nullptr;
  QLineEdit* search_ = nullptr;
  QScrollArea* scroll_ = nullptr;
  QWidget* rows_ = nullptr;
  std::vector<QWidget*> heads_;
  std::vector<ShelfButton*> steps_, groups_;
};

}  // namespace ignavo::app
