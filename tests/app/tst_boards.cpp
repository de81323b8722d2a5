#include <QComboBox>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>

#include "document/board_chooser.h"
#include "support/demo_rows.h"
#include "support/twice.h"
#include "support/window.h"

using namespace ignavo;
using namespace ignavo::app;
using namespace ignavo::test;

// Two boards in one window: the panes show the one that was chosen last.
class TestBoards : public QObject, protected OpenedWindow {
  Q_OBJECT
  ProgramView* program() { return window_->program()->view(); }
  std::string stepsOf(const char* board) {
    const Program* p = doc().project().program(board);
    return p && !p->lanes.empty() ? textOf(p->lanes.front()->steps) : std::string();
  }
  // A click on the print of a board.
  void clickBoard(std::size_t index) {
    const Point at = doc().project().boards[index].at + Point{3, 16.5};
    QTest::mouseClick(bench(), Qt::LeftButton, {}, bench()->screenOf(at).toPoint());
    QApplication::processEvents();
  }
  QString text() { return window_->findChild<CodeView*>()->wholeText(); }

 private Q_SLOTS:
  void initTestCase() { lookAsInDaylight(); }
  void init() {
    window_ = openWindow(answers_);
    Bench two = Bench()
                    .board("b2")
                    .lane("always", "set d4 high\nwait 0.5\nset d4 low\nwait 0.5\n")
                    .lane("always", "set d7 high\nwait 0.25\n", "b2");
    doc().reset(two.get(), {});
    window_->setStation(Station::program);
    child<QPushButton>("programTab1")->click();
    bench()->fit();
    QApplication::processEvents();
  }
  void cleanup() { window_.reset(); }

  void aClickOnABoardShowsItsProgramTextAndFirmware() {
    QCOMPARE(doc().board(), std::string("b1"));
    QVERIFY(text().contains("set_D4"));
    clickBoard(1);
    QCOMPARE(doc().board(), std::string("b2"));
    QVERIFY(text().contains("set_D7") && !text().contains("set_D4"));
    child<QPushButton>("programTab0")->click();
    int boxes = 0;  // only those of its own lanes are left to type in
    for (const QLineEdit* box : program()->findChildren<QLineEdit*>())
      boxes += box->isVisible() && box->objectName().startsWith("typeStep-");
    QCOMPARE(boxes, 1);
    child<QPushButton>("programTab1")->click();
    // What is typed now goes to that board.
    QVERIFY(program()->addTyped("set d8 high").isEmpty());
    QVERIFY(stepsOf("b2").find("set D8 high") != std::string::npos);
    QVERIFY(stepsOf("b1").find("D8") == std::string::npos);
    auto* line = window_->typeLine();
    line->open("set d9 high");
    QTest::keyClick(line->field(), Qt::Key_Return);
    QVERIFY(stepsOf("b2").find("set D9 high") != std::string::npos);
    QTest::keyClick(line->field(), Qt::Key_Escape);
    clickBoard(0);
    QCOMPARE(doc().board(), std::string("b1"));
    QVERIFY(text().contains("set_D4"));
  }
  void theChooserIsThereWhereThereIsSomethingToChoose() {
    auto* chooser = child<QComboBox>("boardChooser");
    QVERIFY(chooser && chooser->count() == 2);
    chooser->setFocus();
    QTest::keyClick(chooser, Qt::Key_Down);
    QCOMPARE(doc().board(), std::string("b2"));
    QVERIFY(text().contains("set_D7"));
    doc().reset(emptyProject(), {});
    QVERIFY(!child<QComboBox>("boardChooser"));
    QCOMPARE(doc().board(), std::string("b1"));
  }
  void aStepThatIsSelectedBringsItsBoard() {
    const std::string id = doc().project().program("b2")->lanes.front()->steps.front().id;
    doc().selectStep(QString::fromStdString(id));
    QCOMPARE(doc().board(), std::string("b2"));
    doc().undo();
  }
  void aBoardThatGoesLeavesTheOther() {
    clickBoard(1);
    QVERIFY(doc().edit("remove b2", edits::remove(doc().project(), {"b2"})));
    QCOMPARE(doc().board(), std::string("b1"));
    QVERIFY(text().contains("set_D4"));
  }
  void eachBoardShowsItsOwnPowerAndLevels() {
    Project p = doc().project();
    doc().edit("if", edits::assignIds(
                         edits::insertSteps(p, {p.program("b2")->lanes.front()->id, {}, {}, 0},
                                            parseSteps("if d2 is high\n  set d3 high\n").steps)));
    QTest::keyClick(bench(), Qt::Key_F5);
    window_->runControl().advanceBy(0.1);
    QApplication::processEvents();
    const auto shown = window_->runControl().shown();
    QVERIFY(shown && shown->fed == (std::vector<std::uint8_t>{1, 1}));
    QCOMPARE(shown->lanes.size(), std::size_t{2});
  }
};

QTEST_MAIN(TestBoards)
#include "tst_boards.moc"
