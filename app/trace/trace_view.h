#pragma once
#include <QWidget>

#include "document/document.h"
#include "run/run_control.h"
#include "trace/finding_moments.h"

class QMenu;

namespace ignavo::app {

// What the pins did: a lane per used pin, zoomed by the wheel around the
// pointer. Dragging the now-marker looks back.
class TraceView : public QWidget {
  Q_OBJECT
 public:
  TraceView(Document& document, RunControl& run, QWidget* parent = nullptr);
  double secondsShown() const { return span_; }
  double xOf(Nanoseconds t) const;
  Nanoseconds timeAt(double x) const;
  QRectF laneBox(int lane) const;
  // The list of where this run and the one before it part, as a menu there.
  void showDifferences(QPoint global);
  void bringIntoSight(Nanoseconds moment);
  void showMoment(Nanoseconds moment);  // in the middle, with what came shortly before and after
  void showStretch(Nanoseconds from, Nanoseconds wide);
  void showNewest(Nanoseconds wide);  // and stays with it
  QRectF chipBox(int lane) const;     // of the pin's name, at the left of its line
  // Two marks at most, by time; and what lies between them on the chosen line, in words.
  const std::vector<Nanoseconds>& marks() const { return marks_; }
  QString measured() const;
  // A line for that as well: a part's amps, the volts at a socket, a pin that was hidden.
  void showLine(const Signal& signal);
  // What a screen reader tells: the lines, the marks, what happened in sight; and of a line its
  // edges in sight, of very many the first. Places on this widget.
  struct Spoken {
    QString words;
    QRectF box;
  };
  std::vector<Spoken> spoken() const;
  std::vector<Spoken> spokenEdges(int line) const;
  // Signals of the lines, from above.
  std::vector<Signal> lines() const;
  // What happened within a few dots of there, in words.
  QString happenedNear(double x) const;
  enum class Export { vcd, csv, png };

 Q_SIGNALS:
  // A pin is to be held by hand, with a card beside that place on the screen.
  void pinWanted(const QString& board, const QString& pin, QPoint global);
  void exportWanted(ignavo::app::TraceView::Export as);
  void findWanted();
  // Why a pin is as it is at the moment that is looked at, with a card beside that place.
  void whyWanted(const QString& board, const QString& pin, QRect global);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void mouseMoveEvent(QMouseEvent*) override;
  void mouseReleaseEvent(QMouseEvent*) override;
  void mouseDoubleClickEvent(QMouseEvent*) override;
  void wheelEvent(QWheelEvent*) override;
  void contextMenuEvent(QContextMenuEvent*) override;
  void keyPressEvent(QKeyEvent*) override;
  bool event(QEvent*) override;
  void leaveEvent(QEvent*) override;
  void focusInEvent(QFocusEvent*) override { update(); }
  void focusOutEvent(QFocusEvent*) override { update(); }

 private:
  struct Row {
    int signal;
    Signal of;
    std::string board, pin;  // of what is no pin: whose it is, and its unit
    QString label;
    NetColour colour;
  };
  std::vector<Row> rows() const;
  static constexpr double markerTall = 9;
  double plotLeft() const { return plotLeft_; }
  void makeRoomForNames(const std::vector<Row>& list);
  double plotRight() const { return width() - 24; }
  void paintRow(QPainter& p, const Row& row, const QRectF& box, const Trace& trace,
                bool ghost) const;
  void paintCurve(QPainter& p, const Row& row, const QRectF& box, const Trace& trace,
                  bool ghost) const;
  QString levelText(const Row& row, const Trace& trace, Nanoseconds at) const;
  QString nameOf(const Signal& signal) const;
  void hideLine(int lane);
  void moveLine(int lane, int to);
  QRectF laneBox(int lane, const std::vector<Row>& list) const;
  static QRectF chipIn(const QRectF& laneBox);
  double heightOf(const Signal& signal) const;  // times the usual
  void setHeight(int lane, double times);
  int lowerEdgeAt(QPointF place) const;  // of the line beside whose name that is; -1: none
  void offerLines(QMenu* menu, int lane);
  void paintAxis(QPainter& p) const;
  void follow();
  void wantPin(int lane);
  void offerWhy(QMenu* menu, int lane, Nanoseconds at);
  void askWhy(int lane, Nanoseconds at);
  int laneAt(QPointF place) const;  // -1: none
  void setMark(Nanoseconds moment);
  void goToEdge(bool forward);
  void paintMarks(QPainter& p) const;
  QString told(const Event& event) const;
  struct Happening {
    Nanoseconds at;
    QString words;
  };
  std::vector<Happening> happenings() const;
  void paintHappening(QPainter& p, double x, const QString& label, const QColor& colour) const;
  void offerDifferences(QMenu* menu);
  void fillDifferences(QMenu* menu);
  bool compact() const { return height() < 110; }

  Document& doc_;
  RunControl& run_;
  double span_ = 4;   // seconds shown
  double start_ = 0;  // seconds at the left edge
  double plotLeft_ = 150;
  QString names_;          // that there is room for
  bool following_ = true;  // keeps the present at the right
  bool movingMarker_ = false, panning_ = false;
  int lane_ = -1;  // chosen; -1: none
  std::vector<Nanoseconds> marks_;
  std::vector<Signal> hidden_, order_;  // pins without a line; lines as somebody arranged them
  mutable std::map<std::string, QString> partNames_;  // by id, as they were called last
  std::vector<std::pair<Signal, double>> heights_;    // of those that somebody changed
  int movingLine_ = -1;                               // dragged by its name
  int resizedLine_ = -1;                              // dragged by its lower edge
  QPointF pressedAt_;
  double pressedStart_ = 0;
  QPointF mouse_{-1, -1};
  mutable FindingMoments found_{doc_, run_};
};

}  // namespace ignavo::app
