#include <QAbstractButton>
#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QScrollArea>
#include <QScrollBar>
#include <QSlider>
#include <QToolButton>
#include <QtTest>

#include "demos.h"
#include "format/project_file.h"
#include "format/wiring_language.h"
#include "inspector/inspector.h"
#include "support/build.h"
#include "support/window.h"

using namespace ignavo;
using namespace ignavo::app;
using namespace ignavo::test;

namespace {
// One part beside the breadboard.
Project lying(const std::string& type) {
  return edits::changePart(Bench().part(type, "x1", {}), "x1", [](Part& q) {
    q.at = Point{30, 10};
  });
}
}  // namespace

// What is selected, by keys: every property of every kind, pins, wires, lists.
class TestInspector : public QObject, protected OpenedWindow {
  Q_OBJECT
  Inspector* inspector() { return window_->findChild<Inspector*>(); }
  void show(const Project& p, const char* selected) {
    doc().reset(p, {});
    doc().finishCheck();
    doc().select({QString::fromLatin1(selected)});
    QApplication::processEvents();
  }
  // A text that is wider than the pane, or lower than it needs.
  QString cutOff() {
    const auto* area = inspector()->findChild<QScrollArea*>();
    const int width = area->viewport()->width();
    for (const QLabel* l : inspector()->findChildren<QLabel*>()) {
      if (!l->isVisible() || l->text().isEmpty()) continue;
      const int left = l->mapTo(area->viewport(), QPoint(0, 0)).x();
      const bool fits = l->wordWrap() ? l->height() >= l->heightForWidth(l->width())
                                      : l->width() >= l->sizeHint().width() - 1;
      if (!fits || left < 0 || left + l->width() > width) return l->text();
    }
    return {};
  }
  // One change of a property with the keys, whatever field it has. False: there is none.
  bool change(const PropKind& prop) {
    const std::string name = "prop-" + prop.key;
    if (prop.key == "colour") {
      auto* other = child<QToolButton>("swatch-" + prop.choices.back());
      if (!other) return false;
      other->setFocus();
      QTest::keyClick(other, Qt::Key_Space);
    } else if (auto* truth = child<QCheckBox>(name)) {
      truth->setFocus();
      QTest::keyClick(truth, Qt::Key_Space);
    } else if (auto* slider = child<QSlider>(name)) {
      slider->setFocus();
      QTest::keyClick(slider, slider->value() == slider->maximum() ? Qt::Key_Left : Qt::Key_Right);
    } else if (auto* spin = child<QDoubleSpinBox>(name)) {
      spin->setFocus();
      QTest::keyClick(spin, Qt::Key_Up);
    } else if (auto* box = child<QComboBox>(name)) {
      box->setFocus();
      if (box->isEditable()) {
        box->lineEdit()->selectAll();
        QTest::keyClicks(box->lineEdit(), prop.unit == "Ω" ? "3.3k" : "22u");
        QTest::keyClick(box->lineEdit(), Qt::Key_Return);
      } else {
        QTest::keyClick(box, Qt::Key_Down);
      }
    } else {
      return false;
    }
    QApplication::processEvents();
    return true;
  }

 private Q_SLOTS:
  void initTestCase() { lookAsInDaylight(); }
  void init() { window_ = openWindow(answers_); }
  void cleanup() { window_.reset(); }

