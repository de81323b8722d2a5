#include <QApplication>
#include <QScrollArea>
#include <QScrollBar>
#include <QtTest>

#include "support/program_by_keys.h"

using namespace ignavo;
using namespace ignavo::test;

// Steps as people type them, in the real window.
class TestTyping : public QObject, protected ProgramByKeys {
  Q_OBJECT

 private Q_SLOTS:
  void initTestCase() { lookAsInDaylight(); }
  void init() { window_ = openWindow(answers_); }
  void cleanup() { window_.reset(); }

  void whatIsMeantIsOfferedAndTaken() {
    open("wait 1\n");
    QLineEdit* box = program()->endBox(doc().project().programs[0]->lanes[0]->id);
    box->setFocus();
    QTest::keyClicks(box, "led1 on");
    app::TypingCard* card = program()->card();
    QVERIFY(card->isVisible());
    QCOMPARE(card->rows().front().phrase, QStringLiteral("set D4 high"));
    QVERIFY(!card->rows().front().help.isEmpty());
    QTest::keyClick(box, Qt::Key_Return);
    QVERIFY(!card->isVisible());
    QCOMPARE(text(), std::string("wait 1 s\nset D4 high\n"));
    // A completion is gone to by keys; what is chosen is taken at once.
    QTest::keyClicks(box, "flip d");
    QTest::keyClick(box, Qt::Key_Down);
    QTest::keyClick(box, Qt::Key_Down);
    QTest::keyClick(box, Qt::Key_Up);
    const QString first = card->rows().front().phrase;
    QCOMPARE(card->chosen(), first);
    QTest::keyClick(box, Qt::Key_Return);
    QVERIFY(text().ends_with(first.toStdString() + "\n"));
    // Tab only takes it into the box.
    QTest::keyClicks(box, "wait 0");
    QTest::keyClick(box, Qt::Key_Tab);
    QVERIFY(box->hasFocus());
    QVERIFY(box->text().startsWith("wait 0"));
    QTest::keyClick(box, Qt::Key_Escape);
    QVERIFY(box->text().isEmpty() && !card->isVisible());
  }
  void whatIsOpenIsAskedAtItsWord() {
    open("wait 1\n");
    const Project before = doc().project();
    QLineEdit* box = program()->endBox(doc().project().programs[0]->lanes[0]->id);
    box->setFocus();
    QTest::keyClicks(box, "wait 1000");
    QTest::keyClick(box, Qt::Key_Return);
    QVERIFY(doc().project() == before);
    QVERIFY(problem().contains("milliseconds"));
    QCOMPARE(box->text(), QStringLiteral("wait 1000"));
    QTest::keyClick(box, Qt::Key_Down);
    QCOMPARE(program()->card()->chosen(), QStringLiteral("wait 1 s"));
    QTest::keyClick(box, Qt::Key_Return);
    QCOMPARE(text(), std::string("wait 1 s\nwait 1 s\n"));
    // By mouse as well.
    QTest::keyClicks(box, "stop");
    QTest::keyClick(box, Qt::Key_Return);
    app::TypingCard* card = program()->card();
    QVERIFY(card->rows().size() >= 2);
    QTest::mouseClick(card, Qt::LeftButton, {}, QPoint(40, card->height() - 12));
    QVERIFY(text().ends_with(card->rows().back().phrase.toStdString() + "\n"));
    QCOMPARE(problem(), QString());
  }
  void slipsAreMarkedUntilTheNextEdit() {
    open("wait 1\n");
    QLineEdit* box = program()->endBox(doc().project().programs[0]->lanes[0]->id);
    box->setFocus();
    const QImage plain = program()->grab().toImage();
    QTest::keyClicks(box, "set d4 hihg");
    QTest::keyClick(box, Qt::Key_Return);
    QCOMPARE(text(), std::string("wait 1 s\nset D4 high\n"));
    const QRect card = program()->boxOfStep(idOf("set D4 high").toStdString()).toRect();
    const QImage marked = program()->grab(card).toImage();
    QTest::keyClicks(box, "wait 2");
    QTest::keyClick(box, Qt::Key_Return);
    QVERIFY(program()->grab(card).toImage() != marked);
  }
  void otherwiseIsTypedBelowItsIf() {
    open("wait 1\n");
    QLineEdit* box = program()->endBox(doc().project().programs[0]->lanes[0]->id);
    box->setFocus();
    QTest::keyClicks(box, "if d2 then d4 on");
    QTest::keyClick(box, Qt::Key_Return);
    QTest::keyClicks(box, "else");
    QTest::keyClick(box, Qt::Key_Return);
    auto* insert = child<QLineEdit>("insertStep");
    QVERIFY(insert && insert->hasFocus());
    QTest::keyClicks(insert, "d4 off");
    QTest::keyClick(insert, Qt::Key_Return);
    QCOMPARE(text(),
             std::string("wait 1 s\nif D2 is high\n  set D4 high\notherwise\n  set D4 low\n"));
    // Below something else there is nothing to be otherwise of.
    QTest::keyClicks(box, "wait 2");
    QTest::keyClick(box, Qt::Key_Return);
    QTest::keyClicks(box, "else");
    QTest::keyClick(box, Qt::Key_Return);
    QVERIFY(problem().contains("if"));
    QCOMPARE(box->text(), QStringLiteral("else"));
  }
  // The body that the chosen step stands in has a box at its end; what is typed there goes there,
  // and the box stays for the next step.
  void theChosenBodyHasABoxOfItsOwn() {
    open("if d2 is high\n  set d4 high\n  wait 1\notherwise\n  set d4 low\nwait 2\n");
    QVERIFY(!child<QLineEdit>("typeInside"));
    const auto click = [&](const char* phrase) {
      const QRectF card = program()->boxOfStep(idOf(phrase).toStdString());
      QTest::mouseClick(program(), Qt::LeftButton, {},
                        QPointF(card.right() - 4, card.center().y()).toPoint());
    };
    click("set D4 high");
    auto* box = child<QLineEdit>("typeInside");
    QVERIFY(box);
    QCOMPARE(box->placeholderText(), QStringLiteral("next, if yes …"));
    QVERIFY(box->y() > program()->boxOfStep(idOf("wait 1 s").toStdString()).bottom());
    QVERIFY(box->geometry().bottom() <
            program()->boxOfStep(idOf("set D4 low").toStdString()).top());
    QTest::mouseClick(box, Qt::LeftButton);
    QTest::keyClicks(box, "flip d5");
    QTest::keyClick(box, Qt::Key_Return);
    QTest::keyClicks(box, "3 times");
    QTest::keyClick(box, Qt::Key_Return);
    auto* inner = child<QLineEdit>("insertStep");  // the new loop is empty
    QVERIFY(inner && inner->hasFocus());
    QVERIFY(!box->isVisible());
    QTest::keyClicks(inner, "flip d6");
    QTest::keyClick(inner, Qt::Key_Return);
    QCOMPARE(text(), std::string("if D2 is high\n  set D4 high\n  wait 1 s\n  flip D5\n"
                                 "  repeat 3 times\n    flip D6\notherwise\n  set D4 low\n"
                                 "wait 2 s\n"));
    QTest::keyClick(child<QLineEdit>("insertStep"), Qt::Key_Escape);
    // What was begun in one body is not typed into another.
    click("wait 1 s");
    QTest::keyClicks(child<QLineEdit>("typeInside"), "flip");
    click("set D4 low");
    box = child<QLineEdit>("typeInside");
    QCOMPARE(box->placeholderText(), QStringLiteral("next, if no …"));
    QCOMPARE(box->text(), QString());
    // Return in the empty box: out of the body, to behind its head.
    box->setFocus();
    QTest::keyClick(box, Qt::Key_Return);
    auto* behind = child<QLineEdit>("insertStep");
    QVERIFY(behind && behind->hasFocus());
    QTest::keyClicks(behind, "flip d7");
    QTest::keyClick(behind, Qt::Key_Return);
    QCOMPARE(phraseOf(steps()[1]), std::string("flip D7"));
    QTest::keyClick(child<QLineEdit>("insertStep"), Qt::Key_Escape);
    // A head that is chosen has its own body's; outside of all there is none.
    doc().selectStep(QString::fromStdString(steps()[0].id));
    QCOMPARE(child<QLineEdit>("typeInside")->placeholderText(), QStringLiteral("next, if yes …"));
    click("wait 2 s");
    QVERIFY(!child<QLineEdit>("typeInside"));
  }
  // Whatever row comes or goes by that: the card that was clicked stays under the pointer.
  void nothingMovesUnderThePointer() {
    std::string steps;
    for (int n = 0; n < 12; ++n)
      steps += "if d2 is high\n  wait " + std::to_string(n + 1) + "\notherwise\n  flip d" +
               std::to_string(n % 8 + 4) + "\n";
    open(steps);
    auto* scroll = window_->findChild<QScrollArea*>("programScroll");
    const QRectF middle = program()->boxOfStep(idOf("wait 6 s").toStdString());
    scroll->verticalScrollBar()->setValue(static_cast<int>(middle.top()) - 220);
    settle();
    const auto seen = [&](const std::string& id) {
      return program()->mapTo(scroll, program()->boxOfStep(id).center().toPoint()).y();
    };
    int moved = 0;
    for (const char* phrase : {"wait 6 s", "flip D9", "wait 7 s", "wait 6 s"}) {
      const std::string id = idOf(phrase).toStdString();
      const int before = seen(id);
      const double height = program()->picture().height;
      const QRectF card = program()->boxOfStep(id);
      const QPoint at(static_cast<int>(card.right()) - 4, static_cast<int>(card.center().y()));
      QTest::mousePress(program(), Qt::LeftButton, {}, at);
      QCOMPARE(program()->boxOfStep(id), card);
      QTest::mouseRelease(program(), Qt::LeftButton, {}, at);
      settle();
      QVERIFY2(std::abs(seen(id) - before) <= 1, phrase);
      moved += program()->picture().height != height;
      QCOMPARE(doc().selectedStep().toStdString(), id);
    }
    QCOMPARE(moved, 1);  // the first box comes; later ones come as others go
  }
  void aForkIsTypedInOneGo() {
    open("wait 1\n");
    QLineEdit* end = program()->endBox(doc().project().programs[0]->lanes[0]->id);
    end->setFocus();
    const auto type = [&](const char* line) {
      auto* box = qobject_cast<QLineEdit*>(QApplication::focusWidget());
      QVERIFY(box);
      QTest::keyClicks(box, line);
      QTest::keyClick(box, Qt::Key_Return);
    };
    type("if d2");
    auto* inside = child<QLineEdit>("insertStep");
    QVERIFY(inside && inside->hasFocus());
    QCOMPARE(inside->placeholderText(), QStringLiteral("next, if yes …"));
    type("led1 on");
    type("3 times");
    type("flip d4");
    type("");  // out of the repeat
    type("wait 2");
    type("else");
    QCOMPARE(child<QLineEdit>("insertStep")->placeholderText(), QStringLiteral("next, if no …"));
    type("d4 off");
    type("");  // out of the fork
    QVERIFY(end->hasFocus());
    QVERIFY(!child<QLineEdit>("insertStep"));
    type("wait 3");
    QCOMPARE(text(),
             std::string("wait 1 s\nif D2 is high\n  set D4 high\n  repeat 3 times\n    flip "
                         "D4\n  wait 2 s\notherwise\n  set D4 low\nwait 3 s\n"));
  }
  void aLaneIsTypedWithItsSteps() {
    open("wait 1\n");
    QLineEdit* box = program()->endBox(doc().project().programs[0]->lanes[0]->id);
    box->setFocus();
    QTest::keyClicks(box, "every 2 s: flip d4");
    QTest::keyClick(box, Qt::Key_Return);
    const auto& lanes = doc().project().programs[0]->lanes;
    QCOMPARE(lanes.size(), std::size_t(2));
    QCOMPARE(textOf(lanes[1]->steps), std::string("flip D4\n"));
    QVERIFY(!lanes[1]->steps[0].id.empty());
  }
};

QTEST_MAIN(TestTyping)
#include "tst_typing.moc"
