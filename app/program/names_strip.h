#pragma once
#include <QScrollArea>
#include <QWidget>
#include <optional>
#include <vector>

#include "document/document.h"
#include "program/field_editor.h"
#include "run/run_control.h"

namespace ignavo::app {

// The variables and lists of a board's program, above its lanes: a tag for each variable with what
// it begins with and what it holds just now, a row of numbered cells for each list. Gone through by
// arrow keys, edited in place; hidden while there are none.
class NamesStrip : public QWidget {
  Q_OBJECT
 public:
  // Something to go to: a name, what a variable begins with, an item of a list.
  struct Place {
    bool list = false;
    int index = 0;  // among the variables or lists
    int item = -1;  // of a list; -1: its name
    bool start = false;
    QString text;    // as it stands there
    QString spoken;  // as it is read out
    QRectF box;
    bool is(const Place& o) const {
      return list == o.list && index == o.index && item == o.item && start == o.start;
    }
  };

  NamesStrip(Document& document, RunControl& run, QWidget* parent = nullptr);
  const std::vector<Place>& places() const { return places_; }
  int current() const { return at_; }
  QLineEdit* editor() const { return editor_; }
  // What stands under a place: what it holds now; empty while the power is off.
  QString nowText(const Place& place) const;
  // The position of a list that was read last; nothing while none was.
  std::optional<int> readAt(int list) const;
  // A new one, with a name that is free, open to be typed over.
  void addVariable();
  void addList();
  int heightForWidth(int width) const override;
  // That it lies in: as high as the strip, but never more than a few rows.
  void setScroll(QScrollArea* scroll);

 Q_SIGNALS:
  void problem(const QString& sentence);

 protected:
  void paintEvent(QPaintEvent*) override;
  void resizeEvent(QResizeEvent*) override;
  void keyPressEvent(QKeyEvent* e) override;
  void mousePressEvent(QMouseEvent* e) override;
  void contextMenuEvent(QContextMenuEvent* e) override;
  void changeEvent(QEvent* e) override;
  void focusInEvent(QFocusEvent*) override;
  void focusOutEvent(QFocusEvent*) override { update(); }

 private:
  struct Tag {
    bool list = false;
    int index = 0;
    double left = 0, top = 0, right = 0;  // of a list: behind its name
  };
  const Program* program() const;
  void paintRead(QPainter& p, const Tag& tag) const;
  void fill();
  double layOut(double width, std::vector<Place>* places, std::vector<Tag>* tags) const;
  void go(int to);
  void edit(int at);
  void closeEditor(bool keep);
  bool take(const Place& place, const QString& typed);
  bool rename(const Place& place, const std::string& typed);
  void remove();
  void insert();
  void moveBy(int by);
  std::string nameOf(const Place& place) const;
  std::string freeName(const char* stem) const;
  bool setItems(const Place& place, std::vector<double> items, const QString& name);

  Document& doc_;
  RunControl& run_;
  std::vector<Place> places_;
  std::vector<Tag> tags_;
  int at_ = 0;
  QScrollArea* scroll_ = nullptr;
  FieldEditor* editor_ = nullptr;
  Place edited_;
};

}  // namespace ignavo::app
