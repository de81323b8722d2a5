#include <QMenu>
#include <QPushButton>
#include <QtTest>

#include "demos.h"
#include "format/project_file.h"
#include "program/facts.h"
#include "program/shelf.h"
#include "support/program_by_keys.h"

using namespace ignavo;
using namespace ignavo::test;

namespace {

// A demo's circuit with an empty program.
Project circuitOf(const char* name, Steps* wanted) {
  Project p = readProject(demo(name)->text).project;
  *wanted = p.programs[0]->lanes[0]->steps;
  Lane empty;
  empty.id = "l1";
  empty.trigger.on = "always";
  p.programs[0].edit().lanes = {empty};
  return p;
}

}  // namespace

// A demo's program from nothing: by the mouse alone, and by keys alone.
class TestMadeBy : public QObject, protected ProgramByKeys {
  Q_OBJECT

  void click(QWidget* on, QPointF at) {
    QTest::mouseClick(on, Qt::LeftButton, {}, at.toPoint());
    QApplication::processEvents();
  }
  void clickShelf(const char* kind) {
    for (auto* button : window_->findChildren<app::ShelfButton*>())
      if (button->isVisible() && button->text().kind == QLatin1String(kind))
        return click(button, QRectF(button->rect()).center());
    QFAIL(kind);
  }
  void choosePin(const QString& pin) {
    auto* menu = visibleChild<QMenu>(window_.get(), "pinMenu");
    QVERIFY(menu);
    for (QAction* a : menu->actions())
      if (a->text().section(' ', 0, 0) == pin) {
        QTest::mouseClick(menu, Qt::LeftButton, {}, menu->actionGeometry(a).center());
        return settle();
      }
    QFAIL(qPrintable(pin));
  }
  void wheel(QWidget* on, int by) {
    const QPointF at = QRectF(on->rect()).center();
    QWheelEvent turn(at, on->mapToGlobal(at), {}, {0, 120 * by}, {}, {}, Qt::NoScrollPhase, false);
    QApplication::sendEvent(on, &turn);
  }
  // Its fields become what they should be.
  void mendByMouse(const std::string& id, const Step& wanted) {
    for (const auto& [key, value] : wanted.fields) {
      const Expr* now = doc().project().step(id)->field(key);
      QVERIFY(now);
      if (*now == value) continue;
      const SlotKind* slot = stepKind(wanted.kind)->slot(key);
      if (slot->type == SlotKind::Type::pin) {
        click(program(), program()->boxOfField(id, key).center());
        choosePin(QString::fromStdString(value.text));
      } else if (slot->type == SlotKind::Type::level) {
        click(program(), program()->boxOfField(id, key).center());
      } else if (slot->type == SlotKind::Type::truth) {
        click(program(), program()->boxOfField(id, key + "/a/pin").center());
        choosePin(QString::fromStdString(*pinRead(*operandOf(value, 0))));
        if (!(*doc().project().step(id)->field(key) == value))
          click(program(), program()->boxOfField(id, key + "/b").center());
      } else {
        click(program(), program()->boxOfField(id, key).center());
        QVERIFY(program()->editor());
        for (int i = 0; i < 60 && doc().project().step(id)->field(key)->number != value.number; ++i)
          wheel(program()->editor(),
                doc().project().step(id)->field(key)->number < value.number ? 1 : -1);
      }
      QApplication::processEvents();
      QVERIFY2(*doc().project().step(id)->field(key) == value, phraseOf(wanted).c_str());
    }
  }
  const Steps* listAt(const std::string& parent, const std::string& body) {
    return parent.empty() ? &steps() : doc().project().step(parent)->body(body);
  }
  void makeByMouse(const Steps& wanted, const std::string& parent, const std::string& body) {
    for (std::size_t i = 0; i < wanted.size(); ++i) {
      if (i == 0 && !parent.empty()) {
        click(program(), program()->boxOfEmpty(parent, body).center());
      } else if (i > 0) {
        // Behind the step before, by a click on it.
        const QRectF box = program()->boxOfStep((*listAt(parent, body))[i - 1].id);
        click(program(), {box.right() - 40, box.center().y()});
      }
      clickShelf(wanted[i].kind.c_str());
      if (QTest::currentTestFailed()) return;
      settle();
      QCOMPARE(listAt(parent, body)->size(), i + 1);
      const std::string id = (*listAt(parent, body))[i].id;
      mendByMouse(id, wanted[i]);
      if (QTest::currentTestFailed()) return;
      for (const auto& [key, inner] : wanted[i].bodies) {
        makeByMouse(inner, id, key);
        if (QTest::currentTestFailed()) return;
      }
    }
  }

