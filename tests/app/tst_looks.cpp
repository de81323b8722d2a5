#include <QAbstractButton>
#include <QAbstractScrollArea>
#include <QApplication>
#include <QLabel>
#include <QLineEdit>
#include <QtTest>

#include "demos.h"
#include "format/project_file.h"
#include "format/wiring_language.h"
#include "support/build.h"
#include "support/window.h"

using namespace ignavo;
using namespace ignavo::app;
using namespace ignavo::test;

namespace {

const char* const longTitle =
    "Signals of the upper and of the lower landing, with the bell that calls the ferry over";

// A bench that is full to its last row.
Project crowded() {
  Bench bench;
  for (int i = 0; i < 14; ++i) {
    const std::string row = std::to_string(2 * i + 1), next = std::to_string(2 * i + 2);
    bench.resistor("r" + std::to_string(i), 220, "c" + row, "h" + row)
        .led("led" + std::to_string(i), "i" + row, "i" + next)
        .wire("j" + next, "rn" + std::to_string(i + 1));
  }
  for (int pin = 2; pin < 14; ++pin)
    bench.wire("D" + std::to_string(pin), "a" + std::to_string(2 * pin - 3));
  bench.wire("GND", "rn25");
  std::string text;
  for (int pin = 2; pin < 14; ++pin)
    text += "set d" + std::to_string(pin) + " high\nwait 0.1\nset d" + std::to_string(pin) +
            " low\nwait 0.1\n";
  return bench.program(text);
}

}  // namespace

// Every station in every size: nothing is cut off, nothing lies over anything else.
class TestLooks : public QObject {
  Q_OBJECT
  Answers answers_;
  std::unique_ptr<MainWindow> window_;

  Document& doc() { return window_->document(); }

  // The part of a widget that can be seen without scrolling, in the window.
  QRect seen(const QWidget* w) const {
    QRect r(w->mapTo(window_.get(), QPoint(0, 0)), w->size());
    for (const QWidget* p = w->parentWidget(); p && p != window_.get(); p = p->parentWidget())
      r &= QRect(p->mapTo(window_.get(), QPoint(0, 0)), p->size());
    return r & window_->rect();
  }
  static bool scrolls(const QWidget* w) {
    for (const QWidget* p = w->parentWidget(); p; p = p->parentWidget())
      if (qobject_cast<const QAbstractScrollArea*>(p)) return true;
    return false;
  }
  // The first text or button that does not fit its place.
  QString unfitting() {
    for (const QLabel* l : window_->findChildren<QLabel*>()) {
      if (!l->isVisible() || l->text().isEmpty() || seen(l).isEmpty()) continue;
      const bool fits = l->wordWrap() ? l->height() >= l->heightForWidth(l->width())
                                      : l->width() >= l->sizeHint().width() - 1;
      if (!fits) return QString("“%1” is cut off").arg(l->text());
      if (seen(l).width() < l->width()) return QString("“%1” sticks out").arg(l->text());
      if (!scrolls(l) && seen(l).height() < l->height())
        return QString("“%1” sticks out below").arg(l->text());
    }
    for (const QAbstractButton* b : window_->findChildren<QAbstractButton*>()) {
      if (!b->isVisible() || seen(b).isEmpty()) continue;
      const QString name = b->text().isEmpty() ? b->accessibleName() : b->text();
      if (b->width() < b->minimumSizeHint().width() || seen(b).width() < b->width())
        return QString("button “%1” is cut off").arg(name);
    }
    return {};
  }
  // Two things to click that lie over each other.
  QString overlapping() {
    QList<const QWidget*> things;
    for (const QWidget* w : window_->findChildren<QWidget*>())
      if (w->isVisible() && !seen(w).isEmpty() &&
          (qobject_cast<const QAbstractButton*>(w) || qobject_cast<const QLineEdit*>(w)))
        things << w;
    for (qsizetype i = 0; i < things.size(); ++i)
      for (qsizetype k = 0; k < i; ++k) {
        const QWidget *a = things[i], *b = things[k];
        if (a->isAncestorOf(b) || b->isAncestorOf(a)) continue;
        if (!seen(a).intersected(seen(b)).isEmpty())
          return QString("%1 and %2")
              .arg(a->objectName() + a->accessibleName(), b->objectName() + b->accessibleName());
      }
    return {};
  }

 private Q_SLOTS:
  void initTestCase() { lookAsInDaylight(); }
  void init() { window_ = openWindow(answers_); }
  void cleanup() {
    window_.reset();
    lookAsInDaylight();
  }

