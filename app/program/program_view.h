#pragma once
#include <QLineEdit>
#include <QMap>
#include <QWidget>
#include <memory>

#include "document/document.h"
#include "format/bench_words.h"
#include "format/wiring_language.h"
#include "program/phrases/reading.h"
#include "program/program_layout.h"
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
  // What is drawn, and how a row of it is read out.
  const ProgramPicture& picture() const { return picture_; }
  QString spoken(const ProgramRow& row) const;
  QString troubleOf(const ProgramRow& row) const;
  bool isSelected(const ProgramRow& row) const;

 Q_SIGNALS:
  void problem(const QString& sentence);
  void wantVisible(const QRectF& box);

 protected:
  void paintEvent(QPaintEvent*) override;
  void resizeEvent(QResizeEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void mouseMoveEvent(QMouseEvent*) override;
  void mouseReleaseEvent(QMouseEvent*) override;
  void mouseDoubleClickEvent(QMouseEvent*) override;
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
  void findTroubles();
  const Program* program() const;
  const ProgramRow* rowAt(QPointF p) const;
  const ProgramRow* rowOf(const std::string& step) const;
  const Token* tokenOf(const FieldRef& field) const;
  QStringList pinNames() const;
  Vocabulary words() const { return benchWords(doc_.project(), doc_.nets(), board_); }

  void paintRail(QPainter& p, const RailPiece& piece) const;
  void paintSign(QPainter& p, const ProgramRow& row) const;
  void paintCard(QPainter& p, const ProgramRow& row) const;
  void paintToken(QPainter& p, const Token& token, const ProgramRow& row, bool focused) const;

  void openField(const FieldRef& field);
  void openEditor(const FieldRef& field, const QString& text);
  void openEditorAt(const FieldRef& field, const QRectF& box, const QString& text);
  const SlotKind* slotOf(const std::string& owner, const std::string& key) const;
  void typeSign(const std::string& lane);
  bool signReads();
  void offerFor(QLineEdit* box);
  void offerSigns(const QString& typed);
  void commitWhen();
  void ask(QLineEdit* box, const phrases::Question& question);
  bool cardKey(QLineEdit* box, QKeyEvent* key);
  void commit(QLineEdit* box);
  bool addRead(const Reading& read, const QString& text);
  bool beginOtherwise(const edits::StepPlace& place);
  void goOnTyping(const edits::StepPlace& place, std::size_t added, QLineEdit* endBox);
  void leaveInsert();
  void closeInsert();
  void showMended(const Reading& read, const edits::StepPlace& place);
  void closeEditor(bool keep);
  void editorChanged(const QString& text);
  void stepNumber(double direction);
  void pinMenu(const FieldRef& field);
  void contextMenu(QPoint global);
  void offerPins(QMenu* menu, const std::function<void(const std::string&)>& chosen);
  void offerTriggers(QMenu* menu, const std::string& lane);
  void offerAgain(QMenu* menu, const Lane& lane);
  std::vector<std::string> inputsOfRun(const std::string& step) const;
  void setTrigger(const std::string& lane, const Trigger& trigger);
  std::string likelyInput(const std::string& trigger) const;
  void nextField(int direction);
  void selectNeighbour(int direction);
  void moveSelected(int direction);
  void removeSelected();
  void duplicateSelected();
  void copySelected();
  void paste();
  void openInsert();
  void insertSteps(Steps steps, const QString& name);
  edits::StepPlace placeForNew() const;
  QLineEdit* newBox(const QString& name);
  void commitBox(QLineEdit* box, const edits::StepPlace& place);
  static QString valueText(const LaneView::Value& value);
  QString wasText(const ProgramRow& row, const Token& token) const;

  Document& doc_;
  RunControl& run_;
  std::string board_;
  std::shared_ptr<const Project> project_;  // what the picture points into
  std::shared_ptr<const Project> atPowerOn_;
  ProgramPicture picture_;
  int laidOutWidth_ = 0;
  std::map<std::string, QString> troubles_;  // by step
  QMap<QString, QLineEdit*> ends_;
  QLineEdit* editor_ = nullptr;
  bool editorEdited_ = false;
  FieldRef edited_;
  QLineEdit* when_ = nullptr;  // adds a lane
  QLineEdit* insert_ = nullptr;
  edits::StepPlace insertAt_;
  TypingCard* card_ = nullptr;
  QString mendedStep_;   // whose phrase had slips, until the next edit
  QString mendedWords_;  // what they were taken as
  FieldRef focus_;
  FieldRef hover_;
  QPointF pressedAt_;
  std::string pressedStep_;
  bool dragging_ = false;
  QPointF dragAt_;
  int dropGap_ = -1;
};

}  // namespace ignavo::app
