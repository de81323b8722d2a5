#pragma once
#include <QPixmap>
#include <QTimer>
#include <QWidget>
#include <optional>
#include <set>

#include "art/art.h"
#include "bench/arranging.h"
#include "bench/bench_then.h"
#include "bench/move_run.h"
#include "bench/part_sprites.h"
#include "bench/placing.h"
#include "bench/scene.h"
#include "document/document.h"
#include "explain/output.h"
#include "parts/wire_amps.h"
#include "run/run_control.h"

class QMenu;

namespace ignavo::app {

class DamageCard;
class PartTags;
class NotePaper;
class Meter;

// The table with board, breadboards, parts and wires. Shows the document and
// the run, and turns mouse and keys into edits of the document. Whatever is
// dragged or typed is shown as a proposal: the project as it would be.
class BenchView : public QWidget {
  Q_OBJECT
 public:
  enum class Style { wiring, tinted, building };

  BenchView(Document& document, RunControl& run, QWidget* parent = nullptr);

  void setStyle(Style style);
  // Takes a part, or a board or breadboard, in hand, to be placed.
  void take(const std::string& type);
  void takeWire();
  bool isPlacing() const { return mode_ == Mode::placing; }
  bool isWiring() const { return mode_ == Mode::wiring; }
  // Dragging out of the cabinet: positions are global.
  void dragMoved(const QPoint& global);
  void dragReleased(const QPoint& global);
  void letGo();  // puts back what is in hand

  // A project to be shown through this one: what it adds is drawn pale, ringed.
  void preview(const Project* project);
  // A card beside a part or a socket, "Red lamp: 101 mA, 2.5 V", until another combination is
  // shown.
  void callOut(const QString& words, const std::string& part, const std::optional<Socket>& socket);
  QString callOutWords() const { return callOut_.words; }
  bool isPreviewing() const { return preview_.has_value(); }
  bool isShowingPose() const { return poseReading_.has_value(); }
  // A sentence in the hint line, until something else is to be said.
  void say(const QString& hint) { setHint(hint); }
  // Shows a combination as if it stood so: voltages and held buttons.
  void showPose(const Pose* pose);
  void pulse(const std::vector<std::string>& parts, const std::vector<Socket>& sockets);
  void setBuildFocus(const QString& id);

  void zoomBy(double factor, QPointF around);
  void fit();
  void fitSelection();
  double zoom() const { return zoom_; }
  QString hint() const { return hint_; }
  // Positions on this widget, for tests and for other panes.
  QPointF screenOf(const Socket& socket) const;
  QPointF screenOf(Point pitches) const;
  QRectF screenOfPart(const std::string& id) const;
  // Of a part, or of a board: its own lamp (explain/output.h).
  QRectF screenOfOutput(const std::string& id) const;
  QRectF screenOfPinName(const std::string& board, const std::string& pin) const;
  // What the meter needs: what is shown of the circuit, live or of a combination (null: no
  // power), the amps in its wires, and what lies where on this widget.
  Document& document() { return doc_; }
  Circuit& circuit() const;
  bool isPowered() const { return live() != nullptr; }
  const CircuitReading* shownReading() const;
  // The same, but with how things stand at rest where the voltages are tinted.
  const CircuitReading* tintReading() const;
  // Voltages of the bench as it stood at the moment that is shown.
  struct Voltages {
    const Project& project;
    const Nets& nets;
    const Circuit& circuit;
    const CircuitReading& reading;
  };
  std::optional<Voltages> voltages(const CircuitReading* now) const;
  double scaleVolts() const;  // the most that the tint shows
  // The supply gave up, and no combination is looked at instead.
  bool hasTripped() const;
  const std::vector<double>& shownWireAmps();
  std::optional<Socket> anySocketNear(QPointF screen) const;
  std::string wireNear(QPointF screen) const;
  std::optional<QPointF> middleOfWire(const std::string& id) const;
  // What a part that measures shows in its window: "1.95 V".
  QString displayed(std::size_t part) const;
  // The nearest hole, pin or free leg in a direction; the first one from nowhere.
  std::optional<Socket> nextSocket(const std::optional<Socket>& from, int dx, int dy) const;
  Meter& meter() { return *meter_; }
  // Lamps that would flash more than three times a second are shown steady.
  void setCalmLamps(bool calm);
  bool hasCalmLamps() const;
  // Is there a sound card, and is it muted? What sounds says so, with a button.
  void setHearing(bool available, bool muted);
  // Dashes travel along wires with the current.
  void setFlowShown(bool shown);
  bool isFlowShown() const { return flows_; }
  // Takes the meter out, its red probe to where the pointer or the cursor is; or puts it away.
  void toggleMeter();