  void everyPropertyIsChangedAndTakenBack_data() {
    QTest::addColumn<QString>("type");
    QTest::addColumn<QString>("key");
    for (const PartKind* kind : catalogue().parts())
      for (const PropKind& prop : kind->props)
        QTest::addRow("%s: %s", kind->type.c_str(), prop.key.c_str())
            << QString::fromStdString(kind->type) << QString::fromStdString(prop.key);
  }
  void everyPropertyIsChangedAndTakenBack() {
    QFETCH(QString, type);
    QFETCH(QString, key);
    const PartKind& kind = *catalogue().partKind(type.toStdString());
    const PropKind& prop = *kind.prop(key.toStdString());
    const Project before = lying(kind.type);
    show(before, "x1");
    QVERIFY2(change(prop), "no field");
    const Project after = doc().project();
    const PropValue *was = before.part("x1")->prop(prop.key),
                    *is = after.part("x1")->prop(prop.key);
    QVERIFY2(is && (!was || !(*is == *was)), "nothing was changed");
    if (const double* number = std::get_if<double>(is))
      QVERIFY(*number >= prop.min && *number <= prop.max);
    if (const std::string* choice = std::get_if<std::string>(is))
      QVERIFY(std::find(prop.choices.begin(), prop.choices.end(), *choice) != prop.choices.end());
    // It is one edit with a name, and it is in the file.
    QVERIFY2(doc().history().undoName().find(prop.label) != std::string::npos,
             doc().history().undoName().c_str());
    QVERIFY(readProject(writeProject(after)).project == after);
    doc().undo();
    QVERIFY(doc().project() == before);
    doc().redo();
    QVERIFY(doc().project() == after);
  }
  void whatCannotBeIsNotTaken_data() {
    QTest::addColumn<QString>("typed");
    for (const char* typed : {"", "abc", "0", "-5", "1e99", "220 V", "47 ohm and more", "nan"})
      QTest::newRow(*typed ? typed : "nothing") << QString::fromLatin1(typed);
  }
  void whatCannotBeIsNotTaken() {
    QFETCH(QString, typed);
    const Project before = beacon();
    show(before, "r1");
    auto* box = child<QComboBox>("prop-ohms");
    box->setFocus();
    box->lineEdit()->selectAll();
    QTest::keyClick(box->lineEdit(), Qt::Key_Delete);
    QTest::keyClicks(box->lineEdit(), typed);
    QTest::keyClick(box->lineEdit(), Qt::Key_Return);
    QApplication::processEvents();
    QVERIFY(doc().project() == before);
    QCOMPARE(child<QComboBox>("prop-ohms")->currentText(), QString("220 Ω"));
  }
  void valuesAreTypedAsPeopleWriteThem_data() {
    QTest::addColumn<QString>("typed");
    QTest::addColumn<double>("ohms");
    const std::pair<const char*, double> rows[] = {{"330", 330},     {"4.7k", 4700}, {"4k7", 4700},
                                                   {"10 kΩ", 10000}, {"1M", 1e6},    {"47 ohm", 47},
                                                   {"2.2 k", 2200},  {"123", 123}};
    for (const auto& [typed, ohms] : rows) QTest::newRow(typed) << QString::fromUtf8(typed) << ohms;
  }
  void valuesAreTypedAsPeopleWriteThem() {
    QFETCH(QString, typed);
    QFETCH(double, ohms);
    show(beacon(), "r1");
    auto* box = child<QComboBox>("prop-ohms");
    box->setFocus();
    box->setEditText(typed);
    QTest::keyClick(box->lineEdit(), Qt::Key_Return);
    QApplication::processEvents();
    QCOMPARE(doc().project().part("r1")->number("ohms", 0), ohms);
    // Its bands are those of the new value.
    QStringList names;
    for (const std::string& band : bandsOf(ohms)) names << QString::fromStdString(band);
    const QString words = names.join(", ");
    const auto shown = [&] {
      for (const QLabel* l : inspector()->findChildren<QLabel*>())
        if (l->isVisible() && l->text() == words) return true;
      return false;
    };
    QTRY_VERIFY2(shown(), qPrintable(words));
  }

  // Going through a field changes nothing, also where the value shown is rounded.
  void lookingAtAValueKeepsIt() {
    const Project before = Bench(beacon()).prop("r1", "ohms", 123456.0);
    show(before, "r1");
    auto* box = child<QComboBox>("prop-ohms");
    QCOMPARE(box->currentText(), QString("123.5 kΩ"));
    box->setFocus();
    QTest::keyClick(box->lineEdit(), Qt::Key_Return);
    window_->bench()->setFocus();
    QApplication::processEvents();
    QVERIFY(doc().project() == before);
  }

