#pragma once
#include <QElapsedTimer>
#include <QPixmap>
#include <QTimer>
#include <QWidget>
#include <optional>
#include <set>

#include "art/art.h"
#include "bench/placing.h"
#include "document/document.h"
#include "run/run_control.h"

namespace ignavo::app {

// The table with board, breadboards, parts and wires. Shows the document and
// the run, and turns mouse and keys into edits of the document.
class BenchView : public QWidget {
  Q_OBJECT
 public:
  enum class Style { wiring, tinted, building };

  BenchView(Document& document, RunControl& run, QWidget* parent = nullptr);

  void setStyle(Style style);
  // Takes a part (or a wire, with the empty type) in hand, to be placed.
  void take(const std::string& type);
  void takeWire();
  bool isPlacing() const { return mode_ == Mode::placing; }
  // Dragging out of the cabinet: positions are global.
  void dragMoved(const QPoint& global);
  void dragReleased(const QPoint& global);
  void letGo();  // puts back what is in hand

  // A project to be shown through this one: what it adds is drawn pale, ringed.
  void preview(const Project* project);
  // Shows a combination as if it stood so: voltages and held buttons.
  void showPose(const Pose* pose);
  void pulse(const std::vector<std::string>& parts, const std::vector<Socket>& sockets);
  void setBuildFocus(const QString& id);

  void zoomBy(double factor, QPointF around);
  void fit();
  double zoom() const { return zoom_; }
  QString hint() const { return hint_; }
  // Positions on this widget, for tests and for other panes.
  QPointF screenOf(const Socket& socket) const;
  QPointF screenOf(Point pitches) const;
  QRectF screenOfPart(const std::string& id) const;

  void flipSelected();
  void turnSelected();
  void removeSelected();
  void duplicateSelected();
  void selectAll();

  QSize minimumSizeHint() const override { return {320, 240}; }

 Q_SIGNALS:
  void hintChanged(const QString& hint);
  void findingClicked(int index);

 protected:
  void paintEvent(QPaintEvent*) override;
  void resizeEvent(QResizeEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void mouseMoveEvent(QMouseEvent*) override;
  void mouseReleaseEvent(QMouseEvent*) override;
  void mouseDoubleClickEvent(QMouseEvent*) override;
  void wheelEvent(QWheelEvent*) override;
  void leaveEvent(QEvent*) override;
  void keyPressEvent(QKeyEvent*) override;
  void keyReleaseEvent(QKeyEvent*) override;
  void focusInEvent(QFocusEvent*) override;
  void focusOutEvent(QFocusEvent*) override { update(); }

 private:
  enum class Mode {
    idle,
    panning,
    marquee,
    movingPart,
    movingItem,
    movingLeg,
    movingEnd,
    wiring,
    placing,
    pressing
  };
  struct Hit {
    enum class What {
      none,
      socket,
      leg,
      part,
      cap,
      wire,
      wireEnd,
      board,
      breadboard,
      mark
    } what = What::none;
    std::string id;   // part, wire, board or breadboard
    std::string leg;  // leg, or "from" / "to"
    Socket socket;
    int finding = -1;
  };

  // Drawing (bench_paint.cpp)
  void paintStatic(QPainter& p);
  void paintNet(QPainter& p);
  void paintTint(QPainter& p);
  void paintParts(QPainter& p);
  void paintWires(QPainter& p);
  void paintInHand(QPainter& p);
  void paintPreview(QPainter& p);
  void paintMarks(QPainter& p);
  void paintFlow(QPainter& p);
  void paintTip(QPainter& p);
  void paintCursor(QPainter& p);
  void paintScale(QPainter& p);
  void paintOnePart(QPainter& p, const Part& part, const std::vector<QPointF>& legs);
  QStringList tipLines() const;
  QStringList netTip(const Socket& socket) const;
  QStringList partTip(const std::string& id) const;
  double opacityOf(const std::string& id) const;
  bool isBuildFocus(const std::string& id) const;

  // Geometry and hits
  QPointF toBench(QPointF screen) const { return (screen - pan_) / zoom_; }
  QPointF toScreen(QPointF bench) const { return bench * zoom_ + pan_; }
  static QPointF px(Point p);
  static Point pitches(QPointF bench);
  std::optional<QPointF> place(const Project& project, const Socket& socket) const;
  std::vector<QPointF> legsOf(const Project& project, const Part& part) const;
  QRectF contents() const;
  Hit hitAt(QPointF screen) const;
  QPainterPath pathOf(const Project& project, const Wire& wire) const;
  std::optional<Socket> magnet(QPointF screen) const;
  QPointF markAt(int finding) const;

  // Doing (bench_mouse.cpp)
  void setMode(Mode mode);
  void startDrag(const Hit& hit);
  void updateInHand(QPointF screen);
  void finishWire(const Socket& to);
  void placeInHand();
  void moveSelection(Point offset);
  void commitMove();
  QString obstacleText(const Obstacle& o, const std::string& type) const;
  void setHint(const QString& hint);
  void refreshHover();
  void solveRest();
  Placement dragPlacement(const Part& part, Point offset) const;
  void moveCursor(int dx, int dy);
  void useCursor();
  void invalidate();
  const Snapshot* live() const;
  int partIndex(const std::string& id) const;

  Document& doc_;
  RunControl& run_;
  Style style_ = Style::wiring;
  Mode mode_ = Mode::idle;
  double zoom_ = 1;
  QPointF pan_{20, 20};
  bool fitted_ = true;
  QPixmap static_;

  QPointF mouse_{-1000, -1000}, pressedAt_;
  Hit hover_, grabbed_;
  bool dragging_ = false;
  QString hint_;
  std::string inHandType_;
  int inHandWay_ = 0;
  Placement inHand_;
  QPointF inHandAt_;
  std::optional<Socket> wireFrom_, wireTo_;
  Obstacle wireObstacle_;
  Point moveOffset_;
  std::vector<std::string> held_;  // buttons kept held with Shift
  QRectF marquee_;
  std::optional<Socket> cursor_;
  bool cursorShown_ = false;

  std::optional<Project> preview_;
  std::optional<Pose> pose_;
  std::optional<CircuitReading> poseReading_;
  std::optional<CircuitState> poseState_;
  std::optional<CircuitReading> restReading_;  // powered, nothing pressed, outputs low
  std::set<std::string> pulseParts_;
  std::vector<Socket> pulseSockets_;
  QElapsedTimer pulseClock_;
  QTimer animate_;
  QString buildFocus_;
  bool keyboardFocus_ = false;  // came by a key: its frame is drawn
};

}  // namespace ignavo::app
