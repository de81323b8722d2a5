#include <QtTest>
#include <random>

#include "demos.h"
#include "format/project_file.h"
#include "support/build.h"
#include "support/composed.h"
#include "support/schema.h"

using namespace ignavo;
using namespace ignavo::test;

namespace {

const Schema& schema() {
  static const Schema s(QByteArray::fromStdString(projectSchema()));
  return s;
}
QJsonObject parsed(const std::string& text) {
  return QJsonDocument::fromJson(QByteArray::fromStdString(text)).object();
}
std::string written(const QJsonObject& o) { return QJsonDocument(o).toJson().toStdString(); }

// Changes one value somewhere inside, or takes it away; tells where.
class Mutator {
 public:
  explicit Mutator(unsigned seed) : random_(seed) {}

  QJsonObject mutated(QJsonObject o, QString& where) {
    const QStringList keys = o.keys();
    if (keys.isEmpty()) return o;
    const QString key = keys[static_cast<int>(random_() % static_cast<std::size_t>(keys.size()))];
    where += "." + key;
    if (random_() % 12 == 0) {
      where += " gone";
      o.remove(key);
    } else {
      o[key] = changed(o[key], where);
    }
    return o;
  }

 private:
  QJsonValue changed(const QJsonValue& v, QString& where) {
    if (v.isObject() && !v.toObject().isEmpty() && random_() % 10)
      return mutated(v.toObject(), where);
    if (v.isArray() && !v.toArray().isEmpty() && random_() % 10) {
      QJsonArray list = v.toArray();
      const int i = static_cast<int>(random_() % static_cast<std::size_t>(list.size()));
      where += "[" + QString::number(i) + "]";
      list[i] = changed(list[i], where);
      return list;
    }
    static const QJsonValue odd[] = {
        QJsonValue::Null, true,    -1,      0.5,          1e12,         "",
        "high",           "bb.a1", "b1.D4", QJsonArray{}, QJsonObject{}};
    const QJsonValue to = odd[random_() % std::size(odd)];
    where +=
        " = " + QString::fromUtf8(QJsonDocument(QJsonArray{to}).toJson(QJsonDocument::Compact));
    return to;
  }
  std::mt19937 random_;
};

}  // namespace

// The schema in docs/ is a promise to everybody who writes projects by other means.
class TestSchema : public QObject {
  Q_OBJECT
 private Q_SLOTS:
  void everyKeywordIsUnderstoodHere() {
    const QStringList unknown = schema().unknownKeywords();
    QVERIFY2(unknown.isEmpty(), qPrintable(unknown.join(", ")));
  }
  void whatIsWrittenFits() {
    for (const Demo& d : demos()) {
      const QStringList as = schema().faults(QByteArray::fromStdString(d.text));
      QVERIFY2(as.isEmpty(), qPrintable(QString::fromStdString(d.name) + " " + as.join("\n")));
    }
    std::mt19937 random(12);
    for (int round = 0; round < 40; ++round) {
      Placed placed;
      const Project bench = composedBench(random, 5, round % 2, placed);
      const Project p = programmed(bench, placed, random);
      QVERIFY(!p.parts->empty());
      const QStringList faults = schema().faults(parsed(writeProject(p)));
      QVERIFY2(faults.isEmpty(), qPrintable(faults.join("\n")));
    }
  }
  void everyPartKindFitsAsItComes_data() {
    QTest::addColumn<QString>("type");
    for (const PartKind* kind : catalogue().parts())
      QTest::newRow(kind->type.c_str()) << QString::fromStdString(kind->type);
  }
  void everyPartKindFitsAsItComes() {
    QFETCH(QString, type);
    const Project p = Bench().part(type.toStdString(), "x1", {});
    const QJsonObject file = parsed(writeProject(p));
    QVERIFY2(schema().faults(file).isEmpty(), qPrintable(schema().faults(file).join("\n")));
    // A property of another kind does not fit, nor does the reader take it.
    QJsonObject part = file["parts"].toArray()[0].toObject();
    QJsonObject props = part["props"].toObject();
    for (const PropKind& prop : catalogue().partKind(type.toStdString())->props) {
      QJsonObject wrong = props;
      wrong[QString::fromStdString(prop.key)] = QJsonArray{1};
      part["props"] = wrong;
      QJsonObject bad = file;
      bad["parts"] = QJsonArray{part};
      QVERIFY2(!schema().faults(bad).isEmpty(), prop.key.c_str());
      QVERIFY2(!readProject(written(bad)).sound(), prop.key.c_str());
    }
  }
  // Whoever keeps to the schema is only told what a schema cannot say: holes, ids, pins. The
  // other way round: nothing that it forbids is taken in silence.
  void whatItForbidsIsNotTaken() {
    int forbidden = 0;
    for (unsigned seed = 0; seed < 1500; ++seed) {
      const Demo& d = demos()[seed % demos().size()];
      QString where;
      const QJsonObject file = Mutator(seed).mutated(parsed(d.text), where);
      const QStringList faults = schema().faults(file);
      if (faults.isEmpty()) continue;
      ++forbidden;
      const ReadResult r = readProject(written(file));
      QVERIFY2(!r.sound(), qPrintable(QString("%1: %2 (seed %3)\n%4")
                                          .arg(QString::fromStdString(d.name), where)
                                          .arg(seed)
                                          .arg(faults.join("\n"))));
    }
    QVERIFY2(forbidden > 500, qPrintable(QString::number(forbidden)));
  }
  // What was read from a damaged file is written as a sound one.
  void whatWasSavedFitsAgain() {
    int opened = 0;
    for (unsigned seed = 0; seed < 400; ++seed) {
      const Demo& d = demos()[seed % demos().size()];
      QString where;
      const ReadResult r = readProject(written(Mutator(seed).mutated(parsed(d.text), where)));
      if (!r.readable) continue;
      ++opened;
      const QStringList faults = schema().faults(parsed(writeProject(r.project)));
      QVERIFY2(faults.isEmpty(), qPrintable(where + " in " + QString::fromStdString(d.name) + "\n" +
                                            faults.join("\n")));
    }
    QVERIFY(opened > 200);
  }
};

QTEST_GUILESS_MAIN(TestSchema)
#include "tst_schema.moc"
