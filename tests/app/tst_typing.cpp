#include <QApplication>
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
