#pragma once
#include <QWidget>
#include <functional>
#include <optional>
#include <string>

#include "parts/circuit.h"

class QButtonGroup;
class QLabel;

namespace ignavo::app {

class BenchView;

// The tip of a probe on the bench, or the jaw of the clamp: dragged with the mouse, or
// with the arrow keys from hole to hole (the clamp from wire to wire).
class MeterTip : public QWidget {
  Q_OBJECT
 public:
  enum class Kind { red, black, clamp };
  MeterTip(Kind kind, QWidget* parent);
  Kind kind() const { return kind_; }
  // Where its point lies, within the tip.
  QPoint hot() const;

 Q_SIGNALS:
  void draggedTo(QPoint bench);  // the point's place on the bench
  void stepped(int dx, int dy);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void mouseMoveEvent(QMouseEvent*) override;
  void keyPressEvent(QKeyEvent*) override;

 private:
  Kind kind_;
  QPoint grip_;
};

// A meter that lies on the bench: two probes for volts, ohms and continuity, and a clamp
// for milliamps. It belongs to the view, not to the project, and changes no circuit.
class Meter : public QWidget {
  Q_OBJECT
 public:
  enum class Mode { volts, ohms, continuity, milliamps };
  explicit Meter(BenchView& bench);

  Mode mode() const { return mode_; }
  void setMode(Mode mode);
  void put(MeterTip::Kind kind, const Socket& socket);
  void clampOn(const std::string& wire);
  std::optional<Socket> red() const { return red_; }
  std::optional<Socket> black() const { return black_; }
  std::string clamped() const { return wire_; }

  // Takes its place on the bench and reads anew.
  void refresh();
  // The leads from the card to the tips, on the bench.
  void paintLeads(QPainter& p) const;
  QString value() const;  // "1.95 V"
  QString note() const;   // what it says below

 Q_SIGNALS:
  void closed();

 protected:
  void paintEvent(QPaintEvent*) override;
  void showEvent(QShowEvent*) override;
  void hideEvent(QHideEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void mouseMoveEvent(QMouseEvent*) override;

 private:
  void dragged(MeterTip* tip, QPoint at);
  void stepped(MeterTip* tip, int dx, int dy);
  void placeTips();
  void read();
  void readVolts();
  void readOhms();
  void readMilliamps();
  QString placeName(const Socket& socket) const;

  BenchView& bench_;
  Mode mode_ = Mode::volts;
  std::optional<Socket> red_, black_;
  std::string wire_;  // that the clamp is around
  MeterTip *redTip_, *blackTip_, *clampTip_;
  QButtonGroup* modes_;
  QLabel *value_, *where_, *note_;
  QPoint grip_;
  std::optional<QPoint> laid_;  // where the user put the card
};

}  // namespace ignavo::app
