#pragma once
#include <QLineEdit>
#include <QMap>
#include <QWidget>
#include <map>
#include <memory>
#include <optional>

#include "document/document.h"
#include "format/bench_words.h"
#include "format/wiring_language.h"
#include "program/field_editor.h"
#include "program/phrases/reading.h"
#include "program/program_layout.h"
#include "program/step_tokens.h"
#include "program/trial.h"
#include "program/typing_card.h"
#include "run/run_control.h"

namespace ignavo::app {

// The program of a board, drawn as rails with cards. Lives in a scroll area.
class ProgramView : public QWidget {
  Q_OBJECT
 public:
  ProgramView(Document& document, RunControl& run, QWidget* parent = nullptr);

  std::string board() const { return board_; }
  // Adds a typed step behind the selected one, or at the end of the first lane.
  // Returns the sentence that says what is wrong, empty when it worked.
  QString addTyped(const QString& text);
  void addKind(const std::string& kind);
  void addLane(const std::string& trigger);
  QLineEdit* endBox(const std::string& lane) const;
  // Where one types among other steps: at the end of the body that is chosen, or where one asked.
  QLineEdit* openBox() const { return insert_ ? insert_ : inside_; }
  // As if that were typed at the end of the first lane with steps; a line break at its end is
  // Return.
  void beginStep(const QString& text);
  // A ready-made group behind the selected step, or what it asks in a box there.
  void beginGroup(const QString& phrase);
  // Boxes in this widget's coordinates, for tests and for scrolling.
  QRectF boxOfStep(const std::string& step) const;
  QRectF boxOfEmpty(const std::string& step, const std::string& body) const;
  QRectF boxOfSignPin(const std::string& lane) const;
  QRectF boxOfField(const std::string& step, const std::string& path) const;
  QLineEdit* editor() const { return editor_; }
  // The heads of the lane, forks and loops that go on at that height but begin above it.
  QStringList headsAbove(double y) const;
  TypingCard* card() const { return card_; }
  QLineEdit* whenBox() const { return when_; }
  bool isTyping() const { return insert_ != nullptr; }  // a step, among the others
  // What is drawn, and how a row of it is read out. Boxes in it are those at a zoom of 1.
  const ProgramPicture& picture() const { return picture_; }
  QRectF shown(const QRectF& inPicture) const;
  QString spoken(const ProgramRow& row) const;
  QString troubleOf(const ProgramRow& row) const;
  QString ranText(const std::string& step) const;  // how often, since power-on; empty while off
  bool isSelected(const ProgramRow& row) const;
  // Of how its lane is: "waiting for Call button", "3 presses not seen"; empty while off.
  QString stateOf(const ProgramRow& sign) const;
  // Is that row, or what is folded away in it, being done just now?
  bool runs(const ProgramRow& row) const;

  // On the right of a card: what it is doing, what it was, what is wrong.
  struct Note {
    QString text;
    QColor ink;
    bool plain = false;  // no figure
  };
  Note noteOf(const ProgramRow& card) const;

  static constexpr double leastZoom = 0.5, mostZoom = 2;
  double zoom() const { return zoom_; }
  void setZoom(double zoom);
  // What was chosen, in the order of the program.
  std::vector<std::string> selected() const;
  // Is that field of a copy, and was it not touched since?
  bool isFresh(const std::string& step, const std::string& path) const;
  // A part of the bench is held over the program there: shows where its step would go.
  void hoverPart(const std::string& part, QPointF at);
  // It is let go there: the step that it suggests. False: none.
  bool dropPart(const std::string& part, QPointF at);
  void leavePart();

 Q_SIGNALS:
  void problem(const QString& sentence);
  void wantVisible(const QRectF& box);
  // That alone is to be done at once. Its lane is left to whoever runs it.
  void tryWanted(const Trial& trial);
  // A pin is to be held by hand, with a card beside that place on the screen.
  void pinWanted(const QString& board, const QString& pin, QPoint global);
  // What comes of the pin that a step or lane sets, with a card beside that place.
  void whyWanted(const QString& board, const QString& pin, QRect global);
  void laidOut();
  // The next useful thing for what is pointed at; empty: for nothing of it.
  void hinted(const QString& sentence);
  // What is chosen stands that much lower now, without having been moved.
  void shifted(double pixels);