  // A key goes to whatever has the keyboard.
  void press(int key, Qt::KeyboardModifiers with = {}) {
    QWidget* to = QApplication::focusWidget();
    QVERIFY(to);
    QTest::keyClick(to, static_cast<Qt::Key>(key), with);
    QApplication::processEvents();
  }
  void type(const QString& text) {
    for (const QChar c : text) {
      QWidget* to = QApplication::focusWidget();
      QVERIFY(to);
      QTest::keyClick(to, c.toLatin1());
    }
    QApplication::processEvents();
  }

 private Q_SLOTS:
  void initTestCase() { lookAsInDaylight(); }
  void init() { window_ = openWindow(answers_); }
  void cleanup() { window_.reset(); }

  void berthSignalsByMouseAlone() {
    Steps wanted;
    doc().reset(circuitOf("berth-signals", &wanted), {});
    window_->setStation(app::Station::program);
    settle();
    makeByMouse(wanted, {}, {});
    if (QTest::currentTestFailed()) return;
    QCOMPARE(text(), textOf(wanted));
  }
  void landingBeaconByMouseAlone() {
    Steps wanted;
    doc().reset(circuitOf("landing-beacon", &wanted), {});
    window_->setStation(app::Station::program);
    settle();
    makeByMouse(wanted, {}, {});
    if (QTest::currentTestFailed()) return;
    QCOMPARE(text(), textOf(wanted));
  }
  // From the wiring to the run, without the pointer: stations, panes, boxes, fields, power.
  void berthSignalsByKeysAlone() {
    Steps wanted;
    doc().reset(circuitOf("berth-signals", &wanted), {});
    settle();
    QCursor::setPos(5, 5);
    press(Qt::Key_3, Qt::AltModifier);
    QCOMPARE(window_->station(), app::Station::program);
    press(Qt::Key_Down);
    press(Qt::Key_Return);
    type("if call button is pressed");
    press(Qt::Key_Return);
    for (const char* line : {"green lamp off", "d4 on", "set d5 low", "wait .25", "d4 off",
                             "d5 high", "wait a quarter of a second"}) {
      type(line);
      press(Qt::Key_Return);
      QVERIFY2(problem().isEmpty(), qPrintable(problem()));
    }
    type("else");
    press(Qt::Key_Return);
    for (const char* line : {"green lamp on", "d4 low", "set d5 high"}) {
      type(line);
      press(Qt::Key_Return);
    }
    press(Qt::Key_Return);  // out of the branch
    press(Qt::Key_Escape);
    // The last one was wrong: gone to, and changed in its place.
    for (int i = 0; i < 30; ++i) press(Qt::Key_Down);
    press(Qt::Key_Right);
    press(Qt::Key_Right);
    press(Qt::Key_Return);
    QCOMPARE(text(), textOf(wanted));
    press(Qt::Key_F5);
    QVERIFY(window_->runControl().isOn());
    press(Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(text() != textOf(wanted));
    press(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    QCOMPARE(text(), textOf(wanted));
  }
};

QTEST_MAIN(TestMadeBy)
#include "tst_made_by.moc"
