#include <QAccessible>
#include <QApplication>
#include <QtTest>

#include "demos.h"
#include "support/program_by_keys.h"

using namespace ignavo;
using namespace ignavo::test;

// What a screen reader finds in a program.
class TestReadOut : public QObject, protected ProgramByKeys {
  Q_OBJECT

 private Q_SLOTS:
  void initTestCase() { lookAsInDaylight(); }
  void init() { window_ = openWindow(answers_); }
  void cleanup() { window_.reset(); }

  void screenReadersGoThroughEveryDemo_data() {
    QTest::addColumn<QString>("demo");
    for (const Demo& d : demos()) QTest::newRow(d.name.c_str()) << QString::fromStdString(d.name);
  }
  void screenReadersGoThroughEveryDemo() {
    QFETCH(QString, demo);
    window_->openDemo(demo);
    window_->setStation(app::Station::program);
    QApplication::processEvents();
    QAccessibleInterface* whole = QAccessible::queryAccessibleInterface(program());
    QVERIFY(whole);
    // Signs and steps in the order of the program, each with its pins and values within.
    std::vector<std::string> wanted;
    for (const auto& lane : doc().project().programs[0]->lanes) {
      wanted.push_back(lane->id);
      forEachStep(lane->steps, [&](const Step& s) { wanted.push_back(s.id); });
    }
    std::size_t at = 0;
    int boxes = 0, fields = 0;
    for (int i = 0; i < whole->childCount(); ++i) {
      QAccessibleInterface* child = whole->child(i);
      QVERIFY(child && child->isValid());
      if (child->object()) {
        ++boxes;
        QVERIFY(!child->text(QAccessible::Name).isEmpty());
        continue;
      }
      QCOMPARE(whole->indexOfChild(child), i);
      QVERIFY(child->parent() == whole);
      const app::ProgramRow& row = program()->picture().rows[static_cast<std::size_t>(i)];
      if (row.what != app::ProgramRow::What::step && row.what != app::ProgramRow::What::sign)
        continue;
      QVERIFY(at < wanted.size());
      QCOMPARE(row.owner(), wanted[at++]);
      QVERIFY(!child->text(QAccessible::Name).isEmpty());
      for (int k = 0; k < child->childCount(); ++k) {
        ++fields;
        QVERIFY(!child->child(k)->text(QAccessible::Value).isEmpty());
        QVERIFY(child->child(k)->parent() == child);
        QVERIFY(child->rect().adjusted(-2, -2, 2, 2).contains(child->child(k)->rect()));
      }
    }
    QCOMPARE(at, wanted.size());
    QVERIFY(boxes > 0 && fields > 0);
    // What is selected says so; a program that is gone leaves nothing that is valid.
    doc().selectStep(QString::fromStdString(wanted.back()));
    int selected = 0;
    for (int i = 0; i < whole->childCount(); ++i)
      selected += whole->child(i)->state().selected && !whole->child(i)->object();
    QCOMPARE(selected, 1);
    int last = -1;
    for (int i = 0; i < whole->childCount(); ++i)
      if (!whole->child(i)->object()) last = i;
    QAccessibleInterface* gone = whole->child(last);
    doc().reset(emptyProject(), {});
    QCOMPARE(gone->isValid(), last < static_cast<int>(program()->picture().rows.size()));
  }
};

QTEST_MAIN(TestReadOut)
#include "tst_read_out.moc"