  void everythingFits_data() {
    QTest::addColumn<QSize>("size");
    QTest::addColumn<QString>("project");
    for (const QSize& size : {QSize(1024, 700), QSize(1280, 800), QSize(2560, 1440)})
      for (const char* project : {"empty", "demo", "faulty", "crowded", "titled", "running"})
        QTest::addRow("%s at %d x %d", project, size.width(), size.height())
            << size << QString::fromLatin1(project);
  }
  void everythingFits() {
    QFETCH(QSize, size);
    QFETCH(QString, project);
    window_->resize(size);
    Project p = readProject(demo("ferry-call-bell")->text).project;
    if (project == "empty") p = emptyProject();
    if (project == "crowded") p = crowded();
    if (project == "titled") p.title = longTitle;
    if (project == "faulty")
      p = readWiring(
              "red led i11 i9\n220 c9 h9\nwire D4 a9\nwire j11 GND\nbutton e18\nwire 5V a18\n"
              "wire D2 a20\ngreen led i14 i16\nwire D5 j14\nwire j16 GND2\n"
              "Round and round:\n  if d2 high\n    set d4 high\n    set d5 high\n  wait 0.1\n")
              .project;
    doc().reset(p, {});
    doc().finishCheck();
    if (project == "running") {
      window_->togglePower();
      QVERIFY(window_->runControl().isOn());
      window_->runControl().advanceBy(2.5);
    }
    for (const Station station :
         {Station::wire, Station::check, Station::program, Station::run, Station::build}) {
      window_->setStation(station);
      window_->bench()->fit();
      // The inspector with something in it as well.
      for (const char* selected : {"", "led1", "btn1", "b1"}) {
        if (*selected && !doc().project().hasId(selected)) continue;
        doc().select(*selected ? QStringList{QString::fromLatin1(selected)} : QStringList());
        QTRY_COMPARE(unfitting(), QString());
        QTRY_COMPARE(overlapping(), QString());
      }
    }
  }
  void theNightBenchHasTheSamePlaces() {
    const auto placesOf = [&] {
      QApplication::processEvents();
      QStringList out;
      for (const QWidget* w : window_->findChildren<QWidget*>())
        if (w->isVisible() && !w->objectName().isEmpty() && !w->objectName().startsWith("qt_"))
          out << QString("%1 %2,%3 %4×%5")
                     .arg(w->objectName())
                     .arg(seen(w).x())
                     .arg(seen(w).y())
                     .arg(seen(w).width())
                     .arg(seen(w).height());
      return out;
    };
    window_->openDemo("berth-signals");
    doc().finishCheck();
    window_->setStation(Station::check);
    const QStringList day = placesOf();
    QVERIFY(day.size() > 10);
    const QImage bright = window_->grab().toImage();
    setTheme(true);
    applyTheme();
    QApplication::processEvents();
    QCOMPARE(placesOf(), day);
    const QImage dark = window_->grab().toImage();
    QCOMPARE(dark.size(), bright.size());
    const auto light = [](const QImage& image) {
      return image.scaled(1, 1, Qt::IgnoreAspectRatio, Qt::SmoothTransformation)
          .pixelColor(0, 0)
          .lightnessF();
    };
    QVERIFY2(light(bright) > 0.75 && light(dark) < 0.5,
             qPrintable(QString("%1 %2").arg(light(bright)).arg(light(dark))));
  }
  // A bench that becomes a night bench looks as one that was opened at night, to the pixel.
  void nightIsNightHoweverItCame_data() {
    QTest::addColumn<int>("station");
    for (int s = 0; s < stationCount; ++s) QTest::addRow("station %d", s) << s;
  }
  void nightIsNightHoweverItCame() {
    QFETCH(int, station);
    const auto shot = [&](bool openedAtNight) {
      lookAsInDaylight();
      if (openedAtNight) setTheme(true), applyTheme();
      window_ = openWindow(answers_);
      window_->openDemo("ferry-call-bell");
      doc().finishCheck();
      window_->setStation(static_cast<Station>(station));
      doc().select({"r1"});
      QApplication::processEvents();
      if (!openedAtNight)
        window_->setNight(true);
      else
        window_->setNight(true);  // the same tick in the menu
      window_->setFocus();
      for (int i = 0; i < 4; ++i) QApplication::processEvents();
      return window_->grab().toImage();
    };
    const QImage turned = shot(false), opened = shot(true);
    QCOMPARE(turned.size(), opened.size());
    QRect differs;
    for (int y = 0; y < turned.height(); ++y)
      for (int x = 0; x < turned.width(); ++x)
        if (turned.pixel(x, y) != opened.pixel(x, y)) differs |= QRect(x, y, 1, 1);
    QVERIFY2(differs.isEmpty(), qPrintable(QString("%1,%2 %3×%4")
                                               .arg(differs.x())
                                               .arg(differs.y())
                                               .arg(differs.width())
                                               .arg(differs.height())));
  }
  // What stands in an empty field can be read, by day and by night.
  void placeholdersAreReadable() {
    for (const bool dark : {false, true}) {
      setTheme(dark);
      applyTheme();
      window_ = openWindow(answers_);
      doc().reset(readProject(demo("ferry-call-bell")->text).project, {});
      int fields = 0;
      for (const Station station : {Station::wire, Station::program, Station::run}) {
        window_->setStation(station);
        for (const char* selected : {"b1", "r1", ""}) {
          doc().select(*selected ? QStringList{QString::fromLatin1(selected)} : QStringList());
          QApplication::processEvents();
          for (const QLineEdit* field : window_->findChildren<QLineEdit*>()) {
            if (!field->isVisible()) continue;
            ++fields;
            const QColor ink = field->palette().color(QPalette::PlaceholderText);
            QCOMPARE(ink.alpha(), 255);
            QVERIFY2(contrast(ink, theme().field) >= readContrast, qPrintable(field->objectName()));
          }
        }
      }
      QVERIFY(fields > 10);
    }
  }
  // From the largest to the smallest window and back everything finds its place again.
  void resizingLeavesNothingBehind() {
    window_->openDemo("ferry-call-bell");
    doc().finishCheck();
    window_->setStation(Station::check);
    window_->resize(1280, 800);
    QApplication::processEvents();
    const QImage before = window_->grab().toImage();
    for (const QSize& size : {QSize(2560, 1440), QSize(1024, 700), QSize(1280, 800)}) {
      window_->resize(size);
      QApplication::processEvents();
    }
    QTRY_COMPARE(window_->grab().toImage(), before);
  }
};

QTEST_MAIN(TestLooks)
#include "tst_looks.moc"