  // Whoever does not see the screen hears what each field is, and comes to it by key.
  void everyFieldSaysWhatItIs_data() {
    QTest::addColumn<QString>("type");
    for (const PartKind* kind : catalogue().parts())
      QTest::newRow(kind->type.c_str()) << QString::fromStdString(kind->type);
  }
  void everyFieldSaysWhatItIs() {
    QFETCH(QString, type);
    show(lying(type.toStdString()), "x1");
    int fields = 0;
    for (QWidget* w : inspector()->findChildren<QWidget*>()) {
      const bool part = qobject_cast<QLineEdit*>(w) && w->parentWidget() &&
                        (qobject_cast<QComboBox*>(w->parentWidget()) ||
                         qobject_cast<QAbstractSpinBox*>(w->parentWidget()));
      if (!w->isVisible() || part || !(w->focusPolicy() & Qt::TabFocus)) continue;
      if (qobject_cast<QScrollArea*>(w)) continue;
      ++fields;
      const auto* button = qobject_cast<QAbstractButton*>(w);
      QVERIFY2(!w->accessibleName().isEmpty() || (button && !button->text().isEmpty()),
               qPrintable(QString("%1 “%2”").arg(w->metaObject()->className(), w->objectName())));
    }
    QVERIFY(fields >= 3);
  }
  // In the smallest window nothing is wider than the pane or lower than its text.
  void nothingIsCutOff_data() { everyFieldSaysWhatItIs_data(); }
  void nothingIsCutOff() {
    QFETCH(QString, type);
    window_->resize(1024, 700);
    show(edits::changePart(
             lying(type.toStdString()), "x1",
             [](Part& q) { q.name = "Lantern of the upper landing, beside the bell"; }),
         "x1");
    QTRY_COMPARE(cutOff(), QString());
  }

