#include <QLabel>
#include <QPushButton>
#include <QSlider>
#include <QToolButton>
#include <QtTest>

#include "inspector/inspector.h"
#include "inspector/what_if_view.h"
#include "support/build.h"
#include "support/window.h"

using namespace ignavo;
using namespace ignavo::app;
using namespace ignavo::test;

// Turning a value to see what would come of it, by mouse and keys.
class TestWhatIfView : public QObject {
  Q_OBJECT
  Answers answers_;
  std::unique_ptr<MainWindow> window_;

  template <typename T>
  T* find(const char* name) {
    // The one that is shown: an older one may wait to be deleted.
    T* last = nullptr;
    for (T* w : window_->findChildren<T*>(QLatin1String(name)))
      if (!w->isHidden() || !last) last = w;
    return last;
  }
  double ohms() { return window_->document().project().part("r1")->number("ohms", 0); }
  void select(const char* id) {
    window_->document().select({QLatin1String(id)});
    settle();
  }
  bool open() {
    window_ = openWindow(answers_);
    window_->document().reset(beacon().program("set d4 high\n").get(), {});
    window_->document().finishCheck();
    select("led1");
    return find<QWidget>("whatIf") != nullptr;
  }

 private Q_SLOTS:
  void initTestCase() { lookAsInDaylight(); }
  void keysTurnAndNothingChangesUntilItIsKept() {
    QVERIFY(open());
    const QString before = find<QLabel>("whatIfResult")->text();
    QVERIFY(before.startsWith("12.6 mA"));
    QVERIFY(!find<QPushButton>("whatIfKeep")->isEnabled());
    auto* slider = find<QSlider>("whatIfSlider");
    slider->setFocus();
    for (int i = 0; i < 4; ++i) QTest::keyClick(slider, Qt::Key_Right);
    QCOMPARE(find<QLabel>("whatIfValue")->text(), QStringLiteral("330 Ω"));
    const QString text = find<QLabel>("whatIfResult")->text();
    QVERIFY2(text.startsWith("8.8 mA"), qPrintable(text));
    QCOMPARE(ohms(), 220.0);
    QTest::mouseClick(find<QPushButton>("whatIfKeep"), Qt::LeftButton);
    QCOMPARE(ohms(), 330.0);
    window_->document().finishCheck();
    window_->document().undo();
    QCOMPARE(ohms(), 220.0);
  }
  void tooLittleIsSaidToBurn() {
    QVERIFY(open());
    auto* slider = find<QSlider>("whatIfSlider");
    slider->setValue(slider->minimum());
    const QString text = find<QLabel>("whatIfResult")->text();
    QVERIFY2(text.contains("burns out"), qPrintable(text));
  }
  void theSupplyCanBeTurnedAsWell() {
    QVERIFY(open());
    QTest::mouseClick(find<QToolButton>("whatIf1"), Qt::LeftButton);
    QCOMPARE(find<QLabel>("whatIfValue")->text(), QStringLiteral("5.0 V"));
    QVERIFY(find<QLabel>("whatIfResult")->text().startsWith("12.6 mA"));
    auto* slider = find<QSlider>("whatIfSlider");
    slider->setValue(slider->minimum());
    QVERIFY2(find<QLabel>("whatIfResult")->text().contains("dark"),
             qPrintable(find<QLabel>("whatIfResult")->text()));
    QVERIFY(!find<QPushButton>("whatIfKeep")->isVisible());  // a supply is no property
  }
  void nothingRunsOutOfANarrowInspector() {
    QVERIFY(open());
    window_->resize(1024, 700);
    settle();
    auto* pane = window_->findChild<Inspector*>();
    int seen = 0;
    for (QWidget* w : pane->findChildren<QWidget*>()) {
      if (!w->isVisible() || w->width() == 0) continue;
      const int right = w->mapTo(pane, QPoint(w->width(), 0)).x();
      QVERIFY2(right <= pane->width(), qPrintable(w->objectName() + w->metaObject()->className()));
      ++seen;
    }
    QVERIFY(seen > 20);
  }
  void nothingIsOfferedWhereNothingFlows() {
    window_ = openWindow(answers_);
    window_->document().reset(Bench().resistor("r1", 220, "c9", "h9").get(), {});
    window_->document().finishCheck();
    select("r1");
    QWidget* view = find<QWidget>("whatIf");
    QVERIFY(!view || view->isHidden());
  }
};

QTEST_MAIN(TestWhatIfView)
#include "tst_what_if_view.moc"
