#pragma once
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QToolButton>
#include <QWidget>
#include <array>

namespace ignavo::app {

enum class Station { wire, check, program, run, build };
constexpr int stationCount = 5;

// The line with its five stations: a map of layouts, not a wizard.
class StationLine : public QWidget {
  Q_OBJECT
 public:
  explicit StationLine(QWidget* parent = nullptr);
  void setStation(Station station);
  // `brief` is said in place of `words` where there is too little room for them.
  void setState(Station station, const QString& words, bool alert = false,
                const QString& brief = {});
  std::array<QRectF, stationCount> nameBoxes() const;
  std::array<QRectF, stationCount> stateBoxes() const;
  QString shownState(Station station) const;  // as it fits
  QSize sizeHint() const override { return {500, 52}; }
  QSize minimumSizeHint() const override { return {400, 52}; }
  QPoint centreOf(Station station) const;

 Q_SIGNALS:
  void chosen(ignavo::app::Station station);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void mouseMoveEvent(QMouseEvent*) override;
  void leaveEvent(QEvent*) override;
  void keyPressEvent(QKeyEvent*) override;
  void focusInEvent(QFocusEvent*) override { update(); }
  void focusOutEvent(QFocusEvent*) override { update(); }

 private:
  double x(int i) const;
  int stationAt(double x) const;
  std::array<QString, stationCount> words_, brief_;
  std::array<bool, stationCount> alert_{};
  int at_ = 0;
  int hover_ = -1;
};

// Power: a two-position slide with the word on or off.
class PowerSwitch : public QWidget {
  Q_OBJECT
 public:
  explicit PowerSwitch(QWidget* parent = nullptr);
  void setOn(bool on);
  void setWaiting(bool waiting);  // it was switched on, and something is made first
  bool isOn() const { return on_; }
  QSize sizeHint() const override { return {64, 30}; }

 Q_SIGNALS:
  void toggled();

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void keyPressEvent(QKeyEvent*) override;
  void focusInEvent(QFocusEvent*) override { update(); }
  void focusOutEvent(QFocusEvent*) override { update(); }

 private:
  bool on_ = false, waiting_ = false;
};

class TopBar : public QWidget {
  Q_OBJECT
 public:
  explicit TopBar(QWidget* parent = nullptr);

  QToolButton* menu;
  QLineEdit* title;
  QLabel* subtitle;
  QToolButton* undo;
  QToolButton* redo;
  StationLine* line;
  PowerSwitch* power;
  QToolButton* source;  // what runs when it comes on
  QToolButton* reset;
  QToolButton* pause;
  QToolButton* speed;
  QLabel* time;
  QLabel* timeNote;

  void restyle();
  void setPauseIcon(bool paused);
  void setSource(const QString& words);

 protected:
  void paintEvent(QPaintEvent*) override;
};

// Small line drawings for buttons, in the theme's ink.
enum class Glyph { menu, undo, redo, reset, pause, go, step };
QIcon glyph(Glyph which);

}  // namespace ignavo::app