  // The wheel scrolls the pane; what comes under the pointer meanwhile stays as it is.
  void theWheelScrollsAndChangesNothing() {
    window_->resize(1024, 700);
    for (const char* type : {"resistor", "pot", "capacitor", "button", "meter"}) {
      const Project before = lying(type);
      show(before, "x1");
      int fields = 0;
      for (QWidget* w : inspector()->findChildren<QWidget*>()) {
        const bool turns = qobject_cast<QComboBox*>(w) || qobject_cast<QAbstractSpinBox*>(w) ||
                           qobject_cast<QSlider*>(w);
        if (!w->isVisible() || !turns) continue;
        ++fields;
        window_->bench()->setFocus();
        QWheelEvent wheel(QPointF(9, 9), w->mapToGlobal(QPointF(9, 9)), {}, {0, -240}, Qt::NoButton,
                          {}, Qt::NoScrollPhase, false);
        QApplication::sendEvent(w, &wheel);
        QVERIFY2(!wheel.isAccepted(), qPrintable(w->objectName()));  // so the pane gets it
        QVERIFY2(doc().project() == before, qPrintable(w->objectName()));
      }
      QVERIFY2(fields > 0, type);
    }
    // What is asked with What if stays as well.
    show(beacon().program(blink), "r1");
    auto* slider = child<QSlider>("whatIfSlider");
    QVERIFY(slider);
    const int was = slider->value();
    QWheelEvent wheel(QPointF(9, 9), slider->mapToGlobal(QPointF(9, 9)), {}, {0, -240},
                      Qt::NoButton, {}, Qt::NoScrollPhase, false);
    QApplication::sendEvent(slider, &wheel);
    QCOMPARE(slider->value(), was);
    // With the focus it is meant.
    slider->setFocus();
    QWheelEvent again(QPointF(9, 9), slider->mapToGlobal(QPointF(9, 9)), {}, {0, 240}, Qt::NoButton,
                      {}, Qt::NoScrollPhase, false);
    QApplication::sendEvent(slider, &again);
    QVERIFY(slider->value() != was);
  }
  void theListLeadsToEachPart() {
    show(readProject(demo("berth-signals")->text).project, "");
    doc().select({});
    auto* list = child<QListWidget>("partList");
    QVERIFY(list);
    QCOMPARE(list->count(), static_cast<int>(doc().project().parts->size()));
    list->setFocus();
    list->setCurrentRow(0);
    QTest::keyClick(list, Qt::Key_Down);
    QTest::keyClick(list, Qt::Key_Return);
    QApplication::processEvents();
    QCOMPARE(doc().selection(),
             QStringList{QString::fromStdString((*doc().project().parts)[1]->id)});
    QVERIFY(child<QLineEdit>("partName"));
  }
  void pinsGetLabelsAndPullUpsByKey() {
    const Project before = readWiring(
                               "button e18\nwire D2 a20\nwire GND a18\n"
                               "Round and round:\n  set D13 D2\n")
                               .project;
    show(before, "b1");
    auto* label = child<QLineEdit>("label-D2");
    QVERIFY(label);
    label->setFocus();
    QTest::keyClicks(label, "Bell rope");
    QTest::keyClick(label, Qt::Key_Return);
    QCOMPARE(doc().pinLabel("b1", "D2"), QString("Bell rope"));
    auto* pull = child<QCheckBox>("pull-D2");
    pull->setFocus();
    QTest::keyClick(pull, Qt::Key_Space);
    QVERIFY(doc().project().program("b1")->pulledUp("D2"));
    doc().finishCheck();
    // D13 is set by a step: an output has no pull-up.
    QVERIFY(child<QLineEdit>("label-D13"));
    QVERIFY(!child<QCheckBox>("pull-D13"));
    doc().undo();
    doc().undo();
    QVERIFY(doc().project() == before);
  }
  void aWireIsRecolouredWithItsWholePin() {
    show(beacon(), "w3");
    QCOMPARE(doc().project().wire("w3")->from.point, std::string("D4"));
    QToolButton* pink = nullptr;
    for (QToolButton* b : inspector()->findChildren<QToolButton*>())
      if (b->isVisible() && b->accessibleName() == "pink") pink = b;
    QVERIFY(pink);
    pink->setFocus();
    QTest::keyClick(pink, Qt::Key_Space);
    QApplication::processEvents();
    QCOMPARE(doc().project().wire("w3")->colour, std::string("pink"));
    const int pin = doc().identities().ofPin("b1", "D4");
    QCOMPARE(identityNames()[static_cast<std::size_t>(pin)], std::string("pink"));
    QCOMPARE(QString::fromStdString(doc().history().undoName()), QString("recolour a wire"));
  }
  void severalAreToldAndRemovedTogether() {
    const Project before = beacon();
    show(before, "");
    doc().select({"led1", "r1"});
    QApplication::processEvents();
    bool told = false;
    for (const QLabel* l : inspector()->findChildren<QLabel*>())
      told = told || (l->isVisible() && l->text() == "2 things are selected");
    QVERIFY(told);
    auto* remove = child<QPushButton>("actionRemove");
    remove->setFocus();
    QTest::keyClick(remove, Qt::Key_Space);
    QApplication::processEvents();
    QVERIFY(doc().project().parts->empty());
    doc().undo();
    QVERIFY(doc().project() == before);
  }
  // What the check says of a part stands with it, as long as it is so.
  void findingsStandWithTheirPart() {
    show(beacon().program(blink), "led1");
    const auto says = [&](const char* words) {
      QApplication::processEvents();
      for (const QLabel* l : inspector()->findChildren<QLabel*>())
        if (l->isVisible() && l->text().contains(words)) return true;
      return false;
    };
    QVERIFY(!says("faces against"));
    QVERIFY(says("If D4 goes high"));
    QTest::keyClick(window_->bench(), Qt::Key_F);
    doc().finishCheck();
    QVERIFY(says("faces against"));
    QTest::keyClick(window_->bench(), Qt::Key_F);
    doc().finishCheck();
    QVERIFY(!says("faces against"));
  }
};

QTEST_MAIN(TestInspector)
#include "tst_inspector.moc"