  // Where the keyboard's cursor is.
  std::optional<Socket> cursor() const { return cursor_; }
  // What is under the pointer, in lines.
  QStringList tipLines() const;

  void flipSelected();
  void turnSelected();
  void removeSelected();
  void duplicateSelected();
  void copySelected();
  void cutSelected();
  void paste();
  void lockSelected();
  void alignSelected();
  void lineUpSelected();
  void tidySelected();  // all wires when none is selected
  void straightenSelected();
  void selectAll();

  QSize minimumSizeHint() const override { return {320, 240}; }

 Q_SIGNALS:
  void hintChanged(const QString& hint);
  void findingClicked(int index);
  // A part is dragged out of the bench, to there on the screen; back again; let go there.
  void partOutside(const QString& id, QPoint global);
  void partBack();
  void partDropped(const QString& id, QPoint global);
  // A pin is to be held by hand, with a card beside that place on the screen.
  void pinWanted(const QString& board, const QString& pin, QPoint global);
  void hearWanted(bool hear);
  void closerLookWanted(Nanoseconds changesEvery);  // at a lamp
  // Why it is dark, silent, still, or not.
  void whyWanted(const QString& part);

 protected:
  void paintEvent(QPaintEvent*) override;
  void resizeEvent(QResizeEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void mouseMoveEvent(QMouseEvent*) override;
  void mouseReleaseEvent(QMouseEvent*) override;
  void mouseDoubleClickEvent(QMouseEvent*) override;
  void wheelEvent(QWheelEvent*) override;
  void contextMenuEvent(QContextMenuEvent*) override;
  void leaveEvent(QEvent*) override;
  void keyPressEvent(QKeyEvent*) override;
  void keyReleaseEvent(QKeyEvent*) override;
  void focusInEvent(QFocusEvent*) override;
  void focusOutEvent(QFocusEvent*) override { update(); }
  bool event(QEvent*) override;

 private:
  bool dragOutside(const QMouseEvent& e, bool drop);
  enum class Mode {
    idle,
    panning,
    marquee,
    movingPart,  // parts, boards, breadboards
    movingLeg,
    movingEnd,
    movingBend,
    wiring,
    placing,
    pressing,
    turningKnob,
    holdingPin  // its level is dragged by its name
  };
  struct Hit {
    enum class What {
      none,
      socket,
      leg,
      part,
      cap,
      knob,
      latch,
      wire,
      wireEnd,
      bend,
      pinName,  // of a board's pin, with power: `socket`
      board,
      breadboard,
      mark
    } what = What::none;
    std::string id;   // part, wire, board or breadboard
    std::string leg;  // leg, or "from" / "to"
    Socket socket;
    int index = -1;  // finding or bend
  };
  // The project as it would be, worked out for drawing.
  struct Proposal {
    Arranged arranged;
    Nets nets;
    Identities identities;
    std::set<std::string> changed;  // parts and wires that differ
  };

  // Drawing (bench_paint.cpp)
  void paintBackground(QPainter& p, const Scene& scene);
  void paintNets(QPainter& p, const Nets& nets, const Identities& identities,
                 const std::vector<int>& lit, const Project& project);
  void paintTint(QPainter& p);
  void paintHighlights(QPainter& p);
  void paintInHand(QPainter& p);
  void paintPreview(QPainter& p);
  void paintMarks(QPainter& p);
  void paintPulses(QPainter& p);
  void paintFlow(QPainter& p);
  void paintFlow(QPainter& p, const Scene& scene, const Wire& wire, double amps);
  void paintTip(QPainter& p);
  void paintLoupe(QPainter& p);
  void paintCursor(QPainter& p);
  void paintHandles(QPainter& p);
  void paintScale(QPainter& p);
  void paintCallOut(QPainter& p);
  void paintLines(QPainter& p, const QStringList& lines, QPointF beside);
  void applyLiveState(Scene& scene) const;
  void applyLiveState(const Part& part, std::size_t index, PartLook& look) const;
  void lookInRun(const Snapshot& moment, const Part& part, std::size_t index, PartLook& look) const;
  BoardLook lookInRun(const Snapshot& moment, const BoardItem& board, std::size_t index) const;
  std::vector<int> netsToLight(const Nets& nets) const;
  QStringList netTip(const Socket& socket) const;
  QStringList partTip(const std::string& id) const;
  QStringList joinTip() const;
  QStringList boardPartTip(const BoardItem& board) const;
  double opacityOf(const std::string& id) const;
  bool isBuildFocus(const std::string& id) const;

  // Geometry and hits
  QPointF toBench(QPointF screen) const { return (screen - pan_) / zoom_; }
  QPointF toScreen(QPointF bench) const { return bench * zoom_ + pan_; }
  static QPointF px(Point p) { return Scene::px(p); }
  static Point pitches(QPointF bench);
  const Project& shownProject() const {
    return proposal_ ? proposal_->arranged.project : doc_.project();
  }
  const Nets& shownNets() const { return proposal_ ? proposal_->nets : doc_.nets(); }
  std::optional<QPointF> place(const Project& project, const Socket& socket) const;
  std::vector<Hit> hitsAt(QPointF screen) const;
  Hit hitAt(QPointF screen) const;
  std::optional<Socket> magnet(QPointF screen);
  std::optional<Socket> freeLike(const Socket& wanted, Point near) const;
  QRectF latchOf(const PartLook& look) const;

  // Doing (bench_mouse.cpp, bench_keys.cpp, bench_actions.cpp)
  void propose(Arranged arranged);
  void dropProposal();
  // Makes the proposal an edit of that name, or says what is in the way.
  bool keepProposal(const QString& name);
  void keepMove();
  void commitMove(const Arranged& arranged, Point offset);
  bool commit(const Arranged& arranged, const QString& name);
  void updateInHand(QPointF screen);
  void placeInHand();
  void dragTo(QPointF screen, bool shift);
  void finishWire(const Socket& to, bool keepGoing);
  void throwSwitch(const std::string& id);
  void turnKnob(const std::string& id, double change, double base);
  void holdPin(const Socket& pin, double percent);
  void holdAtCursor();
  void askWhy();
  void offerWhy(QMenu* menu);
  QString whyWords(const Output& output) const;
  void wantPin(const Socket& pin);
  QString heldText(const std::string& board, const std::string& pin) const;
  std::optional<Socket> pinJoinedTo(const Socket& socket) const;
  std::optional<Socket> firstUsedPin() const;
  void offerKeys(QMenu* menu, const std::string& part);
  void offerEnds(QMenu* menu, const Part& part);
  void remove(const std::vector<std::string>& ids, const QString& name);
  void pickUpAtCursor();
  void bendAtCursor();
  QString titleOfSelection() const;
  std::vector<std::string> selectedIds() const;
  QString obstacleText(const Obstacle& o, const std::string& type) const;
  QString partTypeOf(const std::string& id) const;
  void setHint(const QString& hint);
  void refreshHover();
  void followDocument();
  void solveRest();
  void moveSelection(int dx, int dy);
  void moveCursor(int dx, int dy);
  void useCursor();
  void selectAtCursor();
  void sayCursor();
  void invalidate();
  // Parts that look the same whatever a run does, and are not in anybody's hand.
  std::set<std::string> unchangingParts() const;
  // Painted on layers of their own, if they can be.
  bool layOutUnchanging(Scene& scene);
  QPixmap layer(bool clear) const;
  void forgetCircuit();
  void viewMoved();
  void refreshOver();  // the cards and tags that lie over it
  const Snapshot* live() const;
  // At the moment that is looked back at, in the holes where it is now: a part, wire or board.
  bool stoodThere(const std::string& id) const;
  // Null: all stands as it did at the moment that is shown.
  const BenchThen* then() const;
  std::optional<Scene> sceneThen() const;
  std::optional<Part> shownPart(const Part& part) const;
  int partIndex(const std::string& id) const;

  Document& doc_;
  RunControl& run_;
  Style style_ = Style::wiring;
  Mode mode_ = Mode::idle;
  double zoom_ = 1;
  QPointF pan_{20, 20};
  bool fitted_ = true;
  QPixmap static_;        // mat and breadboards
  int paintedSince_ = 0;  // how often they were painted since they are not kept
  QPixmap still_;         // everything that a drag does not move
  // What looks the same all through a run, beside others: painted once for what it depends on.
  struct Unchanging {
    Project project;
    std::set<std::string> parts;    // ids
    std::set<std::string> notThen;  // likewise: what was not there at the moment that is shown
    std::vector<BoardLook> boards;  // their lamps aside
    QStringList selected;
    QPointF pan;
    double zoom = 0;
    bool dark = false;
    Style style = Style::wiring;
    quint64 checked = 0;  // the project as it was when findings were looked for
    bool operator==(const Unchanging&) const = default;
    bool sameWires(const Unchanging& o) const {
      return project == o.project && selected == o.selected && pan == o.pan && zoom == o.zoom &&
             dark == o.dark && notThen == o.notThen;
    }
  };
  std::optional<Unchanging> unchangingOf_;
  PartSprites sprites_;  // and what shines
  QPixmap boardsAndParts_, wires_, marks_;

  QPointF mouse_{-1000, -1000}, pressedAt_;
  Hit hover_, grabbed_;
  std::shared_ptr<const Project> drawn_;
  bool dragging_ = false;
  bool outside_ = false;  // a part is dragged beyond the edge
  QString hint_;
  std::optional<Proposal> proposal_;
  std::string inHandType_;
  int inHandWay_ = 0;
  std::optional<Socket> wireFrom_, wireTo_, lastMagnet_;
  Obstacle wireObstacle_;
  double knobBase_ = 0;
  std::vector<std::string> held_;  // buttons kept held
  QRectF marquee_;
  std::optional<Socket> cursor_;
  bool cursorShown_ = false;

  std::optional<Project> preview_;
  struct CallOut {
    QString words;
    std::string part;
    std::optional<Socket> socket;
  };
  CallOut callOut_;
  std::optional<CircuitReading> poseReading_;
  std::optional<CircuitState> poseState_;
  MoveRun moves_;
  Point movedBy_;                              // by the drag that is going on
  std::optional<CircuitReading> restReading_;  // powered, nothing pressed, outputs low
  std::set<std::string> pulseParts_;
  std::vector<Socket> pulseSockets_;
  QTimer animate_;
  Meter* meter_;
  DamageCard* damage_;
  PartTags* tags_;
  NotePaper* note_;
  bool flows_ = true;
  mutable std::unique_ptr<Circuit> circuit_;  // of the document as it is; made when it is asked for
  std::optional<WireMetal> metal_;            // likewise
  std::vector<double> wireAmps_;
  // The moment that is shown, told on the document as it is now, and what it was told from.
  struct Told {
    std::shared_ptr<const Project> from;
    Project to;
    std::optional<SnapshotMapping> mapping;
    std::shared_ptr<const Snapshot> shown, mapped;
    std::unique_ptr<BenchThen> then;  // where they do not stand alike; made when it is asked for
  };
  mutable Told told_;
  QString buildFocus_;
  bool keyboardFocus_ = false;  // came by a key: its frame is drawn
};

// Board or breadboard that can be placed by its type.
bool isTableItem(const std::string& type);

}  // namespace ignavo::app