 protected:
  void paintEvent(QPaintEvent*) override;
  void resizeEvent(QResizeEvent*) override;
  void showEvent(QShowEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void mouseMoveEvent(QMouseEvent*) override;
  void mouseReleaseEvent(QMouseEvent*) override;
  void mouseDoubleClickEvent(QMouseEvent*) override;
  void wheelEvent(QWheelEvent*) override;
  void leaveEvent(QEvent*) override;
  void keyPressEvent(QKeyEvent*) override;
  void contextMenuEvent(QContextMenuEvent*) override;
  bool eventFilter(QObject* watched, QEvent* event) override;
  void focusInEvent(QFocusEvent*) override { update(); }
  void focusOutEvent(QFocusEvent*) override { update(); }

 private:
  struct FieldRef {
    std::string step, path;
    bool operator==(const FieldRef&) const = default;
  };
  void relayout();
  void relayoutIfNew();
  void makeRoom();
  void showChosen();
  std::optional<edits::StepPlace> endOfChosenBody() const;
  std::optional<edits::StepPlace> openPlace() const;
  void placeBoxes();
  void paintChanged(const ProgramPicture& before);
  void findTroubles();
  void noteFindings();
  const Finding* findingOf(const std::string& id) const;  // of a step or lane; null: none
  const Program* program() const;
  const Lane* lane(const std::string& id) const;
  const ProgramRow* rowAt(QPointF p) const;
  const ProgramRow* rowOf(const std::string& step) const;
  const Token* tokenOf(const FieldRef& field) const;
  QStringList pinNames() const;
  Vocabulary words() const { return benchWords(doc_.project(), doc_.nets(), board_); }

  // How it looks (program_paint)
  void paintRail(QPainter& p, const RailPiece& piece) const;
  void paintRow(QPainter& p, const ProgramRow& row) const;
  void paintSign(QPainter& p, const ProgramRow& row) const;
  void paintBranch(QPainter& p, const ProgramRow& row) const;
  void paintEmpty(QPainter& p, const ProgramRow& row) const;
  void paintThread(QPainter& p, const ProgramRow& row) const;
  void paintFolded(QPainter& p, const ProgramRow& row) const;
  void paintCard(QPainter& p, const ProgramRow& row) const;
  void paintDrop(QPainter& p) const;
  void paintToken(QPainter& p, const Token& token, bool focused) const;
  Note noteOfSign(const ProgramRow& sign) const;
  int overlooked(const Lane& held) const;
  QString missedText(const Lane& lane, const TriggerKind& kind, std::int64_t missed) const;
  QString nowOf(const Step& fork) const;
  QString wasText(const ProgramRow& row, const Token& token) const;

  // Values in place (program_fields)
  void openField(const FieldRef& field);
  void openEditor(const FieldRef& field, const QString& text);
  void openEditorAt(const FieldRef& field, const QRectF& box, const QString& text);
  const SlotKind* slotOf(const std::string& owner, const std::string& key) const;
  std::vector<std::string> inputsOfRun(const std::string& step) const;
  void typeSign(const std::string& lane);
  bool signReads();
  void closeEditor(bool keep);
  void editorChanged(const QString& text);
  void stepNumber(double direction);
  void nextField(int direction);
  bool onThread() const;
  void removeOperator();
  const ProgramRow* threadOf(const std::string& lane) const;
  QRect boxOfOperator(const ProgramRow& thread) const;
  void openOperator(const QString& typed);
  void closeOperator();
  void commitOperator();

  // Typing steps (program_typing)
  QLineEdit* newBox(const QString& name);
  void offerFor(QLineEdit* box);
  void offerSigns(const QString& typed);
  void offerOperators(const QString& typed);
  void ask(QLineEdit* box, const phrases::Question& question);
  bool cardKey(QLineEdit* box, QKeyEvent* key);
  void commit(QLineEdit* box);
  void commitWhen();
  void commitBox(QLineEdit* box, const edits::StepPlace& place);
  bool commitWiring(QLineEdit* box);
  bool addRead(const Reading& read, const QString& text);
  bool beginOtherwise(const edits::StepPlace& place);
  void goOnTyping(const edits::StepPlace& place, std::size_t added, QLineEdit* endBox);
  void openInsert();
  void leaveInsert();
  void closeInsert();
  void closeBox(QLineEdit*& box);
  QRectF boxOf(const edits::StepPlace& open) const;  // null: there is no such place any more
  QString invitation(const edits::StepPlace& open) const;
  void showMended(const Reading& read, const edits::StepPlace& place);

  // What is done to steps (program_edit)
  edits::StepPlace placeForNew() const;
  void insertSteps(Steps steps, const QString& name);
  void selectNeighbour(int direction, bool more);
  void selectOnly(const std::string& id);
  void selectTo(const std::string& id);
  void moveSelected(int direction);
  void move(const std::vector<std::string>& ids, const edits::StepPlace& place);
  void removeSelected();
  void duplicateSelected(bool withFollowers = false);
  void copySelected();
  void paste();
  void fold(const std::string& step, bool away);
  void unfoldTo(const std::string& step);
  void goInto(int direction);
  void makeOwn();
  void tryStep(const std::string& body = {});
  std::vector<std::string> withFollowers(const std::string& step) const;
  QString nameOf(const std::vector<std::string>& ids) const;
  bool stepKey(QKeyEvent* e);

  // Menus (program_menus)
  void pinMenu(const FieldRef& field);
  void contextMenu(QPoint global);
  void stepMenu(QMenu* menu);
  void offerHands(QMenu* menu, const std::string& step);
  void offerWhy(QMenu* menu, const std::string& pin);
  void signMenu(QMenu* menu, const std::string& lane);
  void offerConditions(QMenu* menu, const std::string& owner, const std::string& root);
  void offerPins(QMenu* menu, const std::function<void(const std::string&)>& chosen);
  void offerTriggers(QMenu* menu, const std::string& lane);
  void offerAgain(QMenu* menu, const Lane& lane);
  void setTrigger(const std::string& lane, const Trigger& trigger);
  std::string likelyInput(const std::string& trigger) const;

  // The mouse (program_mouse)
  FieldRef fieldAt(const ProgramRow& row, QPointF at) const;
  void pressRow(const ProgramRow& row, QMouseEvent* e);
  void pointAt(QPointF at);
  int gapAt(QPointF at, double left, double reach) const;

  Document& doc_;
  RunControl& run_;
  std::string board_;
  std::shared_ptr<const Project> project_;  // what the picture points into
  std::shared_ptr<const Project> atPowerOn_;
  ProgramPicture picture_;
  TokenCache told_;
  std::optional<edits::StepPlace> open_;  // which has a row of its own in it
  double zoom_ = 1;
  int laidOutWidth_ = 0;
  std::map<std::string, bool> folds_;                   // by step, where it was asked for
  std::map<std::string, QString> troubles_;             // by step
  std::unordered_map<std::string, std::size_t> found_;  // by step or lane: its first finding
  QMap<QString, QLineEdit*> ends_;
  FieldEditor* editor_ = nullptr;
  bool editorEdited_ = false;
  FieldRef edited_;
  QLineEdit* when_ = nullptr;    // adds a lane
  QLineEdit* inside_ = nullptr;  // adds a step at the end of the chosen body
  QLineEdit* insert_ = nullptr;
  edits::StepPlace insertAt_;
  QLineEdit* operator_ = nullptr;  // adds an operator to a thread
  TypingCard* card_ = nullptr;
  QString mendedStep_;             // whose phrase had slips, until the next edit
  QString mendedWords_;            // what they were taken as
  bool mendedShown_ = false;       // its mark is to be painted over
  std::vector<FieldRef> fresh_;    // of copies: what probably changes, until it is touched
  std::vector<std::string> also_;  // chosen besides the selected step
  std::string anchor_;             // from where they were chosen
  FieldRef focus_;
  FieldRef hover_;
  std::string hoverLoop_;  // whose return is shown
  QString hint_;
  QPointF pressedAt_;
  std::string pressedStep_;
  bool pressing_ = false;  // a mouse button is down: nothing moves until it is let go
  bool pulled_ = false;    // by the dot on the rail: what follows comes along
  std::vector<std::string> dragged_;
  std::string part_;  // of the bench, held over the program
  QPointF dragAt_;
  int dropGap_ = -1;
};

}  // namespace ignavo::app
