#include <QApplication>
#include <QPainter>
#include <QPushButton>
#include <QtTest>

#include "program/groups.h"
#include "program/step_pictures.h"
#include "support/window.h"

using namespace ignavo;
using namespace ignavo::app;
using namespace ignavo::test;

// The kinds of steps and the ready-made groups, where one takes them from.
class TestShelf : public QObject, protected OpenedWindow {
  Q_OBJECT

 private Q_SLOTS:
  void initTestCase() { lookAsInDaylight(); }
  void init() { window_ = openWindow(answers_); }
  void cleanup() { window_.reset(); }

  void shelfAddsBehindTheSelectedStep() {
    window_->openDemo("landing-beacon");
    window_->setStation(Station::program);
    doc().selectStep("s2");
    QTest::mouseClick(child<QPushButton>("first-if"), Qt::LeftButton);
    QCOMPARE(doc().project().programs[0]->lanes[0]->steps[2].kind, std::string("if"));
    QTest::mouseClick(child<QPushButton>("first-set"), Qt::LeftButton);
    QCOMPARE(doc().project().programs[0]->lanes[0]->steps[3].field("pin")->text, std::string("D4"));
    child<QPushButton>("moreLanes")->setChecked(true);
    QTest::mouseClick(child<QPushButton>("addLane-power"), Qt::LeftButton);
    QCOMPARE(doc().project().programs[0]->lanes.size(), std::size_t(2));
  }
  void theShelfHasRoomInANarrowWindow() {
    window_->resize(1024, 700);
    window_->setStation(Station::program);
    QApplication::processEvents();
    const auto within = [&](QWidget* b) {
      const QPoint end = b->mapTo(window_.get(), QPoint(b->width(), b->height()));
      QVERIFY2(b->width() >= b->sizeHint().width() && end.x() <= window_->width(),
               qPrintable(b->objectName()));
    };
    for (const char* name :
         {"first-set", "first-wait", "first-if", "first-repeat", "first-flip", "moreSteps"})
      within(child<QPushButton>(name));
    QTest::mouseClick(child<QPushButton>("moreSteps"), Qt::LeftButton);
    QVERIFY(child<QFrame>("allSteps")->isVisible());
    for (const StepKind* kind : stepKinds())
      within(child<QPushButton>(("shelf-" + kind->kind).c_str()));
  }
  void theShelfIsSearchedByKeys() {
    window_->openDemo("landing-beacon");
    window_->setStation(Station::program);
    QApplication::processEvents();
    doc().selectStep("s2");
    auto* all = window_->findChild<QFrame*>("allSteps");
    QTest::mouseClick(child<QPushButton>("moreSteps"), Qt::LeftButton);
    auto* search = child<QLineEdit>("searchSteps");
    QVERIFY(search->hasFocus());
    QTest::keyClicks(search, "note");
    auto* post = child<QPushButton>("shelf-post");
    QVERIFY(post);
    QVERIFY(!child<QPushButton>("shelf-flip"));
    // Down to the first that is found, up again to the search.
    QTest::keyClick(search, Qt::Key_Down);
    QVERIFY(!search->hasFocus());
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_Up);
    QVERIFY(search->hasFocus());
    post->setFocus();
    QTest::keyClick(post, Qt::Key_Return);
    QVERIFY(!all->isVisible());
    QCOMPARE(doc().project().programs[0]->lanes[0]->steps[2].kind, std::string("post"));
    // A group, in one edit.
    doc().undo();
    const Project before = doc().project();
    QTest::mouseClick(child<QPushButton>("moreSteps"), Qt::LeftButton);
    QTest::mouseClick(child<QPushButton>("shelf-blink"), Qt::LeftButton);
    QCOMPARE(doc().project().programs[0]->lanes[0]->steps.size(), std::size_t(8));
    doc().undo();
    QVERIFY(doc().project() == before);
    // Escape closes it.
    QTest::mouseClick(child<QPushButton>("moreSteps"), Qt::LeftButton);
    QTest::keyClick(search, Qt::Key_Escape);
    QVERIFY(!all->isVisible());
  }
  void aGroupAsksWhatItNeedsToKnow() {
    window_->openDemo("berth-signals");
    window_->setStation(Station::program);
    QApplication::processEvents();
    const Project before = doc().project();
    QTest::mouseClick(child<QPushButton>("moreSteps"), Qt::LeftButton);
    QTest::mouseClick(child<QPushButton>("shelf-blink"), Qt::LeftButton);
    QVERIFY(doc().project() == before);
    auto* card = window_->findChild<TypingCard*>();
    QVERIFY(card->question().startsWith("Which lamp"));
    auto* box = child<QLineEdit>("insertStep");
    QTest::keyClick(box, Qt::Key_Down);
    QTest::keyClick(box, Qt::Key_Return);
    QVERIFY(!(doc().project() == before));
  }
  void whenIsTypedUnderTheLanes() {
    window_->openDemo("berth-signals");
    window_->setStation(Station::program);
    QApplication::processEvents();
    const auto lanes = [&]() -> const std::vector<Cow<Lane>>& {
      return doc().project().programs[0]->lanes;
    };
    auto* box = child<QLineEdit>("whenBox");
    auto* card = window_->findChild<TypingCard*>();
    // Gone to, it says in which ways a lane can begin; one is gone to by keys and taken.
    box->setFocus();
    QApplication::processEvents();
    QVERIFY(card->isVisible());
    QVERIFY(card->rows().size() > 4);
    QTest::keyClick(box, Qt::Key_Down);
    QTest::keyClick(box, Qt::Key_Down);
    const std::string sign = card->chosen().toStdString();
    QTest::keyClick(box, Qt::Key_Return);
    QCOMPARE(lanes().size(), std::size_t(2));
    QCOMPARE(signOf(lanes()[1]->trigger), sign);
    // What is typed next are its steps.
    auto* end = child<QLineEdit>("typeStep-" + lanes()[1]->id);
    QCOMPARE(QApplication::focusWidget(), end);
    QTest::keyClicks(QApplication::focusWidget(), "flip d4");
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_Return);
    QCOMPARE(textOf(lanes()[1]->steps), std::string("flip D4\n"));
    // Typed as people type it; the words for each time may be left out.
    box->setFocus();
    QTest::keyClicks(box, "every half second: flip red lamp 2");
    QTest::keyClick(box, Qt::Key_Return);
    QCOMPARE(signOf(lanes()[2]->trigger), std::string("Every 0.5 s"));
    QCOMPARE(textOf(lanes()[2]->steps), std::string("flip D5\n"));
    QTest::keyClicks(box, "button released");
    QTest::keyClick(box, Qt::Key_Return);
    QCOMPARE(signOf(lanes()[3]->trigger), std::string("Each time D2 goes low"));
    QVERIFY(box->text().isEmpty());
    // What is a step belongs elsewhere.
    QTest::keyClicks(box, "wait 2 s");
    QTest::keyClick(box, Qt::Key_Return);
    QCOMPARE(lanes().size(), std::size_t(4));
    QVERIFY2(card->question().contains("Here stands when"), qPrintable(card->question()));
    QCOMPARE(box->text(), QStringLiteral("wait 2 s"));
  }
  void everyStepAndGroupHasItsPicture() {
    QImage blank(24, 24, QImage::Format_ARGB32);
    blank.fill(Qt::transparent);
    std::vector<QImage> seen{blank};
    std::vector<std::string> kinds;
    for (const StepKind* kind : stepKinds()) kinds.push_back(kind->kind);
    for (const GroupKind& kind : groupKinds()) kinds.push_back(kind.name);
    for (const std::string& kind : kinds) {
      QImage image = blank;
      QPainter p(&image);
      QVERIFY2(paintStepPicture(p, QString::fromStdString(kind), QRectF(0, 0, 24, 24), Qt::black),
               kind.c_str());
      p.end();
      QVERIFY2(std::find(seen.begin(), seen.end(), image) == seen.end(), kind.c_str());
      seen.push_back(image);
    }
  }
};

QTEST_MAIN(TestShelf)
#include "tst_shelf.moc"
